// The ledger's own part of the page: which account is shown, its graph, and the working of a number.

import { ask } from "./asking.js";
import { Graph } from "./graph.js";
import { part } from "./parts.js";

export class Ledger {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} element */
  constructor(bench, element) {
    this.bench = bench;
    this.element = element;
    this.working = part(element, "#working");
    this.graph = new Graph(bench, part(element, ".ledger-energy"), {
      graphs: () => [this.bench.view.ledger?.graph].flatMap((one) => (one ? [one] : [])),
      visible: () => this.bench.here.accounts,
    });
    bench.on("step", () => this.show());
    bench.on("options", () => this.showOptions());
    bench.onParts(["ledger"], () => this.refreshWorking());
    document.addEventListener("click", (event) => this.click(event));
    this.show();
    this.showOptions();
    this.graph.update();
  }

  /** The ledgers are computed while somebody looks at them. */
  show() {
    this.bench.show("ledger", this.bench.here.accounts ? ["ledger"] : []);
    this.close();
  }

  showOptions() {
    const { options } = this.bench;
    const root = /** @type {HTMLElement} */ (this.element.closest(".bench"));
    root.dataset.ledgerTab = options.ledgerTab;
    root.dataset.film = String(options.ledgerFilm);
    for (const button of this.element.querySelectorAll("[data-ledger-tab]")) {
      button.setAttribute("aria-pressed", String(/** @type {HTMLElement} */ (button).dataset.ledgerTab === options.ledgerTab));
    }
    for (const button of this.element.querySelectorAll("[data-ledger-option]")) {
      button.setAttribute("aria-pressed", String(options[/** @type {HTMLElement} */ (button).dataset.ledgerOption ?? ""]));
    }
    window.dispatchEvent(new Event("resize"));
  }

  /** @param {MouseEvent} event */
  click(event) {
    const button = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("button"));
    const { ledgerTab, ledgerOption, working } = button?.dataset ?? {};
    if (ledgerTab) this.bench.setOption("ledgerTab", ledgerTab);
    if (ledgerOption) this.bench.setOption(ledgerOption, !this.bench.options[ledgerOption]);
    if (working) this.showWorking(working);
    if (button && "closeWorking" in button.dataset) this.close();
    if (button && "copyWorking" in button.dataset) this.copy(button.dataset.copyWorking ?? "");
  }

  /** @param {string} of */
  async showWorking(of) {
    const answer = await ask(`/studies/${this.bench.view.id}/working?of=${encodeURIComponent(of)}&${new URLSearchParams({ source: String(this.bench.sourceId) })}`);
    this.working.hidden = false;
    this.working.dataset.of = of;
    if (answer.ok) this.working.innerHTML = answer.data;
    else this.working.textContent = answer.error;
  }

  /** What is shown follows what it was made of. */
  refreshWorking() {
    if (!this.working.hidden && this.working.dataset.of) this.showWorking(this.working.dataset.of);
  }

  close() {
    this.working.hidden = true;
  }

  /** @param {string} as */
  async copy(as) {
    const text = part(this.working, `[data-as="${as}"]`).textContent ?? "";
    await navigator.clipboard.writeText(text.trim());
    this.bench.say("Copied.");
  }
}
