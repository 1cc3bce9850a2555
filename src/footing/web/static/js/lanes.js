// The lanes of the score: for each body a curve of one quantity (or of both coordinates), and below it
// how each mark was made. Hand marks are full ticks, followed ones as high as their quality. At Mark
// the lane of the body in turn is the graph that grows: tall, with an axis of values, and with the
// figures of the last marks under their ticks.

import { svg } from "./drawing.js";
import { LABELS, roundNumbers } from "./time-axis.js";

const LOW = 38;
const TALL = 76;
const GROWING = [118, 92]; // alone, and beside the lanes of other bodies
const HIDDEN = 18;
const TICK = 8; // px, of a mark made by hand or of full quality
const FIGURE_LINE = 15;
const FIGURE_GAP = 13; // between the ticks and the figures below them
const FIGURE_WIDTH = 56;
const FIGURE_FOOT = 5;
const MOST_FIGURES = 6; // marks
const MOST_POINTS = 150; // of a curve, up to which each is drawn
const VALUES_APART = 22; // px between numbers of the axis of values, at the least
const NAME_LINE = 13;
const NAME_LETTERS = 13; // in a line
/** @typedef {import("./known.js").Body} Body */

/** @type {Record<string, string[]>} */
const CURVES = { xy: ["x", "y"], x: ["x"], y: ["y"], s: ["s"], v: ["v"], phi: ["phi"], th: ["th"] };

export class Lanes {
  /** @param {import("./state.js").Bench} bench @param {import("./time-axis.js").TimeAxis} axis */
  constructor(bench, axis) {
    this.bench = bench;
    this.axis = axis;
    bench.on("options", () => this.show());
    this.show();
  }

  show() {
    this.bench.show("lanes", this.keys.map((key) => `lane:${key}`));
  }

  /** @param {Body} body */
  isHidden(body) {
    return this.bench.options.hiddenLanes.includes(body.id);
  }

  /**
   * Whether the lane of a body is the graph that grows while it is marked.
   * @param {Body} body
   */
  isGrowing(body) {
    return this.bench.here.marking && body === this.bench.body && !this.isHidden(body);
  }

  /** Height of the curves and ticks of the lane that grows. */
  get growing() {
    return GROWING[this.bench.view.bodies.length > 1 ? 1 : 0];
  }

  /** Height of all of it, with the figures below. */
  get growingHeight() {
    return this.growing + FIGURE_GAP + FIGURE_LINE * this.keys.length + FIGURE_FOOT;
  }

  /** @param {Body} body */
  heightOf(body) {
    if (this.isHidden(body)) return HIDDEN;
    if (this.isGrowing(body)) return this.growingHeight;
    return this.bench.options.tall ? TALL : LOW;
  }

  /**
   * Height of the curves and ticks of a lane.
   * @param {Body} body
   */
  curveHeightOf(body) {
    return this.isGrowing(body) ? this.growing : this.heightOf(body);
  }

  get height() {
    const { bodies } = this.bench.view;
    if (bodies.length) return bodies.reduce((sum, body) => sum + this.heightOf(body), 0);
    // the film must not move under the pointer once there is something to mark
    return this.bench.here.marking ? this.growingHeight : LOW;
  }

  /**
   * The quantities that lanes show.
   * @returns {string[]}
   */
  get keys() {
    return CURVES[this.bench.options.lanes] ?? CURVES.xy;
  }

  /**
   * The parts of all lanes from a height on.
   * @param {number} top
   */
  draw(top) {
    const parts = [];
    for (const body of this.bench.view.bodies) {
      parts.push(...this.lane(body, top));
      top += this.heightOf(body);
    }
    return parts;
  }

