// The table of the body in turn: one row for each counting mark, the present frame highlighted.

import { part, sure } from "./parts.js";

const WORKED = ["vx", "vy", "v", "ax", "ay", "a", "mx", "my", "ek", "ep", "es", "er", "e"]; // columns whose working can be shown

/** @typedef {{when: "before" | "after", name: string}} Beside */
const HEAD = 40; // height of the header, which stays in place
const AHEAD = "200px"; // by which the table is fetched before it comes into view

export class Table {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} element @param {HTMLElement} name */
  constructor(bench, element, name) {
    this.bench = bench;
    this.element = element;
    this.name = name;
    /** @type {HTMLTableRowElement | null} */
    this.head = null;
    /**
     * Rows of the table, or null while there is none.
     * @type {HTMLTableSectionElement | null}
     */
    this.body = null;
    this.isSeen = false;
    bench.onParts(["bodies", "footage", "impacts"], () => this.draw());
    bench.on(["body", "step", "options"], () => this.draw());
    bench.on("body", () => this.show());
    new IntersectionObserver(([entry]) => this.seen(entry.isIntersecting), { rootMargin: AHEAD }).observe(element);
    this.chooser = part(sure(element.parentElement), ".shown-columns");
    this.chooser.addEventListener("change", () => this.choose());
    for (const choice of sure(element.parentElement).querySelectorAll(".table-part")) choice.addEventListener("change", () => this.offerFiles(bench.body));
    bench.on("frame", () => this.highlight());
    element.addEventListener("click", (event) => this.click(event));
  }

  /** @param {import("./shapes.js").TableColumnShape} column */
  isShown(column) {
    return Boolean(this.bench.isPicture || column.computed || this.bench.options.columns.includes(column.key));
  }

  /** The keys of the columns that are shown; before the table was in view those that were chosen. */
  shownKeys() {
    const columns = this.bench.body?.table?.columns;
    return columns ? columns.filter((column) => this.isShown(column)).map((column) => sure(column.key)) : this.bench.options.columns;
  }

  /** @param {boolean} isSeen whether the table is in view, or nearly */
  seen(isSeen) {
    this.isSeen = isSeen;
    this.show();
  }

  /** The table of the body in turn is there while somebody can see it. */
  show() {
    const { body } = this.bench;
    this.bench.show("table", this.isSeen && body ? [`table:${body.id}`] : []);
  }

  draw() {
    const { body } = this.bench;
    this.name.textContent = body?.name ?? "";
    this.offerFiles(body);
    if (!body?.counting.length) {
      this.element.textContent = "A row for each mark appears here.";
      this.body = null;
      return;
    }
    if (!body.table) return; // nobody sees it
    const { columns, rows, end_rows: ends } = body.table;
    const shown = columns.flatMap((column, place) => (this.isShown(column) ? [place] : []));
    this.offer(columns.filter((column) => !column.computed));
    const head = shown.map((place) => columns[place]).map((column) => {
      const cell = document.createElement("th");
      cell.title = column.note ? `${column.name}. ${column.note}` : (column.name ?? "");
      cell.classList.toggle("noted", Boolean(column.note));
      cell.classList.toggle("highlighted", column.highlighted);
      const symbol = Object.assign(document.createElement("i"), { textContent: column.symbol });
      cell.append(symbol);
      if (column.subscript) {
        cell.append(Object.assign(document.createElement("sub"), { textContent: column.subscript }));
      }
      cell.append(Object.assign(document.createElement("small"), { textContent: column.unit }));
      return cell;
    });
    if (!this.body || !this.head) {
      const table = document.createElement("table");
      this.head = table.createTHead().insertRow();
      this.body = table.createTBody();
      this.element.replaceChildren(table);
    }
    this.head.replaceChildren(Object.assign(document.createElement("th"), { textContent: this.bench.isPicture ? "point" : "frame" }), ...head);
    const present = this.body;
    while (present.rows.length > rows.length) present.deleteRow(-1);
    rows.forEach((cells, place) => {
      const line = present.rows[place] ?? newLine(present);
      this.fill(line, this.bench.isPicture ? place + 1 : body.counting[place], body.counting[place]);
      const beside = this.beside(body, place);
      line.classList.toggle("after-impact", beside?.when === "after");
      const word = sure(line.cells[0].lastElementChild);
      const side = beside ? `just ${beside.when}` : "";
      if (word.textContent !== side) word.textContent = side;
      while (line.cells.length > shown.length + 1) line.deleteCell(-1);
      shown.forEach((column, n) => {
        const cell = line.cells[n + 1] ?? line.insertCell();
        fillCell(cell, cells[column], ends[column].includes(place) ? sideOf(beside) : "", Boolean(columns[column].highlighted));
        if (cell.dataset.key !== columns[column].key) cell.dataset.key = columns[column].key;
      });
    });
    this.highlight();
  }

  /**
   * The impact that a mark stands just before or just after.
   * @param {import("./known.js").Body} body @param {number} place @returns {Beside | undefined}
   */
  beside(body, place) {
    const impacts = this.bench.view.impacts.filter((one) => one.body === null || one.body === body.id);
    const [before, here, after] = [body.counting[place - 1], body.counting[place], body.counting[place + 1]];
    const between = (/** @type {number | undefined} */ from, /** @type {number | undefined} */ to) => impacts.find((one) => from !== undefined && to !== undefined && from < one.at && one.at < to);
    const [next, last] = [between(here, after), between(before, here)];
    if (next) return { when: "before", name: next.name };
    if (last) return { when: "after", name: last.name };
  }

  /**
   * The table of the body can be taken out.
   * @param {import("./known.js").Body | undefined} body
   */
  offerFiles(body) {
    const [row, choice] = [...sure(this.element.parentElement).querySelectorAll(".table-out")].map((one) => /** @type {HTMLElement} */ (one));
    row.hidden = choice.hidden = !body?.counting.length;
    if (!body || row.hidden) return;
    const path = `/api/studies/${this.bench.view.id}/tables/b${body.id}`;
    const query = this.partOfTable(choice);
    /** @type {HTMLElement} */ (row.querySelector("button")).dataset.copyTable = `${path}.tsv?${query}`;
    const shown = this.shownKeys();
    part(row, "[data-table-into-report]", HTMLButtonElement).dataset.edit = JSON.stringify({ kind: "add_block", block: "table", about: `b${body.id}`, columns: shown, ...rowsOf(choice) });
    for (const link of row.querySelectorAll("a")) link.href = `${path}.${link.dataset.form}?${query}`;
  }

  /**
   * Which rows and columns are wanted, as the address of a table says it.
   * @param {HTMLElement} choice
   */
  partOfTable(choice) {
    const query = new URLSearchParams();
    if (part(choice, "[data-only-shown]", HTMLInputElement).checked) for (const key of ["frame", ...this.shownKeys()]) query.append("columns", key);
    for (const [name, value] of Object.entries(rowsOf(choice))) query.append(name, String(value));
    if (part(choice, "[data-plain]", HTMLInputElement).checked) query.append("plain", "true");
    return query;
  }

  /**
   * What a line begins with. Of thousands of lines only those that changed are laid out anew.
   * @param {HTMLTableRowElement} line @param {number} number @param {number} frame
   */
  fill(line, number, frame) {
    if (line.dataset.frame !== String(frame)) line.dataset.frame = String(frame);
    const go = sure(line.cells[0].firstElementChild);
    if (go.textContent !== String(number)) go.textContent = String(number);
  }

  /**
   * The columns that can be shown.
   * @param {any[]} columns
   */
  offer(columns) {
    const row = /** @type {HTMLElement} */ (this.chooser.querySelector(".row"));
    const keys = columns.map((column) => column.key).join();
    this.chooser.hidden = this.bench.isPicture;
    if (row.dataset.keys === keys) return;
    row.dataset.keys = keys;
    row.replaceChildren(
      ...columns.map((column) => {
        const label = document.createElement("label");
        const box = Object.assign(document.createElement("input"), { type: "checkbox", value: column.key });
        box.checked = this.bench.options.columns.includes(column.key);
        label.append(box, ` ${column.name}`);
        return label;
      }),
    );
  }

  choose() {
    const boxes = /** @type {NodeListOf<HTMLInputElement>} */ (this.chooser.querySelectorAll("input"));
    const offered = [...boxes].map((box) => box.value);
    const kept = this.bench.options.columns.filter((/** @type {string} */ key) => !offered.includes(key));
    this.bench.setOption("columns", [...kept, ...[...boxes].filter((box) => box.checked).map((box) => box.value)]);
  }

  highlight() {
    for (const line of this.element.querySelectorAll("tr.here")) line.classList.remove("here");
    if (this.bench.isPicture) return;
    const line = this.element.querySelector(`tr[data-frame="${this.bench.frame}"]`);
    if (!line) return;
    line.classList.add("here");
    const { offsetTop, offsetHeight } = /** @type {HTMLElement} */ (line);
    const { scrollTop, clientHeight } = this.element;
    if (offsetTop < scrollTop + HEAD) this.element.scrollTop = offsetTop - HEAD;
    else if (offsetTop + offsetHeight > scrollTop + clientHeight) {
      this.element.scrollTop = offsetTop + offsetHeight - clientHeight;
    }
  }

  /** @param {MouseEvent} event */
  click(event) {
    const target = /** @type {Element} */ (event.target);
    const line = /** @type {HTMLElement | null} */ (target.closest("tr[data-frame]"));
    if (!line) return;
    const frame = Number(line.dataset.frame);
    const key = /** @type {HTMLElement | null} */ (target.closest("td"))?.dataset.key ?? "";
    if (frame === this.bench.frame && WORKED.includes(key)) this.bench.tell("working", `cell/${sure(this.bench.body).id}/${frame}/${key}`);
    else this.bench.goTo(frame);
  }
}

