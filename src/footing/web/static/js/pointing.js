// What the pointer and the arrow keys do on the stage: marking, dragging, drawing, panning.

import { part, sure } from "./parts.js";

const STILL = 4; // window pixels that a click may move
const DOUBLE_CLICK = 300; // ms in which a second click in the same place is the same click
const LOUPE_REACH = 10;
const PATCH_REACH = 8;
const DRAWN = ["length", "align", "level"]; // tools that draw a line
const ANGLE_NUDGE = Math.PI / 1800;
const NOT_THE_STAGE = "form, .zoom, .drop, .length-label, .typed, .camera, .arrivals";

export class Pointing {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./stage.js").Stage} stage
   * @param {import("./overlay.js").Overlay} overlay
   * @param {import("./things.js").Things} things
   */
  constructor(bench, stage, overlay, things) {
    this.bench = bench;
    this.stage = stage;
    this.overlay = overlay;
    this.things = things;
    /** @type {any} */
    this.drag = null;
    /**
     * The latest move over the stage.
     * @type {PointerEvent | null}
     */
    this.pointer = null;
    this.lastClick = { time: -Infinity, x: 0, y: 0 };
    this.loupe = part(stage.element, "#loupe");
    const { element } = stage;
    element.addEventListener("pointerdown", (event) => this.down(event));
    element.addEventListener("pointermove", (event) => this.move(event));
    element.addEventListener("pointerup", (event) => this.up(event));
    element.addEventListener("pointercancel", () => this.cancel());
    element.addEventListener("pointerleave", () => {
      this.pointer = null;
      this.hideLoupe();
    });
    element.addEventListener("wheel", (event) => this.wheel(event), { passive: false });
    bench.on("tool", () => this.hideLoupe());
    bench.on("step", () => this.hideLoupe());
  }

  /** Whether a click on the frame places a mark. */
  get marking() {
    const { here, body, tool } = this.bench;
    return here.marking && body?.kind === "marked" && !tool;
  }

  /** @param {PointerEvent} event */
  down(event) {
    const target = /** @type {Element} */ (event.target);
    if (!this.bench.footage || event.button > 1 || target.closest(NOT_THE_STAGE)) return;
    const handle = /** @type {HTMLElement | null} */ (target.closest("[data-handle]"))?.dataset.handle;
    const at = this.stage.pixelAt(event);
    this.drag = { handle, at, x: event.clientX, y: event.clientY, moved: false };
    if (event.button === 1) this.drag.handle = "pan";
    else if (DRAWN.includes(this.bench.tool)) this.drag.handle = this.things.beginLine(this.bench.tool, at);
    else if (handle) {
      const [hx, hy] = this.things.position(handle) ?? at;
      this.drag.offset = [hx - at[0], hy - at[1]];
    }
    this.stage.element.setPointerCapture(event.pointerId);
    if (this.drag.handle) event.preventDefault();
  }

