// The graphs of a source, one above the other: specifications from the server, drawn once; data,
// ranges and cursor move in place.

import { draw, html, svg } from "./drawing.js";
import { part, sure } from "./parts.js";
import { plotting } from "./plotting.js";

const ONLY_ERRORS = 1; // an empty graph is no reason for a warning
const ZEROS = [{ at: 0, of: "x" }, { at: 0, of: "y" }];
const OF_A_GUEST = -2; // numbers from here down: rows of another sheet, which the cursor does not ring
const TRIAL = "#8F5A00"; // colour of what is not kept
const OWN_ID = { title: "graph-title", notes: "graph-notes", plot: "plot", residuals: "residual-plot" };

/**
 * Where else than at Graph there are graphs, and when.
 * @typedef {{graphs: () => import("./known.js").GraphView[], visible: () => boolean}} Shows
 */

/** One graph with its residuals: its elements and the running drawings. */
class Panel {
  /** @param {Graph} graph @param {number} place */
  constructor(graph, place) {
    this.graph = graph;
    this.place = place;
    this.element = document.createElement("article");
    this.element.className = "graph-panel";
    this.element.dataset.place = String(place);
    this.element.innerHTML = `<header><h2></h2><div class="legend"></div><div class="notes"></div></header><div class="plot"></div><div class="plot residuals" hidden></div>`;
    this.title = part(this.element, "h2");
    this.legend = part(this.element, ".legend");
    this.notes = part(this.element, ".notes");
    this.plot = part(this.element, ".plot");
    this.residuals = part(this.element, ".residuals");
    // its room changes also when what stands above it does
    new ResizeObserver(() => window.dispatchEvent(new Event("resize"))).observe(this.plot);
    if (place === 0 && graph.ids) {
      this.title.id = OWN_ID.title;
      this.notes.id = OWN_ID.notes;
      this.plot.id = OWN_ID.plot;
      this.residuals.id = OWN_ID.residuals;
    }
    /** @type {Record<string, any>} the running views, and the specification that each was made from */
    this.views = {};
    /** @type {Record<string, string | null>} */
    this.specs = {};
    /** Whether residuals share the place, and how many graphs do. */
    this.shares = "";
    /**
     * What tools have drawn: an area, a tangent, a trial curve.
     * @type {Record<string, any[]>}
     */
    this.extra = { area: [], tangent: [], trial: [] };
    /**
     * Points that were moved on trial, by series and number.
     * @type {Map<string, [number, number]>}
     */
    this.moved = new Map();
    /**
     * A sketch while it is drawn.
     * @type {number[][] | null}
     */
    this.drawing = null;
    /**
     * The part that is looked at, if not all.
     * @type {Record<string, number> | null}
     */
    this.window = null;
    /** Whether what hardly changes is looked at closely. */
    this.closely = false;
  }

  /** What the server says of this graph. */
  get data() {
    return this.graph.graphs[this.place];
  }

  /** The fits that are drawn on it: those of its own series, and of series of other sheets. */
  get fits() {
    const own = this.graph.bench.view.fits.filter((fit) => this.data.drawn_fits.includes(fit.id));
    return [...own, ...this.data.guest_fits].flatMap((fit) => (fit.reason === null ? [fit] : []));
  }

  /** What was expected before the data were seen, as points. */
  get sketch() {
    return this.drawing ?? this.data.sketch;
  }

  get ranges() {
    const { ranges, steady } = this.data;
    return this.window ?? (this.closely && steady ? steady.ranges : ranges);
  }

  /**
   * Bring it up to date.
   * @param {boolean} large
   */
  async show(large) {
    const { data } = this;
    const { bench } = this.graph;
    this.title.textContent = data.title;
    this.showLegend();
    this.graph.showNotes(this);
    const drawn = this.fits;
    const residuals = large && drawn.length && !bench.options.noResiduals ? data.residual_spec : null;
    const shares = `${Boolean(residuals)} ${this.graph.panels.length}`;
    this.residuals.hidden = !residuals;
    await this.ensure("main", this.plot, data.spec);
    await this.ensure("residuals", this.residuals, residuals);
    if (shares !== this.shares) window.dispatchEvent(new Event("resize")); // the drawings fit their places anew
    this.shares = shares;
    await this.fillAll(drawn, Boolean(residuals));
  }

