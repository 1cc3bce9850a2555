// What is drawn over the frame: the ground, and the marks.

import { GroundOverlay } from "./ground-overlay.js";
import { svg } from "./svg.js";

const MARK_REACH = 9;
const OLDEST = 0.45; // how visible the farthest marks are
const FADES_OVER = 24; // marks

export class Overlay {
  /** @param {import("./state.js").Bench} bench @param {import("./stage.js").Stage} stage */
  constructor(bench, stage) {
    this.bench = bench;
    this.stage = stage;
    /** @type {SVGElement} */
    this.element = stage.element.querySelector("#overlay");
    /** What is being dragged, shown instead of what the view says. @type {Record<string, any>} */
    this.draft = {};
    /** Corners of an oblique view that are placed already, while it is begun. @type {number[][]} */
    this.corners = [];
    this.ground = new GroundOverlay(this);
    stage.onDraw = () => this.draw();
    bench.addEventListener("tool", () => (this.corners = []));
    for (const name of ["view", "body", "step", "tool"]) bench.addEventListener(name, () => this.draw());
  }

  draw() {
    const { view, step } = this.bench;
    const focused = /** @type {HTMLElement} */ (document.activeElement)?.dataset?.handle;
    const parts = [];
    if (view.footage) {
      if (step === "ground") parts.push(...this.ground.all());
      else if (view.ground.zero_placed && step === "mark") parts.push(this.ground.axes(false));
      if (step !== "ground" && step !== "sources") parts.push(...this.marks());
      else if (step === "ground") parts.push(...this.dimMarks());
    }
    this.element.replaceChildren(...parts);
    if (focused) {
      /** @type {any} */ (this.element.querySelector(`[data-handle="${focused}"]`))?.focus();
    }
  }

  /** At Ground the marks are there to be aimed at, and nothing more. */
  dimMarks() {
    return this.bench.view.bodies.flatMap((body) =>
      this.bench.marksOf(body).map(([, x, y]) => {
        const [cx, cy] = this.stage.pointOf([x, y]);
        return svg("circle", { cx, cy, r: 2, fill: body.colour, opacity: OLDEST, class: "dim-mark" });
      }),
    );
  }

  /** Marks of all bodies: corner brackets around a dot, the body's shape beside; older ones fade. */
  marks() {
    const { view, frame, body: active, isPicture } = this.bench;
    const small = this.bench.step === "graph";
    return view.bodies.flatMap((body) => {
      const marks = this.bench.marksOf(body);
      const { first, last } = view.footage;
      const turn = marks.findIndex(([at]) => at >= frame);
      return marks.map(([at, x, y], place) => {
        const away = isPicture ? 0 : Math.min(Math.abs(place - (turn < 0 ? marks.length : turn)) / FADES_OVER, 1);
        const current = isPicture ? place === marks.length - 1 : at === frame;
        const moved = this.draft.mark?.body === body.id && this.draft.mark.frame === at;
        const counts = isPicture || (first <= at && at <= last);
        const point = this.stage.pointOf(moved ? this.draft.mark.at : [x, y]);
        const part = this.mark(body, point, current, counts, small, 1 - away * (1 - OLDEST));
        if (body === active && !small && (current || isPicture)) {
          const [handle, name] = isPicture ? [`point/${at}`, `Point ${place + 1}`] : ["mark", "Mark"];
          part.append(this.handle(handle, [0, 0], `${name} of ${body.name}`));
        }
        return part;
      });
    });
  }

  /**
   * @param {any} body @param {number[]} at @param {boolean} current @param {boolean} counts
   * @param {boolean} small @param {number} opacity
   */
  mark(body, [x, y], current, counts, small, opacity) {
    const place = { transform: `translate(${x} ${y})`, opacity };
    if (small || (!current && counts)) {
      return svg("g", place, [svg("circle", { r: small ? 2.5 : 3, fill: body.colour, class: "older" })]);
    }
    const r = MARK_REACH;
    const corner = (sx, sy) => `M${sx * r},${sy * (r - 4)}V${sy * r}H${sx * (r - 4)}`;
    const corners = [corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1)].join("");
    const parts = [
      svg("path", { d: corners, class: "bracket under" }),
      svg("path", { d: corners, class: "bracket", stroke: body.colour }),
      svg("circle", { r: 1, fill: body.colour, stroke: "none" }),
    ];
    if (current) {
      parts.push(svg("path", { d: body.path, transform: `translate(${r + 6} ${-r - 4}) scale(3.5)`, fill: body.colour }));
    }
    if (!counts) {
      // set aside: a dot in round brackets
      const round = "M-6,-7Q-11,0,-6,7M6,-7Q11,0,6,7";
      parts.splice(0, 2, svg("path", { d: round, class: "bracket", stroke: body.colour }));
    }
    return svg("g", place, parts);
  }

  /**
   * Something that can be dragged.
   * @param {string} name @param {number[]} point @param {string} label
   */
  handle(name, [x, y], label) {
    return svg("circle", {
      cx: x,
      cy: y,
      r: 11,
      class: "handle",
      "data-handle": name,
      tabindex: 0,
      role: "button",
      "aria-label": `${label}: drag, or use the arrow keys`,
    });
  }
}
