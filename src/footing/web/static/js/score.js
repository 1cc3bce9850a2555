// The score: film strip, lanes and passages on one time axis, with the time cursor through all.

import { FilmStrip } from "./film-strip.js";
import { Lanes } from "./lanes.js";
import { part, sure } from "./parts.js";
import { draw, svg } from "./drawing.js";
import { AXIS, LABELS, TimeAxis } from "./time-axis.js";

const STRIP = 44;
const PASSAGES = 26;

export class Score {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./frames.js").Frames} frames
   * @param {import("./edits.js").Edits} edits
   * @param {{impacts: import("./impacts.js").Impacts, legs: import("./legs.js").Legs}} rows
   * @param {HTMLElement} element
   */
  constructor(bench, frames, edits, { impacts, legs }, element) {
    this.impacts = impacts;
    this.legs = legs;
    this.bench = bench;
    this.edits = edits;
    this.element = element;
    this.time = part(element, "#time");
    this.strip = new FilmStrip(bench, frames, part(element, "#strip", HTMLCanvasElement), STRIP);
    this.lanes = part(element, "#lanes", SVGElement);
    this.form = part(element, "#passage-form", HTMLFormElement);
    this.axis = new TimeAxis(bench, this.time);
    this.bodies = new Lanes(bench, this.axis);
    /** @type {any} */
    this.drag = null;
    /** @type {[number, number] | null} frames that are being chosen for a passage */
    this.chosen = null;
    /**
     * Ends being dragged, shown instead of what the view says.
     * @type {any}
     */
    this.draft = null;
    bench.onParts(["footage", "bodies", "passages", "ground", "impacts", "ledger", "models"], () => this.draw());
    bench.on(["body", "options", "step", "models"], () => this.draw());
    bench.on("frame", () => this.drawCursor());
    part(element, "#whole-file").addEventListener("change", (event) => {
      this.axis.whole = /** @type {HTMLInputElement} */ (event.target).checked;
      this.draw();
    });
    new ResizeObserver(() => {
      this.axis.measure();
      this.draw();
    }).observe(this.time);
    this.time.addEventListener("pointerdown", (event) => this.down(event));
    this.time.addEventListener("pointermove", (event) => this.move(event));
    this.time.addEventListener("pointerup", () => this.up());
    this.time.addEventListener("pointercancel", () => this.up());
    this.lanes.addEventListener("keydown", (event) => this.key(event));
    this.form.addEventListener("submit", (event) => this.namePassage(event));
    part(this.form, "[data-cancel]").addEventListener("click", () => this.leavePassage());
  }

  get height() {
    return STRIP + this.bodies.height + this.legs.height + PASSAGES + AXIS;
  }

  draw() {
    const { footage, bodies } = this.bench.view;
    this.element.hidden = !footage || !footage.has_time;
    const { width } = this.axis;
    if (!footage || !width) return;
    const { height } = this;
    this.time.style.height = `${height}px`;
    this.lanes.setAttribute("viewBox", `0 0 ${width} ${height}`);
    this.lanes.style.height = `${height}px`; // more than is seen at once where there are many lanes
    const lanes = this.bodies.draw(STRIP);
    if (!bodies.length) lanes.push(this.label("no body", STRIP + this.bodies.height / 2, "soft"));
    draw(this.lanes, [
      ...this.axis.draw(STRIP, height),
      this.label("time", height - AXIS / 2, "soft"),
      ...lanes,
      ...this.legs.draw(this.axis, STRIP + this.bodies.height),
      ...this.passages(height - PASSAGES - AXIS),
      ...this.impacts.draw(this.axis, STRIP, STRIP + this.bodies.height),
      ...this.outside(height),
      ...this.spanHandles(),
      svg("g", { key: "cursor", class: "cursor" }),
    ]);
    this.strip.draw(this.axis, LABELS);
    this.drawCursor();
  }

  /** @param {string} text @param {number} y @param {string} [kind] */
  label(text, y, kind = "") {
    const element = svg("text", { x: 8, y: y + 4, class: `lane-name ${kind}` }, [text.length > 10 ? `${text.slice(0, 9)}…` : text]);
    return element;
  }

