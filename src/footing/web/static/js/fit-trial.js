// Curves that are tried before they are kept: while choosing one, and by hand with sliders.

import { asAdded } from "./graph-tools.js";
import { part } from "./parts.js";

const REACH = 0.6; // how far a slider goes, as a share of the value

export class FitTrial {
  /** @param {import("./state.js").Bench} bench @param {import("./graph.js").Graph} graph */
  constructor(bench, graph) {
    this.bench = bench;
    this.graph = graph;
    this.busy = false;
    /** @type {(() => Promise<void>) | null} */
    this.next = null;
    document.addEventListener("input", (event) => this.input(event));
    bench.on("view", () => this.clear());
  }

  /** @param {Event} event */
  input(event) {
    const field = /** @type {HTMLInputElement} */ (event.target);
    const { form } = field;
    if (form && field.dataset.slide) this.soon(() => this.byHand(form));
    else if (form?.matches("form.add[data-kind=add_fit]")) this.soon(() => this.choosing(form));
  }

  /**
   * One question at a time; of those that wait, the latest.
   * @param {() => Promise<void>} ask
   */
  async soon(ask) {
    this.next = ask;
    if (this.busy) return;
    this.busy = true;
    while (this.next) {
      const now = this.next;
      this.next = null;
      await now();
    }
    this.busy = false;
  }

  /**
   * What the curve that is being chosen would come to.
   * @param {HTMLFormElement} form
   */
  async choosing(form) {
    const value = (/** @type {string} */ name) => /** @type {HTMLInputElement | null} */ (form.elements.namedItem(name))?.value ?? "";
    const passages = value("passages") ? [Number(value("passages"))] : [];
    if (value("curve") === "own" && !value("formula").trim()) return;
    const series = JSON.parse(value("series"));
    const said = await this.bench.tryFit({ kind: "add_fit", ...series, curve: value("curve"), formula: value("formula"), passages });
    this.show(said, part(form, ".try-said"), series.x, series.y);
  }

  /**
   * The curve with the values of the sliders.
   * @param {HTMLFormElement} form
   */
  async byHand(form) {
    const id = Number(/** @type {HTMLInputElement} */ (form.elements.namedItem("fit")).value);
    const fit = this.bench.view.fits.find((one) => one.id === id);
    if (!fit || !("parameters" in fit)) return;
    const given = Object.fromEntries(
      fit.parameters.map((one) => {
        const slider = /** @type {HTMLInputElement} */ (form.querySelector(`[data-slide="${one.key}"]`));
        const value = Number(one.plain);
        const share = (Number(slider.value) - 100) / 100;
        return [one.key, { value: String(value + share * REACH * (Math.abs(value) || 1)), fixed: true }];
      }),
    );
    const said = await this.bench.tryFit({ ...asAdded(fit), given });
    this.show(said, part(form, ".slide-said"), fit.x, fit.y);
    const place = part(form, ".slide-said");
    if (said?.sum_of_squares) place.textContent = `${said.parameters.map((/** @type {import("./shapes.js").ReadingShape} */ one) => `${one.formula.flat().join("")} = ${Number(one.plain).toPrecision(4).replace("-", "−")}`).join(", ")} · sum of squares ${said.sum_of_squares} (best ${fit.sum_of_squares})`;
  }

  /** @param {any} said @param {Element} place @param {string} x @param {string} y */
  show(said, place, x, y) {
    if (!said) return;
    const panel = this.graph.panels.find((one) => one.data.x === x && one.data.ys.includes(y));
    if (panel) {
      panel.extra.trial = said.line ?? [];
      this.graph.update();
    }
    place.textContent = said.error ?? said.reason ?? `on trial: scatter ${said.scatter}, R² ${said.r_squared ?? "undefined"}`;
  }

  clear() {
    for (const panel of this.graph.panels) panel.extra.trial = [];
  }
}