/** @param {HTMLTableSectionElement} body */
function newLine(body) {
  const line = body.insertRow();
  const first = document.createElement("th");
  first.scope = "row";
  first.append(document.createElement("button"), document.createElement("small"));
  line.append(first);
  return line;
}

/**
 * At which end of its marks a value stands: one-sided beside an impact, or where the marks end.
 * @param {Beside | undefined} beside
 */
function sideOf(beside) {
  return beside ? `one-sided: just ${beside.when} the ${beside.name}` : "taken at the end of the marks, less certain";
}

/** @param {HTMLTableCellElement} cell @param {string} text @param {string} side where it was taken, if at an end @param {boolean} highlighted */
function fillCell(cell, text, side, highlighted) {
  if (cell.textContent !== text) cell.textContent = text;
  const className = [side ? "end-value" : "", highlighted ? "highlighted" : ""].join(" ").trim();
  if (cell.className !== className) cell.className = className;
  if (cell.title !== side) cell.title = side;
}

/**
 * From which row to which; nothing for an end that was not typed.
 * @param {HTMLElement} choice
 */
function rowsOf(choice) {
  const typed = { first: "[data-from]", last: "[data-to]" };
  return Object.fromEntries(
    Object.entries(typed).flatMap(([name, field]) => {
      const { value } = part(choice, field, HTMLInputElement);
      return /^[1-9]\d*$/.test(value.trim()) ? [[name, Number(value)]] : [];
    }),
  );
}