  /**
   * The first quantity solid, the second dashed.
   * @param {Body} body @param {number} top
   */
  lane(body, top) {
    const height = this.curveHeightOf(body);
    const growing = this.isGrowing(body);
    const middle = growing ? top + 14 : top + height / 2;
    const hidden = this.isHidden(body);
    const parts = [
      svg("path", { d: `M0,${top}H${this.axis.width}`, class: "rule" }),
      svg("path", { d: body.path, fill: body.colour, transform: `translate(14 ${middle}) scale(5)`, opacity: hidden ? 0.5 : 1 }),
    ];
    const lines = nameLines(body.name, hidden ? 1 : 2);
    const first = middle + 4 - (growing ? 0 : ((lines.length - 1) * NAME_LINE) / 2);
    const pieces = lines.map((text, k) => svg("tspan", { x: 24, y: first + k * NAME_LINE }, [text]));
    const active = body === this.bench.body ? "active" : "";
    parts.push(svg("text", { class: `lane-name ${active}` }, [...pieces, svg("title", {}, [body.name])]));
    if (hidden) return parts;
    if (growing) parts.push(...this.values(body, top));
    const { times } = this.bench.film;
    this.keys.forEach((key, place) => {
      const lane = body.lanes[key];
      if (!lane?.values.length) return;
      const y = this.heights(body, key, top);
      const points = lane.values.map((value, k) => `${this.axis.x(times[body.counting[lane.rows[k]]]).toFixed(1)},${y(value).toFixed(1)}`);
      parts.push(svg("path", { d: `M${points.join("L")}`, class: `curve ${place ? "dashed" : ""}`, stroke: body.colour }));
      if (!growing) return;
      parts.push(this.letter(body, key, lane, (/** @type {number} */ value) => Math.max(y(value), top + 18), place));
      if (points.length <= MOST_POINTS) parts.push(...this.points(points, body, place > 0));
    });
    return [...this.predicted(body, top), ...parts, ...this.ticks(body, top + height)];
  }

  /**
   * What models predict of the quantities of a lane, below what was marked.
   * @param {Body} body @param {number} top
   */
  predicted(body, top) {
    const { here, models, film } = this.bench;
    if (here.models !== "own") return [];
    const lines = models.filter((one) => one.shown && one.body === body.id).flatMap(({ id, ghost, colour, dashed }) =>
      this.keys.flatMap((key) => {
        const values = ghost?.values[key];
        if (!ghost || !values || !body.lanes[key]?.values.length) return [];
        const y = this.heights(body, key, top);
        const points = values.map((value, k) => `${this.axis.x(film.times[ghost.frames[k]]).toFixed(1)},${y(value).toFixed(1)}`);
        return [svg("path", { key: `predicted/${id}/${key}/${body.id}`, d: `M${points.join("L")}`, class: "curve predicted-lane", stroke: colour, "stroke-dasharray": dashed ? "6 4" : "" })];
      }),
    );
    return lines;
  }

  /**
   * The points of a curve: those of a second quantity hollow.
   * @param {string[]} places @param {Body} body @param {boolean} hollow
   */
  points(places, body, hollow) {
    return places.map((place) => {
      const [cx, cy] = place.split(",");
      return svg("circle", { cx, cy, r: 2.4, class: "curve-point", fill: hollow ? "var(--paper)" : body.colour, stroke: body.colour });
    });
  }

  /**
   * Which curve is which: beside its last point, that of a second one further back.
   * @param {Body} body @param {string} key @param {import("./shapes.js").LaneShape} lane @param {(value: number) => number} y @param {number} place
   */
  letter(body, key, lane, y, place) {
    const last = lane.values.length - 1;
    const k = Math.round(last * (1 - 0.14 * place));
    const x = this.axis.x(this.bench.film.times[body.counting[lane.rows[k]]]);
    const text = svg("text", { x: x - 6, y: y(lane.values[k]) - 7, class: "lane-name curve-letter", fill: body.colour, "text-anchor": "end" }, [this.symbol(body, key)]);
    return text;
  }