  /** @param {import("./shapes.js").FitWith[]} drawn @param {boolean} residuals */
  async fillAll(drawn, residuals) {
    const { data } = this;
    const hides = this.graph.sketchHides(this);
    const points = hides ? [] : data.series.flatMap((series) => rowsOf(series, this.moved));
    /** @type {{x: number, y: number, fit: number | string, dashed: boolean, colour: string}[]} */
    const curves = hides ? [] : drawn.flatMap((fit) => fit.line.map(([x, y]) => ({ x, y, fit: fit.id, dashed: fit.dashed, colour: fit.colour })));
    curves.push(...data.lines.flatMap(({ key, colour, dashed, points: line }) => line.map(([x, y]) => ({ x, y, fit: key, dashed, colour }))));
    curves.push(...this.extra.trial.map(([x, y]) => ({ x, y, fit: -1, dashed: true, colour: TRIAL })));
    const { area, tangent } = this.extra;
    const sketch = this.sketch.map(([x, y], place) => ({ x, y, place }));
    const runs = [this.fill("main", { points, curves, zeros: ZEROS, area, tangent, sketch, asides: hides ? [] : data.asides })];
    if (residuals) runs.push(this.fill("residuals", { residuals: this.remains(drawn) }));
    await Promise.all(runs);
  }

  /**
   * What remains of each fit, drawn like the series it goes through.
   * @param {import("./shapes.js").FitWith[]} drawn
   */
  remains(drawn) {
    return drawn.flatMap((fit) => {
      const series = this.data.series.find((one) => one.owner === fit.owner && one.y === fit.y);
      return fit.residuals.map(([number, x, residual]) => ({ ...look(series), number: cursorNumber(series, number), x, residual, series: fit.id, size: 26, joined: "points" }));
    });
  }

  /** Which colour and shape stands for what. */
  showLegend() {
    draw(this.legend, this.data.legend_entries.map((entry) => html("span", {}, [sign(entry), ` ${entry.name}`])));
  }

  /**
   * Make a view, unless the one that runs was made from the same specification.
   * @param {"main" | "residuals"} name @param {HTMLElement} place @param {object | null} spec
   */
  async ensure(name, place, spec) {
    const key = spec && JSON.stringify(spec);
    if (this.specs[name] === key) return;
    const { embed, expressionInterpreter } = await plotting();
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
  }

  /** @param {string} name @param {Record<string, object[]>} data */
  async fill(name, data) {
    const { changeset } = await plotting();
    const view = this.views[name];
    for (const [set, rows] of Object.entries(data)) view.change(set, changeset().remove(() => true).insert(rows));
    for (const [signal, value] of Object.entries(this.ranges)) view.signal(signal, value);
    view.signal("error_bars", this.data.error_bars);
    view.signal("bands", this.graph.bench.options.ledgerBands);
    view.signal("cursor", this.graph.cursor);
    return view.runAsync();
  }

  /** Draw again what tools have changed. */
  redraw() {
    return this.graph.update();
  }

  finish() {
    for (const view of Object.values(this.views)) view?.finalize();
    this.element.remove();
  }
}

export class Graph {
  /**
   * @param {import("./state.js").Bench} bench @param {HTMLElement} element
   * @param {Shows} [shows] another place of the page than the step Graph
   */
  constructor(bench, element, shows) {
    this.bench = bench;
    this.element = element;
    this.shows = shows ?? null;
    this.list = part(element, ".graph-list");
    this.ids = !shows; // parts of the page have ids once only
    /** @type {Panel[]} */
    this.panels = [];
    /** @type {string | number | null} */
    this.source = null;
    this.tail = Promise.resolve();
    bench.on(["view", "step", "options", "tool"], () => this.update());
    bench.on("frame", () => this.moveCursor());
    // the place of the drawings, which also changes when a result comes above them
    new ResizeObserver(() => window.dispatchEvent(new Event("resize"))).observe(this.list);
  }

  /** Bring the graphs up to date; updates run one after the other. */
  update() {
    this.tail = this.tail.then(() => this.show()).catch((error) => console.error(error));
    return this.tail;
  }

  /** The frame or row whose points are ringed; the points of a picture belong to no moment. */
  get cursor() {
    return this.bench.isPicture ? -1 : this.bench.sheet ? this.bench.row : this.bench.frame;
  }

  /** Where there is nothing to draw, no axis stands there with numbers that mean nothing. */
  showEmptiness() {
    const { view, sheet, tool } = this.bench;
    const drawn = view.graphs.some((graph) => graph.sketch.length || graph.series.some((series) => series.points.length));
    const empty = /** @type {HTMLElement} */ (this.element.querySelector("#graph-empty"));
    empty.hidden = drawn;
    part(empty, "span").textContent = sheet ? "Two columns of numbers appear here as points." : "Marks appear here as points, one for each.";
    part(empty, "button").textContent = sheet ? "Go to the sheet" : "Go and mark";
    this.element.dataset.empty = String(!drawn && tool !== "graph-sketch");
  }

  get visible() {
    if (this.shows) return this.shows.visible();
    const { here, sheet } = this.bench;
    return here.graphs === "all" || (here.graphs === "beside a sheet" && sheet !== null);
  }

