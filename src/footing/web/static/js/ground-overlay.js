// The ground as it is drawn over the frame: known lengths, zero and axes, up, the oblique plane.

import { svg } from "./drawing.js";

const ARM = 74;
const ARC = 52;
const LABEL_AWAY = [44, 20]; // from an upright line, from a level one
const LABEL_ROOM = 34; // half the width of an angle
const PLUMB = 62;
const LONG_ENOUGH = 1; // percent of placing uncertainty, from which a longer object is asked for

export class GroundOverlay {
  /** @param {import("./overlay.js").Overlay} overlay */
  constructor(overlay) {
    this.overlay = overlay;
    this.bench = overlay.bench;
    this.stage = overlay.stage;
  }

  get draft() {
    return this.overlay.draft;
  }

  /** Everything at Ground. */
  all() {
    const { ground } = this.bench;
    const parts = [...this.knownLengths(), ...this.plane(), this.axes(true)];
    if (ground.height_zero || this.draft.height || ground.levelled) parts.push(this.plumb());
    if (this.draft.line) parts.push(this.drawnLine(this.draft.line));
    return parts;
  }

  /** Every known length as an architect's dimension line. */
  knownLengths() {
    const known = this.bench.ground.known_lengths
      .map((one) => (this.draft.length?.id === one.id ? { ...one, ...this.draft.length, drawing: true } : one))
      .filter((one) => !one.hidden);
    if (this.draft.length?.id === 0) known.push({ text: "", frame: this.bench.frame, drawing: true, ...this.draft.length });
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
      this.overlay.handle(`length/${one.id}/start`, a, "One end of the known length"),
      this.overlay.handle(`length/${one.id}/end`, b, "The other end of the known length"),
    ];
    const [mx, my] = [(a[0] + b[0]) / 2 + uy * LABEL_AWAY[0], (a[1] + b[1]) / 2 - ux * LABEL_AWAY[1]];
    const label = (/** @type {string} */ text) => svg("text", { x: mx, y: my + 5, class: "on-stage", "text-anchor": "middle" }, [text]);
    if (one.drawing) parts.push(label(this.placing(one)));
    else {
      const open = { "data-open-length": one.id, tabindex: 0, role: "button" };
      parts.push(svg("g", { ...open, "aria-label": "Type the length", class: "length-label" }, [label(one.text || "how long?")]));
    }
    const elsewhere = this.bench.film.frames > 1 && one.frame !== this.bench.frame && !one.drawing;
    return svg("g", { class: elsewhere ? "of-another-frame" : "" }, parts);
  }

  /**
   * What placing the ends leaves uncertain, and what would make it better.
   * @param {any} one
   */
  placing(one) {
    const pixels = Math.hypot(one.end[0] - one.start[0], one.end[1] - one.start[1]) || 1;
    const u = Number(this.bench.ground.pixel_uncertainty);
    const percent = (100 * Math.SQRT2 * u) / pixels;
    const text = `${pixels.toFixed(1)} px, ± ${percent.toPrecision(2)} %`;
    return percent > LONG_ENOUGH ? `${text}: a longer object would be better` : text;
  }

  /**
   * Zero as a stepped footing, arms with flags, and at Ground the protractor.
   * @param {boolean} movable
   */
  axes(movable) {
    const { ground } = this.bench;
    const zero = this.draft.zero ?? ground.zero;
    const angle = this.draft.angle ?? ground.angle;
    const [x, y] = this.stage.pointOf(zero);
    const [across, up] = this.directions(zero, angle);
    const parts = [
      this.arm([x, y], across + (ground.flip_x ? Math.PI : 0), "x"),
      this.arm([x, y], up + (ground.flip_y ? Math.PI : 0), "y"),
    ];
    if (movable && !ground.arms) parts.push(...this.protractor([x, y], angle));
    const footing = "M-3,-10h6v6h-6zM-6,-4h12v4h-12zM-10,0h20v5h-20z";
    parts.push(svg("path", { d: footing, transform: `translate(${x} ${y})`, class: "footing" }));
    if (movable) parts.push(this.overlay.handle("zero", [x, y], "Zero"));
    return svg("g", { class: "axes" }, parts);
  }

  /**
   * Directions of the axes on the stage; in an oblique view the server knows them.
   * @param {number[]} zero @param {number} angle
   */
  directions(zero, angle) {
    const { arms } = this.bench.ground;
    if (!arms) return [angle, angle + Math.PI / 2];
    const [x, y] = this.stage.pointOf(zero);
    return [arms.x, arms.y].map((end) => {
      const [px, py] = this.stage.pointOf([zero[0] + end[0], zero[1] + end[1]]);
      return Math.atan2(y - py, px - x);
    });
  }

  /** @param {number[]} at @param {number} direction @param {string} letter */
  arm([x, y], direction, letter) {
    const [ux, uy] = [Math.cos(direction), -Math.sin(direction)];
    const [ex, ey] = [x + ARM * ux, y + ARM * uy];
    const flag = `M${ex},${ey}l${-14 * ux - 7 * uy},${-14 * uy + 7 * ux}l${7 * uy - 2 * ux},${-7 * ux - 2 * uy}z`;
    const text = svg("text", { x: ex + 12 * ux, y: ey + 12 * uy + 5, class: "on-stage symbol", "text-anchor": "middle" }, [letter]);
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
    /** @param {number} a @param {number} r @returns {number[]} */
    const at = (a, r) => [x + r * Math.cos(a), y - r * Math.sin(a)];
    const [sx, sy] = at(0, ARC);
    const [ex, ey] = at(angle, ARC);
    const turned = ((angle % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
    const short = angle >= 0 ? turned : 2 * Math.PI - turned;
    const large = short > Math.PI ? 1 : 0;
    const [lx, ty] = at(angle + 1.25 * Math.PI, ARC + 24); // where no arm ever lies
    const tx = Math.min(Math.max(lx, LABEL_ROOM), this.stage.element.clientWidth - LABEL_ROOM);
    const text = svg("text", { x: tx, y: ty + 5, class: "on-stage figures typed", "text-anchor": "middle", "data-type-at": "#card-axes [name=angle]" }, [`${((angle * 180) / Math.PI).toFixed(1).replace("-", "−")}°`]);
    return [
      svg("circle", { cx: x, cy: y, r: ARC, class: "protractor" }),
      svg("path", { d: `M${sx},${sy}A${ARC},${ARC},0,${large},${angle >= 0 ? 0 : 1},${ex},${ey}`, class: "turned" }),
      text,
      svg("path", { d: `M${ex},${ey}m-6,0a6,6,0,1,0,12,0a6,6,0,1,0,-12,0`, class: "pointer" }),
      this.overlay.handle("angle", [ex, ey], "Turn of the axes"),
    ];
  }

  /** Up as a plumb line with its bob, hung above the zero of height. */
  plumb() {
    const { ground } = this.bench;
    const zero = this.draft.height ?? ground.height_zero ?? ground.zero;
    const [x, y] = this.stage.pointOf(zero);
    const [ux, uy] = ground.arms ? [0, -1] : [Math.cos(ground.up), -Math.sin(ground.up)];
    const [tx, ty] = [x + PLUMB * ux, y + PLUMB * uy];
    const line = `M${tx},${ty}L${x},${y}`;
    const bob = `M${x - 5 * uy},${y + 5 * ux}L${x + 5 * uy},${y - 5 * ux}L${x - 14 * ux},${y - 14 * uy}z`;
    const level = `M${x - 26 * uy},${y + 26 * ux}L${x + 26 * uy},${y - 26 * ux}`;
    const parts = [
      svg("path", { d: line, class: "plumb under" }),
      svg("path", { d: line, class: "plumb" }),
      svg("circle", { cx: x, cy: y, r: 5, class: "bob" }),
      svg("path", { d: bob, class: "bob-tip" }),
    ];
    if (ground.height_zero || this.draft.height) {
      const text = svg("text", { x: x + 30, y: y + 16, class: "on-stage" }, ["height 0"]);
      parts.unshift(svg("path", { d: level, class: "plumb level" }));
      parts.push(text, this.overlay.handle("height", [x, y], "Zero of height"));
    }
    return svg("g", {}, parts);
  }

  /** The rectangle of an oblique view with its corners, and further points. */
  plane() {
    const { plane } = this.bench.ground;
    const placing = this.overlay.corners.map((at, place) => ({ id: 0, place, at }));
    /** @type {{id: number, place: number, at: number[]}[]} */
    const points = plane ? plane.points.map((one) => (one.id === this.draft.corner?.id ? { ...one, at: this.draft.corner.at } : one)) : placing;
    if (!points.length) return [];
    const corners = points.filter((one) => one.place < 4).map((one) => this.stage.pointOf(one.at));
    const outline = `M${corners.map((at) => at.join()).join("L")}${corners.length === 4 ? "Z" : ""}`;
    const parts = [svg("path", { d: outline, class: "plane under" }), svg("path", { d: outline, class: "plane" })];
    for (const one of points) {
      const [x, y] = this.stage.pointOf(one.at);
      parts.push(svg("path", { d: `M${x - 6},${y}h12M${x},${y - 6}v12`, class: "plane corner" }));
      const text = svg("text", { x: x + 9, y: y - 7, class: "on-stage figures" }, [String(one.place + 1)]);
      parts.push(text);
      if (one.id) parts.push(this.overlay.handle(`corner/${one.id}`, [x, y], `Point ${one.place + 1} of the oblique view`));
    }
    return parts;
  }

  /** The zero of height as a level line, which can be dragged. */
  level() {
    const { ledger } = this.bench.view;
    if (!ledger || ledger.energy.from_above) return [];
    const at = this.draft.height ?? ledger.energy.level;
    const { up } = this.bench.ground;
    const [x, y] = this.stage.pointOf(at);
    const wide = this.stage.element.clientWidth + this.stage.element.clientHeight;
    const [dx, dy] = [Math.sin(up) * wide, Math.cos(up) * wide];
    const d = `M${x - dx},${y - dy}L${x + dx},${y + dy}`;
    return [
      svg("path", { d, class: "plumb under" }),
      svg("path", { d, class: "plumb level" }),
      svg("text", { x: Math.min(Math.max(x, 40), this.stage.element.clientWidth - 60), y: y - 6, class: "on-stage" }, ["h = 0"]),
      svg("circle", { cx: x, cy: y, r: 5, class: "bob" }),
      this.overlay.handle("height", [x, y], "Zero of height"),
    ];
  }

  /** @param {{start: number[], end: number[]}} line */
  drawnLine({ start, end }) {
    const [a, b] = [this.stage.pointOf(start), this.stage.pointOf(end)];
    return svg("path", { d: `M${a.join()}L${b.join()}`, class: "drawn-line" });
  }
}
