// What happens to the study elsewhere: other tabs, phones, and work in the background.

import { takenBack } from "./edits.js";

const CATCH_UP_AFTER = 40; // ms; the answer to an edit of this page comes at about the same time

export class Live {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./edits.js").Edits} edits
   * @param {import("./upload.js").Upload} upload
   */
  constructor(bench, edits, upload) {
    this.bench = bench;
    this.edits = edits;
    this.upload = upload;
    this.seq = bench.view.seq; // the latest that was heard of
    this.timer = 0;
    this.lost = false;
    /** @type {EventSource | null} */
    this.source = null;
    bench.on("view", () => this.catchUp());
    document.addEventListener("visibilitychange", () => this.listen());
    this.listen();
  }

  /** Listen while the page is seen: a browser has few connections, and many tabs want one. */
  listen() {
    if (document.hidden) {
      this.source?.close();
      this.source = null;
      this.lost = true;
    } else if (!this.source) {
      this.source = new EventSource(`/api/studies/${this.bench.view.id}/events`);
      this.source.addEventListener("message", (event) => this.heard(JSON.parse(event.data)));
      this.source.addEventListener("error", () => {
        this.lost = true;
        this.edits.setAway(this.source?.readyState === EventSource.CONNECTING);
      });
      this.source.addEventListener("ready", (event) => this.ready(JSON.parse(event.data)));
    }
  }

  /**
   * Connected, perhaps again: what was missed meanwhile is in the state.
   * @param {{seq: number}} present
   */
  ready(present) {
    document.documentElement.dataset.live = "true";
    this.edits.setAway(false);
    if (this.lost) this.bench.fetchView();
    this.lost = false;
    this.heard(present);
  }

  /** @param {any} notice */
  heard(notice) {
    const { bench } = this;
    this.seq = Math.max(this.seq, notice.seq ?? 0);
    this.catchUp();
    if (notice.upload) this.upload.told(notice.upload);
    if (notice.surveyed === bench.footage?.content) bench.fetchView();
    if (notice.said) bench.say(notice.said);
    if (notice.undone && !this.edits.own.has(notice.token)) bench.say(takenBack(notice.undone, notice.by));
    if (notice.follow) bench.setFollow(notice.follow);
  }

  /** Fetch the state if somebody else has changed it; an edit on its way brings it anyhow. */
  catchUp() {
    clearTimeout(this.timer);
    if (this.seq <= this.bench.view.seq) return;
    this.timer = setTimeout(() => {
      if (this.seq > this.bench.view.seq && !this.edits.waiting) this.bench.fetchView();
    }, CATCH_UP_AFTER);
  }
}
