// What happens to the study elsewhere: other tabs, phones, and work in the background.

import { takenBack } from "./edits.js";

const SILENT = 50_000; // ms without a sign of life, after which the connection is made anew
const LOOK = 10_000; // ms
const CATCH_UP_AFTER = 40; // ms; the answer to an edit of this page comes at about the same time

export class Live {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./edits.js").Edits} edits
   * @param {import("./upload.js").Upload} upload
   * @param {import("./together.js").Together} together
   * @param {(notice: any) => void} ofClass what is done with what a whole class is told
   */
  constructor(bench, edits, upload, together, ofClass) {
    this.bench = bench;
    this.edits = edits;
    this.upload = upload;
    this.together = together;
    this.ofClass = ofClass;
    this.heardAt = Date.now();
    this.seq = bench.view.seq; // the latest that was heard of
    this.timer = 0;
    this.lost = false;
    /** @type {EventSource | null} */
    this.source = null;
    bench.on("view", () => this.catchUp());
    document.addEventListener("visibilitychange", () => this.listen());
    setInterval(() => this.look(), LOOK);
    this.listen();
  }

  /** A computer that slept believes in a connection that is no more. */
  look() {
    if (!this.source || Date.now() - this.heardAt < SILENT) return;
    this.source.close();
    this.source = null;
    this.lost = true;
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
      this.heardAt = Date.now();
      this.source.addEventListener("tick", () => (this.heardAt = Date.now()));
      this.source.addEventListener("ready", (event) => this.ready(JSON.parse(event.data)));
    }
  }

  /**
   * Connected, perhaps again: what was missed meanwhile is in the state.
   * @param {{seq: number}} present
   */
  ready(present) {
    document.documentElement.dataset.live = "true";
    this.heardAt = Date.now();
    this.edits.setAway(false);
    if (this.lost) this.bench.fetchView();
    this.lost = false;
    this.heard(present);
  }

  /** @param {any} notice */
  heard(notice) {
    const { bench } = this;
    this.heardAt = Date.now();
    if (notice.here) {
      this.together.heard(notice.here);
      return;
    }
    if ("class" in notice || "hand" in notice) {
      this.ofClass(notice);
      return;
    }
    this.seq = Math.max(this.seq, notice.seq ?? 0);
    this.catchUp();
    if (notice.upload) this.upload.told(notice.upload);
    if (notice.surveyed === bench.footage?.content) bench.fetchView();
    if (notice.handed) bench.fetchView();
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
