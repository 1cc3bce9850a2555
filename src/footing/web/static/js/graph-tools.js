// What the pointer does on a graph: reading off, a slope, a stretch, a trial, a sketch, looking closer.

import { ask } from "./asking.js";
import { byId } from "./parts.js";

const HIT = 14; // window pixels from a point within which it is meant
const ZOOM = 1.15;
const MOST_SKETCHED = 1000; // points of a sketch
const AXIS_SHARE = 0.5;

/**
 * A place in the window, and the element there.
 * @typedef {{clientX: number, clientY: number, target: EventTarget | null}} Pointed
 */

export class GraphTools {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./graph.js").Graph} graph
   * @param {import("./edits.js").Edits} edits
   */
  constructor(bench, graph, edits) {
    this.bench = bench;
    this.graph = graph;
    this.edits = edits;
    this.readout = byId("graph-readout");
    /** @type {any} */
    this.drag = null;
    /**
     * Where the pointer rests while values are read off there.
     * @type {Pointed | null}
     */
    this.reading = null;
    const { list } = graph;
    graph.element.addEventListener("shown", () => this.readAgain());
    list.addEventListener("pointerdown", (event) => this.down(event));
    list.addEventListener("pointermove", (event) => this.move(event));
    list.addEventListener("pointerup", (event) => this.up(event));
    list.addEventListener("wheel", (event) => this.wheel(event), { passive: false });
    list.addEventListener("pointerleave", () => (this.drag ? undefined : this.say("")));
    bench.on("tool", () => this.toolChanged());
    bench.on("step", () => this.clear());
    for (const button of document.querySelectorAll("[data-graph-action]")) {
      button.addEventListener("click", () => this.act(/** @type {HTMLElement} */ (button).dataset.graphAction ?? ""));
    }
    this.toolChanged();
  }

  /** @param {string} text */
  say(text) {
    this.reading = null;
    this.readout.textContent = text;
  }

  /** @param {string} action */
  act(action) {
    if (action === "all") this.showAll();
    else if (action === "forget") {
      for (const panel of this.graph.panels) {
        panel.moved.clear();
        if (panel.data.sketch.length) this.keepSketch(panel, []);
      }
      this.clear();
    }
  }

  /** Show all data again. */
  showAll() {
    for (const panel of this.graph.panels) panel.window = null;
    this.graph.update();
  }

  toolChanged() {
    for (const button of document.querySelectorAll("button[data-tool^=graph-]")) {
      button.setAttribute("aria-pressed", String(/** @type {HTMLElement} */ (button).dataset.tool === this.bench.tool));
    }
    this.graph.list.dataset.tool = this.bench.tool;
    if (this.bench.tool === "graph-sketch") this.graph.update();
    if (!this.bench.tool.startsWith("graph-")) this.clear();
  }

  /** Take away what tools have drawn. */
  clear() {
    for (const panel of this.graph.panels) {
      panel.extra = { area: [], tangent: [], trial: [] };
      panel.moved.clear();
    }
    this.bench.stretch = null;
    this.bench.tell("stretch");
    this.say("");
    this.graph.update();
  }

  /**
   * The panel under the pointer, and where that is in window pixels and in the units of the axes.
   * @param {Pointed} event
   */
  at(event) {
    const element = /** @type {Element} */ (event.target).closest(".graph-panel");
    const panel = this.graph.panels.find((one) => one.element === element);
    const canvas = panel?.plot.querySelector("canvas");
    if (!panel?.views.main || !canvas) return null;
    const box = canvas.getBoundingClientRect();
    const view = panel.views.main;
    const [left, top] = view.origin();
    const px = event.clientX - box.left - left;
    const py = event.clientY - box.top - top;
    const [x, y] = [view.scale("x"), view.scale("y")];
    const inside = px >= 0 && py >= 0 && px <= view.width() && py <= view.height();
    const onPlot = event.clientY <= box.bottom && event.clientY >= box.top;
    return { panel, px, py, x: x.invert(px), y: y.invert(py), scale: { x, y }, inside, onPlot, width: view.width(), height: view.height() };
  }

