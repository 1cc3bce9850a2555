// Columns of a study as those of the grid: their heads, widths, and who types in them.

import { CellEditor } from "./cell-editor.js";

const LEAST_WIDTH = 85;
const MOST_WIDTH = 220;
const LETTER = 7.4; // how wide a letter of a heading is, about

/**
 * A column of the study as one of the grid.
 * @param {any} one @param {number} [width]
 */
export function columnOf(one, width) {
  const heading = Math.max(one.name === one.symbol ? 0 : one.name.length, `${one.symbol} ${one.shown_unit}`.length);
  return {
    id: one.key,
    key: one.id,
    field: one.key,
    name: headOf(one),
    width: width ?? Math.min(Math.max(heading * LETTER + 18, LEAST_WIDTH), MOST_WIDTH),
    minWidth: 50,
    cssClass: `${one.formula === null ? "typed" : "computed"}${one.highlighted ? " highlighted" : ""}`,
    headerCssClass: one.highlighted ? "highlighted" : "",
    editor: one.formula === null ? CellEditor : null,
  };
}

/** @param {any} one */
function headOf(one) {
  const head = document.createElement("div");
  head.dataset.symbol = one.symbol;
  head.title = one.problem ?? one.name;
  head.className = one.problem ? "column-head wrong" : "column-head";
  const symbol = Object.assign(document.createElement("span"), { className: "column-symbol" });
  symbol.innerHTML = one.shown_symbol;
  const unit = Object.assign(document.createElement("small"), { textContent: one.shown_unit });
  const name = Object.assign(document.createElement("span"), { className: "column-name", textContent: one.name === one.symbol ? "" : one.name });
  head.append(symbol, " ", unit, name);
  head.addEventListener("dblclick", () => nameColumn(one.id));
  return head;
}

/**
 * Open the card of a column at its name.
 * @param {number} id
 */
function nameColumn(id) {
  const card = /** @type {HTMLDetailsElement | null} */ (document.querySelector(`.sheet-column[data-column="${id}"]`));
  if (!card) return;
  card.open = true;
  /** @type {HTMLInputElement} */ (card.querySelector('[data-kind="change_column"] [name=name]')).select();
}
