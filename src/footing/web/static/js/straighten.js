// The page of straight forms: small graphs side by side; choosing one makes columns, graph and line.

import { ask } from "./asking.js";
import { byId, part } from "./parts.js";

const SIZE = [150, 92];
const EDGE = 6;
const NAMESPACE = "http://www.w3.org/2000/svg";

/**
 * A straight form of a series: how it is called, its points and line, and what they come to.
 * @typedef {{points: number[][], line: number[][], straightness: string, slope: string, intercept: string, left_out: number} & Record<string, any>} Form
 */

export class Straighten {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./edits.js").Edits} edits
   * @param {import("./graph.js").Graph} graph
   */
  constructor(bench, edits, graph) {
    this.bench = bench;
    this.edits = edits;
    this.graph = graph;
    this.element = byId("straight-forms");
    part(document, "[data-straighten]").addEventListener("click", () => (this.element.hidden ? this.open() : this.close()));
    this.element.addEventListener("click", (event) => this.click(event));
    bench.on("step", () => this.close());
  }

  close() {
    this.element.hidden = true;
    this.graph.list.hidden = false;
  }

  async open() {
    const graph = this.bench.view.graphs[0];
    const series = graph?.series[0];
    if (!series) return this.bench.say("There are no points to straighten yet.");
    const query = new URLSearchParams({ owner: series.owner, x: graph.x, y: series.y });
    const answer = await ask(`/api/studies/${this.bench.view.id}/straight-forms?${query}`);
    if (!answer.ok) return this.bench.say(answer.error);
    this.asked = { ...series.of, x: graph.x, y: series.y };
    this.element.replaceChildren(...answer.data.map((/** @type {Form} */ form) => card(form, series.colour)));
    this.element.hidden = false;
    this.graph.list.hidden = true;
  }

  /** @param {MouseEvent} event */
  async click(event) {
    const button = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("button"));
    if (!button) return;
    const made = await this.edits.send({ kind: "straighten", ...this.asked, form: button.dataset.form });
    if (made.ok) this.close();
  }
}

/**
 * One form with its small graph.
 * @param {any} form @param {string} colour
 */
function card(form, colour) {
  const button = document.createElement("button");
  button.className = "straight-form";
  button.dataset.form = form.key;
  const title = Object.assign(document.createElement("b"), { textContent: `${form.up} against ${form.across}` });
  const straight = Object.assign(document.createElement("span"), { className: "figures", textContent: `R² ${form.straightness}` });
  const means = Object.assign(document.createElement("span"), { className: "soft", textContent: `slope = ${form.slope}; intercept = ${form.intercept}` });
  button.append(title, picture(form, colour), straight, means);
  if (form.left_out) button.append(Object.assign(document.createElement("span"), { className: "attention", textContent: `${form.left_out} points have no place in it` }));
  return button;
}

/** @param {Form} form @param {string} colour */
function picture(form, colour) {
  const xs = form.points.map(([x]) => x);
  const ys = [...form.points, ...form.line].map(([, y]) => y);
  const place = (/** @type {number} */ value, /** @type {number[]} */ all, /** @type {number} */ size) => {
    const [low, high] = [Math.min(...all), Math.max(...all)];
    return EDGE + ((value - low) / (high - low || 1)) * (size - 2 * EDGE);
  };
  const at = (/** @type {number[]} */ [x, y]) => [place(x, xs, SIZE[0]), SIZE[1] - place(y, ys, SIZE[1])];
  const svg = document.createElementNS(NAMESPACE, "svg");
  svg.setAttribute("viewBox", `0 0 ${SIZE[0]} ${SIZE[1]}`);
  svg.setAttribute("aria-hidden", "true");
  const line = document.createElementNS(NAMESPACE, "path");
  line.setAttribute("d", `M${form.line.map((point) => at(point).join()).join("L")}`);
  line.setAttribute("class", "straight-line");
  svg.append(line);
  for (const point of form.points) {
    const dot = document.createElementNS(NAMESPACE, "circle");
    const [x, y] = at(point);
    dot.setAttribute("cx", String(x));
    dot.setAttribute("cy", String(y));
    dot.setAttribute("r", "2.2");
    dot.setAttribute("fill", colour);
    svg.append(dot);
  }
  return svg;
}