  /** What the server says of the graphs. */
  get graphs() {
    return this.shows ? this.shows.graphs() : this.bench.view.graphs;
  }

  async show() {
    const { view, here } = this.bench;
    if (!this.visible) return;
    if (this.source !== this.bench.sourceId) {
      this.source = this.bench.sourceId;
      this.keep(0);
    }
    this.keep(this.graphs.length);
    if (!this.shows) this.showEmptiness();
    for (const panel of this.panels) await panel.show(!this.shows && here.graphs === "all");
    this.element.dataset.seq = String(view.seq);
    this.element.dispatchEvent(new Event("shown"));
  }

  /**
   * So many panels, no more and no fewer.
   * @param {number} count
   */
  keep(count) {
    while (this.panels.length > count) this.panels.pop()?.finish();
    while (this.panels.length < count) {
      const panel = new Panel(this, this.panels.length);
      this.panels.push(panel);
      this.list.append(panel.element);
    }
  }

  /**
   * Where an axis begins, and what hardly changes and is shown so.
   * @param {Panel} panel
   */
  showNotes(panel) {
    const { steady, notes } = panel.data;
    if (panel.data.waits) {
      panel.notes.textContent = "Draw what you expect first (Sketch, B); then the points appear.";
      return;
    }
    const says = !steady ? notes : [panel.closely ? "Looked at closely: how it wiggles" : steady.text];
    panel.notes.replaceChildren(...says.map((text) => Object.assign(document.createElement("span"), { className: "soft", textContent: text })));
    if (steady) panel.notes.append(this.looksClosely(panel));
    else if (notes.length) panel.notes.append(this.includesZero(panel));
  }

  /** @param {Panel} panel */
  looksClosely(panel) {
    const { beside } = sure(panel.data.steady);
    const button = Object.assign(document.createElement("button"), { className: "button is-small", textContent: panel.closely ? `As long as for ${beside}` : "See the wiggles" });
    button.addEventListener("click", () => {
      panel.closely = !panel.closely;
      panel.window = null;
      this.update();
    });
    return button;
  }

  /** @param {Panel} panel */
  includesZero(panel) {
    const button = Object.assign(document.createElement("button"), { className: "button is-small", textContent: "Include zero" });
    button.dataset.edit = JSON.stringify({ kind: "set_graph", ...this.bench.source, place: panel.place, include_zero: true, x_range: [], y_range: [] });
    return button;
  }

  moveCursor() {
    if (!this.visible) return;
    for (const panel of this.panels) {
      for (const view of Object.values(panel.views)) view?.signal("cursor", this.cursor).runAsync();
    }
    this.element.dataset.cursor = String(this.cursor);
  }

  /**
   * Whether the data wait until a curve was sketched.
   * @param {Panel} panel
   */
  sketchHides(panel) {
    return !panel.data.sketch.length && (panel.data.waits || this.bench.tool === "graph-sketch");
  }
}

/**
 * A point, or a line where the entry has no form.
 * @param {import("./shapes.js").LegendEntryShape} entry
 */
function sign({ path, colour, hollow, dashed }) {
  if (path === null) {
    const line = svg("path", { d: "M0,5H26", stroke: colour, "stroke-width": 2, "stroke-dasharray": dashed ? "6 4" : "" });
    return svg("svg", { viewBox: "0 0 26 10", width: 26, height: 10, "aria-hidden": "true" }, [line]);
  }
  const shape = svg("path", { d: path, stroke: colour, "stroke-width": 0.35, fill: hollow ? "none" : colour });
  return svg("svg", { viewBox: "-1.4 -1.4 2.8 2.8", width: 13, height: 13, "aria-hidden": "true" }, [shape]);
}

/** @param {any} series */
function look(series) {
  return { colour: series?.colour ?? "#1E2723", path: series?.path ?? "circle", hollow: series?.hollow ?? false };
}

/**
 * The number by which the cursor knows a point; it rings none of another sheet.
 * @param {any} series @param {number} number
 */
function cursorNumber(series, number) {
  return series?.guest ? OF_A_GUEST - number : number;
}

/**
 * The points of a series as rows of data.
 * @param {import("./known.js").Series} series @param {Map<string, [number, number]>} moved
 */
function rowsOf(series, moved) {
  return series.points.map(([number, x, y, across, error]) => {
    const there = moved.get(`${series.key}/${number}`);
    const [at, up] = there ?? [x, y];
    return { number: cursorNumber(series, number), x: at, y: up, low: up - error, high: up + error, left: at - across, right: at + across, series: series.place, piece: series.hits.filter((hit) => hit <= number).length, size: series.size, joined: series.joined, band: series.band, ...look(series) };
  });
}
