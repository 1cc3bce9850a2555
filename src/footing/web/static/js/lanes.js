// The lanes of the score: for each body a curve of one quantity (or of both coordinates), and below it
// how each mark was made. Hand marks are full ticks, followed ones as high as their quality.

import { svg } from "./svg.js";

const LOW = 38;
const TALL = 76;
const HIDDEN = 18;
const TICK = 8; // px, of a mark made by hand or of full quality
const CURVES = { xy: ["x", "y"], x: ["x"], y: ["y"], s: ["s"], v: ["v"], phi: ["phi"], th: ["th"] };

export class Lanes {
  /** @param {import("./state.js").Bench} bench @param {import("./time-axis.js").TimeAxis} axis */
  constructor(bench, axis) {
    this.bench = bench;
    this.axis = axis;
  }

  /** @param {any} body */
  isHidden(body) {
    return this.bench.options.hiddenLanes.includes(body.id);
  }

  /** @param {any} body */
  heightOf(body) {
    if (this.isHidden(body)) return HIDDEN;
    return this.bench.options.tall ? TALL : LOW;
  }

  get height() {
    const { bodies } = this.bench.view;
    return bodies.length ? bodies.reduce((sum, body) => sum + this.heightOf(body), 0) : LOW;
  }

  /** The parts of all lanes from a height on. @param {number} top */
  draw(top) {
    const parts = [];
    for (const body of this.bench.view.bodies) {
      parts.push(...this.lane(body, top));
      top += this.heightOf(body);
    }
    return parts;
  }

  /** Each quantity over its own range: the first solid, the second dashed. @param {any} body @param {number} top */
  lane(body, top) {
    const height = this.heightOf(body);
    const middle = top + height / 2;
    const hidden = this.isHidden(body);
    const parts = [
      svg("path", { d: `M0,${top}H${this.axis.width}`, class: "rule" }),
      svg("path", { d: body.path, fill: body.colour, transform: `translate(14 ${middle}) scale(5)`, opacity: hidden ? 0.5 : 1 }),
    ];
    const name = svg("text", { x: 24, y: middle + 4, class: `lane-name ${body === this.bench.body ? "active" : ""}` });
    name.textContent = body.name.length > 8 ? `${body.name.slice(0, 7)}…` : body.name;
    const title = svg("title", {});
    title.textContent = body.name;
    name.append(title);
    parts.push(name);
    if (hidden) return parts;
    const { times } = this.bench.footage;
    (CURVES[this.bench.options.lanes] ?? CURVES.xy).forEach((key, place) => {
      const lane = body.lanes[key];
      if (!lane?.values.length) return;
      const y = heightIn(lane, top, height);
      const points = lane.values.map((value, k) => `${this.axis.x(times[body.counting[lane.rows[k]]]).toFixed(1)},${y(value).toFixed(1)}`);
      parts.push(svg("path", { d: `M${points.join("L")}`, class: `curve ${place ? "dashed" : ""}`, stroke: body.colour }));
    });
    return [...parts, ...this.ticks(body, top + height)];
  }

  /** How each mark was made, what was left open, and what is odd. @param {any} body @param {number} bottom */
  ticks(body, bottom) {
    const at = (frame) => this.axis.x(this.bench.footage.times[frame]).toFixed(1);
    const tick = (frame, share) => `M${at(frame)},${bottom}v${(-TICK * share).toFixed(1)}`;
    const by = body.qualities;
    const hand = body.marks.filter(([frame]) => by[frame] === undefined).map(([frame]) => tick(frame, 1));
    const followed = body.marks.filter(([frame]) => by[frame] !== undefined).map(([frame]) => tick(frame, by[frame]));
    const parts = [
      svg("path", { d: hand.join("") || "M0,0", class: "made hand", stroke: body.colour }),
      svg("path", { d: followed.join("") || "M0,0", class: "made followed", stroke: body.colour }),
    ];
    const hidden = body.hidden.map((frame) => `M${at(frame)},${bottom - 3}h.1`);
    if (hidden.length) parts.push(svg("path", { d: hidden.join(""), class: "made hidden" }));
    for (const [frame] of body.doubts) parts.push(this.flag(frame, bottom, "?", "open", `Frame ${frame} waits for a decision about ${body.name}`));
    for (const odd of body.odd) parts.push(this.flag(odd.frame, bottom - TICK, "!", "odd", odd.said));
    return parts;
  }

  /** A flag that leads to its frame. */
  flag(frame, bottom, sign, kind, said) {
    const x = this.axis.x(this.bench.footage.times[frame]);
    const text = svg("text", { x, y: bottom - 2, "text-anchor": "middle" });
    text.textContent = sign;
    const title = svg("title", {});
    title.textContent = said;
    const seen = { class: `flagged ${kind}`, "data-go-frame": frame, tabindex: 0, role: "button", "aria-label": said };
    return svg("g", seen, [title, svg("rect", { x: x - 7, y: bottom - 15, width: 14, height: 16, fill: "transparent" }), text]);
  }

  /** A dot on each curve at the time cursor. @param {number} top @param {number} x */
  dots(top, x) {
    const { bodies } = this.bench.view;
    return bodies.flatMap((body) => {
      const from = top;
      const height = this.heightOf(body);
      top += height;
      const row = body.counting.indexOf(this.bench.frame);
      if (row < 0 || this.isHidden(body)) return [];
      return (CURVES[this.bench.options.lanes] ?? CURVES.xy).flatMap((key) => {
        const lane = body.lanes[key];
        const k = lane ? lane.rows.indexOf(row) : -1;
        return k < 0 ? [] : [svg("circle", { cx: x, cy: heightIn(lane, from, height)(lane.values[k]), r: 3.5, fill: body.colour })];
      });
    });
  }
}

/** Where a value is in its lane, each over its own range. */
function heightIn(lane, top, height) {
  let [low, high] = [Infinity, -Infinity];
  for (const value of lane.values) {
    low = Math.min(low, value);
    high = Math.max(high, value);
  }
  return (value) => {
    const share = high > low ? (value - low) / (high - low) : 0.5;
    return top + height - TICK - 3 - share * (height - TICK - 8);
  };
}
