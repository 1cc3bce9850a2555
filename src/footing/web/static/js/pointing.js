// What the pointer and the arrow keys do on the stage: marking, dragging, drawing, panning.

const STILL = 4; // window pixels that a click may move
const DOUBLE_CLICK = 300; // ms in which a second click in the same place is the same click
const LOUPE_REACH = 10;
const PATCH_REACH = 8;

export class Pointing {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./stage.js").Stage} stage
   * @param {import("./overlay.js").Overlay} overlay
   * @param {import("./edits.js").Edits} edits
   */
  constructor(bench, stage, overlay, edits) {
    this.bench = bench;
    this.stage = stage;
    this.overlay = overlay;
    this.edits = edits;
    /** @type {any} */
    this.drag = null;
    this.lastClick = { time: -Infinity, x: 0, y: 0 };
    /** @type {HTMLElement} */
    this.loupe = stage.element.querySelector("#loupe");
    const { element } = stage;
    element.addEventListener("pointerdown", (event) => this.down(event));
    element.addEventListener("pointermove", (event) => this.move(event));
    element.addEventListener("pointerup", (event) => this.up(event));
    element.addEventListener("pointercancel", () => this.cancel());
    element.addEventListener("pointerleave", () => this.hideLoupe());
    element.addEventListener("wheel", (event) => this.wheel(event), { passive: false });
    bench.addEventListener("tool", () => this.hideLoupe());
    bench.addEventListener("step", () => this.hideLoupe());
  }

  /** Whether a click on the frame places a mark. */
  get marking() {
    return this.bench.step === "mark" && this.bench.body && !this.bench.tool;
  }

  /** @param {PointerEvent} event */
  down(event) {
    const target = /** @type {Element} */ (event.target);
    if (!this.bench.footage || event.button > 1 || target.closest("form, .zoom, .drop, .length-label, .typed")) return;
    const handle = /** @type {HTMLElement | null} */ (target.closest("[data-handle]"))?.dataset.handle;
    const at = this.stage.pixelAt(event);
    this.drag = { handle, at, x: event.clientX, y: event.clientY, moved: false };
    if (event.button === 1) this.drag.handle = "pan";
    else if (!handle && this.bench.tool === "length") {
      this.drag.handle = "length/0/end";
      this.overlay.draft.length = { id: 0, start: at, end: at };
    }
    if (handle) this.drag.offset = this.offset(handle, at);
    this.stage.element.setPointerCapture(event.pointerId);
    if (this.drag.handle) event.preventDefault();
  }

  /** @param {PointerEvent} event */
  move(event) {
    const { drag } = this;
    if (!drag) return this.showLoupe(event);
    const [dx, dy] = [event.clientX - drag.x, event.clientY - drag.y];
    if (!drag.moved && Math.hypot(dx, dy) < STILL) return;
    drag.moved = true;
    if (!drag.handle || drag.handle === "pan") {
      this.stage.pan(event.movementX, event.movementY);
      this.hideLoupe();
    } else {
      const [x, y] = this.stage.pixelAt(event);
      const [ox, oy] = drag.offset ?? [0, 0];
      this.draftAt(drag.handle, [x + ox, y + oy]);
      this.overlay.draw();
      if (drag.handle !== "angle") this.showLoupe(event);
    }
  }

  /** @param {PointerEvent} event */
  up(event) {
    const { drag } = this;
    this.drag = null;
    if (!drag) return;
    if (drag.moved && drag.handle && drag.handle !== "pan") this.commit(drag.handle);
    else if (!drag.moved && event.button === 0) this.click(event, drag.at);
    this.overlay.draft = {};
    this.overlay.draw();
  }

  cancel() {
    this.drag = null;
    this.overlay.draft = {};
    this.overlay.draw();
  }

  /** @param {PointerEvent} event @param {number[]} at */
  click(event, at) {
    if (this.isSecondOfDouble(event)) return;
    if (this.bench.tool === "zero") {
      this.bench.setTool("");
      this.edits.send({ kind: "set_zero", footage: this.bench.footage.id, x: at[0], y: at[1] });
    } else if (this.marking) {
      this.placeMark(at);
      this.bench.goOn();
    }
  }

  /** @param {PointerEvent} event */
  isSecondOfDouble(event) {
    const { time, x, y } = this.lastClick;
    this.lastClick = { time: event.timeStamp, x: event.clientX, y: event.clientY };
    const near = Math.hypot(event.clientX - x, event.clientY - y) < STILL;
    return near && event.timeStamp - time < DOUBLE_CLICK;
  }

  /** Place a mark of the body in turn in the present frame. @param {number[]} at */
  async placeMark(at) {
    const [x, y] = at;
    const { bench } = this;
    const { frame, body } = bench;
    const { width, height } = bench.footage;
    const inside = x >= -0.5 && y >= -0.5 && x <= width - 0.5 && y <= height - 0.5;
    if (!inside) return bench.say("That is outside the picture.");
    const key = `${body.id}/${frame}`;
    const place = [x, y];
    bench.pending.set(key, place);
    await this.edits.send({ kind: "place_mark", body: body.id, frame, x, y });
    if (bench.pending.get(key) === place) bench.pending.delete(key);
    this.overlay.draw();
  }

  /** Distance from the pointer to the thing it took hold of. */
  offset(/** @type {string} */ handle, /** @type {number[]} */ [x, y]) {
    const [hx, hy] = this.position(handle) ?? [x, y];
    return [hx - x, hy - y];
  }

