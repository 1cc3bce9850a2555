// The predicted motions' own part of the page: their graph, what is tried by hand, and which is in hand.

import { ask } from "./asking.js";
import { Graph } from "./graph.js";
import { part, sure } from "./parts.js";

const LONGEST_NAME = 60; // of a finding
const DIGITS = 4; // of what a slider stands for
const QUANTITIES = ["most", "y", "x", "vy", "vx", "v", "h", "path"];

/** @typedef {import("./shapes.js").ModelShape} Model */

export class Models {
  /**
   * @param {import("./state.js").Bench} bench @param {import("./edits.js").Edits} edits @param {HTMLElement} element
   */
  constructor(bench, edits, element) {
    this.bench = bench;
    this.edits = edits;
    this.element = element;
    this.busy = false;
    /** @type {HTMLInputElement | null} the slider that was moved last and is not answered yet */
    this.next = null;
    this.graph = new Graph(bench, part(element, ".model-graph"), {
      graphs: () => [bench.tried?.graph ?? bench.view.models?.graph].flatMap((one) => (one ? [one] : [])),
      visible: () => bench.here.models === "own",
    });
    bench.on("step", () => this.show());
    bench.on("view", () => {
      bench.tried = null;
      if (bench.here.models === "lines") this.show();
      this.offerFiles();
    });
    bench.on("cards", () => this.showRow());
    bench.on("options", () => this.showOptions());
    bench.on("frame", () => this.showRow());
    element.addEventListener("toggle", () => this.showRow(), true);
    document.addEventListener("click", (event) => this.click(event));
    document.addEventListener("input", (event) => this.input(event));
    document.addEventListener("change", (event) => this.change(event));
    part(element, "select", HTMLSelectElement).addEventListener("change", (event) => bench.setOption("modelGraph", /** @type {HTMLSelectElement} */ (event.target).value));
    this.show();
    this.showOptions();
    this.offerFiles();
    this.graph.update();
  }

  /** The models are computed while somebody looks at them; on other graphs their lines alone. */
  show() {
    const { here, view, options } = this.bench;
    const any = view.steps.model !== undefined && view.steps.model !== "untouched";
    const wanted = { none: [], own: [`models:${options.modelGraph}`], lines: any ? ["models"] : [] };
    this.bench.show("models", wanted[here.models]);
  }

  showOptions() {
    const { options } = this.bench;
    const root = /** @type {HTMLElement} */ (this.element.closest(".bench"));
    root.dataset.modelFilm = String(options.modelFilm);
    part(this.element, "select", HTMLSelectElement).value = options.modelGraph;
    part(this.element, "[data-model-film]").setAttribute("aria-pressed", String(options.modelFilm));
    this.show();
    this.offerFiles();
    window.dispatchEvent(new Event("resize"));
  }

  /** What can be taken out is of the source on the stage. */
  offerFiles() {
    const { view, asSeen, options } = this.bench;
    for (const link of /** @type {NodeListOf<HTMLAnchorElement>} */ (this.element.querySelectorAll("[data-model-file]"))) {
      const more = link.dataset.modelFile === "table.csv" ? "" : `${asSeen ? "&" : "?"}quantity=${options.modelGraph}`;
      link.href = `/api/studies/${view.id}/models/${link.dataset.modelFile}${asSeen}${more}`;
    }
  }


  /** The row of the frame that is shown. */
  showRow() {
    const table = /** @type {HTMLDetailsElement | null} */ (this.element.querySelector(".model-table"));
    if (!table?.open) return;
    table.querySelector("tr.now")?.classList.remove("now");
    table.querySelector(`[data-model-row="${this.bench.frame}"]`)?.classList.add("now");
  }

  /** The next quantity in the graph. */
  nextQuantity() {
    const place = QUANTITIES.indexOf(this.bench.options.modelGraph);
    this.bench.setOption("modelGraph", QUANTITIES[(place + 1) % QUANTITIES.length]);
  }