  /**
   * The values of the growing lane: round numbers with thin lines, and their unit.
   * @param {Body} body @param {number} top
   */
  values(body, top) {
    const range = this.rangeIn(body, this.keys);
    if (!range) return [];
    const y = scaled(...range, top, this.growing);
    const below = (nameLines(body.name, 2).length - 1) * NAME_LINE;
    const wished = ((range[1] - range[0]) * VALUES_APART) / (y(range[0]) - y(range[1]));
    const numbers = roundNumbers(range[0], range[1], wished).flatMap(({ value, text }) => {
      const number = svg("text", { x: LABELS - 6, y: y(value) + 4, class: "tick figures", "text-anchor": "end" }, [text]);
      return y(value) < top + 24 + below ? [this.line(y(value))] : [number, this.line(y(value))]; // the name stands there
    });
    const unit = svg("text", { x: 24, y: top + 32 + below, class: "lane-name soft" }, [body.lanes[this.keys[0]]?.unit ?? ""]);
    return [...numbers, unit];
  }

  /** @param {number} y */
  line(y) {
    return svg("path", { d: `M${LABELS},${y}H${this.axis.right}`, class: "grid" });
  }

  /** @param {Body} body @param {string} key */
  symbol(body, key) {
    return body.lanes[key]?.symbol ?? key;
  }

  /**
   * The figures of the last marks up to the time cursor, a column for each under its tick.
   * @param {number} top
   */
  figures(top) {
    const { bodies } = this.bench.view;
    const { times } = this.bench.film;
    const place = bodies.findIndex((body) => this.isGrowing(body));
    if (place < 0) return [];
    const body = bodies[place];
    const base = bodies.slice(0, place).reduce((sum, one) => sum + this.heightOf(one), top) + this.growing;
    const line = (/** @type {number} */ k) => base + FIGURE_GAP + FIGURE_LINE * (k + 1) - 3;
    const parts = this.keys.map((key, k) => {
      const name = svg("text", { x: LABELS - 6, y: line(k), class: "lane-name", "text-anchor": "end" }, [this.symbol(body, key)]);
      return name;
    });
    const rows = body.counting.map((_, row) => row).filter((row) => body.counting[row] <= this.bench.frame);
    const last = rows.slice(-MOST_FIGURES);
    const ticks = last.map((row) => this.axis.x(times[body.counting[row]]));
    const places = this.columnsUnder(ticks);
    for (const [n, row] of [...last.entries()].reverse()) {
      const now = body.counting[row] === this.bench.frame;
      parts.push(svg("path", { d: `M${ticks[n]},${base + 1}L${places[n]},${base + FIGURE_GAP - 2}`, class: "figure-lead", stroke: body.colour }));
      this.keys.forEach((key, k) => {
        const lane = body.lanes[key];
        const text = svg("text", { x: places[n], y: line(k), class: `figures mark-figure ${now ? "now" : ""}`, "text-anchor": "middle" }, [lane?.texts[lane.rows.indexOf(row)] ?? ""]);
        parts.push(text);
      });
    }
    return parts;
  }

  /**
   * Where columns of figures have room: under these ticks, or as near as the others let them.
   * @param {number[]} ticks
   */
  columnsUnder(ticks) {
    const places = [...ticks];
    let room = this.axis.right - FIGURE_WIDTH / 2;
    for (let n = places.length - 1; n >= 0; n -= 1) {
      places[n] = Math.min(places[n], room);
      room = places[n] - FIGURE_WIDTH;
    }
    room = LABELS + FIGURE_WIDTH / 2;
    for (let n = 0; n < places.length; n += 1) {
      places[n] = Math.max(places[n], room);
      room = places[n] + FIGURE_WIDTH;
    }
    return places;
  }

