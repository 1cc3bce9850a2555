// The film strip: small pictures of the film along the time axis, there at once and finer bit by bit.

import { sure } from "./parts.js";
import { turning } from "./turning.js";

const NARROWEST = 26; // pixels of a picture
const FAINT = 0.3;
const AT_ONCE = 2; // pictures that are fetched

export class FilmStrip {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./frames.js").Frames} frames
   * @param {HTMLCanvasElement} canvas @param {number} height
   */
  constructor(bench, frames, canvas, height) {
    this.bench = bench;
    this.frames = frames;
    this.canvas = canvas;
    this.height = height;
    /** What is shown; another one ends the fetching for it. */
    this.shown = "";
  }

  /**
   * Fill the strip between two ends of an axis.
   * @param {import("./time-axis.js").TimeAxis} axis @param {number} left
   */
  async draw(axis, left) {
    const ratio = window.devicePixelRatio;
    const width = Math.max(axis.right - left, 1);
    const { quarter, mirror } = this.bench.ground;
    const turned = turning(this.bench.film, quarter, mirror);
    const slot = Math.max((this.height * turned.width) / turned.height, NARROWEST);
    const count = Math.ceil(width / slot);
    const key = [this.bench.film.content, width, axis.domain, count, quarter, mirror].join();
    if (this.shown === key) return;
    this.shown = key;
    this.canvas.width = width * ratio;
    this.canvas.height = this.height * ratio;
    const context = sure(this.canvas.getContext("2d"));
    const [wide, high] = quarter % 180 ? [this.height, slot] : [slot, this.height];
    const [a, b, c, d] = turned.matrix.map((value) => value * ratio);
    const own = new Set();
    const put = (/** @type {ImageBitmap} */ picture, /** @type {number} */ place, /** @type {boolean} */ faint) => {
      context.globalAlpha = 1;
      context.setTransform(a, b, c, d, (place + 0.5) * slot * ratio, (this.height / 2) * ratio);
      if (faint) context.clearRect(-wide / 2, -high / 2, wide, high);
      context.globalAlpha = faint ? FAINT : 1;
      context.drawImage(picture, -wide / 2, -high / 2, wide, high);
    };
    const waiting = coarseToFine(count);
    const load = async () => {
      for (let next = waiting.shift(); next; next = waiting.shift()) {
        const { place, reach } = next;
        const picture = await this.frames.load(axis.frameNear(left + (place + 0.5) * slot), "thumb");
        if (this.shown !== key) return;
        if (!picture) continue;
        own.add(place);
        put(picture, place, false);
        for (let other = place + 1; other < Math.min(place + reach, count); other += 1) {
          if (!own.has(other)) put(picture, other, true);
        }
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, load));
  }
}

/**
 * All places from coarse to fine; each stands for those up to its reach until their own pictures come.
 * @param {number} count @returns {{place: number, reach: number}[]}
 */
export function coarseToFine(count) {
  let widest = 1;
  while (widest < count) widest *= 2;
  const found = [];
  for (let reach = widest; reach >= 1; reach /= 2) {
    for (let place = 0; place < count; place += reach) {
      if (reach === widest || place % (2 * reach)) found.push({ place, reach });
    }
  }
  return found;
}
