// What the page knows of the study: what the server told, and what is on its way to be stored.

import { ask } from "./asking.js";
import { applied, put } from "./changes.js";
import { Events } from "./events.js";
import { sure } from "./parts.js";

/**
 * @typedef {import("./shapes.js").StateShape} View
 * @typedef {import("./shapes.js").BodyShape} Body
 * @typedef {import("./shapes.js").FollowShape} Follow
 * @typedef {import("./shapes.js").FootageShape} Footage
 * @typedef {import("./shapes.js").PassageShape} Passage
 * @typedef {import("./shapes.js").SourceLine} Source
 * @typedef {import("./shapes.js").SheetShape} Sheet
 * @typedef {import("./shapes.js").GraphShape} GraphView
 * @typedef {import("./shapes.js").SeriesShape} Series
 * @typedef {import("./shapes.js").FitShape} FitView
 * @typedef {import("./shapes.js").Change} Change
 * @typedef {{step: string, source: string | null, frame: number | null, body: number | null}} Place
 * @typedef {{order: string[], html: Record<string, string>}} ShownCards the line above a graph is html without a place in the order
 * @typedef {{seq: number, view?: View, since?: string, changes?: Change,
 *   cards?: {version: string, step: string, since?: string, changes: Change}}} News
 */

const AGAIN_AFTER = 2000; // ms after which what is shown and did not come is asked for again

export class Known extends Events {
  /** @param {View} view @param {string} step */
  constructor(view, step) {
    super();
    /** What is stored, as the server told it last. Nobody changes it; the next one shares what stays. */
    this.stored = view;
    /** What is shown: what is stored, with what is on its way to be. */
    this.view = view;
    /** What was shown when the parts of the page were told last. */
    this.told = view;
    /**
     * What is shown though it is not answered yet, by the edits that are on their way.
     * @type {Map<object, Change>}
     */
    this.supposed = new Map();
    /**
     * The cards, by the version of what they rest on.
     * @type {{version: string, step: string, shown: ShownCards}}
     */
    this.cards = { version: "", step: "", shown: { order: [], html: {} } };
    this.cardsCame = false;
    this.step = step;
    /** The source that is wanted on the stage; that of the view, unless another is being fetched. */
    /** @type {number | string | null} */
    this.sourceId = sourceOf(view);
    /**
     * What is shown of the bodies, by which part of the page shows it.
     * @type {Map<string, string[]>}
     */
    this.shows = new Map();
    /**
     * The fetching of a state that is under way, and whether it must be done once more.
     * @type {Promise<void> | null}
     */
    this.fetching = null;
    this.fetchAgain = false;
  }

  /**
   * The source on the stage.
   * @returns {Footage | null}
   */
  get footage() {
    return this.view.footage;
  }

  /** The footage on the stage, for what is asked only where there is one. */
  get film() {
    return sure(this.footage);
  }

  /** The ground of the footage on the stage. */
  get ground() {
    return sure(this.view.ground);
  }

  /**
   * The sheet on the stage.
   * @returns {Sheet | null}
   */
  get sheet() {
    return this.view.sheet;
  }

  /**
   * What is on the stage, as edits name it.
   * @returns {{footage?: number, sheet?: number}}
   */
  get source() {
    return this.sheet ? { sheet: this.sheet.id } : { footage: this.footage?.id };
  }

  get isPicture() {
    return this.footage?.has_time === false;
  }

  /** The end of an address that tells the server which source is on the stage. */
  get asSeen() {
    return this.sourceId === null ? "" : `?source=${this.sourceId}`;
  }

  /**
   * What the page shows, for an answer that tells only what is new.
   * @param {boolean} [cards] whether those are wanted, too
   */
  asked(cards = true) {
    const query = new URLSearchParams({ shown: this.shown.join(" ") });
    if (this.sourceId !== null) query.set("source", String(this.sourceId));
    if (this.sourceId === sourceOf(this.stored)) query.set("since", this.stored.version);
    if (cards) query.set("step", this.step);
    if (cards && this.cards.step === this.step) query.set("cards", this.cards.version);
    return query;
  }

  /** The names of what is shown of the bodies: `table:7`, `lane:x`, `arrows:v`. */
  get shown() {
    return [...new Set([...this.shows.values()].flat())].sort();
  }

  /**
   * A part of the page shows this of the bodies from now on; what is not here is fetched.
   * @param {string} part @param {string[]} names
   */
  show(part, names) {
    this.shows.set(part, names);
    this.fetchMissing();
  }

