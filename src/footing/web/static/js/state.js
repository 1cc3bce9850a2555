// What the page knows: the study's view as the server gave it, and where the person is in it.

import { ask } from "./asking.js";
import { applied, put } from "./changes.js";
import { sure } from "./parts.js";
import { STEPS } from "./steps/index.js";

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
const OPTIONS = {
  inTurn: false,
  onlyMissing: false,
  others: "all",
  vectors: "",
  vectorLength: 0.2,
  lanes: "xy",
  tall: false,
  noResiduals: false,
  largeGraph: false,
  fitBoxes: false,
  boxFormulas: true,
  largeBoxes: false,
  hiddenLanes: [],
  columns: ["t", "x", "y", "h", "vx", "vy", "v", "th", "om", "al"],
};

/**
 * The state of the page. Events: "view" (the study changed), "frame" (the time cursor moved),
 * "body" (another body is marked next), "tool", "step", "note" (something to say at the stage),
 * "options" (how the page shows things), "follow" (how far following is), "compare", "stretch"
 * (a part of a graph was chosen), "cells" (cells of a sheet were chosen), "cards" (other cards).
 */
export class Bench extends EventTarget {
  /** @param {View} view @param {string} step @param {Place | null} [place] where this person left off */
  constructor(view, step, place = null) {
    super();
    /** What is stored, as the server told it last. Nobody changes it; the next one shares what stays. */
    this.stored = view;
    /** What is shown: what is stored, with what is on its way to be. */
    this.view = view;
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
    this.place = place;
    this.step = step;
    this.tool = "";
    /** The source that is wanted on the stage; that of the view, unless another is being fetched. */
    /** @type {number | string | null} */
    this.sourceId = sourceOf(view);
    /** The row of a sheet that is looked at, and the cells that are chosen in it. */
    this.row = 0;
    /** @type {{first: number, last: number, columns: string[]}} */
    this.cells = { first: 1, last: 1, columns: [] };
    /**
     * What a stretch of a graph says, for each of its series.
     * @type {any[] | null}
     */
    this.stretch = null;
    /** Marks that were sent but not acknowledged yet, by "body/frame". */
    this.pending = new Map();
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
    this.frame = this.rememberedFrame();
    this.bodyId = this.remembered("body") ?? place?.body ?? null;
    /**
     * How this person wants things shown, on this computer.
     * @type {Record<string, any>}
     */
    this.options = { ...OPTIONS, ...JSON.parse(localStorage.getItem("options") ?? "{}") };
    /**
     * Two moments that are compared: frames, and the arrow between the marks.
     * @type {import("./comparing.js").Compared | null}
     */
    this.compared = null;
    this.clamp();
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
   * The body that the next click marks.
   * @returns {Body | undefined}
   */
  get body() {
    return this.view.bodies.find((body) => body.id === this.bodyId) ?? this.view.bodies[0];
  }

  /**
   * The bodies that are marked by clicking, in their order.
   * @returns {Body[]}
   */
  get markedBodies() {
    return this.view.bodies.filter((body) => body.kind === "marked");
  }

  /** By how many frames marking and stepping move on. */
  get stride() {
    const own = this.here.marking ? this.body?.stride : null;
    return own ?? this.footage?.stride ?? 1;
  }

  /**
   * First and last frame of the motion that is marked: the span, or less of it.
   * @returns {[number, number]}
   */
  get motionEnds() {
    const { first, last } = this.film;
    if (!this.here.marking || !this.body) return [first, last];
    return [Math.max(this.body.first ?? first, first), Math.min(this.body.last ?? last, last)];
  }

  /**
   * Changes whenever another spot is the first that was marked by hand.
   * @param {Body} body
   */
  spotKey(body) {
    const first = body.marks.find(([frame]) => body.qualities[frame] === undefined);
    return first ? first.map((value) => Math.round(value)).join("-") : "";
  }

  /** @param {string} name @param {any} value */
  setOption(name, value) {
    this.options = { ...this.options, [name]: value };
    localStorage.setItem("options", JSON.stringify(this.options));
    this.emit("options");
  }

  /**
   * How far following is, as a notice says.
   * @param {Follow} follow
   */
  setFollow(follow) {
    if (follow.footage !== this.footage?.id) return;
    this.stored = { ...this.stored, follow };
    this.showStored();
    this.emit("follow");
  }

  /**
   * The marks of a body in rising frames, those that are still on their way included.
   * @param {Body} body @returns {number[][]}
   */
  marksOf(body) {
    const marks = new Map(body.marks.map((mark) => [mark[0], mark]));
    for (const [key, [x, y]] of this.pending) {
      const [id, frame] = key.split("/").map(Number);
      if (id === body.id) marks.set(frame, [frame, x, y]);
    }
    return [...marks.values()].sort((a, b) => a[0] - b[0]);
  }

  /**
   * Go to what a point of a graph belongs to: a frame, or a row.
   * @param {number} owner @param {number} number
   */
  goToPoint(owner, number) {
    if (this.sheet) {
      this.row = number;
      this.emit("frame");
    } else {
      if (this.view.bodies.some((body) => body.id === owner)) this.pickBody(owner);
      this.goTo(number);
    }
  }

  /** @param {{first: number, last: number, columns: string[]}} cells */
  selectCells(cells) {
    this.cells = cells;
    this.row = cells.first;
    this.emit("cells");
    this.emit("frame");
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
    if (this.cardsCame) this.emit("cards");
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

  /** @param {View} view */
  setView(view) {
    const other = sourceOf(view) !== sourceOf(this.view);
    if (view.seq < this.stored.seq && !other) return;
    const added = other
      ? undefined
      : view.bodies.find((body) => !this.view.bodies.some((old) => old.id === body.id));
    const fresh = other || view.footage?.content !== this.view.footage?.content;
    const before = this.view.footage;
    this.stored = view;
    this.showStored();
    this.sourceId = sourceOf(view);
    if (other) this.stretch = null;
    if (added) this.bodyId = added.id;
    if (fresh) this.frame = this.rememberedFrame();
    this.clamp();
    const moved = !fresh && this.followSpan(before, view.footage);
    this.emit("view");
    if (fresh || moved) this.emit("frame");
    this.fetchMissing();
  }

  /**
   * A span with other ends takes the stage into it.
   * @param {Footage | null} before @param {Footage | null} now @returns {boolean} whether it moved
   */
  followSpan(before, now) {
    if (!before || !now || (before.first === now.first && before.last === now.last)) return false;
    const frame = Math.min(Math.max(this.frame, now.first), now.last);
    const moved = frame !== this.frame;
    this.frame = frame;
    return moved;
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

  /**
   * Put another source on the stage.
   * @param {number | string} source
   */
  async showSource(source) {
    if (source === this.sourceId) return;
    this.setTool("");
    await this.fetchView(source);
    const address = new URL(location.href);
    address.searchParams.set("source", String(source));
    history.replaceState({}, "", address);
  }

  /**
   * Move the time cursor.
   * @param {number} frame
   */
  goTo(frame) {
    if (!this.footage) return;
    const whole = Math.min(Math.max(Math.round(frame), 0), this.footage.frames - 1);
    if (whole === this.frame) return;
    this.frame = whole;
    this.remember(`frame-${this.footage.id}`, whole);
    this.emit("frame");
  }

  /**
   * Move by the stride, forward or back, past frames that are damaged.
   * @param {number} times
   */
  stepBy(times) {
    this.goTo(this.readable(this.frame + times * this.stride, Math.sign(times)));
  }

  /**
   * Move by single frames, past frames that are damaged.
   * @param {number} frames
   */
  stepFrames(frames) {
    this.goTo(this.readable(this.frame + frames, Math.sign(frames)));
  }

  /**
   * The frame itself, or the next one in a direction that is not damaged.
   * @param {number} frame @param {number} way
   */
  readable(frame, way) {
    const damaged = this.footage?.damaged ?? [];
    while (damaged.includes(frame)) frame += way;
    return frame;
  }

  /** Go on after a mark: to the next body in this frame if they take turns, else to the next frame. */
  goOn() {
    const bodies = this.markedBodies;
    const { body } = this;
    if (!body) return;
    const place = bodies.indexOf(body);
    if (this.options.inTurn && bodies.length > 1 && place >= 0) {
      this.pickBody(bodies[(place + 1) % bodies.length].id);
      if (place + 1 < bodies.length) return;
    }
    const [, last] = this.motionEnds;
    let next = this.readable(this.frame + this.stride, 1);
    while (this.options.onlyMissing && next <= last && this.isSettled(body, next)) {
      next = this.readable(next + this.stride, 1);
    }
    if (next <= last) this.goTo(next);
    else if (this.frame <= last) {
      this.say(this.options.onlyMissing ? "No frame is missing from here on." : "This is the last frame to be marked.");
    }
  }

  /**
   * Whether a body has its mark in a frame, or was said to be hidden.
   * @param {Body} body @param {number} frame
   */
  isSettled(body, frame) {
    return body.hidden.includes(frame) || this.marksOf(body).some(([at]) => at === frame);
  }

  /** Go to where marking of the body in turn stopped. */
  goOnFromLast() {
    const last = this.body && this.marksOf(this.body).at(-1)?.[0];
    const [first, end] = this.motionEnds;
    this.goTo(last === undefined ? first : Math.min(this.readable(last + this.stride, 1), end));
  }

  /** @param {number} id */
  pickBody(id) {
    this.bodyId = id;
    this.remember("body", id);
    this.emit("body");
  }

  /** @param {string} tool */
  setTool(tool) {
    this.tool = tool;
    this.emit("tool");
  }

  /** What the present step is in the page. */
  get here() {
    return STEPS[this.step];
  }

  /** @param {string} step */
  setStep(step) {
    this.step = step;
    this.setTool("");
    this.emit("step");
  }

  /**
   * Say something at the stage.
   * @param {string} text
   */
  say(text) {
    this.dispatchEvent(new CustomEvent("note", { detail: text }));
  }

  /** @param {string} name */
  emit(name) {
    this.dispatchEvent(new Event(name));
  }

  clamp() {
    if (this.footage) this.frame = Math.min(this.frame, this.footage.frames - 1);
  }

  rememberedFrame() {
    const { footage, place } = this;
    if (!footage) return 0;
    const left = place && String(footage.id) === (place.source ?? String(footage.id)) ? place.frame : null;
    return this.remembered(`frame-${footage.id}`) ?? left ?? footage.first;
  }

  /** @param {string} key @returns {number | null} */
  remembered(key) {
    const kept = sessionStorage.getItem(`study-${this.view.id}-${key}`);
    return kept === null ? null : Number(kept);
  }

  /** @param {string} key @param {number} value */
  remember(key, value) {
    sessionStorage.setItem(`study-${this.view.id}-${key}`, String(value));
  }
}

/**
 * The source on the stage of a view: a footage by its number, a sheet as "s3".
 * @param {View} view
 */
function sourceOf(view) {
  return view.sheet ? `s${view.sheet.id}` : (view.footage?.id ?? null);
}
