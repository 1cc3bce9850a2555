// Impacts on the score: notches between two frames, which can be placed, dragged and taken away.

import { svg } from "./drawing.js";

const NOTCH = 7; // px, half its width

export class Impacts {
  /** @param {import("./state.js").Bench} bench @param {import("./edits.js").Edits} edits */
  constructor(bench, edits) {
    this.bench = bench;
    this.edits = edits;
    /**
     * The impact that is dragged, and where it is meanwhile.
     * @type {{id: number, at: number} | null}
     */
    this.draft = null;
    document.addEventListener("click", (event) => {
      const button = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("[data-impact-here]"));
      if (button) this.placeHere(/** @type {HTMLElement | null} */ (button.closest("form")?.querySelector(".message") ?? null));
    });
  }

  /** Where impacts are, those being dragged where they are shown. */
  get shown() {
    return this.bench.view.impacts.map((one) => (one.id === this.draft?.id ? { ...one, at: this.draft.at } : one));
  }

  /**
   * Something hits between this frame and the next.
   * @param {HTMLElement | null} [message] @returns {boolean}
   */
  placeHere(message = null) {
    if (!this.bench.footage || this.bench.isPicture) return false;
    this.place(this.bench.frame + 0.5, message);
    return true;
  }

  /** @param {number} at @param {HTMLElement | null} [message] */
  place(at, message = null) {
    return this.edits.send({ kind: "add_impact", footage: this.bench.film.id, at }, message);
  }

  /**
   * Notches over the lanes, and where one is offered.
   * @param {import("./time-axis.js").TimeAxis} axis @param {number} top @param {number} bottom
   */
  draw(axis, top, bottom) {
    const notches = this.shown.map((one) => this.notch(one, axis.xOf(one.at), top, bottom));
    const offers = this.bench.here.accounts ? (this.bench.view.ledger?.offers ?? []) : [];
    return [...notches, ...offers.map((one) => this.offer(one, axis.xOf(one.at), top, bottom))];
  }

  /**
   * @param {import("./shapes.js").ImpactShape} impact @param {number} x @param {number} top @param {number} bottom
   */
  notch(impact, x, top, bottom) {
    const seen = {
      key: `impact/${impact.id}`,
      class: `notch ${impact.of}`,
      "data-impact": impact.id,
      tabindex: 0,
      role: "slider",
      "aria-label": impact.name,
      "aria-valuetext": impact.said,
      "aria-valuenow": impact.at,
      "aria-valuemin": 0.5,
      "aria-valuemax": this.bench.film.frames - 1.5,
    };
    return svg("g", seen, [
      svg("title", {}, [`${impact.name}: ${impact.said}; drag it, or use the arrow keys`]),
      svg("rect", { x: x - NOTCH, y: top, width: 2 * NOTCH, height: bottom - top, fill: "transparent" }),
      svg("path", { d: `M${x},${top}V${bottom}`, class: "line" }),
      svg("path", { d: shapeOf(impact.of, x, bottom), class: "tip" }),
    ]);
  }

  /**
   * @param {import("./shapes.js").OfferedImpactShape} offer @param {number} x @param {number} top @param {number} bottom
   */
  offer(offer, x, top, bottom) {
    const seen = { key: `offer/${offer.at}`, class: "notch offered", "data-offer": offer.at, tabindex: 0, role: "button", "aria-label": `It looks as if ${offer.said}: place an impact` };
    return svg("g", seen, [
      svg("title", {}, [`It looks as if ${offer.said}. Click to place an impact.`]),
      svg("rect", { x: x - NOTCH, y: top, width: 2 * NOTCH, height: bottom - top, fill: "transparent" }),
      svg("path", { d: `M${x},${top}V${bottom}`, class: "line" }),
      svg("text", { x, y: top + 13, "text-anchor": "middle" }, ["?"]),
    ]);
  }

  /**
   * Show a dragged impact in the gap at a frame.
   * @param {number} id @param {number} at
   */
  drag(id, at) {
    const last = this.bench.film.frames - 1.5;
    this.draft = { id, at: Math.min(Math.max(Math.floor(at) + 0.5, 0.5), last) };
  }

  async drop() {
    const { draft } = this;
    if (!draft) return;
    const before = this.bench.view.impacts.find((one) => one.id === draft.id);
    if (before && before.at !== draft.at) await this.edits.send({ kind: "move_impact", impact: draft.id, at: draft.at });
    this.draft = null;
  }
}

/**
 * A notch of an impact is a wedge; of a free motion it opens to the side on which that is.
 * @param {string} of @param {number} x @param {number} y
 */
function shapeOf(of, x, y) {
  if (of === "begins") return `M${x},${y - 2 * NOTCH}l${NOTCH},${NOTCH}l${-NOTCH},${NOTCH}z`;
  if (of === "ends") return `M${x},${y - 2 * NOTCH}l${-NOTCH},${NOTCH}l${NOTCH},${NOTCH}z`;
  return `M${x - NOTCH},${y}l${NOTCH},${-1.6 * NOTCH}l${NOTCH},${1.6 * NOTCH}z`;
}