  /** Fetch what is shown and not here. */
  fetchMissing() {
    const { shown: here } = this.stored;
    if (here && this.shown.some((name) => !here.includes(name))) this.fetchView();
  }

  /**
   * What a fit would come to, without keeping it.
   * @param {Record<string, any>} fit
   */
  async tryFit(fit) {
    const answer = await ask(`/api/studies/${this.view.id}/fits/trial`, { content: fit });
    return answer.ok ? answer.data : { error: answer.error };
  }

  /** Show what is stored, and what is supposed beside it. */
  showStored() {
    this.view = [...this.supposed.values()].reduce(applied, this.stored);
  }

  /**
   * Show something before it is stored.
   * @param {object} edit that is on its way @param {(string | number)[]} place in the state @param {any} value
   */
  suppose(edit, place, value) {
    this.supposed.set(edit, put(place, value));
    this.showStored();
  }

  /**
   * An edit has its answer: what is stored counts.
   * @param {object} edit
   */
  answered(edit) {
    if (this.supposed.delete(edit)) this.showStored();
  }

  /**
   * Take in what the server tells.
   * @param {News} news @returns {boolean} whether it fitted to what is here
   */
  take(news) {
    const overtaken = news.seq < this.stored.seq && (!news.view || sourceOf(news.view) === sourceOf(this.stored));
    if (overtaken) return true;
    if (!news.view && news.since !== this.stored.version) return false;
    const view = news.view ?? applied(this.stored, sure(news.changes));
    this.cardsCame = this.takeCards(news.cards);
    const own = (/** @type {View} */ { version, undo, redo, follow }) => JSON.stringify([version, undo, redo, follow]);
    if (own(view) !== own(this.stored)) this.setView(view);
    if (this.cardsCame) this.tell("cards");
    this.cardsCame = false;
    return true;
  }

  /** @param {News["cards"]} news @returns {boolean} whether they are those of this step */
  takeCards(news) {
    if (!news || news.step !== this.step) return false;
    if (news.since !== undefined && news.since !== this.cards.version) return false;
    this.cards = { version: news.version, step: news.step, shown: applied(this.cards.shown, news.changes) };
    return true;
  }

  /**
   * Take a state in.
   * @param {View} view
   */
  setView(view) {
    if (!this.hold(view)) return;
    this.tellView();
    this.fetchMissing();
  }

  /**
   * Hold what is stored from now on, unless something later of this source is here.
   * @param {View} view
   */
  hold(view) {
    if (view.seq < this.stored.seq && sourceOf(view) === sourceOf(this.view)) return false;
    this.stored = view;
    this.showStored();
    this.sourceId = sourceOf(view);
    return true;
  }

  /**
   * Have something done whenever one of these parts of the state is another.
   * @param {(keyof View)[]} parts @param {() => void} then
   */
  onParts(parts, then) {
    this.on("view", (changed) => {
      if (parts.some((name) => changed.has(name))) then();
    });
  }

  /** Tell the parts of the page in what the state differs from when they were told last. */
  tellView() {
    const before = this.told;
    this.told = this.view;
    const names = /** @type {(keyof View)[]} */ (Object.keys({ ...before, ...this.view }));
    this.tell("view", new Set(names.filter((name) => before[name] !== this.view[name])));
  }

  /**
   * Fetch the state anew, as seen from a source; without one, from that on the stage.
   * @param {number | string | null} [source]
   */
  async fetchView(source = this.sourceId) {
    this.sourceId = source;
    this.fetchAgain = true;
    this.fetching ??= this.fetchWanted().finally(() => (this.fetching = null));
    await this.fetching;
  }

  /** Fetch one state after the other, until the latest that was wanted is here. */
  async fetchWanted() {
    let whole = false;
    while (this.fetchAgain) {
      this.fetchAgain = false;
      const source = this.sourceId;
      const query = this.asked();
      if (whole) query.delete("since");
      whole = false;
      const answer = await ask(`/api/studies/${this.view.id}/news?${query}`);
      if (!answer.ok) setTimeout(() => this.fetchMissing(), AGAIN_AFTER);
      if (!answer.ok || this.sourceId !== source) continue; // unless another is wanted by now
      if (!this.take(answer.data)) this.fetchAgain = whole = true;
    }
  }
}

/**
 * The source on the stage of a view: a footage by its number, a sheet as "s3".
 * @param {View} view
 */
export function sourceOf(view) {
  return view.sheet ? `s${view.sheet.id}` : (view.footage?.id ?? null);
}
