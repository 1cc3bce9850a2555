// Tables that come in and go out, formulas while they are typed, and what a stretch of a graph says.

import { ask } from "./asking.js";
import { byId, part, sure } from "./parts.js";

const WAIT = 180; // ms after the last key before a formula is tried

export class Tables {
  /** @param {import("./state.js").Bench} bench @param {import("./edits.js").Edits} edits */
  constructor(bench, edits) {
    this.bench = bench;
    this.edits = edits;
    this.timer = 0;
    document.addEventListener("input", (event) => this.input(event));
    document.addEventListener("change", (event) => this.change(event));
    document.addEventListener("click", (event) => this.click(event));
    document.addEventListener("submit", (event) => this.submit(event));
    bench.on("stretch", () => this.showStretch());
    bench.on(["cells", "cards"], () => this.offerChosen());
  }

  /**
   * The look of a graph for the whole class, as it is once what was just chosen is stored.
   * @param {string} place @param {Record<string, any>} rules
   */
  async layLook(place, rules) {
    await this.edits.tail;
    await this.bench.fetchView();
    const graph = this.bench.view.graphs[Number(place)];
    await this.lay({ ...rules, series_look: graph?.looks[graph.ys[0]] ?? {} });
  }

  /**
   * What a teacher lays down for the class or the lab.
   * @param {object} rules
   */
  async lay(rules) {
    const answer = await ask(`/api/studies/${this.bench.view.id}/rules`, { content: rules });
    this.bench.say(answer.ok ? "The whole class has it now." : answer.error);
    if (answer.ok) await this.bench.fetchView();
  }

  /** @param {Event} event */
  change(event) {
    if (/** @type {Element} */ (event.target).matches("[data-chosen-cells]")) this.offerChosen();
    const box = /** @type {HTMLInputElement} */ (event.target);
    if (box.dataset.rule) this.lay({ [box.dataset.rule]: box.checked });
  }

  /** @param {Event} event */
  input(event) {
    const field = /** @type {HTMLInputElement} */ (event.target);
    if (!field.matches("[data-formula]")) return;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.tryFormula(field), WAIT);
  }

  /**
   * Show a formula as in print, its unit and its first values, or where it is wrong.
   * @param {HTMLInputElement} field
   */
  async tryFormula(field) {
    const form = sure(field.form);
    const place = part(form, ".formula-echo");
    if (!field.value.trim()) return place.replaceChildren();
    const value = (/** @type {string} */ name) => /** @type {HTMLInputElement | null} */ (form.elements.namedItem(name))?.value ?? "";
    const { sheet, footage } = this.bench.source;
    const trial = { sheet: sheet ?? null, footage: footage ?? null, symbol: value("symbol") || field.dataset.symbol || "", formula: field.value, unit: value("unit") };
    const answer = await ask(`/api/studies/${this.bench.view.id}/formulas/trial`, { content: trial });
    const said = answer.ok || answer.data?.error ? answer.data : { error: answer.error };
    if (field.value !== trial.formula) return;
    const line = document.createElement("p");
    if (said.echo) line.innerHTML = said.echo;
    place.replaceChildren(line);
    if (said.error) place.append(wrongPlace(trial.formula, said.span ?? [0, 0], said.error));
    else if (said.values) {
      const unit = said.unit ? ` ${said.unit}` : "";
      place.append(text("p", "soft figures", said.values.length ? `${said.values.filter(Boolean).slice(0, 5).join(", ")} …${unit}` : `in${unit || " plain numbers"}`));
      for (const note of said.notes) place.append(text("p", "soft", note));
    }
    place.dataset.tried = trial.formula;
  }

  /** @param {MouseEvent} event */
  async click(event) {
    const button = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("button"));
    if (!button) return;
    const { insert, copyTable, rules } = button.dataset;
    if ("copyPicture" in button.dataset) this.bench.say(await copyPicture(sure(button.closest("form"))));
    if (insert) this.insert(button, insert);
    else if (rules) this.layLook(button.dataset.graph ?? "", JSON.parse(rules));
    else if (copyTable) {
      const answer = await ask(copyTable);
      if (!answer.ok) return this.bench.say(answer.error);
      this.bench.say(copy(answer.data) ? "The table is on the clipboard." : "This browser would not copy; use CSV instead.");
    }
  }

  /** The files of a sheet hold what is chosen in it, if that is wanted. */
  offerChosen() {
    const chosen = /** @type {HTMLInputElement | null} */ (document.querySelector("[data-chosen-cells]"));
    if (!chosen) return;
    const { first, last, columns } = this.bench.cells;
    const query = new URLSearchParams(chosen.checked ? [["first", String(first)], ["last", String(last)], ...columns.map((key) => ["columns", key])] : []);
    const card = sure(chosen.closest("section"));
    for (const link of card.querySelectorAll("a")) link.search = String(query);
    const copying = part(card, "[data-copy-table]");
    copying.dataset.copyTable = `${sure(copying.dataset.copyTable).split("?")[0]}?${query}`;
  }

  /**
   * Put a function or a symbol into the formula beside the list.
   * @param {HTMLElement} button @param {string} what
   */
  insert(button, what) {
    const field = /** @type {HTMLInputElement | null} */ (button.closest("form")?.querySelector("[data-formula]"));
    if (!field) return;
    const [begin, end] = [field.selectionStart ?? 0, field.selectionEnd ?? 0];
    const chosen = field.value.slice(begin, end);
    const inside = what.endsWith("()") ? `${what.slice(0, -1)}${chosen})` : what;
    field.setRangeText(inside, begin, end, "end");
    if (what.endsWith("()") && !chosen) field.selectionStart = field.selectionEnd = (field.selectionEnd ?? 1) - 1;
    field.focus();
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }

  /**
   * A pasted table becomes a sheet.
   * @param {SubmitEvent} event
   */
  async submit(event) {
    const form = /** @type {HTMLFormElement} */ (event.target);
    if (!form.matches("[data-take-table]")) return;
    event.preventDefault();
    const field = /** @type {HTMLTextAreaElement} */ (form.elements.namedItem("text"));
    const said = await takeTable(this.bench, field.value, "pasted table");
    part(form, ".message").textContent = said ?? "";
    if (!said) form.reset();
  }

  /** What the stretch that was dragged over says, and what can be done with it. */
  showStretch() {
    const card = byId("stretch");
    const { stretch } = this.bench;
    card.hidden = !stretch;
    if (!stretch) return;
    const series = /** @type {HTMLSelectElement} */ (document.getElementById("stretch-series"));
    series.replaceChildren(...stretch.map((one, place) => new Option(one.name, String(place))));
    sure(series.parentElement).hidden = stretch.length < 2;
    part(card, ".stretch-rows").replaceChildren(
      ...stretch.map((one) => {
        const part = document.createElement("article");
        part.append(text("h3", "", one.name), text("p", "soft", one.said));
        const list = document.createElement("dl");
        list.className = "facts figures";
        for (const [name, value] of one.rows) list.append(text("dt", "", name), text("dd", "", value));
        part.append(list);
        return part;
      }),
    );
  }
}

