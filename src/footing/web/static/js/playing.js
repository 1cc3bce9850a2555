// Playing: keeps time by leaving frames out, and says so.

import { part, sure } from "./parts.js";

export class Playing {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./frames.js").Frames} frames
   * @param {HTMLElement} element
   */
  constructor(bench, frames, element) {
    this.bench = bench;
    this.frames = frames;
    this.button = part(element, "#play");
    this.note = part(element, "#play-note");
    this.speed = 1;
    this.running = false;
    /** When it began: on the clock, and in the motion. */
    this.startedAt = this.startedFrom = 0;
    this.leftOut = 0;
    this.button.addEventListener("click", () => this.toggle());
    for (const button of element.querySelectorAll("[data-speed]")) {
      button.addEventListener("click", () => this.setSpeed(/** @type {HTMLElement} */ (button)));
    }
  }

  /** @param {HTMLElement} chosen */
  setSpeed(chosen) {
    this.speed = Number(chosen.dataset.speed);
    for (const button of sure(chosen.parentElement).children) {
      button.setAttribute("aria-pressed", String(button === chosen));
    }
    this.begin();
  }

  toggle() {
    if (this.running) this.stop();
    else this.start();
  }

  start() {
    const { footage, frame } = this.bench;
    if (!footage) return;
    if (frame >= footage.last || frame < footage.first) this.bench.goTo(footage.first);
    this.running = true;
    this.button.textContent = "❚❚";
    this.button.setAttribute("aria-label", "Pause");
    this.begin();
    this.frames.prefetch();
    requestAnimationFrame(() => this.tick());
  }

  stop() {
    this.running = false;
    this.note.textContent = "";
    this.button.textContent = "▶";
    this.button.setAttribute("aria-label", "Play");
  }

  /** Count time from the present frame. */
  begin() {
    this.startedAt = performance.now();
    this.startedFrom = this.bench.footage?.times[this.bench.frame] ?? 0;
    this.leftOut = 0;
  }

  tick() {
    const { footage, frame } = this.bench;
    if (!this.running || !footage) return;
    const moment = this.startedFrom + (this.speed * (performance.now() - this.startedAt)) / 1000;
    let next = frame;
    while (next < footage.last && footage.times[next + 1] <= moment) next += 1;
    if (next !== frame && this.frames.get(next, "screen")) {
      this.leftOut += next - frame - 1;
      this.bench.goTo(next);
    } else if (next !== frame) this.frames.load(next, "screen");
    this.note.textContent = this.leftOut ? `${this.leftOut} frames left out to keep time` : "";
    if (next >= footage.last && this.bench.frame >= footage.last) this.stop();
    else requestAnimationFrame(() => this.tick());
  }
}