  /**
   * The point nearest to the pointer.
   * @param {any} at
   */
  nearest(at) {
    /** @type {{distance: number, series: import("./known.js").Series, point: number[]} | null} */
    let best = null;
    for (const series of at.panel.data.series) {
      for (const point of series.points) {
        const distance = Math.hypot(at.scale.x(point[1]) - at.px, at.scale.y(point[2]) - at.py);
        if (distance < (best?.distance ?? HIT)) best = { distance, series, point };
      }
    }
    return best;
  }

  /** @param {PointerEvent} event */
  down(event) {
    const at = this.at(event);
    if (!at || !at.onPlot || event.button !== 0) return;
    const { tool } = this.bench;
    const begun = { x: at.x, y: at.y, px: at.px, py: at.py, ranges: { ...at.panel.ranges }, panel: at.panel, moved: false };
    if (tool === "graph-try") {
      const hit = this.nearest(at);
      if (!hit || this.isGuest(hit.series)) return;
      this.drag = { ...begun, kind: "try", hit };
    } else if (tool === "graph-stretch") this.drag = { ...begun, kind: "stretch" };
    else if (tool === "graph-sketch") this.drag = { ...begun, kind: "sketch", line: [[at.x, at.y]] };
    else this.drag = { ...begun, kind: "pan", axis: at.inside ? "" : at.px < 0 ? "y" : "x" };
    /** @type {Element} */ (event.target).setPointerCapture?.(event.pointerId);
    event.preventDefault();
  }

  /** @param {PointerEvent} event */
  move(event) {
    const at = this.at(event);
    if (this.drag) return this.dragTo(event, at);
    if (this.bench.tool === "graph-slope" && at?.panel.extra.tangent.length) return; // it says the slope
    if (!at || !at.inside) return this.say("");
    this.readOff(at);
    this.reading = { clientX: event.clientX, clientY: event.clientY, target: at.panel.element };
  }

  /** What lies under a pointer at rest, after the graph has moved beneath it. */
  readAgain() {
    const { reading } = this;
    if (!reading || this.drag) return;
    const at = this.at(reading);
    if (!at?.inside) return this.say("");
    this.readOff(at);
    this.reading = reading;
  }

  /**
   * The values of all series beside the pointer.
   * @param {any} at
   */
  readOff(at) {
    const { data } = at.panel;
    const parts = [`${data.across.name} = ${tidy(at.x)} ${data.across.unit}`.trim()];
    for (const series of data.series) {
      const value = between(series.points, at.x);
      if (value !== null) parts.push(`${series.name} = ${tidy(value)} ${series.unit}`.trim());
    }
    parts.push(`pointer ${tidy(at.y)}`);
    this.say(parts.join("\n"));
  }

  /** @param {PointerEvent} event @param {any} at */
  dragTo(event, at) {
    const { drag } = this;
    const { panel } = drag;
    const view = panel.views.main;
    const box = panel.plot.querySelector("canvas").getBoundingClientRect();
    const [left, top] = view.origin();
    const px = event.clientX - box.left - left;
    const py = event.clientY - box.top - top;
    if (Math.hypot(px - drag.px, py - drag.py) > 3) drag.moved = true;
    if (!drag.moved) return;
    const x = drag.ranges.x_low + (px / view.width()) * (drag.ranges.x_high - drag.ranges.x_low);
    const y = drag.ranges.y_high - (py / view.height()) * (drag.ranges.y_high - drag.ranges.y_low);
    if (drag.kind === "pan") this.pan(drag, px, py, view);
    else if (drag.kind === "sketch" && at) {
      drag.line.push([x, y]);
      panel.drawing = drag.line;
      this.graph.update();
    } else if (drag.kind === "try") {
      const { series, point } = drag.hit;
      panel.moved.set(`${series.key}/${point[0]}`, [x, y]);
      this.tryMoved(panel, series);
    } else if (drag.kind === "stretch") {
      const [low, high] = [Math.min(drag.x, x), Math.max(drag.x, x)];
      const { y_low: base, y_high: top_ } = panel.ranges;
      panel.extra.area = [low, high].map((at_) => ({ x: at_, y: top_, base }));
      this.graph.update();
      drag.ends = [low, high];
    }
  }

