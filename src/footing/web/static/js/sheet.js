// The grid of a sheet: cells are chosen, typed, emptied, copied and pasted; edits go through the one door.

import { SlickCellRangeSelector, SlickCellSelectionModel, SlickGrid, SlickRange } from "../vendor/grid.js";
import { columnOf } from "./grid-columns.js";
import { sure } from "./parts.js";
import { SheetCells } from "./sheet-cells.js";
import { copy } from "./tables.js";

const ROW_HEIGHT = 27;
const SETTLED = 40; // ms without scrolling after which cells are fetched
const MOST_COPIED = 500_000; // cells that are copied at once
const MOST_CHOSEN = 2_000_000; // cells that are chosen at once
const ROW_NUMBERS = {
  id: "row",
  field: "row",
  name: "row",
  width: 62,
  focusable: false,
  selectable: false,
  resizable: false,
  cssClass: "row-number",
};

/**
 * What the grid has of a column, and what it says of an event.
 * @typedef {{id: string, field: string, key: string, width: number, editor?: object}} GridColumn
 * @typedef {{row: number, cell: number, item: Record<string, string>, column: GridColumn}} GridEvent
 */

export class SheetGrid {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./edits.js").Edits} edits
   * @param {HTMLElement} element
   */
  constructor(bench, edits, element) {
    this.bench = bench;
    this.edits = edits;
    this.element = element;
    this.cells = new SheetCells(bench, (first, end) => this.paint(first, end));
    /** @type {any} */
    this.grid = null;
    this.made = "";
    this.sheet = 0;
    this.seq = -1;
    this.asides = "";
    this.settling = 0;
    /**
     * The column in which a row of entries began, to which Enter goes back; null while none is typed.
     * @type {number | null}
     */
    this.began = null;
    /** Whether the grid must be laid out again once nobody types in it: that would end the entry. */
    this.delayed = false;
    bench.on(["view", "step"], () => this.update());
    element.addEventListener("keydown", (event) => this.key(event), true);
    document.addEventListener("paste", (event) => this.paste(event));
    document.addEventListener("copy", (event) => this.copy(event));
    new ResizeObserver(() => (this.grid && this.shown ? this.lay() : undefined)).observe(element);
    this.update();
  }

  get shown() {
    return this.bench.sheet && this.bench.here.graphs !== "all";
  }

  update() {
    const { sheet, view } = this.bench;
    this.element.hidden = !this.shown;
    if (!sheet || !this.shown) return;
    if (sheet.id !== this.sheet) this.open(sheet.id);
    const shape = JSON.stringify([sheet.id, view.columns.map((one) => [one.key, one.symbol, one.shown_unit, one.name, one.formula !== null, one.problem, one.highlighted])]);
    if (shape !== this.made) this.layColumns(shape);
    if (this.seq !== view.seq) this.renew();
    this.seq = view.seq;
  }

  /**
   * Show another sheet.
   * @param {number} id
   */
  open(id) {
    this.sheet = id;
    this.seq = -1;
    this.cells.empty();
    if (!this.grid) this.make();
    this.grid.resetActiveCell();
    this.grid.scrollRowToTop(0);
    this.bench.selectCells({ first: 1, last: 1, columns: [] });
  }