  /**
   * Passages as brackets with their names, and the stretch that is being chosen.
   * @param {number} top
   */
  passages(top) {
    const parts = [
      svg("rect", { x: LABELS, y: top, width: Math.max(this.axis.right - LABELS, 0), height: PASSAGES, class: "passage-row" }),
      svg("path", { d: `M0,${top}H${this.axis.width}`, class: "rule" }),
      this.label("passages", top + PASSAGES / 2, "soft"),
    ];
    const stretches = this.bench.view.passages.map((one) =>
      this.draft?.passage === one.id ? { ...one, ...this.draft } : one,
    );
    for (const one of stretches) parts.push(...this.bracket(one, top));
    if (this.chosen) {
      const [first, last] = [...this.chosen].sort((a, b) => a - b);
      const [a, b] = [this.axis.xOf(first), this.axis.xOf(last)];
      parts.push(svg("rect", { x: a, y: STRIP, width: b - a, height: top + PASSAGES - STRIP, class: "choosing" }));
    }
    return parts;
  }

  /** @param {import("./known.js").Passage} one @param {number} top */
  bracket(one, top) {
    const [a, b] = [this.axis.xOf(one.first), this.axis.xOf(one.last)];
    const name = svg("text", { x: (a + b) / 2, y: top + 17, "text-anchor": "middle", class: "passage-name" }, [one.name]);
    const end = (/** @type {number} */ x, /** @type {string} */ which) =>
      svg("rect", {
        key: `${one.id}/${which}`,
        x: x - 5,
        y: top,
        width: 10,
        height: PASSAGES,
        class: "grip",
        "data-grip": `${one.id}/${which}`,
        tabindex: 0,
        role: "slider",
        "aria-label": `${which === "first" ? "Start" : "End"} of ${one.name}`,
        "aria-valuenow": which === "first" ? one.first : one.last,
        "aria-valuemin": 0,
        "aria-valuemax": this.bench.film.frames - 1,
      });
    return [
      svg("rect", { x: a, y: top + 3, width: Math.max(b - a, 1), height: PASSAGES - 6, class: "passage" }),
      svg("path", { d: `M${a + 5},${top + 3}H${a}V${top + PASSAGES - 3}H${a + 5}M${b - 5},${top + 3}H${b}V${top + PASSAGES - 3}H${b - 5}`, class: "passage-bracket" }),
      name,
      end(a, "first"),
      end(b, "last"),
    ];
  }

  /**
   * Frames outside the span are greyed.
   * @param {number} height
   */
  outside(height) {
    const { first, last } = this.span;
    const [a, b] = [this.axis.xOf(first), this.axis.xOf(last)];
    const bottom = height - AXIS;
    const right = this.axis.right;
    return [
      svg("rect", { x: LABELS, y: 0, width: Math.max(a - LABELS, 0), height: bottom, class: "outside" }),
      svg("rect", { x: b, y: 0, width: Math.max(right - b, 0), height: bottom, class: "outside" }),
    ];
  }

  get span() {
    return this.draft?.span ?? this.bench.footage;
  }

  spanHandles() {
    return ["first", "last"].map((which) => {
      const frame = this.span[which];
      const x = this.axis.xOf(frame);
      const tab = which === "first" ? `M${x},0h-9v14l9,6z` : `M${x},0h9v14l-9,6z`;
      return svg("g", {
        key: which,
        class: "span-handle",
        "data-span-end": which,
        tabindex: 0,
        role: "slider",
        "aria-label": which === "first" ? "First frame of the span" : "Last frame of the span",
        "aria-valuenow": frame,
        "aria-valuemin": 0,
        "aria-valuemax": this.bench.film.frames - 1,
      }, [svg("rect", { x: x - 10, y: 0, width: 20, height: STRIP, fill: "transparent" }), svg("path", { d: `${tab}M${x},0V${STRIP}` })]);
    });
  }