  /** Where the thing behind a handle is, in pixels. @param {string} handle */
  position(handle) {
    const { view, body, frame } = this.bench;
    const [kind, id, end] = handle.split("/");
    if (kind === "zero") return this.overlay.draft.zero ?? view.ground.zero;
    if (kind === "mark") {
      const mark = this.bench.marksOf(body).find(([at]) => at === frame);
      return this.overlay.draft.mark?.at ?? mark?.slice(1);
    }
    if (kind === "length") {
      const known = view.ground.known_lengths.find((one) => one.id === Number(id));
      return (this.overlay.draft.length ?? known)?.[end];
    }
    return null;
  }

  /** Show a handle's thing at a pixel. @param {string} handle @param {number[]} at */
  draftAt(handle, at) {
    const { view, body } = this.bench;
    const { draft } = this.overlay;
    const [kind, id, end] = handle.split("/");
    if (kind === "zero") draft.zero = at;
    else if (kind === "mark") draft.mark = { body: body.id, at };
    else if (kind === "angle") {
      const [x, y] = view.ground.zero;
      draft.angle = Math.round((Math.atan2(y - at[1], at[0] - x) * 1800) / Math.PI) * (Math.PI / 1800);
    } else {
      const known = view.ground.known_lengths.find((one) => one.id === Number(id));
      draft.length ??= { id: known.id, start: known.start, end: known.end };
      draft.length[end] = at;
    }
  }

  /** Make an edit of what was dragged. @param {string} handle */
  async commit(handle) {
    const { bench } = this;
    const { zero, mark, angle, length } = this.overlay.draft;
    const footage = bench.footage.id;
    const { flip_x, flip_y } = bench.view.ground;
    if (handle === "zero") {
      bench.view.ground.zero = zero;
      await this.edits.send({ kind: "set_zero", footage, x: zero[0], y: zero[1] });
    } else if (handle === "mark") this.placeMark(mark.at);
    else if (handle === "angle") {
      bench.view.ground.angle = angle;
      const degrees = ((angle * 180) / Math.PI).toFixed(1);
      await this.edits.send({ kind: "turn_axes", footage, angle: degrees, flip_x, flip_y });
    } else {
      const [start_x, start_y, end_x, end_y] = [...length.start, ...length.end];
      const ends = { start_x, start_y, end_x, end_y };
      if (length.id) {
        const known = bench.view.ground.known_lengths.find((one) => one.id === length.id);
        Object.assign(known, { start: length.start, end: length.end });
        await this.edits.send({ kind: "move_known_length", known_length: length.id, ...ends });
      } else {
        bench.setTool("");
        const answer = await this.edits.send({
          kind: "add_known_length",
          footage,
          frame: bench.frame,
          ...ends,
        });
        if (answer.made) bench.dispatchEvent(new CustomEvent("ask-length", { detail: Number(answer.made.split(":")[1]) }));
      }
    }
  }

  /**
   * Nudge what has the focus, or the mark in this frame. The edit is made when the key is let go.
   * @param {number} dx @param {number} dy @returns {boolean} whether there was something to nudge
   */
  nudge(dx, dy) {
    const focused = /** @type {HTMLElement} */ (document.activeElement)?.dataset?.handle;
    const handle = focused ?? (this.bench.step === "mark" && this.bench.body ? "mark" : null);
    const at = handle && this.position(handle);
    if (handle === "angle") {
      this.overlay.draft.angle = (this.overlay.draft.angle ?? this.bench.view.ground.angle) + ((dx - dy) * Math.PI) / 1800;
    } else if (at) this.draftAt(handle, [at[0] + dx, at[1] + dy]);
    else return false;
    this.nudging = handle;
    this.overlay.draw();
    return true;
  }

  endNudge() {
    if (!this.nudging) return;
    this.commit(this.nudging);
    this.nudging = null;
    this.overlay.draft = {};
    this.overlay.draw();
  }

  /** @param {WheelEvent} event */
  wheel(event) {
    event.preventDefault();
    const box = this.stage.element.getBoundingClientRect();
    this.stage.zoom(event.deltaY < 0 ? 1 : -1, [event.clientX - box.left, event.clientY - box.top]);
  }

  /** The pixels around the pointer, and the same spot when it was marked last. @param {PointerEvent} event */
  showLoupe(event) {
    const pointing = this.marking || this.bench.tool || this.drag?.handle;
    const overForm = /** @type {Element} */ (event.target).closest("form, .zoom, .drop");
    if (!pointing || overForm || !this.stage.picture) return this.hideLoupe();
    const [main, patch] = this.loupe.querySelectorAll("canvas");
    this.stage.magnify(main, this.stage.picture, this.stage.pixelAt(event), LOUPE_REACH);
    const last = this.marking ? this.lastPatch() : null;
    const figure = this.loupe.querySelector("figure");
    figure.hidden = !last;
    if (last) this.stage.magnify(patch, last.picture, last.at, PATCH_REACH);
    const box = this.stage.element.getBoundingClientRect();
    const [x, y] = [event.clientX - box.left, event.clientY - box.top];
    this.loupe.hidden = false;
    const { offsetWidth, offsetHeight } = this.loupe;
    this.loupe.style.left = `${x + 30 + offsetWidth > box.width ? x - 30 - offsetWidth : x + 30}px`;
    this.loupe.style.top = `${Math.max(y - 30 - offsetHeight, 4)}px`;
  }

  hideLoupe() {
    this.loupe.hidden = true;
  }

  /** The latest mark of the body before this frame, with its picture if that is at hand. */
  lastPatch() {
    const { body, frame } = this.bench;
    const earlier = this.bench.marksOf(body).filter(([at]) => at < frame).at(-1);
    const picture = earlier && this.stage.frames.get(earlier[0], "screen");
    return picture ? { picture, at: earlier.slice(1) } : null;
  }
}
