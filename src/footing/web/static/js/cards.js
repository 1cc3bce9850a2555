// The cards: fragments from the server. A form with data-kind, or a button with data-edit, is an edit.

import { ask } from "./asking.js";
import { fields, nameFields } from "./forms.js";
import { sure } from "./parts.js";

const LONGEST_NAME = 60; // of a finding
const REFRESH_AFTER = 40; // ms; several edits in a row need one refresh

export class Cards {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./edits.js").Edits} edits
   * @param {HTMLElement} element
   */
  constructor(bench, edits, element) {
    this.bench = bench;
    this.edits = edits;
    this.element = element;
    /** What is chosen and read above the graph comes with the cards. */
    this.line = /** @type {HTMLElement} */ (document.getElementById("fit-line"));
    /** What comes with the cards and stands elsewhere. */
    this.placed = /** @type {HTMLElement[]} */ ([...document.querySelectorAll("[data-placed]")]);
    this.timer = 0;
    /**
     * What was typed or chosen but not sent yet.
     * @type {WeakMap<Element, string>}
     */
    this.unsent = new WeakMap();
    bench.on("view", () => {
      this.nameSeries();
      if (!bench.cardsCame) this.refreshSoon();
    });
    bench.on("cards", () => this.draw());
    bench.on("step", () => bench.fetchView());
    bench.on("body", () => this.mark());
    bench.on("tool", () => this.mark());
    bench.on("options", () => this.mark());
    bench.on(["frame", "cells"], () => this.showFrameNumber());
    document.addEventListener("submit", (event) => this.submit(event));
    document.addEventListener("change", (event) => this.change(event));
    document.addEventListener("click", (event) => this.click(event));
    document.addEventListener("input", (event) => {
      const input = /** @type {HTMLInputElement} */ (event.target);
      this.unsent.set(input, input.value);
    });
    this.keepUnsent();
    this.pressed = false; // while something on a card is, its card stays as it is: else the click would be lost
    this.waits = false;
    for (const place of [element, ...this.placed]) place.addEventListener("pointerdown", (event) => (this.pressed = Boolean(/** @type {Element} */ (event.target).closest("button, summary, a"))));
    for (const end of ["pointerup", "pointercancel"]) addEventListener(end, () => setTimeout(() => this.release()));
    /**
     * What was drawn last, to draw only what is new.
     * @type {Record<string, string>}
     */
    this.drawn = {};
    nameFields(element);
    for (const place of this.placed) nameFields(place);
    this.mark();
  }

  /** What somebody is typing or choosing is not replaced by what the server knows. */
  keepUnsent() {
    const { callbacks } = Idiomorph.defaults;
    callbacks.beforeNodeMorphed = (old) => !((old instanceof HTMLInputElement || old instanceof HTMLTextAreaElement) && this.unsent.has(old));
    callbacks.beforeAttributeUpdated = (name, element) => !(name === "open" && element instanceof HTMLDetailsElement);
    callbacks.afterNodeMorphed = (old) => {
      if (old instanceof HTMLSelectElement) old.value = this.unsent.get(old) ?? old.value;
    };
  }

  /** A fit is of what the graph shows now, also before its card comes anew. */
  nameSeries() {
    const input = /** @type {HTMLInputElement | null} */ (this.line.querySelector('input[type="hidden"][name="series"]'));
    const [graph] = this.bench.view.graphs ?? [];
    const one = graph?.series.find((series) => series.points.length);
    if (input && one) input.value = JSON.stringify({ ...one.of, x: graph.x, y: one.y });
  }

