// Frames as decoded pictures, fetched ahead of the time cursor.

/** @type {Record<string, number>} */
const KEPT = { thumb: 400, screen: 64, full: 12 };
const AHEAD = 10;
const BEHIND = 3;
const AT_ONCE = 4;
const FETCH_AFTER = 60; // ms
const SCREEN_SIDE = 1280;

export class Frames {
  /** @param {import("./state.js").Bench} bench */
  constructor(bench) {
    this.bench = bench;
    /** @type {Record<string, Map<string, ImageBitmap>>} pictures by size, oldest use first */
    this.kept = { thumb: new Map(), screen: new Map(), full: new Map() };
    /** @type {Map<string, Promise<ImageBitmap | null>>} */
    this.loading = new Map();
    /** @type {number[]} */
    this.wanted = [];
    this.running = 0;
    this.timer = 0;
  }

  /** Whether the footage is larger than its screen pictures. */
  get hasFull() {
    const footage = this.bench.footage;
    return footage !== null && Math.max(footage.width, footage.height) > SCREEN_SIDE;
  }

  /** @param {number} frame @param {string} size */
  address(frame, size) {
    const { content } = this.bench.film;
    return `/api/studies/${this.bench.view.id}/footage/${content}/frames/${frame}/${size}.jpg`;
  }

  /**
   * The picture if it is here already.
   * @param {number} frame @param {string} size
   */
  get(frame, size) {
    const key = this.address(frame, size);
    const kept = this.kept[size];
    const picture = kept.get(key);
    if (picture) {
      kept.delete(key);
      kept.set(key, picture);
    }
    return picture;
  }

  /**
   * The picture, fetched if need be; null if the frame cannot be had.
   * @param {number} frame @param {string} size
   * @returns {Promise<ImageBitmap | null>}
   */
  load(frame, size) {
    const here = this.get(frame, size);
    if (here) return Promise.resolve(here);
    const key = this.address(frame, size);
    const running = this.loading.get(key);
    if (running) return running;
    const coming = this.fetch(key, size).finally(() => this.loading.delete(key));
    this.loading.set(key, coming);
    return coming;
  }

  /** @param {string} key @param {string} size */
  async fetch(key, size) {
    const response = await fetch(key).catch(() => null);
    if (!response?.ok) return null;
    const picture = await createImageBitmap(await response.blob());
    const kept = this.kept[size];
    kept.set(key, picture);
    if (kept.size > KEPT[size]) {
      const oldest = kept.keys().next().value;
      kept.get(oldest)?.close();
      kept.delete(oldest);
    }
    return picture;
  }

  /** Fetch around the time cursor before long; an edit that is being sent goes first. */
  prefetchSoon() {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.prefetch(), FETCH_AFTER);
  }

  /** Fetch around the time cursor, what comes next first. */
  prefetch() {
    const { frame } = this.bench;
    this.wanted = [];
    for (let k = 1; k <= AHEAD; k += 1) {
      this.wanted.push(frame + k * this.bench.stride);
      if (k <= BEHIND) this.wanted.push(frame - k * this.bench.stride);
    }
    this.fetchWanted();
  }

  fetchWanted() {
    while (this.running < AT_ONCE && this.wanted.length) {
      const frame = this.wanted.shift() ?? -1;
      if (frame < 0 || frame >= this.bench.film.frames || this.get(frame, "screen")) continue;
      this.running += 1;
      this.load(frame, "screen").finally(() => {
        this.running -= 1;
        this.fetchWanted();
      });
    }
  }
}