  drawCursor() {
    const group = this.lanes.querySelector(".cursor");
    const { footage, frame } = this.bench;
    if (!group || !footage) return;
    const x = this.axis.x(footage.times[frame]);
    const parts = [...this.bodies.dots(STRIP, x), ...this.bodies.figures(STRIP)];
    draw(group, [svg("path", { d: `M${x},0V${this.height - AXIS}`, class: "line" }), svg("path", { d: `M${x - 5},0h10l-5,7z`, class: "line" }), ...parts]);
    const seconds = footage.times[frame].toFixed(3).replace("-", "−");
    /** @type {HTMLElement} */ (this.element.querySelector("#moment")).textContent = `frame ${frame} · ${seconds} s`;
  }

  /** @param {PointerEvent} event */
  down(event) {
    const target = /** @type {Element} */ (event.target);
    if (target.closest("form") || !this.bench.footage) return;
    const spanEnd = /** @type {HTMLElement} */ (target.closest("[data-span-end]"))?.dataset.spanEnd;
    const grip = /** @type {HTMLElement} */ (target.closest("[data-grip]"))?.dataset.grip;
    const flag = /** @type {HTMLElement | null} */ (target.closest("[data-go-frame]"));
    const y = event.clientY - this.time.getBoundingClientRect().top + this.time.scrollTop;
    if (flag) {
      this.bench.goTo(Number(flag.dataset.goFrame));
      event.preventDefault();
      return;
    }
    if (this.downOnImpact(event, target, y) || this.downOnBorder(event, target)) return;
    const frame = this.axis.frameAt(event.clientX);
    if (spanEnd) this.drag = { spanEnd };
    else if (grip) this.drag = { grip };
    else if (y < STRIP) this.drag = { scrub: true };
    else this.drag = { choose: frame, x: event.clientX };
    this.time.setPointerCapture(event.pointerId);
    if (this.drag.scrub) this.bench.goTo(frame);
    event.preventDefault();
  }

  /**
   * A notch is taken, an offered one is placed, and with the tool in hand a new one.
   * @param {PointerEvent} event @param {Element} target @param {number} y @returns {boolean} whether it was about impacts
   */
  downOnImpact(event, target, y) {
    const { impact, offer } = /** @type {HTMLElement | null} */ (target.closest(".notch"))?.dataset ?? {};
    const places = this.bench.tool === "impact" && y >= STRIP;
    if (impact) {
      this.drag = { impact: Number(impact) };
      this.time.setPointerCapture(event.pointerId);
    } else if (offer) this.impacts.place(Number(offer));
    else if (places) {
      this.bench.setTool("");
      this.impacts.place(this.axis.gapAt(event.clientX));
    } else return false;
    event.preventDefault();
    return true;
  }

  /**
   * The border between two legs of a model is taken.
   * @param {PointerEvent} event @param {Element} target @returns {boolean} whether it was about legs
   */
  downOnBorder(event, target) {
    const { legBorder } = /** @type {HTMLElement | null} */ (target.closest("[data-leg-border]"))?.dataset ?? {};
    if (!legBorder) return false;
    this.drag = { border: Number(legBorder) };
    this.time.setPointerCapture(event.pointerId);
    event.preventDefault();
    return true;
  }

  /** @param {PointerEvent} event */
  move(event) {
    const { drag } = this;
    if (!drag) return;
    if (drag.impact) {
      this.impacts.drag(drag.impact, this.axis.gapAt(event.clientX));
      this.draw();
      return;
    }
    if (drag.border) {
      this.legs.drag(drag.border, this.axis.gapAt(event.clientX));
      this.draw();
      return;
    }
    const frame = this.axis.frameAt(event.clientX);
    if (drag.scrub) this.bench.goTo(frame);
    else if (drag.spanEnd) this.draftSpan(drag.spanEnd, frame);
    else if (drag.grip) this.draftPassage(drag.grip, frame);
    else if (Math.abs(event.clientX - drag.x) > 4) {
      this.chosen = [drag.choose, frame];
      this.draw();
    }
  }

