// Two moments of a body side by side, with the average velocity between them; and a flight.

import { ask } from "./asking.js";
import { part, sure } from "./parts.js";

/**
 * What two moments come to: their frames, the arrow between the marks, and rows of name, subscript and value.
 * @typedef {{frames: number[], arrow: number[][], rows: string[][]}} Compared
 */

const STILL = 46; // px of the picture around a mark, on each side

export class Comparing {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./stage.js").Stage} stage
   * @param {HTMLElement} card
   */
  constructor(bench, stage, card) {
    this.bench = bench;
    this.stage = stage;
    this.card = card;
    /**
     * Chosen frames by name: first, last, launch, top, landing.
     * @type {Record<string, number>}
     */
    this.frames = {};
    card.addEventListener("click", (event) => this.click(event));
    bench.on(["view", "body", "step"], () => this.refresh());
    this.refresh();
  }

  /** @param {MouseEvent} event */
  click(event) {
    const button = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("button"));
    if (!button) return;
    const { moment, leave } = button.dataset;
    if (moment) this.frames[moment] = this.bench.frame;
    else if (leave) for (const name of leave.split(" ")) delete this.frames[name];
    else return;
    this.refresh();
  }

  async refresh() {
    const { bench, card } = this;
    const { body, footage } = bench;
    card.hidden = !bench.here.marking || !body || !footage || !footage.has_time || !body.counting.length;
    for (const place of card.querySelectorAll("[data-chosen]")) {
      const frame = this.frames[/** @type {HTMLElement} */ (place).dataset.chosen ?? ""];
      place.textContent = frame === undefined ? "–" : String(frame);
    }
    if (card.hidden) return this.show(null);
    const { first, last, launch, top, landing } = this.frames;
    const two = first !== undefined && last !== undefined;
    await this.ask("between", two ? { first, last } : null, ".between", (found) => this.show(found));
    await this.ask("flight", launch === undefined ? null : { launch, top, landing }, ".flight", () => {});
  }

  /**
   * Ask the server, and fill a list with what it says.
   * @param {string} what @param {Record<string, number | undefined> | null} wanted @param {string} place of the list
   * @param {(found: Compared | null) => void} then
   */
  async ask(what, wanted, place, then) {
    const list = part(this.card, `${place} dl`);
    const message = part(this.card, `${place} .message`);
    if (!wanted) {
      list.replaceChildren();
      message.textContent = "";
      if (what === "between") then(null);
      return;
    }
    const query = new URLSearchParams();
    for (const [name, frame] of Object.entries(wanted)) if (frame !== undefined) query.set(name, String(frame));
    const { view } = this.bench;
    const body = sure(this.bench.body);
    const { ok, data, error } = await ask(`/api/studies/${view.id}/bodies/${body.id}/${what}?${query}`);
    if (body !== this.bench.body) return;
    message.textContent = ok ? (data.said ?? "") : error;
    message.classList.toggle("soft", ok);
    list.replaceChildren(...(ok ? data.rows.flatMap((/** @type {string[]} */ [name, below, text]) => line(name, below, text)) : []));
    then(ok ? data : null);
  }

  /**
   * The arrow over the stage, and both stills.
   * @param {Compared | null} found
   */
  async show(found) {
    if (found || this.bench.compared) {
      this.bench.compared = found;
      this.bench.tell("compare");
    }
    const working = part(this.card, "#between-working");
    working.hidden = !found;
    if (found) working.dataset.working = `between/${sure(this.bench.body).id}/${found.frames.join("/")}`;
    const stills = /** @type {HTMLElement} */ (this.card.querySelector(".stills"));
    stills.hidden = !found;
    if (!found) return;
    const canvases = stills.querySelectorAll("canvas");
    for (const [k, frame] of found.frames.entries()) {
      const picture = await this.stage.frames.load(frame, "screen");
      if (picture) this.stage.magnify(canvases[k], picture, middle(found.arrow), reach(found.arrow), false);
      sure(canvases[k].nextElementSibling).textContent = `frame ${frame}`;
    }
  }
}

/**
 * Both stills show the same part of the picture, so that the displacement is seen.
 * @param {number[][]} arrow
 */
function middle([from, to]) {
  return [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
}

/** @param {number[][]} arrow */
function reach([from, to]) {
  return STILL + Math.max(Math.abs(from[0] - to[0]), Math.abs(from[1] - to[1])) / 2;
}

/** @param {string} name @param {string} below @param {string} text */
function line(name, below, text) {
  const term = document.createElement("dt");
  term.append(/^(v|v̄|Δ.)$/.test(name) ? Object.assign(document.createElement("i"), { textContent: name }) : name);
  if (below) term.append(Object.assign(document.createElement("sub"), { textContent: below }));
  return [term, Object.assign(document.createElement("dd"), { className: "figures", textContent: text })];
}