  /**
   * Move what is looked at; on an axis, its far end.
   * @param {any} drag @param {number} px @param {number} py @param {any} view
   */
  pan(drag, px, py, view) {
    const { x_low, x_high, y_low, y_high } = drag.ranges;
    const dx = ((px - drag.px) / view.width()) * (x_high - x_low);
    const dy = ((py - drag.py) / view.height()) * (y_high - y_low);
    const ranges = { ...drag.ranges };
    if (drag.axis === "x") {
      if (drag.px / view.width() > AXIS_SHARE) ranges.x_high = Math.max(x_high - dx, x_low + (x_high - x_low) * 0.05);
      else ranges.x_low = Math.min(x_low - dx, x_high - (x_high - x_low) * 0.05);
    } else if (drag.axis === "y") {
      if (drag.py / view.height() < AXIS_SHARE) ranges.y_high = Math.max(y_high + dy, y_low + (y_high - y_low) * 0.05);
      else ranges.y_low = Math.min(y_low + dy, y_high - (y_high - y_low) * 0.05);
    } else Object.assign(ranges, { x_low: x_low - dx, x_high: x_high - dx, y_low: y_low + dy, y_high: y_high + dy });
    this.look(drag.panel, ranges);
  }

  /** @param {any} panel @param {Record<string, number>} ranges */
  look(panel, ranges) {
    panel.window = ranges;
    for (const other of this.graph.panels) {
      if (other !== panel && other.data.x === panel.data.x) other.window = { ...other.ranges, x_low: ranges.x_low, x_high: ranges.x_high };
      for (const view of Object.values(other.views)) {
        if (!view) continue;
        for (const [signal, value] of Object.entries(other.ranges)) view.signal(signal, value);
        view.runAsync().then(() => this.readAgain());
      }
    }
  }

  /** @param {PointerEvent} event */
  up(event) {
    const { drag } = this;
    this.drag = null;
    if (!drag) return;
    const at = this.at(event);
    if (!drag.moved) return at && this.click(at);
    if (drag.kind === "stretch" && drag.ends) this.readStretch(drag.panel, drag.ends);
    else if (drag.kind === "sketch") {
      this.keepSketch(drag.panel, drag.line);
      this.bench.setTool("");
    }
  }

  /** @param {any} panel @param {number[][]} line */
  async keepSketch(panel, line) {
    const every = Math.ceil(line.length / MOST_SKETCHED);
    const kept = line.filter((_, place) => place % every === 0);
    const { x, ys, place } = panel.data;
    await this.edits.send({ kind: "set_graph", ...this.bench.source, place, sketch: { x, y: ys[0], line: kept } });
    panel.drawing = null;
    this.graph.update();
  }

  /**
   * A click on a point goes to its frame or row; with the slope in hand, it shows the slope there.
   * @param {any} at
   */
  click(at) {
    const hit = this.nearest(at);
    if (!hit || this.isGuest(hit.series)) return;
    if (this.bench.tool === "graph-slope") this.readSlope(at.panel, hit);
    else this.bench.goToPoint(hit.series.owner_id, hit.point[0]);
  }

  /**
   * Points of another sheet are looked at only; it says where more can be done.
   * @param {any} series
   */
  isGuest(series) {
    if (series.guest) this.say(`${series.name} is of another sheet; choose that sheet for its points.`);
    return series.guest;
  }