  /** Take the next model in hand. */
  nextModel() {
    const models = this.bench.view.models?.models ?? [];
    const place = models.findIndex((one) => one.id === this.bench.modelInHand?.id);
    if (models.length) this.bench.takeModel(models[(place + 1) % models.length].id);
  }

  /** @param {MouseEvent} event */
  click(event) {
    const button = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("button"));
    if (!button) return;
    const { pickModel, modelFilm, recordModel } = button.dataset;
    if (pickModel) this.bench.takeModel(Number(pickModel));
    else if (modelFilm !== undefined) this.bench.setOption("modelFilm", !this.bench.options.modelFilm);
    else if (recordModel) this.record(button);
    else if ("readStation" in button.dataset) this.readStation(button);
  }

  /**
   * Keep a number that a model gives.
   * @param {HTMLElement} button
   */
  async record(button) {
    const { recordModel, reading, name } = button.dataset;
    const message = /** @type {HTMLElement} */ (button.closest("article")?.querySelector(".message"));
    await this.edits.send({ kind: "add_finding", model: Number(recordModel), reading, name: sure(name).slice(0, LONGEST_NAME) }, message);
  }

  /**
   * What the weather station says is put into the form; it counts once somebody takes it.
   * @param {HTMLElement} button
   */
  async readStation(button) {
    const form = /** @type {HTMLFormElement} */ (button.closest("form"));
    const answer = await ask("/api/weather-station");
    part(form, ".message").textContent = answer.error;
    if (!answer.ok) return;
    for (const [name, value] of Object.entries(answer.data)) {
      const field = /** @type {HTMLInputElement} */ (form.elements.namedItem(name));
      field.value = String(value);
      field.dispatchEvent(new Event("input", { bubbles: true }));
    }
  }

  /** @param {Event} event */
  input(event) {
    const slider = /** @type {HTMLInputElement} */ (event.target);
    if (slider.dataset.slideModel) this.soon(slider);
  }

  /**
   * A slider that was let go is kept as if it had been typed.
   * @param {Event} event
   */
  async change(event) {
    const slider = /** @type {HTMLInputElement} */ (event.target);
    if (!slider.dataset.slideModel) return;
    this.next = null;
    const form = /** @type {HTMLFormElement} */ (slider.form);
    await this.edits.send({ kind: "set_parameter", ...said(slider) }, part(form, ".message", HTMLElement));
  }

  /**
   * One question at a time; of those that wait, the latest.
   * @param {HTMLInputElement} slider
   */
  async soon(slider) {
    this.next = slider;
    /** @type {HTMLInputElement} */ (slider.form?.elements.namedItem("typed")).value = said(slider).typed;
    if (this.busy) return;
    this.busy = true;
    while (this.next) {
      const now = this.next;
      this.next = null;
      await this.attempt(now);
    }
    this.busy = false;
  }

  /** @param {HTMLInputElement} slider */
  async attempt(slider) {
    const { view, asSeen, options } = this.bench;
    const query = `${asSeen ? `${asSeen}&` : "?"}quantity=${options.modelGraph}`;
    const answer = await ask(`/api/studies/${view.id}/models/trial${query}`, { content: said(slider) });
    part(/** @type {HTMLElement} */ (slider.form), ".message").textContent = answer.error;
    if (!answer.ok) return;
    this.bench.tryModel(answer.data);
    this.graph.update();
  }
}

/**
 * What a slider says of its parameter.
 * @param {HTMLInputElement} slider
 */
function said(slider) {
  const form = /** @type {HTMLFormElement} */ (slider.form);
  const field = (/** @type {string} */ name) => /** @type {HTMLInputElement | null} */ (form.elements.namedItem(name))?.value ?? "";
  const leg = field("leg");
  return {
    model: Number(field("model")),
    leg: leg === "" ? null : Number(leg),
    name: field("name"),
    how: "typed",
    typed: Number(slider.value).toPrecision(DIGITS),
    unit: field("unit"),
    as_is: field("as_is"),
  };
}
