// Bars of the energies at the time cursor, on one scale that holds all of them.

import { draw, svg } from "./drawing.js";

const HEAD = 22; // px above the bars
const FOOT = 34; // below them
const GAP = 6;
const WIDEST = 64;
const NARROW = 60; // px for a bar, under which its number is short

export class Bars {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} element */
  constructor(bench, element) {
    this.bench = bench;
    this.element = element;
    this.picture = /** @type {SVGElement} */ (element.querySelector("svg"));
    bench.on(["view", "step", "options", "frame"], () => this.draw());
    new ResizeObserver(() => this.draw()).observe(element);
  }

  get bars() {
    return this.bench.view.ledger?.energy.bars ?? null;
  }

  /** The energies at the latest frame up to the time cursor that has any. */
  get row() {
    const frames = this.bars?.frames ?? [];
    let found = 0;
    frames.forEach((frame, row) => {
      if (frame <= this.bench.frame) found = row;
    });
    return found;
  }

  draw() {
    const { bars } = this;
    const shown = this.bench.here.accounts && this.bench.options.ledgerTab !== "momentum" && bars !== null;
    this.element.hidden = !shown;
    if (!shown || !bars) return;
    const { clientWidth: width, clientHeight: height } = this.element;
    if (!width || !height) return;
    this.picture.setAttribute("viewBox", `0 0 ${width} ${height}`);
    const row = this.row;
    const slot = (width - GAP) / bars.bars.length;
    const wide = Math.min(slot - GAP, WIDEST);
    const span = bars.high - bars.low || 1;
    const y = (/** @type {number} */ value) => HEAD + ((bars.high - value) / span) * (height - HEAD - FOOT);
    const parts = bars.bars.flatMap((bar, k) => {
      const middle = GAP / 2 + slot * (k + 0.5);
      const value = bar.values[row];
      const [top, bottom] = [Math.min(y(value), y(0)), Math.max(y(value), y(0))];
      /** @type {Record<string, string | number>} */
      const look = bar.hollow ? { fill: "none", stroke: bar.colour, "stroke-width": 2 } : { fill: bar.colour };
      const small = value < 0 ? 14 : -5;
      return [
        svg("rect", { key: bar.key, x: middle - wide / 2, y: top, width: wide, height: Math.max(bottom - top, 0.5), class: bar.total ? "bar total" : "bar", ...look }),
        svg("text", { x: middle, y: (value < 0 ? bottom : top) + small, class: "tick figures", "text-anchor": "middle" }, [short(value, slot < NARROW ? 2 : 3)]),
        svg("text", { x: middle, y: height - 16, class: bar.total ? "bar-name total" : "bar-name", "text-anchor": "middle" }, [bar.symbol[0], svg("tspan", { dy: 3, class: "below" }, [bar.symbol.slice(1)])]),
        svg("title", {}, [`${bar.name}: ${bar.texts[row]} ${bars.unit}`]),
      ];
    });
    draw(this.picture, [svg("path", { d: `M0,${y(0)}H${width}`, class: "axis-line" }), ...parts, svg("text", { x: width - 4, y: height - 3, class: "tick soft", "text-anchor": "end" }, [bars.unit])]);
    const said = bars.bars.map((bar) => `${bar.name} ${bar.texts[row]} ${bars.unit}`).join(", ");
    this.picture.setAttribute("aria-label", `Energies in frame ${bars.frames[row]}: ${said}`);
    this.element.dataset.frame = String(bars.frames[row]);
  }
}

/** @param {number} value @param {number} digits */
function short(value, digits) {
  return Number(value.toPrecision(digits)).toString().replace("-", "−");
}