  /** @param {any} panel @param {any} hit */
  async readSlope(panel, hit) {
    const answer = await this.ask("tangent", { owner: hit.series.owner, x: hit.series.x, y: hit.series.y, number: hit.point[0] });
    if (!answer) return;
    panel.extra.tangent = answer.line.map((/** @type {number[]} */ [x, y]) => ({ x, y }));
    this.say(`slope of ${hit.series.name} here: ${answer.text}`);
    this.graph.update();
  }

  /** @param {any} panel @param {[number, number]} ends */
  async readStretch(panel, [low, high]) {
    const found = [];
    for (const series of panel.data.series.filter((/** @type {import("./known.js").Series} */ one) => !one.guest)) {
      const plot = { owner: series.owner, x: series.x, y: series.y };
      const answer = await this.ask("stretch", { ...plot, low, high });
      if (!answer) return;
      found.push({ ...plot, of: series.of, name: series.name, ...answer });
    }
    panel.extra.area = found.length === 1 ? found[0].area.map((/** @type {number[]} */ [x, y]) => ({ x, y, base: 0 })) : panel.extra.area;
    this.bench.stretch = found;
    this.bench.tell("stretch");
    this.graph.update();
  }

  /**
   * What the fits of a series would be with points moved on trial.
   * @param {any} panel @param {any} series
   */
  async tryMoved(panel, series) {
    this.graph.update();
    const fit = this.bench.view.fits.find((one) => panel.data.drawn_fits.includes(one.id) && one.owner === series.owner && one.y === series.y);
    if (!fit || !("line" in fit) || this.trying) return;
    this.trying = true;
    const moved = Object.fromEntries([...panel.moved].map(([key, place]) => [key.split("/")[1], place]));
    const tried = await this.bench.tryFit({ ...asAdded(fit), moved });
    this.trying = false;
    if (!tried?.line) return;
    panel.extra.trial = tried.line;
    const first = tried.parameters[0];
    this.say(`on trial: R² ${tried.r_squared} (was ${fit.r_squared}) · ${first.key} = ${first.text}; no mark is changed`);
    this.graph.update();
  }

  /** @param {string} what @param {Record<string, any>} query */
  async ask(what, query) {
    const answer = await ask(`/api/studies/${this.bench.view.id}/${what}?${new URLSearchParams(query)}`);
    if (answer.ok) return answer.data;
    this.say(answer.error);
    return null;
  }

  /** @param {WheelEvent} event */
  wheel(event) {
    const at = this.at(event);
    if (!at || !at.onPlot || this.bench.here.graphs !== "all") return;
    event.preventDefault();
    const factor = event.deltaY > 0 ? ZOOM : 1 / ZOOM;
    const { x_low, x_high, y_low, y_high } = at.panel.ranges;
    const ranges = { ...at.panel.ranges };
    if (at.px >= 0) Object.assign(ranges, { x_low: at.x + (x_low - at.x) * factor, x_high: at.x + (x_high - at.x) * factor });
    if (at.py <= at.height) Object.assign(ranges, { y_low: at.y + (y_low - at.y) * factor, y_high: at.y + (y_high - at.y) * factor });
    this.look(at.panel, ranges);
  }
}

/**
 * A fit as the edit that would add it.
 * @param {any} fit
 */
export function asAdded(fit) {
  return { kind: "add_fit", ...fit.of, x: fit.x, y: fit.y, curve: fit.curve, formula: fit.formula, passages: fit.passages, points: fit.points, given: fit.given };
}

/**
 * The value of a series at x, between its neighbours.
 * @param {number[][]} points @param {number} x
 */
function between(points, x) {
  let left = null;
  let right = null;
  for (const point of points) {
    if (point[1] <= x && (left === null || point[1] > left[1])) left = point;
    if (point[1] >= x && (right === null || point[1] < right[1])) right = point;
  }
  if (!left || !right) return null;
  return right[1] === left[1] ? left[2] : left[2] + ((right[2] - left[2]) * (x - left[1])) / (right[1] - left[1]);
}

/**
 * Four digits, a true minus.
 * @param {number} value
 */
function tidy(value) {
  return Number(value.toPrecision(4)).toString().replace("-", "−");
}
