// The grid of a sheet: cells are fetched as they come into view, and typed through the one door.

import {
  ClipboardModule,
  EditModule,
  FormatModule,
  FrozenColumnsModule,
  InteractionModule,
  KeybindingsModule,
  ResizeColumnsModule,
  SelectRangeModule,
  Tabulator,
} from "../vendor/grid.js";

Tabulator.registerModule([ClipboardModule, EditModule, FormatModule, FrozenColumnsModule, InteractionModule, KeybindingsModule, ResizeColumnsModule, SelectRangeModule]);

const SPARE = 12; // empty rows below, to type on
const LEAST_SPARE = 3;
const WINDOW = 200; // rows that are fetched together
const MOST_COLUMNS_AT_ONCE = 60;
const MOVES = { Enter: [1, 0], Tab: [0, 1] };

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
    /** @type {any} */
    this.table = null;
    this.made = "";
    /** The windows of rows that are here or on their way. @type {Set<string>} */
    this.fetched = new Set();
    this.seq = -1;
    this.ready = false;
    /** Whether rows are being added, which is not somebody choosing cells. */
    this.changing = false;
    for (const name of ["view", "step"]) bench.addEventListener(name, () => this.update());
    element.addEventListener("keydown", (event) => this.key(event), true);
    document.addEventListener("paste", (event) => this.paste(event));
    this.update();
  }

  get shown() {
    return this.bench.sheet && this.bench.step !== "graph";
  }

  update() {
    const { sheet } = this.bench;
    this.element.hidden = !this.shown;
    if (!this.shown) return;
    const columns = this.bench.view.columns;
    const shape = JSON.stringify([sheet.id, columns.map((one) => [one.key, one.symbol, one.shown_unit, one.name, one.formula !== null, one.problem])]);
    if (shape !== this.made) this.make(shape, columns);
    else if (this.seq !== this.bench.view.seq) this.renew();
    this.seq = this.bench.view.seq;
  }

  /** @param {string} shape @param {any[]} columns */
  make(shape, columns) {
    this.made = shape;
    this.table?.destroy();
    this.fetched.clear();
    this.ready = false;
    this.table = new Tabulator(this.element, {
      data: this.emptyRows(),
      index: "row",
      height: "100%",
      layout: "fitData",
      renderHorizontal: columns.length > 30 ? "virtual" : "basic",
      columnDefaults: { resizable: true, minWidth: 84 },
      columns: columns.map((one) => this.column(one)),
      rowHeader: { field: "row", title: "row", width: 52, frozen: true, resizable: false, hozAlign: "right", cssClass: "row-number" },
      rowFormatter: (/** @type {any} */ row) => this.formatRow(row),
      selectableRange: 1,
      selectableRangeColumns: true,
      selectableRangeRows: true,
      editTriggerEvent: "dblclick",
      clipboard: "copy",
      clipboardCopyStyled: false,
      clipboardCopyConfig: { rowHeaders: false, columnHeaders: false },
      clipboardCopyRowRange: "range",
      placeholder: "",
    });
    const { table } = this;
    table.on("tableBuilt", () => {
      this.ready = true;
      this.nameParts();
      this.fetchVisible();
      this.element.dataset.ready = "true";
    });
    table.on("scrollVertical", () => this.fetchVisible());
    table.on("cellEdited", (cell) => this.typed(cell));
    table.on("rangeChanged", (range) => (this.changing ? undefined : this.selected(range)));
  }

  /** Roles for screen readers, where the grid's own do not go together. */
  nameParts() {
    const header = this.element.querySelector(".tabulator-header");
    header.setAttribute("role", "none");
    header.removeAttribute("tabindex");
    this.element.querySelector(".tabulator-tableholder").setAttribute("role", "rowgroup");
    this.element.querySelector(".tabulator-table").setAttribute("role", "none");
  }

  /** @param {any} one */
  column(one) {
    const computed = one.formula !== null;
    return {
      title: one.symbol,
      field: one.key,
      hozAlign: "right",
      editor: computed ? false : "input",
      cssClass: computed ? "computed" : "typed",
      titleFormatter: () => {
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
      },
    };
  }

  emptyRows() {
    const rows = [];
    for (let row = 1; row <= this.bench.sheet.rows + SPARE; row += 1) rows.push({ row });
    return rows;
  }

  /** @param {any} row */
  formatRow(row) {
    const number = row.getData().row;
    const reason = this.bench.sheet?.asides[number];
    row.getElement().classList.toggle("set-aside", reason !== undefined);
    row.getElement().title = reason ?? "";
  }

  /** The cells may have changed: what is in view is fetched again, the rest when it comes there. */
  renew() {
    if (!this.ready) return;
    this.fetched.clear();
    const present = this.table.getDataCount();
    const { rows } = this.bench.sheet;
    if (rows + LEAST_SPARE > present) {
      const more = [];
      for (let row = present + 1; row <= rows + SPARE; row += 1) more.push({ row });
      this.change(() => this.table.addData(more));
    } else if (rows + 2 * SPARE < present) this.change(() => this.table.replaceData(this.emptyRows()));
    else this.fetchVisible();
  }

  /** Change the number of rows; what was chosen stays chosen. @param {() => Promise<void>} how */
  async change(how) {
    const { first, columns } = this.bench.cells;
    this.changing = true;
    await how();
    this.changing = false;
    const cell = columns.length ? this.table.getRow(first)?.getCell(columns[0]) : null;
    if (cell && !this.element.querySelector(".tabulator-editing")) this.choose(cell);
    this.fetchVisible();
  }

  /** The rows in view, from 0. */
  get visible() {
    const holder = this.element.querySelector(".tabulator-tableholder");
    const height = this.element.querySelector(".tabulator-row")?.clientHeight || 26;
    const first = Math.floor((holder?.scrollTop ?? 0) / height);
    return [first, first + Math.ceil((holder?.clientHeight ?? 600) / height) + 5];
  }

  fetchVisible() {
    const [first, last] = this.visible;
    const { rows } = this.bench.sheet ?? { rows: 0 };
    for (let begin = first - (first % WINDOW); begin <= last && begin < rows; begin += WINDOW) this.fetch(begin);
    if (!rows) this.element.dataset.seq = String(this.bench.view.seq);
  }

  /** @param {number} first */
  async fetch(first) {
    const { sheet, view } = this.bench;
    const key = String(first);
    if (this.fetched.has(key)) return;
    this.fetched.add(key);
    const { table } = this;
    const columns = view.columns.map((one) => one.id);
    for (let begin = 0; begin < Math.max(columns.length, 1); begin += MOST_COLUMNS_AT_ONCE) {
      const query = new URLSearchParams([["first", key], ["count", String(WINDOW)], ...columns.slice(begin, begin + MOST_COLUMNS_AT_ONCE).map((id) => ["columns", String(id)])]);
      const answer = await fetch(`/api/studies/${view.id}/sheets/${sheet.id}/cells?${query}`).catch(() => null);
      if (!answer?.ok || table !== this.table) return;
      this.fill(await answer.json());
    }
    this.element.dataset.seq = String(view.seq);
  }

  /** @param {{first: number, rows: number, cells: Record<string, string[]>}} part */
  fill({ first, rows, cells }) {
    const [from, to] = this.visible;
    for (let place = first; place < first + rows; place += 1) {
      const row = this.table.getRow(place + 1);
      if (!row) continue;
      const present = row.getData();
      const changed = Object.entries(cells).flatMap(([key, texts]) => (present[key] === texts[place - first] || isTyping(row, key) ? [] : [[key, texts[place - first]]]));
      if (changed.length && place >= from - 20 && place <= to + 20) row.update(Object.fromEntries(changed));
      else Object.assign(present, Object.fromEntries(changed));
      this.formatRow(row);
    }
    for (let place = Math.max(first + rows, this.bench.sheet.rows); place < this.table.getDataCount() && place <= to; place += 1) {
      const row = this.table.getRow(place + 1);
      const filled = row ? Object.keys(cells).filter((key) => row.getData()[key] && !isTyping(row, key)) : [];
      if (filled.length) row.update(Object.fromEntries(filled.map((key) => [key, ""])));
    }
  }

  /** @param {any} cell */
  typed(cell) {
    const column = Number(cell.getField().slice(1));
    const text = String(cell.getValue() ?? "");
    const old = String(cell.getOldValue() ?? "");
    if (text === old) return;
    this.edits.send({ kind: "set_cells", sheet: this.bench.sheet.id, row: cell.getData().row, column, cells: [[text]] });
  }

  /** What is selected: rows from … to, columns. @param {any} range */
  selected(range) {
    const rows = range.getRows().map((row) => row.getData().row);
    const columns = range.getColumns().map((column) => column.getField()).filter((field) => field?.startsWith("c"));
    if (!rows.length) return;
    this.bench.selectCells({ first: rows[0], last: rows.at(-1), columns });
  }

  /** Keys on the grid: typing begins an entry, Delete empties, Enter goes on below. @param {KeyboardEvent} event */
  key(event) {
    if (!this.shown || !this.table) return;
    const editing = /** @type {Element} */ (event.target).matches(".tabulator-editing input");
    const range = this.table.getRanges?.()[0];
    if (editing) {
      const move = MOVES[event.key];
      if (move && range) {
        event.preventDefault();
        event.stopPropagation();
        const cell = range.getCells().flat()[0];
        /** @type {HTMLElement} */ (event.target).blur();
        this.select(cell, move[0] * (event.shiftKey ? -1 : 1), move[1] * (event.shiftKey ? -1 : 1));
      }
      return;
    }
    if (!range || event.ctrlKey || event.metaKey || event.altKey) return;
    const cells = range.getCells().flat();
    if (event.key === "Delete" || event.key === "Backspace") {
      event.preventDefault();
      event.stopPropagation();
      this.empty(range);
    } else if (event.key.length === 1 || event.key === "Enter" || event.key === "F2") {
      const cell = cells[0];
      if (!cell || cell.getColumn().getDefinition().editor === false) return;
      event.preventDefault();
      event.stopPropagation();
      cell.edit(true);
      const input = /** @type {HTMLInputElement | null} */ (cell.getElement().querySelector("input"));
      if (input && event.key.length === 1) input.value = event.key;
    }
  }

  /** Select the cell so many rows and columns on. @param {any} cell @param {number} down @param {number} across */
  select(cell, down, across) {
    const fields = this.bench.view.columns.map((one) => one.key);
    const place = fields.indexOf(cell.getField()) + across;
    const row = this.table.getRow(cell.getData().row + down) || cell.getRow();
    const target = row.getCell(fields[Math.min(Math.max(place, 0), fields.length - 1)]);
    if (target) this.choose(target);
  }

  /** Select one cell. @param {any} cell */
  choose(cell) {
    const [range] = this.table.getRanges(); // there always is one
    if (range) range.setBounds(cell, cell);
    else this.table.addRange(cell, cell);
    this.bench.selectCells({ first: cell.getData().row, last: cell.getData().row, columns: [cell.getField()] });
    /** @type {HTMLElement | null} */ (this.element.querySelector(".tabulator-tableholder"))?.focus();
  }

  /** @param {any} range */
  empty(range) {
    const rows = range.getRows().map((row) => row.getData().row);
    const fields = range.getColumns().filter((column) => column.getDefinition().editor !== false).map((column) => column.getField()).filter((field) => field?.startsWith("c"));
    const last = Math.min(rows.at(-1), this.bench.sheet.rows);
    if (!fields.length || last < rows[0]) return;
    const cells = Array.from({ length: last - rows[0] + 1 }, () => [""]);
    for (const field of fields) this.edits.send({ kind: "set_cells", sheet: this.bench.sheet.id, row: rows[0], column: Number(field.slice(1)), cells });
  }

  /** @param {ClipboardEvent} event */
  paste(event) {
    const target = /** @type {Element} */ (event.target);
    if (!this.shown || target.matches("input, textarea") || !this.table) return;
    const text = event.clipboardData.getData("text/plain");
    const range = this.table.getRanges?.()[0];
    const columns = this.bench.view.columns;
    if (!text || !columns.length) return;
    event.preventDefault();
    const row = range ? range.getRows()[0].getData().row : this.bench.sheet.rows + 1;
    const field = range?.getColumns().map((column) => column.getField()).find((one) => one?.startsWith("c")) ?? columns[0].key;
    this.edits.send({ kind: "paste_cells", sheet: this.bench.sheet.id, row, column: Number(field.slice(1)), text });
  }
}

/** Whether somebody is typing into a cell. @param {any} row @param {string} key */
function isTyping(row, key) {
  return row.getCell(key)?.getElement().classList.contains("tabulator-editing") ?? false;
}

/** Open the card of a column at its name. @param {number} id */
function nameColumn(id) {
  const card = /** @type {HTMLDetailsElement | null} */ (document.querySelector(`.sheet-column[data-column="${id}"]`));
  if (!card) return;
  card.open = true;
  /** @type {HTMLInputElement} */ (card.querySelector('[data-kind="change_column"] [name=name]')).select();
}
