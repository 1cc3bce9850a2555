// The graph: a specification from the server, drawn once; data, ranges and cursor move in place.

import { embed, changeset, expressionInterpreter } from "../vendor/vega.js";

const ONLY_ERRORS = 1; // an empty graph is no reason for a warning
const HIT = 14; // window pixels from a point within which a click means it

export class Graph {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} element */
  constructor(bench, element) {
    this.bench = bench;
    this.element = element;
    /** @type {HTMLElement} */
    this.plot = element.querySelector("#plot");
    /** @type {HTMLElement} */
    this.residualPlot = element.querySelector("#residual-plot");
    /** @type {Record<string, any>} the running views, and the specification that each was made from */
    this.views = {};
    this.specs = {};
    this.tail = Promise.resolve();
    for (const name of ["view", "step"]) bench.addEventListener(name, () => this.update());
    bench.addEventListener("frame", () => this.moveCursor());
    new ResizeObserver(() => window.dispatchEvent(new Event("resize"))).observe(element);
  }

  /** Bring the graph up to date; updates run one after the other. */
  update() {
    this.tail = this.tail.then(() => this.show()).catch((error) => console.error(error));
    return this.tail;
  }

  /** The frame whose points are ringed; the points of a picture belong to no moment. */
  get cursor() {
    return this.bench.isPicture ? -1 : this.bench.frame;
  }

  get visible() {
    return this.bench.step === "mark" || this.bench.step === "graph";
  }

  async show() {
    const { view } = this.bench;
    const graph = view.graph;
    if (!graph || !this.visible) return;
    const { points } = graph;
    /** @type {HTMLElement} */ (this.element.querySelector("#graph-title")).textContent = graph.title;
    /** @type {HTMLElement} */ (this.element.querySelector("#graph-empty")).hidden = points.length > 0;
    this.showNotes(graph.notes);
    const large = this.bench.step === "graph";
    const drawn = view.fits.filter((fit) => graph.drawn_fits.includes(fit.id) && fit.line);
    const residuals = large && drawn.length ? graph.residual_spec : null;
    this.residualPlot.hidden = !residuals;
    await this.ensure("main", this.plot, graph.spec);
    await this.ensure("residuals", this.residualPlot, residuals);
    const curves = drawn.flatMap((fit) => fit.line.map(([x, y]) => ({ x, y, fit: fit.id })));
    const remains = drawn.flatMap((fit) =>
      fit.residuals.map(([frame, x, residual]) => ({ frame, x, residual, body: fit.body, fit: fit.id })),
    );
    const runs = [this.fill("main", { points, curves, zeros: [{ at: 0, of: "x" }, { at: 0, of: "y" }] }, graph.ranges)];
    if (residuals) runs.push(this.fill("residuals", { residuals: remains }, graph.ranges));
    await Promise.all(runs);
    this.element.dataset.seq = String(view.seq);
  }

  /** @param {string[]} notes */
  showNotes(notes) {
    const place = this.element.querySelector("#graph-notes");
    place.replaceChildren(
      ...notes.map((text) => Object.assign(document.createElement("span"), { className: "soft", textContent: text })),
    );
    if (!notes.length) return;
    const button = Object.assign(document.createElement("button"), { className: "button is-small", textContent: "Include zero" });
    button.dataset.edit = JSON.stringify({ kind: "set_graph", footage: this.bench.footage.id, x: this.bench.view.graph.x, y: this.bench.view.graph.y, include_zero: true });
    place.append(button);
  }

  /** Make a view, unless the one that runs was made from the same specification. */
  async ensure(name, place, spec) {
    const key = spec && JSON.stringify(spec);
    if (this.specs[name] === key) return;
    this.specs[name] = key;
    this.views[name]?.finalize();
    this.views[name] = null;
    place.replaceChildren();
    if (!spec) return;
    const made = await embed(place, spec, {
      actions: false,
      ast: true,
      expr: expressionInterpreter,
      renderer: "canvas",
      defaultStyle: false,
      tooltip: false,
      logLevel: ONLY_ERRORS,
    });
    this.views[name] = made.view;
    made.view.addEventListener("click", (event) => this.click(event));
  }

  /** @param {string} name @param {Record<string, object[]>} data @param {Record<string, number>} ranges */
  fill(name, data, ranges) {
    const view = this.views[name];
    for (const [set, rows] of Object.entries(data)) {
      view.change(set, changeset().remove(() => true).insert(rows));
    }
    for (const [signal, value] of Object.entries(ranges)) view.signal(signal, value);
    view.signal("cursor", this.cursor);
    return view.runAsync();
  }

  moveCursor() {
    if (!this.visible) return;
    for (const view of Object.values(this.views)) view?.signal("cursor", this.cursor).runAsync();
    this.element.dataset.cursor = String(this.bench.frame);
  }

  /** A click on a point goes to its frame. @param {MouseEvent} event */
  click(event) {
    const view = this.views.main;
    const box = this.plot.querySelector("canvas").getBoundingClientRect();
    const [left, top] = view.origin();
    const at = [event.clientX - box.left - left, event.clientY - box.top - top];
    const [x, y] = [view.scale("x"), view.scale("y")];
    let nearest = { distance: HIT, frame: -1, body: -1 };
    for (const point of this.bench.view.graph.points) {
      const distance = Math.hypot(x(point.x) - at[0], y(point.y) - at[1]);
      if (distance < nearest.distance) nearest = { distance, frame: point.frame, body: point.body };
    }
    if (nearest.frame >= 0) this.bench.goTo(nearest.frame);
  }
}
