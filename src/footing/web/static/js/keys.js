// The keys. Stepping lies under the left hand, so that the right one can point.

import { byId } from "./parts.js";

/** @type {Record<string, number[]>} */
const NUDGE = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
const FINE = 0.1;

export class Keys {
  /** @param {import("./steps/index.js").Hands} hands what keys may need */
  constructor(hands) {
    this.hands = hands;
    this.bench = hands.bench;
    this.help = byId("keys");
    this.button = byId("keys-button");
    this.button.addEventListener("click", () => this.toggleHelp());
    document.addEventListener("keydown", (event) => this.down(event));
    document.addEventListener("keyup", (event) => {
      if (event.key in NUDGE) hands.pointing.endNudge();
    });
  }

  toggleHelp() {
    this.help.hidden = !this.help.hidden;
    this.button.setAttribute("aria-expanded", String(!this.help.hidden));
  }

  /** Panels and small forms that lie over the page. */
  closeWhatIsOpen() {
    if (!this.help.hidden) this.toggleHelp();
    if (!byId("soundness").hidden) byId("soundness-button").click();
    byId("straight-forms").hidden = true;
    for (const button of document.querySelectorAll("form:not([hidden]) > [data-cancel], .camera:not([hidden]) [data-close], .working:not([hidden]) [data-close-working]")) {
      /** @type {HTMLElement} */ (button).click();
    }
  }

  /** @param {KeyboardEvent} event */
  down(event) {
    const target = /** @type {HTMLElement} */ (event.target);
    const typing = target.matches("input:not([type=checkbox]), select, textarea");
    if (typing) {
      if (event.key !== "Escape") return;
      target.blur();
      this.closeWhatIsOpen();
      return;
    }
    if (event.ctrlKey || event.metaKey) {
      if (event.key.toLowerCase() !== "z") return;
      this.hands.edits.send({ kind: event.shiftKey ? "redo" : "undo" });
    } else if (event.key in NUDGE) {
      const size = event.shiftKey ? FINE : 1;
      const [dx, dy] = NUDGE[event.key];
      if (!this.hands.pointing.nudge(dx * size, dy * size)) return;
    } else if (event.key === " " && target.matches("button, a, [role=button]")) return;
    else if (!this.press(event.key.toLowerCase(), event.shiftKey)) return;
    event.preventDefault();
  }

  /** @param {string} key @param {boolean} shift @returns {boolean} whether the key means something */
  press(key, shift) {
    const { bench } = this;
    const own = bench.here.keys[key];
    if (own?.(this.hands)) return true;
    if (key === "?") this.toggleHelp();
    else if (key === "escape") {
      bench.setTool("");
      this.hands.pointing.cancel();
      this.closeWhatIsOpen();
    } else return Boolean(bench.footage) && this.pressBesideFilm(key, shift);
    return true;
  }

  /**
   * What a key does at every step beside a film or a picture.
   * @param {string} key @param {boolean} shift
   */
  pressBesideFilm(key, shift) {
    const { bench } = this;
    const { stage, playing, edits } = this.hands;
    const { body } = bench;
    if (key === "d" || key === "f") {
      const way = key === "f" ? 1 : -1;
      if (shift) bench.stepFrames(way);
      else bench.stepBy(way);
    } else if (bench.isPicture && "ag ".includes(key)) return false;
    else if (key === "a") bench.goTo(bench.motionEnds[0]);
    else if (key === "g") bench.goTo(bench.motionEnds[1]);
    else if (key === " ") playing.toggle();
    else if (key === "w") stage.fit();
    else if (key === "z") edits.send({ kind: "undo" });
    else if (key === "t" && body) {
      const { bodies } = bench.view;
      bench.pickBody(bodies[(bodies.indexOf(body) + 1) % bodies.length].id);
    } else if (/^[1-9]$/.test(key) && bench.view.bodies[Number(key) - 1]) {
      bench.pickBody(bench.view.bodies[Number(key) - 1].id);
    } else return false;
    return true;
  }
}
