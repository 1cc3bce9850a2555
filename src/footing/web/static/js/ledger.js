// The ledger's own part of the page: which account is shown, and its graph.

import { Graph } from "./graph.js";
import { part } from "./parts.js";

export class Ledger {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} element */
  constructor(bench, element) {
    this.bench = bench;
    this.element = element;
    this.graph = new Graph(bench, part(element, ".ledger-energy"), {
      graphs: () => [this.bench.view.ledger?.graph].flatMap((one) => (one ? [one] : [])),
      visible: () => this.bench.here.accounts,
    });
    bench.on("step", () => this.show());
    bench.on("view", () => this.offerFiles());
    this.offerFiles();
    bench.on("options", () => this.showOptions());
    document.addEventListener("click", (event) => this.click(event));
    this.show();
    this.showOptions();
    this.graph.update();
  }

  /** The ledgers are computed while somebody looks at them. */
  show() {
    this.bench.show("ledger", this.bench.here.accounts ? ["ledger"] : []);
  }

  /** What can be taken out is of the source on the stage. */
  offerFiles() {
    const { view, asSeen } = this.bench;
    for (const link of /** @type {NodeListOf<HTMLAnchorElement>} */ (this.element.querySelectorAll("[data-ledger-file]"))) {
      link.href = `/api/studies/${view.id}/ledger/${link.dataset.ledgerFile}${asSeen}`;
    }
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
    const { ledgerTab, ledgerOption } = button?.dataset ?? {};
    if (ledgerTab) this.bench.setOption("ledgerTab", ledgerTab);
    if (ledgerOption) this.bench.setOption(ledgerOption, !this.bench.options[ledgerOption]);
  }
}
