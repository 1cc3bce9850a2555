// Tells the server where the person is in the study, so that they go on there, on whatever computer.

import { ask } from "./asking.js";

const SETTLED = 1500; // ms without going anywhere else

export class PlaceKeeper {
  /** @param {import("./state.js").Bench} bench */
  constructor(bench) {
    this.bench = bench;
    this.timer = 0;
    this.told = "";
    bench.on(["step", "frame", "body", "view"], () => this.soon());
    document.addEventListener("visibilitychange", () => (document.hidden ? this.tell() : undefined));
    this.soon();
  }

  soon() {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.tell(), SETTLED);
  }

  tell() {
    const { view, step, sourceId, frame, body } = this.bench;
    const place = { step, source: sourceId === null ? null : String(sourceId), frame, body: body?.id ?? null };
    if (JSON.stringify(place) === this.told) return;
    this.told = JSON.stringify(place);
    ask(`/api/studies/${view.id}/place`, { method: "PUT", content: place, keepalive: true }).then(({ status }) => (status ? undefined : (this.told = "")));
  }
}
