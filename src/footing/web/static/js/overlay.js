// What is drawn over the frame: known lengths, zero and axes, marks.

import { svg } from "./svg.js";

const ARM = 74;
const ARC = 52;
const MARK_REACH = 9;
const LABEL_AWAY = [44, 20]; // from an upright line, from a level one
const LABEL_ROOM = 34; // half the width of an angle
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
    stage.onDraw = () => this.draw();
    for (const name of ["view", "body", "step", "tool"]) bench.addEventListener(name, () => this.draw());
  }

  draw() {
    const { view, step } = this.bench;
    const focused = /** @type {HTMLElement} */ (document.activeElement)?.dataset?.handle;
    const parts = [];
    if (view.footage) {
      if (step === "ground") parts.push(...this.knownLengths(), this.axes(true));
      else if (view.ground.zero_placed && step === "mark") parts.push(this.axes(false));
      if (step !== "ground" && step !== "sources") parts.push(...this.marks());
    }
    this.element.replaceChildren(...parts);
    if (focused) {
      /** @type {any} */ (this.element.querySelector(`[data-handle="${focused}"]`))?.focus();
    }
  }

  /** Every known length as an architect's dimension line. */
  knownLengths() {
    const known = this.bench.view.ground.known_lengths.map((one) =>
      this.draft.length?.id === one.id ? { ...one, ...this.draft.length } : one,
    );
    if (this.draft.length && this.draft.length.id === 0) known.push({ text: "", ...this.draft.length });
    return known.map((one) => this.dimensionLine(one));
  }

  /** @param {any} one */
  dimensionLine(one) {
    const [a, b] = [this.stage.pointOf(one.start), this.stage.pointOf(one.end)];
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
    const length = Math.hypot(dx, dy) || 1;
    const [ux, uy] = [dx / length, dy / length];
    const tick = (/** @type {number[]} */ at) => {
      const [x, y] = at;
      const [tx, ty] = [(ux - uy) * 8, (uy + ux) * 8];
      return svg("path", { d: `M${x - tx},${y - ty}L${x + tx},${y + ty}`, class: "dimension tick" });
    };
    const line = { d: `M${a[0]},${a[1]}L${b[0]},${b[1]}` };
    const parts = [
      svg("path", { ...line, class: "dimension under" }),
      svg("path", { ...line, class: "dimension" }),
      tick(a),
      tick(b),
      this.handle(`length/${one.id}/start`, a, "One end of the known length"),
      this.handle(`length/${one.id}/end`, b, "The other end of the known length"),
    ];
    const [mx, my] = [(a[0] + b[0]) / 2 + uy * LABEL_AWAY[0], (a[1] + b[1]) / 2 - ux * LABEL_AWAY[1]];
    if (one.id) {
      const label = svg("text", { x: mx, y: my + 5, class: "on-stage", "text-anchor": "middle" });
      label.textContent = one.text || "how long?";
      const open = { "data-open-length": one.id, tabindex: 0, role: "button" };
      parts.push(svg("g", { ...open, "aria-label": "Type the length", class: "length-label" }, [label]));
    }
    return svg("g", {}, parts);
  }

  /** Zero as a stepped footing, arms with flags, and at Ground the protractor. @param {boolean} movable */
  axes(movable) {
    const { ground } = this.bench.view;
    const zero = this.draft.zero ?? ground.zero;
    const angle = this.draft.angle ?? ground.angle;
    const [x, y] = this.stage.pointOf(zero);
    const parts = [
      this.arm([x, y], angle + (ground.flip_x ? Math.PI : 0), "x"),
      this.arm([x, y], angle + Math.PI / 2 + (ground.flip_y ? Math.PI : 0), "y"),
    ];
    if (movable) parts.push(...this.protractor([x, y], angle));
    const footing = "M-3,-10h6v6h-6zM-6,-4h12v4h-12zM-10,0h20v5h-20z";
    parts.push(svg("path", { d: footing, transform: `translate(${x} ${y})`, class: "footing" }));
    if (movable) parts.push(this.handle("zero", [x, y], "Zero"));
    return svg("g", { class: "axes" }, parts);
  }

  /** @param {number[]} at @param {number} direction @param {string} letter */
  arm([x, y], direction, letter) {
    const [ux, uy] = [Math.cos(direction), -Math.sin(direction)];
    const [ex, ey] = [x + ARM * ux, y + ARM * uy];
    const flag = `M${ex},${ey}l${-14 * ux - 7 * uy},${-14 * uy + 7 * ux}l${7 * uy - 2 * ux},${-7 * ux - 2 * uy}z`;
    const text = svg("text", { x: ex + 12 * ux, y: ey + 12 * uy + 5, class: "on-stage symbol", "text-anchor": "middle" });
    text.textContent = letter;
    return svg("g", {}, [
      svg("path", { d: `M${x},${y}L${ex},${ey}`, class: "axis under" }),
      svg("path", { d: `M${x},${y}L${ex},${ey}`, class: "axis" }),
      svg("path", { d: flag, class: "flag" }),
      text,
    ]);
  }

  /** @param {number[]} centre @param {number} angle */
  protractor(centre, angle) {
    const [x, y] = centre;
    /** @returns {number[]} */
    const at = (a, r) => [x + r * Math.cos(a), y - r * Math.sin(a)];
    const [sx, sy] = at(0, ARC);
    const [ex, ey] = at(angle, ARC);
    const turned = ((angle % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
    const short = angle >= 0 ? turned : 2 * Math.PI - turned;
    const large = short > Math.PI ? 1 : 0;
    const [lx, ty] = at(angle + 1.25 * Math.PI, ARC + 24); // where no arm ever lies
    const tx = Math.min(Math.max(lx, LABEL_ROOM), this.stage.element.clientWidth - LABEL_ROOM);
    const text = svg("text", { x: tx, y: ty + 5, class: "on-stage figures typed", "text-anchor": "middle", "data-type-at": "#card-axes [name=angle]" });
    text.textContent = `${((angle * 180) / Math.PI).toFixed(1).replace("-", "−")}°`;
    return [
      svg("circle", { cx: x, cy: y, r: ARC, class: "protractor" }),
      svg("path", { d: `M${sx},${sy}A${ARC},${ARC},0,${large},${angle >= 0 ? 0 : 1},${ex},${ey}`, class: "turned" }),
      text,
      svg("path", { d: `M${ex},${ey}m-6,0a6,6,0,1,0,12,0a6,6,0,1,0,-12,0`, class: "pointer" }),
      this.handle("angle", [ex, ey], "Turn of the axes"),
    ];
  }

  /** Marks of all bodies: corner brackets around a dot, the body's shape beside; older ones fade. */
  marks() {
    const { view, frame, body: active } = this.bench;
    const small = this.bench.step === "graph";
    return view.bodies.flatMap((body) => {
      const marks = this.bench.marksOf(body);
      const { first, last } = view.footage;
      const turn = marks.findIndex(([at]) => at >= frame);
      return marks.map(([at, x, y], place) => {
        const away = Math.min(Math.abs(place - (turn < 0 ? marks.length : turn)) / FADES_OVER, 1);
        const current = at === frame;
        const draft = current && this.draft.mark?.body === body.id ? this.draft.mark.at : null;
        const counts = first <= at && at <= last;
        const part = this.mark(body, this.stage.pointOf(draft ?? [x, y]), current, counts, small, 1 - away * (1 - OLDEST));
        if (current && body === active && !small) {
          part.append(this.handle("mark", [0, 0], `Mark of ${body.name}`));
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
