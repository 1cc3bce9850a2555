// The legs of the model in hand on the score: blocks in a row of their own, whose borders are dragged.

import { svg } from "./drawing.js";
import { LABELS } from "./time-axis.js";

const ROW = 26;

export class Legs {
  /** @param {import("./state.js").Bench} bench @param {import("./edits.js").Edits} edits */
  constructor(bench, edits) {
    this.bench = bench;
    this.edits = edits;
    /**
     * The border that is dragged: the leg behind it, and where it is meanwhile.
     * @type {{leg: number, at: number} | null}
     */
    this.draft = null;
  }

  get model() {
    return this.bench.here.models === "own" ? this.bench.modelInHand : null;
  }

  get height() {
    return this.model ? ROW : 0;
  }

  /**
   * Blocks of the legs that have a motion.
   * @param {import("./time-axis.js").TimeAxis} axis @param {number} top
   */
  draw(axis, top) {
    const { model } = this;
    if (!model) return [];
    const rule = svg("path", { d: `M0,${top}H${axis.width}`, class: "rule" });
    const name = svg("text", { x: 8, y: top + ROW / 2 + 4, class: "lane-name soft" }, [model.name.length > 12 ? `${model.name.slice(0, 11)}…` : model.name]);
    const legs = model.legs.filter((leg) => leg.first !== null);
    const blocks = legs.flatMap((leg, k) => this.block(leg, axis, top, k));
    const grips = legs.slice(1).map((leg) => this.grip(leg, axis, top, model.name));
    return [rule, name, ...blocks, ...grips];
  }

  /**
   * Where a leg begins, or is dragged to.
   * @param {import("./shapes.js").LegShape} leg
   */
  firstOf(leg) {
    return this.draft?.leg === leg.id ? this.draft.at : Number(leg.first);
  }

  /**
   * @param {import("./shapes.js").LegShape} leg @param {import("./time-axis.js").TimeAxis} axis @param {number} top @param {number} k
   */
  block(leg, axis, top, k) {
    const next = this.model?.legs[leg.number];
    const a = axis.xOf(this.firstOf(leg));
    const b = axis.xOf(next && next.first !== null ? this.firstOf(next) : Number(leg.last));
    const title = svg("title", {}, [`${leg.number} ${leg.title}: ${leg.text}`]);
    const text = `${leg.number} ${leg.title}`;
    const fits = b - a > 7 * text.length ? text : b - a > 16 ? String(leg.number) : "";
    return [
      svg("rect", { key: `leg/${leg.id}`, x: Math.max(a, LABELS), y: top + 3, width: Math.max(b - Math.max(a, LABELS), 1), height: ROW - 6, class: `leg-block ${k % 2 ? "odd" : ""}`, "data-leg-block": leg.id }, [title]),
      svg("text", { key: `leg-name/${leg.id}`, x: (a + b) / 2, y: top + 17, "text-anchor": "middle", class: "passage-name" }, [fits]),
    ];
  }

  /**
   * The border before a leg; one that the marks say is not dragged.
   * @param {import("./shapes.js").LegShape} leg @param {import("./time-axis.js").TimeAxis} axis @param {number} top @param {string} name
   */
  grip(leg, axis, top, name) {
    const x = axis.xOf(this.firstOf(leg));
    const before = this.model?.legs[leg.number - 2];
    const line = svg("path", { d: `M${x},${top}v${ROW}`, class: `leg-border ${leg.hits ? "hits" : ""}` });
    if (before?.border === "marks") return svg("g", { key: `border/${leg.id}` }, [svg("title", {}, ["The marks say where this border is"]), line]);
    const seen = {
      key: `border/${leg.id}`,
      class: "grip",
      "data-leg-border": leg.id,
      tabindex: 0,
      role: "slider",
      "aria-label": `Border before leg ${leg.number} of ${name}`,
      "aria-valuenow": this.firstOf(leg),
      "aria-valuemin": 0,
      "aria-valuemax": this.bench.film.frames - 1,
    };
    return svg("g", seen, [svg("title", {}, ["Drag it, or use the arrow keys"]), svg("rect", { x: x - 6, y: top, width: 12, height: ROW, fill: "transparent" }), line]);
  }

  /**
   * Show a dragged border in a gap between frames.
   * @param {number} leg @param {number} at
   */
  drag(leg, at) {
    this.draft = { leg, at: Math.min(Math.max(at, 0.5), this.bench.film.frames - 1.5) };
  }

  async drop() {
    const { draft } = this;
    if (!draft) return;
    await this.edits.send({ kind: "move_border", leg: draft.leg, at: draft.at });
    this.draft = null;
  }
}
