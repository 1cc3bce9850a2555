// The cells of a sheet as texts: windows of some rows and columns are fetched as they come into view.

import { ask } from "./asking.js";
import { sure } from "./parts.js";

const SPARE = 12; // empty rows below, to type on
const ROWS = 100; // of a window
const COLUMNS = 30;
const MOST_WINDOWS = 300; // that are kept; a window is some 30 kB of texts

/** What the grid asks for its rows, numbered from 0. */
export class SheetCells {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {(first: number, end: number) => void} arrived told which rows have come
   */
  constructor(bench, arrived) {
    this.bench = bench;
    this.arrived = arrived;
    /**
     * The texts of rows by the key of the column.
     * @type {Map<number, Record<string, string>>}
     */
    this.texts = new Map();
    /**
     * The windows that are here, with what they wait for.
     * @type {Map<string, Promise<void>>}
     */
    this.windows = new Map();
    /** Rows that were typed into and are still on their way. */
    this.typed = 0;
  }

  /**
   * There is a row below what was just typed, before the server knows.
   * @param {number} row from 0
   */
  grow(row) {
    this.typed = Math.max(this.typed, row + 1);
  }

  /** Forget everything: another sheet is shown. */
  empty() {
    this.texts.clear();
    this.windows.clear();
    this.typed = 0;
  }

  /** The cells may have changed: what is here stays on view until it was fetched again. */
  renew() {
    this.windows.clear();
    for (const row of this.texts.keys()) if (row >= this.rows) this.texts.delete(row);
  }

  get rows() {
    return this.bench.sheet?.rows ?? 0;
  }

  getLength() {
    return Math.max(this.rows, this.typed) + SPARE;
  }

  /** @param {number} row */
  getItem(row) {
    let item = this.texts.get(row);
    if (!item) this.texts.set(row, (item = {}));
    return item;
  }

  /** @param {number} row */
  getItemMetadata(row) {
    return this.asideOf(row) === undefined ? null : { cssClasses: "set-aside" };
  }

  /**
   * Why a row is set aside, if it is.
   * @param {number} row @returns {string | undefined}
   */
  asideOf(row) {
    return this.bench.sheet?.asides[row + 1];
  }

  /**
   * Fetch what is missing of some rows and columns.
   * @param {number} first @param {number} end the row after the last @param {any[]} columns
   */
  async ask(first, end, columns) {
    if (this.windows.size > MOST_WINDOWS) this.empty();
    const all = this.bench.view.columns;
    const blocks = new Set(columns.map((one) => Math.floor(all.indexOf(one) / COLUMNS)));
    const wanted = [];
    for (let row = first - (first % ROWS); row < Math.min(end, this.rows); row += ROWS) {
      for (const block of blocks) wanted.push(this.window(row, block, all));
    }
    await Promise.all(wanted);
  }

  /** @param {number} first @param {number} block @param {any[]} all */
  window(first, block, all) {
    const key = `${first}/${block}`;
    const present = this.windows.get(key) ?? this.fetch(key, first, all.slice(block * COLUMNS, (block + 1) * COLUMNS));
    this.windows.set(key, present);
    return present;
  }

  /** @param {string} key @param {number} first @param {any[]} columns */
  async fetch(key, first, columns) {
    const { view } = this.bench;
    const sheet = sure(this.bench.sheet);
    const query = new URLSearchParams([["first", String(first)], ["count", String(ROWS)], ...columns.map((one) => ["columns", String(one.id)])]);
    const answer = await ask(`/api/studies/${view.id}/sheets/${sheet.id}/cells?${query}`);
    if (this.bench.sheet?.id !== sheet.id) return;
    if (!answer.ok) {
      this.windows.delete(key); // it is asked for again when it next comes into view
      return;
    }
    /** @type {{rows: number, cells: Record<string, string[]>}} */
    const { rows, cells } = answer.data;
    for (let place = 0; place < rows; place += 1) {
      const item = this.getItem(first + place);
      for (const name in cells) item[name] = cells[name][place];
    }
    this.arrived(first, first + rows);
  }
}
