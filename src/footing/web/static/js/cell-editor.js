// The field in a cell of a sheet that is being typed.

const IN_THE_FIELD = ["ArrowLeft", "ArrowRight", "Home", "End"]; // these move in what is being typed

/** An editor as the grid wants it. */
export class CellEditor {
  /** @param {{container: HTMLElement, column: any, grid: any}} place */
  constructor({ container, column, grid }) {
    this.column = column;
    this.input = Object.assign(document.createElement("input"), { type: "text", ariaLabel: column.name.dataset.symbol });
    container.append(this.input);
    /** @type {string | null} */
    this.was = null;
    this.ended = new AbortController(); // taking the field out of the page is a blur as well
    this.input.addEventListener("keydown", (event) => (IN_THE_FIELD.includes(event.key) ? event.stopPropagation() : undefined));
    const left = () => document.activeElement !== this.input; // and not only the window
    this.input.addEventListener("blur", () => (left() ? grid.getEditorLock().commitCurrentEdit() : undefined), this.ended);
  }

  /**
   * Cells that arrive meanwhile do not change what is being typed.
   * @param {Record<string, string>} item
   */
  loadValue(item) {
    if (this.was !== null) return;
    this.was = item[this.column.field] ?? "";
    this.input.value = this.was;
    this.focus();
    this.input.select();
  }

  focus() {
    this.input.focus();
  }

  /** @param {string} text */
  setValue(text) {
    this.input.value = text;
    this.input.setSelectionRange(text.length, text.length); // else the same text as before stays selected
  }

  serializeValue() {
    return this.input.value;
  }

  /** @param {Record<string, string>} item @param {string} text */
  applyValue(item, text) {
    item[this.column.field] = text;
  }

  isValueChanged() {
    return this.input.value !== this.was;
  }

  validate() {
    return { valid: true, msg: null };
  }

  destroy() {
    this.ended.abort();
    this.input.remove();
  }
}