  /** @param {PointerEvent} event */
  move(event) {
    const { drag } = this;
    this.pointer = event;
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
      this.things.draftAt(drag.handle, [x + ox, y + oy]);
      this.overlay.draw();
      if (drag.handle !== "angle") this.showLoupe(event);
    }
  }

  /** @param {PointerEvent} event */
  up(event) {
    const { drag } = this;
    this.drag = null;
    if (!drag) return;
    if (drag.moved && drag.handle && drag.handle !== "pan") this.things.commit(drag.handle);
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
    if (this.isSecondOfDouble(event) || this.things.clickWith(at)) return;
    this.mark(at);
  }

  /**
   * Mark the body in turn, and go on.
   * @param {number[]} at
   */
  mark(at) {
    if (!this.marking) {
      const { here, body, tool } = this.bench;
      if (here.marking && body && !tool) this.bench.say(`${body.name} follows from other bodies; mark those.`);
      else if (here.marking && !body && !tool) this.missBody();
      return;
    }
    const { bench } = this;
    const corrected = !bench.isPicture && bench.marksOf(sure(bench.body)).some(([frame]) => frame === bench.frame);
    this.things.placeMark(at);
    if (!bench.isPicture && !corrected) bench.goOn(); // who corrects a mark wants to see it
  }

  /** Say what is missing where somebody clicks, and put the hand there. */
  missBody() {
    this.bench.say("Nothing to mark yet: name what moves in the card beside, then click it.");
    /** @type {HTMLInputElement | null} */ (document.querySelector('#cards form[data-kind="add_body"] [name="name"]'))?.focus();
  }

  /**
   * Mark where the pointer is, for the hand that steps. Where none is on the stage, the mark comes where the body was
   * last, or in the middle, and stays in turn for the arrow keys.
   * @returns {boolean} whether there is something to mark
   */
  markAtPointer() {
    if (!this.marking) return false;
    if (this.pointer) this.mark(this.stage.pixelAt(this.pointer));
    else this.things.placeMark(this.lastPlace());
    return true;
  }

  /** Where the body was marked last before this frame; the middle of the picture if it was not. */
  lastPlace() {
    const { bench } = this;
    const { width, height } = sure(bench.footage);
    const earlier = bench.marksOf(sure(bench.body)).filter(([at]) => bench.isPicture || at <= bench.frame).at(-1);
    return earlier ? earlier.slice(1, 3) : [width / 2, height / 2];
  }

  /** @param {PointerEvent} event */
  isSecondOfDouble(event) {
    const { time, x, y } = this.lastClick;
    this.lastClick = { time: event.timeStamp, x: event.clientX, y: event.clientY };
    const near = Math.hypot(event.clientX - x, event.clientY - y) < STILL;
    return near && event.timeStamp - time < DOUBLE_CLICK;
  }

  /**
   * Nudge what has the focus, or the mark in this frame. The edit is made when the key is let go.
   * @param {number} dx @param {number} dy as seen @returns {boolean} whether there was something to nudge
   */
  nudge(dx, dy) {
    const { bench, overlay, things } = this;
    const touched = /** @type {HTMLElement | null} */ (document.activeElement);
    const focused = touched?.getClientRects().length ? touched.dataset?.handle : undefined; // if it is on view
    const handle = focused ?? (bench.here.marking && bench.body ? this.markInTurn : null);
    const at = handle && things.position(handle);
    if (handle === "angle") {
      overlay.draft.angle = (overlay.draft.angle ?? bench.ground.angle) + (dx - dy) * ANGLE_NUDGE;
    } else if (at) {
      const [px, py] = this.stage.offsetOf([dx, dy]);
      things.draftAt(handle, [at[0] + px, at[1] + py]);
    } else return false;
    this.nudging = handle;
    overlay.draw();
    return true;
  }

  /** The handle of the mark in this frame; on a picture that of the last point. */
  get markInTurn() {
    const { bench } = this;
    return bench.isPicture ? `point/${bench.marksOf(sure(bench.body)).at(-1)?.[0]}` : "mark";
  }

  endNudge() {
    if (!this.nudging) return;
    this.things.commit(this.nudging);
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

  /**
   * The pixels around the pointer, and the same spot when it was marked last.
   * @param {PointerEvent} event
   */
  showLoupe(event) {
    const pointing = this.marking || this.bench.tool || this.drag?.handle;
    const elsewhere = /** @type {Element} */ (event.target).closest(NOT_THE_STAGE);
    if (!pointing || elsewhere || !this.stage.picture) return this.hideLoupe();
    const [main, patch] = this.loupe.querySelectorAll("canvas");
    this.stage.magnify(main, this.stage.picture, this.stage.pixelAt(event), LOUPE_REACH);
    const last = this.marking ? this.lastPatch() : null;
    const figure = part(this.loupe, "figure");
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
    const { body, frame, isPicture } = this.bench;
    const earlier = this.bench.marksOf(sure(body)).filter(([at]) => isPicture || at < frame).at(-1);
    if (!earlier) return null;
    const picture = this.stage.frames.get(isPicture ? 0 : earlier[0], "screen");
    return picture ? { picture, at: earlier.slice(1) } : null;
  }
}
