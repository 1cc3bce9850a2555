// The time axis of the score: where each moment is, and which frame is at a point.

import { svg } from "./drawing.js";

export const LABELS = 116; // width of the column of names at the left
export const RIGHT = 14; // room at the right
export const AXIS = 20; // height of the row of numbers
const ROOM = 0.1; // beside the span, on each side
const TICKS_APART = 80; // window pixels, at the least
const OVERVIEW = 3;

export class TimeAxis {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} element */
  constructor(bench, element) {
    this.bench = bench;
    this.element = element;
    this.width = 0;
    /** Whether the whole file is shown, not just the span. */
    this.whole = false;
  }

  /** Read the width, when it may have changed: it costs the layout of the page. */
  measure() {
    this.width = this.element.clientWidth;
  }

  /** Right end of the axis. */
  get right() {
    return this.width - RIGHT;
  }

  /** First and last moment that the axis shows. */
  get domain() {
    const { times, first, last } = this.bench.film;
    if (this.whole || times.length < 2) return [times[0], times.at(-1) || 1];
    const room = ROOM * (times[last] - times[first]);
    return [Math.max(times[first] - room, times[0]), Math.min(times[last] + room, times[times.length - 1])];
  }

  /**
   * Place of a moment.
   * @param {number} moment
   */
  x(moment) {
    const [from, to] = this.domain;
    return LABELS + ((moment - from) / (to - from || 1)) * (this.right - LABELS);
  }

  /**
   * Place of a frame, halves allowed.
   * @param {number} frame
   */
  xOf(frame) {
    const { times } = this.bench.film;
    const [before, after] = [times[Math.floor(frame)], times[Math.ceil(frame)]];
    return this.x(before + (after - before) * (frame - Math.floor(frame)));
  }

  /**
   * The frame nearest to a point of the window.
   * @param {number} clientX
   */
  frameAt(clientX) {
    return this.frameNear(clientX - this.element.getBoundingClientRect().left);
  }

  /**
   * The middle between the frames around a point of the window.
   * @param {number} clientX
   */
  gapAt(clientX) {
    const { times } = this.bench.film;
    const moment = this.momentAt(clientX - this.element.getBoundingClientRect().left);
    const later = times.findIndex((time) => time > moment);
    const before = later < 0 ? times.length - 1 : later - 1;
    return Math.min(Math.max(before, 0), times.length - 2) + 0.5;
  }

  /**
   * The time at a place on the axis.
   * @param {number} x
   */
  momentAt(x) {
    const [from, to] = this.domain;
    return from + ((x - LABELS) / (this.right - LABELS)) * (to - from);
  }

  /**
   * The frame nearest to a place on the axis.
   * @param {number} x
   */
  frameNear(x) {
    const moment = this.momentAt(x);
    const { times } = this.bench.film;
    let low = 0;
    let high = times.length - 1;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (times[middle] <= moment) low = middle;
      else high = middle;
    }
    return moment - times[low] < times[high] - moment ? low : high;
  }

  /**
   * Grid, numbers, and a thin bar that keeps the whole file in view.
   * @param {number} top @param {number} bottom
   */
  draw(top, bottom) {
    [this.element.dataset.from, this.element.dataset.to] = this.domain.map(String);
    const base = bottom - AXIS;
    return [
      ...this.ticks().flatMap(({ x, text, zero }) => {
        const number = svg("text", { x, y: bottom - 6, class: "tick figures", "text-anchor": "middle" }, [text]);
        return [svg("path", { d: `M${x},${top}V${base}`, class: zero ? "grid zero" : "grid" }), number];
      }),
      svg("path", { d: `M${LABELS},${base}H${this.right}`, class: "axis-line" }),
      ...this.overview(bottom - OVERVIEW),
    ];
  }

  /** Round moments, as many as have room. */
  ticks() {
    const [from, to] = this.domain;
    const wished = ((to - from) * TICKS_APART) / (this.right - LABELS);
    return roundNumbers(from, to, wished).map(({ value, text }) => {
      const zero = value === 0;
      return { x: this.x(value), text: zero ? `${text} s` : text, zero };
    });
  }

  /** @param {number} y */
  overview(y) {
    const { times } = this.bench.film;
    const whole = times[times.length - 1] - times[0] || 1;
    const [from, to] = this.domain;
    const length = this.right - LABELS;
    const start = LABELS + ((from - times[0]) / whole) * length;
    const bar = { y, height: OVERVIEW };
    return [
      svg("rect", { ...bar, x: LABELS, width: length, class: "overview" }),
      svg("rect", { ...bar, x: start, width: ((to - from) / whole) * length, class: "overview shown" }),
    ];
  }
}

/**
 * Round numbers from one to another, at least so far apart as wished, as an axis shows them.
 * @param {number} from @param {number} to @param {number} wished
 */
export function roundNumbers(from, to, wished) {
  const power = 10 ** Math.floor(Math.log10(wished || 1));
  const step = [1, 2, 5, 10].map((k) => k * power).find((k) => k >= wished) ?? power;
  const digits = Math.max(0, -Math.floor(Math.log10(step) + 1e-9));
  const found = [];
  for (let k = Math.ceil(from / step); k * step <= to + 1e-9; k += 1) {
    found.push({ value: k * step, text: (k * step).toFixed(digits).replace("-", "−") });
  }
  return found;
}