/**
 * Make a sheet of a file or a text, and show it.
 * @param {import("./state.js").Bench} bench @param {Blob | string} content @param {string} name
 * @returns {Promise<string | null>} why it could not be, or null
 */
export async function takeTable(bench, content, name) {
  const answer = await ask(`/api/studies/${bench.view.id}/tables?name=${encodeURIComponent(name)}`, { content });
  if (!answer.ok) return answer.error;
  bench.sourceId = answer.data.source;
  bench.setView(answer.data.view);
  return null;
}

/** @param {string} formula @param {number[]} span @param {string} error */
function wrongPlace(formula, [begin, end], error) {
  const line = text("p", "wrong-place figures", "");
  const mark = text("mark", "", formula.slice(begin, Math.max(end, begin + 1)) || " ");
  line.append(formula.slice(0, begin), mark, formula.slice(Math.max(end, begin + 1)));
  const both = document.createElement("div");
  both.append(line, text("p", "attention", error));
  return both;
}

/** @param {string} tag @param {string} className @param {string} content */
function text(tag, className, content) {
  return Object.assign(document.createElement(tag), { className, textContent: content });
}

/**
 * Copy the picture that a form would take.
 * @param {HTMLFormElement} form @returns {Promise<string>} what came of it
 */
async function copyPicture(form) {
  const query = new URLSearchParams(/** @type {any} */ (new FormData(form)));
  const answer = await ask(`${form.action}?${query}`, { picture: true });
  if (!answer.ok) return answer.error;
  const picture = answer.data;
  if (navigator.clipboard?.write) await navigator.clipboard.write([new ClipboardItem({ [picture.type]: picture })]);
  else if (!(await copyInText(picture))) return "This browser would not copy; take the PNG.";
  return "The graph is on the clipboard.";
}

/**
 * Copy a picture as a text with a picture in it, which plain http allows as well.
 * @param {Blob} picture @returns {Promise<boolean>}
 */
async function copyInText(picture) {
  const address = await new Promise((done) => {
    const reader = new FileReader();
    reader.onload = () => done(reader.result);
    reader.readAsDataURL(picture);
  });
  const put = (/** @type {ClipboardEvent} */ event) => {
    event.clipboardData?.setData("text/html", `<img src="${address}">`);
    event.preventDefault();
    event.stopPropagation();
  };
  document.addEventListener("copy", put, { capture: true, once: true });
  const done = document.execCommand("copy");
  document.removeEventListener("copy", put, { capture: true });
  return done;
}

/**
 * Copy a text; also on plain http, where the newer way is closed.
 * @param {string} content
 */
export function copy(content) {
  const area = Object.assign(document.createElement("textarea"), { value: content });
  area.className = "visually-hidden";
  document.body.append(area);
  area.select();
  const done = document.execCommand("copy");
  area.remove();
  return done;
}
