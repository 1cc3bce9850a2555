// The length on the dimension line: typed where it is drawn.

import { part } from "./parts.js";

export class Lengths {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./stage.js").Stage} stage
   * @param {import("./edits.js").Edits} edits
   */
  constructor(bench, stage, edits) {
    this.bench = bench;
    this.stage = stage;
    this.edits = edits;
    this.id = 0;
    this.form = part(stage.element, "#length-form", HTMLFormElement);
    bench.on("length", (made) => this.open(made));
    bench.on("step", () => this.close());
    stage.element.addEventListener("click", (event) => this.openFrom(event));
    stage.element.addEventListener("keydown", (event) => {
      if (event.key === "Enter") this.openFrom(event);
      if (event.key === "Escape") this.close();
    });
    this.form.addEventListener("submit", (event) => this.submit(event));
  }

  /** @param {Event} event */
  openFrom(event) {
    const label = /** @type {HTMLElement} */ (/** @type {Element} */ (event.target).closest("[data-open-length]"));
    if (label) this.open(Number(label.dataset.openLength));
  }

  /** @param {number} id */
  open(id) {
    const known = this.bench.ground.known_lengths.find((one) => one.id === id);
    if (!known) return;
    this.id = id;
    const [a, b] = [this.stage.pointOf(known.start), this.stage.pointOf(known.end)];
    this.form.hidden = false;
    const { clientWidth, clientHeight } = this.stage.element;
    const [x, y] = [(a[0] + b[0]) / 2 + 14, (a[1] + b[1]) / 2 - 20];
    this.form.style.left = `${Math.min(Math.max(x, 4), clientWidth - this.form.offsetWidth - 4)}px`;
    this.form.style.top = `${Math.min(Math.max(y, 4), clientHeight - this.form.offsetHeight - 4)}px`;
    this.input("length").value = known.typed;
    this.input("unit").value = known.unit;
    this.message.textContent = "";
    this.input("length").focus();
  }

  /** @param {string} name @returns {HTMLInputElement} */
  input(name) {
    return part(this.form, `[name=${name}]`, HTMLInputElement);
  }

  close() {
    this.form.hidden = true;
  }

  /** @returns {HTMLElement} */
  get message() {
    return part(this.form, ".message");
  }

  /** @param {SubmitEvent} event */
  async submit(event) {
    event.preventDefault();
    const [length, unit] = [this.input("length").value, this.input("unit").value];
    const edit = { kind: "type_known_length", known_length: this.id, length, unit };
    const answer = await this.edits.send(edit, this.message);
    if (answer.ok) this.close();
  }
}