  up() {
    const { drag, chosen } = this;
    this.drag = null;
    if (!drag) return;
    if (drag.impact) this.impacts.drop().then(() => this.draw());
    else if (drag.border) this.legs.drop().then(() => this.draw());
    else if (drag.spanEnd || drag.grip) this.commitDraft();
    else if (chosen && chosen[0] !== chosen[1]) this.askName();
    else if ("choose" in drag) this.bench.goTo(drag.choose);
  }

  /** @param {string} which @param {number} frame */
  draftSpan(which, frame) {
    const { first, last } = this.span;
    /** @type {Record<string, number>} */
    const span = { first, last };
    span[which] = which === "first" ? Math.min(frame, last) : Math.max(frame, first);
    this.draft = { span };
    this.bench.goTo(span[which]);
    this.draw();
  }

  /** @param {string} grip @param {number} frame */
  draftPassage(grip, frame) {
    const [id, which] = grip.split("/");
    const one = sure(this.bench.view.passages.find((passage) => passage.id === Number(id)));
    const { first, last } = this.draft?.passage === one.id ? this.draft : one;
    /** @type {Record<string, number>} */
    const ends = { first, last };
    ends[which] = which === "first" ? Math.min(frame, last - 1) : Math.max(frame, first + 1);
    this.draft = { passage: one.id, name: one.name, ...ends };
    this.bench.goTo(ends[which]);
    this.draw();
  }

  async commitDraft() {
    const { draft } = this;
    if (!draft) return;
    const { id, stride } = this.bench.film;
    if (draft.span) await this.edits.send({ kind: "set_span", footage: id, stride, ...draft.span });
    else await this.edits.send({ kind: "change_passage", ...draft });
    this.draft = null;
    this.draw();
  }

  /**
   * Arrow keys move a handle by a frame.
   * @param {KeyboardEvent} event
   */
  key(event) {
    const target = /** @type {HTMLElement} */ (event.target);
    const { spanEnd, grip, goFrame, impact, offer, legBorder } = target.dataset;
    if (goFrame && event.key === "Enter") this.bench.goTo(Number(goFrame));
    if (offer && event.key === "Enter") this.impacts.place(Number(offer));
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!by || !(spanEnd || grip || impact || legBorder)) return;
    event.preventDefault();
    event.stopPropagation();
    if (impact) {
      this.impacts.drag(Number(impact), Number(target.getAttribute("aria-valuenow")) + by);
      this.draw();
      this.impacts.drop().then(() => this.draw());
      return;
    }
    if (legBorder) {
      this.legs.drag(Number(legBorder), Math.floor(Number(target.getAttribute("aria-valuenow"))) + 0.5 + (by > 0 || Number(target.getAttribute("aria-valuenow")) % 1 ? by : 0));
      this.draw();
      this.legs.drop().then(() => this.draw());
      return;
    }
    const frame = Number(target.getAttribute("aria-valuenow")) + by;
    if (spanEnd) this.draftSpan(spanEnd, frame);
    else this.draftPassage(grip ?? "", frame);
    this.commitDraft();
  }

  askName() {
    const [first, last] = [...sure(this.chosen)].sort((a, b) => a - b);
    this.form.hidden = false;
    const middle = (this.axis.xOf(first) + this.axis.xOf(last)) / 2;
    const most = this.axis.width - this.form.offsetWidth - 4;
    this.form.style.left = `${Math.min(Math.max(middle - this.form.offsetWidth / 2, LABELS), most)}px`;
    const input = part(this.form, "input", HTMLInputElement);
    input.value = "";
    input.focus();
  }

  /** @param {SubmitEvent} event */
  async namePassage(event) {
    event.preventDefault();
    const [first, last] = [...sure(this.chosen)].sort((a, b) => a - b);
    const name = part(this.form, "input", HTMLInputElement).value;
    const message = /** @type {HTMLElement} */ (this.form.querySelector(".message"));
    if (!name.trim()) {
      message.textContent = "Give the passage a name, such as “flight”.";
      return;
    }
    const edit = { kind: "add_passage", footage: this.bench.film.id, name, first, last };
    const answer = await this.edits.send(edit, message);
    if (answer.ok) this.leavePassage();
  }

  leavePassage() {
    this.form.hidden = true;
    this.chosen = null;
    this.draw();
  }
}