  make() {
    this.grid = new SlickGrid(this.element, this.cells, [ROW_NUMBERS], {
      rowHeight: ROW_HEIGHT,
      frozenColumn: 0,
      editable: true,
      autoEdit: false,
      enableColumnReorder: false,
      enableHtmlRendering: false,
      defaultFormatter: (/** @type {number} */ row, /** @type {number} */ cell, /** @type {string | undefined} */ value) => this.printed(row, cell, value),
      invalidColumnFreezeWidthCallback: () => undefined, // a narrow window scrolls
    });
    const { grid } = this;
    grid.setSelectionModel(new SlickCellSelectionModel({ selectActiveCell: true, cellRangeSelector: new SlickCellRangeSelector({ selectionCss: { border: "2px solid #1F5B4A" } }) }));
    grid.onViewportChanged.subscribe(() => this.settle());
    grid.onBeforeCellEditorDestroy.subscribe(() => queueMicrotask(() => (this.delayed ? this.lay() : undefined)));
    grid.onCellChange.subscribe((/** @type {any} */ _, /** @type {GridEvent} */ { row, item, column }) => this.typed(row, column, item[column.field]));
    grid.getSelectionModel().onSelectedRangesChanged.subscribe((/** @type {any} */ _, /** @type {any[]} */ ranges) => this.selected(ranges[0]));
    grid.onClick.subscribe((/** @type {MouseEvent} */ event, /** @type {GridEvent} */ { row, cell }) => {
      this.began = null;
      if (cell === 0) this.chooseRow(row, event.shiftKey);
    });
    grid.onHeaderClick.subscribe((/** @type {MouseEvent} */ event, /** @type {GridEvent} */ { column }) => this.chooseColumn(column, event.shiftKey));
    this.nameParts();
  }

  /** Roles for screen readers, where the grid's own do not go together; and one stop of Tab, not eight. */
  nameParts() {
    for (const pane of this.element.querySelectorAll(".slick-pane, .slick-viewport, .grid-canvas")) pane.removeAttribute("tabindex");
    for (const sink of this.element.querySelectorAll(":scope > [tabindex]")) {
      const cell = Object.assign(document.createElement("span"), { role: "gridcell", ariaLabel: "Cells: the arrow keys move, typing begins an entry" });
      sink.setAttribute("role", "row");
      sink.append(cell);
    }
  }

  /**
   * What a cell shows.
   * @param {number} row @param {number} cell @param {string | undefined} value
   */
  printed(row, cell, value) {
    const time = this.cells.texts.get(row)?.t;
    const head = time ? `${row + 1} · ${time}` : String(row + 1);
    return { text: cell === 0 ? head : (value ?? ""), toolTip: this.cells.asideOf(row) };
  }

  /** @param {string} shape */
  layColumns(shape) {
    this.made = shape;
    this.grid.getEditorLock().commitCurrentEdit(); // what is being typed is kept
    const widths = new Map(this.columns.map((one) => [one.id, one.width]));
    this.grid.setColumns([sure(this.bench.sheet).of_footage ? { ...ROW_NUMBERS, name: "row · t (s)", width: 110 } : ROW_NUMBERS, ...this.bench.view.columns.map((one) => columnOf(one, widths.get(one.key)))]);
    this.element.dataset.ready = "true";
  }

  /** The cells may have changed: what is in view is fetched again, the rest when it comes there. */
  renew() {
    this.cells.renew();
    this.lay();
    this.fetchVisible();
  }

  /** Lay out the rows: how many there are, which are set aside, and what they say. */
  lay() {
    this.delayed = this.grid.getCellEditor() !== null;
    if (this.delayed) return;
    const focused = this.element.contains(document.activeElement);
    const asides = JSON.stringify(this.bench.sheet?.asides);
    if (asides !== this.asides) this.grid.invalidateAllRows();
    this.asides = asides;
    this.grid.resizeCanvas(); // counts the rows as well
    this.paint(0, this.cells.getLength());
    if (focused) this.grid.focus();
  }

  /** Fetch what came into view, once scrolling rests. */
  settle() {
    clearTimeout(this.settling);
    this.settling = setTimeout(() => this.fetchVisible(), SETTLED);
  }

  async fetchVisible() {
    if (!this.shown) return;
    const { seq, columns } = this.bench.view;
    const { top, bottom, leftPx, rightPx } = this.grid.getRenderedRange();
    let left = 0;
    const seen = this.columns.slice(1).filter((one) => {
      left += one.width;
      return left >= leftPx && left - one.width <= rightPx;
    });
    await this.cells.ask(Math.max(top, 0), bottom + 1, columns.filter((one) => seen.some((other) => other.id === one.key)));
    if (seq === this.bench.view.seq) this.element.dataset.seq = String(seq);
  }

