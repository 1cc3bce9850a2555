// Where a person is in the study: step, source, frame, body and tool, and how they want things shown.

import { Known, sourceOf } from "./known.js";
import { STEPS } from "./steps/index.js";

/**
 * @typedef {import("./known.js").View} View
 * @typedef {import("./known.js").Body} Body
 * @typedef {import("./known.js").Follow} Follow
 * @typedef {import("./known.js").Footage} Footage
 * @typedef {import("./known.js").Place} Place
 */

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
  ledgerTab: "energy",
  ledgerFilm: false,
  ledgerBands: true,
  modelGraph: "most",
  modelFilm: true,
  hiddenLanes: [],
  columns: ["t", "x", "y", "h", "vx", "vy", "v", "th", "om", "al"],
};

/** The state of the page, which tells its parts what changes. */
export class Bench extends Known {
  /** @param {View} view @param {string} step @param {Place | null} [place] where this person left off */
  constructor(view, step, place = null) {
    super(view, step);
    this.place = place;
    this.tool = "";
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
     * A model as it would be with what is tried, and its graph.
     * @type {{model: import("./shapes.js").ModelShape, graph: import("./known.js").GraphView | null} | null}
     */
    this.tried = null;
    /** @type {number | null} the model that is in hand; the first one if none is */
    this.modelId = null;
    /** @type {number | null} the block of the report that is in hand */
    this.block = null;
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
    this.tell("options");
  }

  /**
   * How far following is, as a notice says.
   * @param {Follow} follow
   */
  setFollow(follow) {
    if (follow.footage !== this.footage?.id) return;
    this.stored = { ...this.stored, follow };
    this.showStored();
    this.tell("follow");
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
      this.tell("frame");
    } else {
      if (this.view.bodies.some((body) => body.id === owner)) this.pickBody(owner);
      this.goTo(number);
    }
  }

  /** @param {{first: number, last: number, columns: string[]}} cells */
  selectCells(cells) {
    this.cells = cells;
    this.row = cells.first;
    this.tell("cells");
    this.tell("frame");
  }

  /**
   * Take a state in: another source has its own frame, and what was just added is marked next.
   * @param {View} view
   */
  setView(view) {
    const before = this.view;
    if (!this.hold(view)) return;
    const other = sourceOf(view) !== sourceOf(before);
    const added = other ? undefined : view.bodies.find((body) => !before.bodies.some((old) => old.id === body.id));
    const fresh = other || view.footage?.content !== before.footage?.content;
    if (other) this.stretch = null;
    if (added) this.bodyId = added.id;
    if (fresh) this.frame = this.rememberedFrame();
    this.clamp();
    const moved = !fresh && this.followSpan(before.footage, view.footage);
    this.tellView();
    if (fresh || moved) this.tell("frame");
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
    this.tell("frame");
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
    this.tell("body");
  }

  /** @param {string} tool */
  setTool(tool) {
    this.tool = tool;
    this.tell("tool");
  }

  /** The models of the source on the stage; one that is tried as it would be. */
  get models() {
    const models = this.view.models?.models ?? [];
    return models.map((one) => (one.id === this.tried?.model.id ? this.tried.model : one));
  }

  get modelInHand() {
    const { models } = this;
    return models.find((one) => one.id === this.modelId) ?? models[0] ?? null;
  }

  /** @param {number} id */
  takeModel(id) {
    this.modelId = id;
    this.tell("options");
  }

  /**
   * Show a model as it would be.
   * @param {{model: import("./shapes.js").ModelShape, graph: import("./known.js").GraphView | null}} tried
   */
  tryModel(tried) {
    this.tried = tried;
    this.tell("models");
  }

  /** What the present step is in the page. */
  get here() {
    return STEPS[this.step];
  }

  /** @param {string} step */
  setStep(step) {
    this.step = step;
    this.setTool("");
    this.tell("step");
  }

  /**
   * Say something at the stage.
   * @param {string} text
   */
  say(text) {
    this.tell("note", text);
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
