// The table of the body in turn: one row for each counting mark, the present frame highlighted.

const HEAD = 40; // height of the header, which stays in place

export class Table {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} element @param {HTMLElement} name */
  constructor(bench, element, name) {
    this.bench = bench;
    this.element = element;
    this.name = name;
    for (const event of ["view", "body", "step", "options"]) bench.addEventListener(event, () => this.draw());
    /** @type {HTMLElement} */
    this.chooser = element.parentElement.querySelector(".columns");
    this.chooser.addEventListener("change", () => this.choose());
    bench.addEventListener("frame", () => this.highlight());
    element.addEventListener("click", (event) => this.click(event));
  }

  draw() {
    const { body } = this.bench;
    this.name.textContent = body?.name ?? "";
    if (!body?.counting.length) {
      this.element.textContent = "A row for each mark appears here.";
      return;
    }
    const { columns, rows, end_rows: ends } = body.table;
    const wanted = this.bench.options.columns;
    const shown = columns.flatMap((column, place) => (this.bench.isPicture || column.computed || wanted.includes(column.key) ? [place] : []));
    this.offer(columns.filter((column) => !column.computed));
    const head = shown.map((place) => columns[place]).map((column) => {
      const cell = document.createElement("th");
      cell.title = column.name;
      const symbol = Object.assign(document.createElement("i"), { textContent: column.symbol });
      cell.append(symbol);
      if (column.subscript) {
        cell.append(Object.assign(document.createElement("sub"), { textContent: column.subscript }));
      }
      cell.append(Object.assign(document.createElement("small"), { textContent: column.unit }));
      return cell;
    });
    const lines = rows.map((cells, place) => {
      const line = document.createElement("tr");
      line.dataset.frame = String(body.counting[place]);
      const first = document.createElement("th");
      first.scope = "row";
      const go = Object.assign(document.createElement("button"), { textContent: String(this.bench.isPicture ? place + 1 : body.counting[place]) });
      first.append(go);
      line.append(first);
      for (const column of shown) {
        const cell = Object.assign(document.createElement("td"), { textContent: cells[column] });
        if (ends[column].includes(place)) {
          cell.className = "end-value";
          cell.title = "taken at the end of the marks, less certain";
        }
        line.append(cell);
      }
      return line;
    });
    const table = document.createElement("table");
    const top = table.createTHead().insertRow();
    top.append(Object.assign(document.createElement("th"), { textContent: this.bench.isPicture ? "point" : "frame" }), ...head);
    table.createTBody().append(...lines);
    this.element.replaceChildren(table);
    this.highlight();
  }

  /** The columns that can be shown. @param {any[]} columns */
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
    const kept = this.bench.options.columns.filter((key) => !offered.includes(key));
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
    const line = /** @type {HTMLElement} */ (/** @type {Element} */ (event.target).closest("tr[data-frame]"));
    if (line) this.bench.goTo(Number(line.dataset.frame));
  }
}