  /**
   * Print rows again that have come.
   * @param {number} first @param {number} end
   */
  paint(first, end) {
    const { top, bottom } = this.grid.getRenderedRange();
    for (let row = Math.max(first, top); row < Math.min(end, bottom + 1); row += 1) this.grid.updateRow(row);
  }

  /** @param {number} row @param {any} column @param {string} text */
  async typed(row, column, text) {
    this.cells.grow(row);
    const answer = await this.edits.send({ kind: "set_cells", sheet: this.sheet, row: row + 1, column: column.key, cells: [[text]] });
    if (!answer.ok) this.renew(); // what was refused does not stay on view
  }

  /**
   * The columns of the grid.
   * @returns {GridColumn[]}
   */
  get columns() {
    return this.grid.getColumns();
  }

  /**
   * The chosen rows from 0 … end, and the columns of the study among them.
   * @returns {{first: number, end: number, columns: GridColumn[]} | null}
   */
  get chosen() {
    const [range] = this.grid?.getSelectionModel().getSelectedRanges() ?? [];
    if (!range) return null;
    const columns = this.columns.slice(Math.max(range.fromCell, 1), range.toCell + 1);
    return { first: range.fromRow, end: range.toRow + 1, columns };
  }

  /** @param {any} range */
  selected(range) {
    if (!range) return;
    const { first, end, columns } = sure(this.chosen);
    this.bench.selectCells({ first: first + 1, last: end, columns: columns.map((one) => one.id) });
  }

  /** @param {number} row @param {boolean} further whether from the row chosen before to this one */
  chooseRow(row, further) {
    const active = this.grid.getActiveCell();
    const from = further && active ? active.row : row;
    this.choose(new SlickRange(from, 1, row, this.grid.getColumns().length - 1), from, 1);
  }

  /** @param {any} column @param {boolean} further whether from the column chosen before to this one */
  chooseColumn(column, further) {
    const place = this.grid.getColumnIndex(column.id);
    if (place === 0) return;
    const active = this.grid.getActiveCell();
    const from = further && active ? active.cell : place;
    const { top } = this.grid.getViewport();
    this.choose(new SlickRange(0, from, Math.max(this.cells.rows - 1, 0), place), Math.min(top, Math.max(this.cells.rows - 1, 0)), from);
  }

  /**
   * Choose a range, with one of its cells as the active one.
   * @param {any} range @param {number} row @param {number} cell
   */
  choose(range, row, cell) {
    const size = (range.toRow - range.fromRow + 1) * (range.toCell - range.fromCell + 1);
    if (size > MOST_CHOSEN) {
      this.bench.say("These are too many cells to choose at once; take the sheet out as a file.");
      return;
    }
    this.grid.setActiveCell(row, cell, false, false, true);
    this.grid.getSelectionModel().setSelectedRanges([range]);
    this.grid.focus();
  }

  /**
   * Keys on the grid: typing begins an entry, Delete empties, Enter goes on below.
   * @param {KeyboardEvent} event
   */
  key(event) {
    const active = this.grid?.getActiveCell();
    if (!this.shown || !active) return;
    if (this.grid.getCellEditor()) {
      if (event.key === "Escape") this.began = null;
      if (!["Enter", "Tab"].includes(event.key) || !this.grid.getEditorLock().commitCurrentEdit()) return;
      taken(event);
      this.goOn(event, active);
      return;
    }
    if (event.key === "Tab" && this.began !== null) {
      taken(event);
      this.goOn(event, active);
      return;
    }
    if (event.key.startsWith("Arrow") || event.key === "Escape") this.began = null;
    if ((event.ctrlKey || event.metaKey) && event.key === "a") {
      taken(event);
      this.choose(new SlickRange(0, 1, Math.max(this.cells.rows - 1, 0), this.grid.getColumns().length - 1), active.row, active.cell);
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "Delete" || event.key === "Backspace") {
      taken(event);
      this.empty();
    } else if (event.key.length === 1 || event.key === "Enter" || event.key === "F2") {
      taken(event);
      this.began ??= active.cell;
      this.grid.editActiveCell();
      if (event.key.length === 1) this.grid.getCellEditor()?.setValue(event.key);
    }
  }