  /**
   * How each mark was made, what was left open, and what is odd.
   * @param {Body} body @param {number} bottom
   */
  ticks(body, bottom) {
    const at = (/** @type {number} */ frame) => this.axis.x(this.bench.film.times[frame]).toFixed(1);
    const tick = (/** @type {number} */ frame, /** @type {number} */ share) => `M${at(frame)},${bottom}v${(-TICK * share).toFixed(1)}`;
    const by = body.qualities;
    const hand = body.marks.filter(([frame]) => by[frame] === undefined).map(([frame]) => tick(frame, 1));
    const followed = body.marks.filter(([frame]) => by[frame] !== undefined).map(([frame]) => tick(frame, by[frame]));
    const parts = [
      svg("path", { d: hand.join("") || "M0,0", class: "made hand", stroke: body.colour }),
      svg("path", { d: followed.join("") || "M0,0", class: "made followed", stroke: body.colour }),
    ];
    const hidden = body.hidden.map((frame) => `M${at(frame)},${bottom - 3}h.1`);
    if (hidden.length) parts.push(svg("path", { d: hidden.join(""), class: "made hidden" }));
    for (const [at] of body.doubts) {
      const frame = Number(at);
      parts.push(this.flag(frame, bottom, "?", "open", `Frame ${frame} waits for a decision about ${body.name}`));
    }
    for (const odd of body.odd) parts.push(this.flag(odd.frame, bottom - TICK, "!", "odd", odd.said));
    return parts;
  }

  /**
   * A flag that leads to its frame.
   * @param {number} frame @param {number} bottom @param {string} sign @param {string} kind @param {string} said
   */
  flag(frame, bottom, sign, kind, said) {
    const x = this.axis.x(this.bench.film.times[frame]);
    const text = svg("text", { x, y: bottom - 2, "text-anchor": "middle" }, [sign]);
    const title = svg("title", {}, [said]);
    const seen = { key: `${kind}/${frame}`, class: `flagged ${kind}`, "data-go-frame": frame, tabindex: 0, role: "button", "aria-label": said };
    return svg("g", seen, [title, svg("rect", { x: x - 7, y: bottom - 15, width: 14, height: 16, fill: "transparent" }), text]);
  }

  /**
   * A dot on each curve at the time cursor.
   * @param {number} top @param {number} x
   */
  dots(top, x) {
    const { bodies } = this.bench.view;
    return bodies.flatMap((body) => {
      const from = top;
      top += this.heightOf(body);
      const row = body.counting.indexOf(this.bench.frame);
      if (row < 0 || this.isHidden(body)) return [];
      return this.keys.flatMap((key) => {
        const lane = body.lanes[key];
        const k = lane ? lane.rows.indexOf(row) : -1;
        return k < 0 ? [] : [svg("circle", { cx: x, cy: this.heights(body, key, from)(lane.values[k]), r: 3.5, fill: body.colour })];
      });
    });
  }

  /**
   * The smallest and the largest value of some quantities.
   * @param {Body} body @param {string[]} keys @returns {[number, number] | null}
   */
  rangeIn(body, keys) {
    let [low, high] = [Infinity, -Infinity];
    for (const key of keys) {
      for (const value of body.lanes[key]?.values ?? []) {
        low = Math.min(low, value);
        high = Math.max(high, value);
      }
    }
    return low <= high ? [low, high] : null;
  }

  /**
   * Where a value of a quantity is in the lane of a body: over its own range, or where there is an
   * axis of values, over that of all quantities there.
   * @param {Body} body @param {string} key @param {number} top
   */
  heights(body, key, top) {
    const keys = this.isGrowing(body) ? this.keys : [key];
    const [low, high] = this.rangeIn(body, keys) ?? [0, 0];
    return scaled(low, high, top, this.curveHeightOf(body));
  }
}

/**
 * Where a value of a range is in a lane.
 * @param {number} low @param {number} high @param {number} top @param {number} height
 */
function scaled(low, high, top, height) {
  return (/** @type {number} */ value) => {
    const share = high > low ? (value - low) / (high - low) : 0.5;
    return top + height - TICK - 3 - share * (height - TICK - 8);
  };
}

/**
 * A name in so many lines, broken between words where that is possible.
 * @param {string} name @param {number} most
 */
function nameLines(name, most) {
  if (name.length <= NAME_LETTERS) return [name];
  const space = name.slice(0, NAME_LETTERS + 1).lastIndexOf(" ");
  if (most === 1) return [`${name.slice(0, NAME_LETTERS - 1)}…`];
  const end = space > 2 ? space : NAME_LETTERS;
  const rest = name.slice(end).trim();
  return [name.slice(0, end), rest.length > NAME_LETTERS ? `${rest.slice(0, NAME_LETTERS - 1)}…` : rest];
}
