// What the page knows: the study's view as the server gave it, and where the person is in it.

/**
 * @typedef {{id: number, name: string, background: boolean, colour: string, path: string,
 *   shape: string, marks: [number, number, number][], counting: number[],
 *   table: {columns: any[], rows: string[][], end_rows: number[]},
 *   lane: {x: number[], y: number[]}}} Body
 * @typedef {{id: number, kind: string, content: string, name: string, width: number,
 *   height: number, frames: number, first: number, last: number, stride: number,
 *   damaged: number[], moves_from: number | null, times: number[]}} Footage
 * @typedef {{id: number, name: string, first: number, last: number, text: string}} Passage
 * @typedef {{id: number, name: string, kind: string, content: string}} Source
 * @typedef {{id: number, seq: number, undo: string | null, redo: string | null,
 *   sources: Source[], footage: Footage | null, ground: any, bodies: Body[],
 *   passages: Passage[], graph: any, fits: any[], findings: any[], checks: any[],
 *   steps: Record<string, string>}} View
 */

/**
 * The state of the page. Events: "view" (the study changed), "frame" (the time cursor moved),
 * "body" (another body is marked next), "tool", "step", "note" (something to say at the stage).
 */
export class Bench extends EventTarget {
  /** @param {View} view @param {string} step */
  constructor(view, step) {
    super();
    this.view = view;
    this.step = step;
    this.tool = "";
    /** The source that is wanted on the stage; that of the view, unless another is being fetched. */
    this.sourceId = view.footage?.id ?? null;
    /** Marks that were sent but not acknowledged yet, by "body/frame". */
    this.pending = new Map();
    /** The fetching of a state that is under way, and whether it must be done once more. @type {Promise<void> | null} */
    this.fetching = null;
    this.fetchAgain = false;
    this.frame = this.rememberedFrame();
    this.bodyId = this.remembered("body");
    this.clamp();
  }

  /** The source on the stage. @returns {Footage | null} */
  get footage() {
    return this.view.footage;
  }

  get isPicture() {
    return this.footage?.kind === "picture";
  }

  /** The end of an address that tells the server which source is on the stage. */
  get asSeen() {
    return this.sourceId === null ? "" : `?source=${this.sourceId}`;
  }

  /** The body that the next click marks. @returns {Body | undefined} */
  get body() {
    return this.view.bodies.find((body) => body.id === this.bodyId) ?? this.view.bodies[0];
  }

  /**
   * The marks of a body in rising frames, those that are still on their way included.
   * @param {Body} body @returns {[number, number, number][]}
   */
  marksOf(body) {
    const marks = new Map(body.marks.map((mark) => [mark[0], mark]));
    for (const [key, [x, y]] of this.pending) {
      const [id, frame] = key.split("/").map(Number);
      if (id === body.id) marks.set(frame, [frame, x, y]);
    }
    return [...marks.values()].sort((a, b) => a[0] - b[0]);
  }

  /** @param {View} view */
  setView(view) {
    const other = view.footage?.id !== this.view.footage?.id;
    if (view.seq < this.view.seq && !other) return;
    const added = other
      ? undefined
      : view.bodies.find((body) => !this.view.bodies.some((old) => old.id === body.id));
    const fresh = other || view.footage?.content !== this.view.footage?.content;
    this.view = view;
    this.sourceId = view.footage?.id ?? null;
    if (added) this.bodyId = added.id;
    if (fresh) this.frame = this.rememberedFrame();
    this.clamp();
    this.emit("view");
    if (fresh) this.emit("frame");
  }

  /** Fetch the state anew, as seen from a source; without one, from that on the stage. @param {number | null} [source] */
  async fetchView(source = this.sourceId) {
    this.sourceId = source;
    this.fetchAgain = true;
    this.fetching ??= this.fetchWanted().finally(() => (this.fetching = null));
    await this.fetching;
  }

  /** Fetch one state after the other, until the latest that was wanted is here. */
  async fetchWanted() {
    while (this.fetchAgain) {
      this.fetchAgain = false;
      const source = this.sourceId;
      const answer = await fetch(`/api/studies/${this.view.id}${this.asSeen}`).catch(() => null);
      const view = answer?.ok ? await answer.json() : null;
      if (view && this.sourceId === source) this.setView(view); // unless another is wanted by now
    }
  }

  /** Put another source on the stage. @param {number} source */
  async showSource(source) {
    if (source === this.sourceId) return;
    this.setTool("");
    await this.fetchView(source);
    const address = new URL(location.href);
    address.searchParams.set("source", String(source));
    history.replaceState({}, "", address);
  }

  /** Move the time cursor. @param {number} frame */
  goTo(frame) {
    if (!this.footage) return;
    const whole = Math.min(Math.max(Math.round(frame), 0), this.footage.frames - 1);
    if (whole === this.frame) return;
    this.frame = whole;
    this.remember(`frame-${this.footage.id}`, whole);
    this.emit("frame");
  }

  /** Move by the stride, forward or back, past frames that are damaged. @param {number} times */
  stepBy(times) {
    this.goTo(this.readable(this.frame + times * (this.footage?.stride ?? 1), Math.sign(times)));
  }

  /** Move by single frames, past frames that are damaged. @param {number} frames */
  stepFrames(frames) {
    this.goTo(this.readable(this.frame + frames, Math.sign(frames)));
  }

  /** The frame itself, or the next one in a direction that is not damaged. @param {number} frame @param {number} way */
  readable(frame, way) {
    const damaged = this.footage?.damaged ?? [];
    while (damaged.includes(frame)) frame += way;
    return frame;
  }

  /** Go on after a mark: by the stride, but not out of the span. */
  goOn() {
    const next = this.readable(this.frame + this.footage.stride, 1);
    if (next <= this.footage.last) this.goTo(next);
    else if (this.frame <= this.footage.last) this.say("This is the last frame of the span.");
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

  /** @param {string} step */
  setStep(step) {
    this.step = step;
    this.setTool("");
    this.emit("step");
  }

  /** Say something at the stage. @param {string} text */
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
    const { footage } = this.view;
    return footage ? (this.remembered(`frame-${footage.id}`) ?? footage.first) : 0;
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