  refreshSoon() {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.bench.fetchView(), REFRESH_AFTER);
  }

  /** The click is over, and with it what it did. */
  release() {
    this.pressed = false;
    if (!this.waits) return;
    this.waits = false;
    this.draw();
  }

  /** Show the cards that came: those that are new, in the order that they have now. */
  draw() {
    clearTimeout(this.timer);
    if (this.pressed) {
      this.waits = true;
      return;
    }
    const { element } = this;
    const { step, shown } = this.bench.cards;
    const there = new Map([...element.children].map((card) => [/** @type {HTMLElement} */ (card).dataset.card, card]));
    const cards = shown.order.map((key) => there.get(key) ?? document.createElement("div"));
    cards.forEach((card, nth) => {
      /** @type {HTMLElement} */ (card).dataset.card = shown.order[nth];
      if (!there.has(shown.order[nth])) delete this.drawn[shown.order[nth]];
      if (element.children[nth] !== card) element.insertBefore(card, element.children[nth] ?? null);
      this.renew(card, shown.order[nth]);
    });
    while (element.children.length > cards.length) element.lastElementChild?.remove();
    for (const place of this.placed) {
      const key = sure(place.dataset.placed);
      if (key in shown.html) this.renew(place, key);
    }
    this.mark();
    element.dataset.step = step;
  }

  /**
   * What was typed is shown as it was understood, also where that is what was there before.
   * @param {Element} form
   */
  showAsStored(form) {
    const place = /** @type {HTMLElement | null} */ (form.closest("[data-card], [data-placed]"));
    const key = place?.dataset.card ?? place?.dataset.placed ?? "";
    if (!place || !(key in this.drawn)) return;
    delete this.drawn[key];
    this.renew(place, key);
    this.mark();
  }

  /**
   * Bring one card, or the line above the graph, up to date.
   * @param {Element} place @param {string} key
   */
  renew(place, key) {
    const html = this.bench.cards.shown.html[key];
    if (html === this.drawn[key]) return;
    this.drawn[key] = html;
    const fresh = document.createElement("template");
    fresh.innerHTML = html ?? "";
    for (const one of [fresh.content, place]) nameFields(one);
    const before = foldIn(place)?.dataset.folds;
    Idiomorph.morph(place, [...fresh.content.childNodes], { morphStyle: "innerHTML" });
    fold(place, before);
  }

  /** Where a card names the frame that is shown. */
  showFrameNumber() {
    for (const place of this.element.querySelectorAll("[data-frame-number]")) place.textContent = String(this.bench.frame);
    const { first, last } = this.bench.cells;
    for (const place of this.element.querySelectorAll("[data-row-number]")) place.textContent = first === last ? String(first) : `${first} to ${last}`;
  }

  /** Show which body is in turn, which tool is in hand, and how things are wanted. */
  mark() {
    this.showFrameNumber();
    for (const element of this.element.querySelectorAll("[data-option]")) {
      const input = /** @type {HTMLInputElement} */ (element);
      const value = this.bench.options[sure(input.dataset.option)];
      if (input.dataset.body) input.checked = !value.includes(Number(input.dataset.body));
      else if (input.type === "checkbox") input.checked = value;
      else input.value = String(value);
    }
    for (const form of this.element.querySelectorAll("form[data-picture]")) {
      const { boxes, large } = /** @type {any} */ (form).elements; // a picture is taken as it is seen
      boxes.value = String(this.bench.options.fitBoxes);
      large.value = String(this.bench.options.largeBoxes);
    }
    for (const pick of this.element.querySelectorAll("[data-pick-body]")) {
      const inTurn = Number(/** @type {HTMLElement} */ (pick).dataset.pickBody) === this.bench.body?.id;
      pick.setAttribute("aria-pressed", String(inTurn));
    }
    this.markModel();
    for (const tool of this.element.querySelectorAll("[data-tool]")) {
      const inHand = /** @type {HTMLElement} */ (tool).dataset.tool === this.bench.tool;
      tool.setAttribute("aria-pressed", String(inHand));
    }
  }

  /** The model in hand stands out, and only its legs and numbers are there. */
  markModel() {
    const inHand = String(this.bench.modelInHand?.id ?? "");
    for (const one of this.element.querySelectorAll("[data-model]")) one.classList.toggle("in-hand", /** @type {HTMLElement} */ (one).dataset.model === inHand);
    for (const one of this.element.querySelectorAll("[data-legs-of]")) /** @type {HTMLElement} */ (one).hidden = /** @type {HTMLElement} */ (one).dataset.legsOf !== inHand;
  }

  /** @param {SubmitEvent} event */
  submit(event) {
    const form = /** @type {HTMLFormElement} */ (event.target);
    if (!form.dataset.kind) return;
    event.preventDefault();
    this.send(form);
  }

  /**
   * How somebody wants things shown, on this computer.
   * @param {HTMLInputElement} input
   */
  setOption(input) {
    const { option = "", body } = input.dataset;
    if (body) {
      const others = this.bench.options[option].filter((/** @type {number} */ id) => id !== Number(body));
      this.bench.setOption(option, input.checked ? others : [...others, Number(body)]);
    } else if (input.type === "checkbox") this.bench.setOption(option, input.checked);
    else this.bench.setOption(option, input.type === "range" ? Number(input.value) : input.value);
  }

  /** @param {Event} event */
  change(event) {
    const input = /** @type {HTMLInputElement} */ (event.target);
    if (input.dataset.option) return this.setOption(input);
    if (!input.name) return; // such as a slider that only tries something: no part of the edit
    const form = /** @type {HTMLFormElement | null} */ (/** @type {Element} */ (event.target).closest("form[data-auto]"));
    if (form && !this.isWaiting(form)) this.send(form);
  }

  /**
   * Whether something is still to be typed before a form makes sense.
   * @param {HTMLFormElement} form
   */
  isWaiting(form) {
    const needed = /** @type {NodeListOf<HTMLInputElement>} */ (form.querySelectorAll("[data-needed]"));
    return [...needed].some((input) => form.matches(sure(input.dataset.needed)) && !input.value.trim());
  }

  /**
   * What is shown now, for an edit that wants it.
   * @param {string} [wanted]
   */
  present(wanted) {
    const { bench } = this;
    if (!wanted) return {};
    if (wanted === "source") return bench.source;
    if (wanted === "row") return { row: bench.cells.first };
    if (wanted === "rows") return { row: bench.cells.first, count: bench.cells.last - bench.cells.first + 1 };
    if (wanted === "stretch") return stretchOf(bench);
    if (wanted === "this_frame") return { about: `${bench.film.id}/${bench.frame}` };
    if (wanted === "after") return bench.block ? { after: bench.block } : {};
    if (wanted === "body") return { body: bench.body?.id, frame: bench.frame };
    return { [wanted]: bench.frame };
  }

  /**
   * Something other than an edit that the server is asked for.
   * @param {HTMLElement} button
   */
  async call(button) {
    const message = /** @type {HTMLElement} */ (button.closest(".card-block")?.querySelector(".message"));
    const answer = await ask(sure(button.dataset.call), { method: button.dataset.verb ?? "POST" });
    message.textContent = answer.error;
    if (button.dataset.said && answer.ok) this.bench.say(button.dataset.said);
    else if (answer.ok) this.bench.fetchView();
  }

  /** @param {HTMLFormElement} form */
  async send(form) {
    const message = /** @type {HTMLElement} */ (form.querySelector(".message"));
    const sent = new Map([...form.elements].map((input) => [input, this.unsent.get(input)]));
    const answer = await this.edits.send({ kind: form.dataset.kind, ...fields(form), ...this.present(form.dataset.with) }, message);
    // what was typed or chosen while the answer was on its way is not part of it
    const answered = [...form.elements].filter((input) => this.unsent.get(input) === sent.get(input));
    for (const input of form.elements) {
      const wrong = !answer.ok && answer.field === /** @type {HTMLInputElement} */ (input).name;
      input.toggleAttribute("aria-invalid", wrong);
    }
    if (answer.ok) for (const input of answered) this.unsent.delete(input);
    if (answer.ok) this.showAsStored(form);
    if (answer.ok && "clear" in form.dataset && answered.length === form.elements.length) form.reset();
    if (answer.ok && form.dataset.kind === "add_body") /** @type {HTMLElement} */ (document.activeElement)?.blur(); // the keys mark again
    if (answer.ok && "stepOn" in form.dataset) this.bench.stepBy(1);
  }

  /**
   * Keep a reading of a fit; the names of its columns may make its own too long.
   * @param {HTMLElement} button
   */
  async record(button) {
    const { record, reading, name } = button.dataset;
    const message = /** @type {HTMLElement} */ (button.closest(".fit, .fit-result")?.querySelector(".message"));
    await this.edits.send({ kind: "add_finding", fit: Number(record), reading, name: sure(name).slice(0, LONGEST_NAME).trim() }, message);
  }

  /**
   * Keep the mean of a stretch: a level through its points, and what that says.
   * @param {HTMLElement} button
   */
  async keepMean(button) {
    const message = /** @type {HTMLElement} */ (button.closest("form")?.querySelector(".message"));
    const fit = await this.edits.send({ kind: "add_fit", curve: "level", ...stretchOf(this.bench) }, message);
    if (fit.ok) await this.edits.send({ kind: "add_finding", fit: fit.made, reading: "c", name: "mean of the stretch" }, message);
  }

  /** @param {MouseEvent} event */
  click(event) {
    const button = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("button"));
    if (!button) return;
    if ("keepMean" in button.dataset) this.keepMean(button);
    const { edit, with: also, done, tool, pickBody, span, record, showSource, goFrame, goStep, call } = button.dataset;
    const { bench } = this;
    if (edit) {
      const message = /** @type {HTMLElement} */ (button.closest("form")?.querySelector(".message"));
      const sent = this.edits.send({ ...JSON.parse(edit), ...this.present(also) }, message);
      if (done) sent.then(({ ok }) => ok && bench.say(done));
    } else if (tool) bench.setTool(bench.tool === tool ? "" : tool);
    else if (showSource) bench.showSource(showSource.startsWith("s") ? showSource : Number(showSource));
    else if (goStep) /** @type {HTMLElement} */ (document.querySelector(`.rail a[data-step="${goStep}"]`)).click();
    else if (goFrame) {
      if (pickBody) bench.pickBody(Number(pickBody));
      bench.goTo(Number(goFrame));
    }
    else if (call) this.call(button);
    else if (pickBody) bench.pickBody(Number(pickBody));
    else if (span) {
      const { id, first, last, stride } = bench.film;
      this.edits.send({ kind: "set_span", footage: id, first, last, stride, [span]: bench.frame });
    } else if (record) this.record(button);
  }
}

/**
 * The fit of the stretch that was chosen on a graph.
 * @param {import("./state.js").Bench} bench
 */
function stretchOf(bench) {
  const chosen = /** @type {HTMLSelectElement} */ (document.getElementById("stretch-series"));
  const first = bench.stretch?.[Number(chosen.value)];
  if (!first) return {};
  return { ...first.of, x: first.x, y: first.y, points: first.numbers };
}

/**
 * The card in a place, where it is one that folds.
 * @param {Element} place @returns {HTMLDetailsElement | null}
 */
function foldIn(place) {
  return place.querySelector("details.fold");
}

/**
 * A card that has just been done folds, unless somebody is still in it; one that asks for something again opens.
 * @param {Element} place @param {string | undefined} before whether it was to be folded
 */
function fold(place, before) {
  const card = foldIn(place);
  if (!card || !before || card.dataset.folds === before) return;
  card.open = card.dataset.folds !== "true" || card.contains(document.activeElement);
}
