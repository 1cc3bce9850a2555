// What happens to the study elsewhere: other tabs, phones, and work in the background.

export class Live {
  /** @param {import("./state.js").Bench} bench @param {import("./upload.js").Upload} upload */
  constructor(bench, upload) {
    this.bench = bench;
    this.upload = upload;
    this.source = new EventSource(`/api/studies/${bench.view.id}/events`);
    this.source.addEventListener("message", (event) => this.heard(JSON.parse(event.data)));
    // after a lost connection, what was missed is in the state
    this.source.addEventListener("ready", () => {
      document.documentElement.dataset.live = "true";
      bench.fetchView();
    });
  }

  /** @param {any} notice */
  heard(notice) {
    const { bench } = this;
    if (notice.seq > bench.view.seq && !bench.pending.size) bench.fetchView();
    if (notice.upload) this.upload.told(notice.upload);
    if (notice.surveyed === bench.footage?.content) bench.fetchView();
    if (notice.said) bench.say(notice.said);
  }
}