  /**
   * After an entry: Tab to the next typed column, from the last one to the next row; Enter to the row
   * below, where this row of entries began. With Shift backwards.
   * @param {KeyboardEvent} event @param {{row: number, cell: number}} active
   */
  goOn(event, { row, cell }) {
    const step = event.shiftKey ? -1 : 1;
    if (event.key === "Enter") {
      const began = this.began ?? cell;
      this.began = null;
      this.goTo(row + step, step > 0 ? began : cell);
      return;
    }
    this.began ??= cell;
    const typed = this.columns.flatMap((one, place) => (one.editor ? [place] : []));
    const next = step > 0 ? typed.find((place) => place > cell) : [...typed].reverse().find((place) => place < cell);
    const [around] = step > 0 ? typed : typed.slice(-1);
    if (next !== undefined) this.goTo(row, next);
    else if (row + step >= 0) this.goTo(row + step, around);
  }

  /** @param {number} row @param {number} cell */
  goTo(row, cell) {
    const last = this.columns.length - 1;
    this.grid.setActiveCell(Math.min(Math.max(row, 0), this.cells.getLength() - 1), Math.min(Math.max(cell, 1), last));
    this.grid.focus();
  }

  /** Empty what is chosen. */
  empty() {
    const { first, end, columns } = sure(this.chosen);
    const rows = Math.min(end, this.cells.rows) - first;
    if (rows < 1) return;
    const cells = Array.from({ length: rows }, () => [""]);
    for (const column of columns.filter((one) => one.editor)) this.edits.send({ kind: "set_cells", sheet: this.sheet, row: first + 1, column: column.key, cells });
  }

  /**
   * Whether what is copied or pasted is meant for the grid.
   * @param {Event} event
   */
  concerns(event) {
    const target = /** @type {Element} */ (event.target);
    return this.shown && this.grid && !target.matches("input, textarea");
  }

  /** @param {ClipboardEvent} event */
  async copy(event) {
    if (!this.concerns(event) || !this.element.contains(document.activeElement) || !this.chosen) return;
    event.preventDefault();
    const { first, columns } = this.chosen;
    const end = Math.min(this.chosen.end, this.cells.rows);
    if ((end - first) * columns.length > MOST_COPIED) {
      this.bench.say("These are too many cells to copy at once; take the sheet out as a file.");
      return;
    }
    const text = () => Array.from({ length: Math.max(end - first, 0) }, (_, n) => columns.map((one) => this.cells.getItem(first + n)[one.field] ?? "").join("\t")).join("\n");
    event.clipboardData?.setData("text/plain", text());
    const known = this.cells.windows.size;
    await this.cells.ask(first, end, this.bench.view.columns.filter((one) => columns.some((other) => other.id === one.key)));
    if (this.cells.windows.size !== known) copy(text()); // some had not been on view yet
  }

  /** @param {ClipboardEvent} event */
  paste(event) {
    const columns = this.bench.view.columns;
    const text = event.clipboardData?.getData("text/plain");
    if (!this.concerns(event) || !text || !columns.length) return;
    event.preventDefault();
    const row = (this.chosen?.first ?? this.cells.rows) + 1;
    const column = this.chosen?.columns[0]?.key ?? columns[0].id;
    this.edits.send({ kind: "paste_cells", sheet: this.sheet, row, column, text });
  }
}

/** @param {Event} event */
function taken(event) {
  event.preventDefault();
  event.stopPropagation();
}
