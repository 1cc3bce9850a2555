// How a number was worked out: asked for at the number, shown beside it, and kept up to date.

import { ask } from "./asking.js";
import { part } from "./parts.js";

export class WorkingPanel {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} element */
  constructor(bench, element) {
    this.bench = bench;
    this.element = element;
    bench.on("view", () => this.refresh());
    bench.on("working", (of) => this.show(of));
    bench.on("step", () => this.close());
    document.addEventListener("click", (event) => this.click(event));
  }

  /** @param {MouseEvent} event */
  click(event) {
    const button = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("button"));
    const { working, copyWorking } = button?.dataset ?? {};
    if (working) this.show(working);
    else if (copyWorking) this.copy(copyWorking);
    else if (button && "closeWorking" in button.dataset) this.close();
  }

  /** @param {string} of what names the number */
  async show(of) {
    const query = new URLSearchParams({ of, source: String(this.bench.sourceId) });
    const answer = await ask(`/studies/${this.bench.view.id}/working?${query}`);
    this.element.hidden = false;
    this.element.dataset.of = of;
    if (answer.ok) this.element.innerHTML = answer.data;
    else {
      const message = Object.assign(document.createElement("p"), { className: "attention", textContent: answer.error });
      const close = Object.assign(document.createElement("button"), { className: "button is-small", textContent: "Close" });
      close.dataset.closeWorking = "";
      this.element.replaceChildren(message, close);
    }
  }

  /** What is shown follows what it was made of. */
  refresh() {
    if (!this.element.hidden && this.element.dataset.of) this.show(this.element.dataset.of);
  }

  close() {
    this.element.hidden = true;
  }

  /** @param {string} as */
  async copy(as) {
    const text = part(this.element, `[data-as="${as}"]`).textContent ?? "";
    await navigator.clipboard.writeText(text.trim());
    this.bench.say("Copied.");
  }
}
