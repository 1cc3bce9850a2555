// What is drawn of the bodies over the frame: marks, what was proposed, ghosts, arrows.

import { svg } from "./drawing.js";

const MARK_REACH = 9;
const [SMALL, DOT] = [2.5, 3]; // radius of marks that are not the present one
const OLDEST = 0.45; // how visible the farthest marks are
const FADES_OVER = 24; // marks
const FAINT = 0.22; // of marks that are dimmed
const ARROW = 7; // px of an arrow's head
const PATH_FROM = 3; // marks

export class MarksOverlay {
  /** @param {import("./overlay.js").Overlay} overlay */
  constructor(overlay) {
    this.overlay = overlay;
    this.bench = overlay.bench;
    this.stage = overlay.stage;
    this.bench.on("options", () => this.show());
    this.show();
  }

  show() {
    const { vectors } = this.bench.options;
    this.bench.show("arrows", vectors ? [`arrows:${vectors}`] : []);
  }

  /** At Ground the marks are there to be aimed at, and nothing more. */
  dim() {
    return this.bench.view.bodies.flatMap((body) =>
      this.bench.marksOf(body).map(([, x, y]) => {
        const [cx, cy] = this.stage.pointOf([x, y]);
        return svg("circle", { cx, cy, r: 2, fill: body.colour, opacity: OLDEST, class: "dim-mark" });
      }),
    );
  }

  /**
   * Marks of all bodies: corner brackets around a dot, the body's shape beside; older ones fade.
   * @param {{small: boolean}} how
   */
  marks({ small }) {
    const { view, body: active, isPicture } = this.bench;
    return view.bodies.flatMap((body) => {
      const marks = this.bench.marksOf(body);
      const turn = marks.findIndex(([at]) => at >= this.bench.frame);
      const counting = new Set(body.counting);
      const known = new Set(body.marks.map(([at]) => at));
      const radius = small ? SMALL : DOT;
      /** @type {string[]} */
      const far = []; // marks all alike, thousands of them in a long clip: one shape
      const near = marks.flatMap(([at, x, y], place) => {
        const away = isPicture ? 0 : Math.min(Math.abs(place - (turn < 0 ? marks.length : turn)) / FADES_OVER, 1);
        const current = isPicture ? place === marks.length - 1 : at === this.bench.frame;
        const dimming = small || current || isPicture ? "all" : this.bench.options.others;
        if (dimming === "none") return [];
        const counts = isPicture || counting.has(at) || !known.has(at);
        const draft = this.overlay.draft.mark;
        const moved = draft?.body === body.id && draft.frame === at;
        const point = /** @type {[number, number]} */ (this.stage.pointOf(moved ? draft.at : [x, y]));
        const visible = dimming === "faint" ? FAINT : 1 - away * (1 - OLDEST);
        if ((away === 1 || dimming === "faint") && !current && (small || counts)) {
          far.push(dot(point, radius));
          return [];
        }
        const grip = [];
        if (body === active && body.kind === "marked" && !small && (current || isPicture)) {
          const [handle, name] = isPicture ? [`point/${at}`, `Point ${place + 1}`] : ["mark", "Mark"];
          grip.push(this.overlay.handle(handle, [0, 0], `${name} of ${body.name}`));
        }
        const look = this.mark(body, { current, counts, small });
        const where = { key: `${body.id}/${at}`, transform: `translate(${point[0]} ${point[1]})`, opacity: visible };
        return [svg("g", where, [...look, ...grip])];
      });
      const opacity = this.bench.options.others === "faint" && !small && !isPicture ? FAINT : OLDEST;
      if (far.length) near.unshift(svg("path", { d: far.join(""), fill: body.colour, opacity, class: "older" }));
      return near;
    });
  }

  /**
   * What a mark looks like, around its place.
   * @param {any} body @param {{current: boolean, counts: boolean, small: boolean}} how
   */
  mark(body, { current, counts, small }) {
    if (small || (!current && counts)) return [svg("circle", { r: small ? SMALL : DOT, fill: body.colour, class: "older" })];
    const r = MARK_REACH;
    const corner = (/** @type {number} */ sx, /** @type {number} */ sy) => `M${sx * r},${sy * (r - 4)}V${sy * r}H${sx * (r - 4)}`;
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
    return parts;
  }

  /** Where the motion so far puts the mark that is wanted next. */
  ghost() {
    const { body, frame, isPicture } = this.bench;
    if (!body || isPicture || this.bench.isSettled(body, frame)) return [];
    const foreseen = body.ghosts.find(([at]) => at === frame);
    if (!foreseen) return [];
    const [cx, cy] = this.stage.pointOf(foreseen.slice(1));
    return [svg("circle", { cx, cy, r: MARK_REACH + 3, class: "ghost", stroke: body.colour })];
  }

  /** What following would have marked in this frame, had it been sure. */
  proposals() {
    return this.bench.view.bodies.flatMap((body) => {
      const doubt = body.doubts.find(([at, x]) => at === this.bench.frame && x !== null);
      if (!doubt) return [];
      const [x, y] = this.stage.pointOf(/** @type {number[]} */ (doubt.slice(1, 3)));
      const query = svg("text", { x: MARK_REACH + 4, y: 5, class: "on-stage query" }, ["?"]);
      return [
        svg("g", { transform: `translate(${x} ${y})`, class: "proposal" }, [
          svg("rect", { x: -MARK_REACH, y: -MARK_REACH, width: 2 * MARK_REACH, height: 2 * MARK_REACH, stroke: body.colour }),
          query,
        ]),
      ];
    });
  }

  /** The patch that is followed and the area in which it is looked for, while they are set by hand. */
  areas() {
    const { body, frame } = this.bench;
    const sizes = this.overlay.sizes;
    const mark = body && sizes && this.bench.marksOf(body).find(([at]) => at === frame);
    if (!mark) return [];
    return /** @type {const} */ (["search", "reach"]).map((name) => {
      const half = this.overlay.draft[name] ?? sizes[name];
      const [x, y] = mark.slice(1);
      const corners = [[-1, -1], [1, -1], [1, 1], [-1, 1]].map(([a, b]) => this.stage.pointOf([x + a * half, y + b * half]));
      return svg("g", { class: `area ${name}` }, [
        svg("path", { d: `M${corners.map((point) => point.join(",")).join("L")}Z`, stroke: body.colour }),
        svg("rect", { x: corners[2][0] - 4, y: corners[2][1] - 4, width: 8, height: 8, class: "knob" }),
        this.overlay.handle(`area/${name}`, corners[2], name === "reach" ? "Size of the patch" : "Size of the search area"),
      ]);
    });
  }

  /** Velocity or acceleration at the marks, as arrows of an adjustable length. */
  vectors() {
    const { vectors: which, vectorLength: length } = this.bench.options;
    if (!which || this.bench.isPicture) return [];
    return this.bench.view.bodies.flatMap((body) => {
      const at = new Map(body.marks.map(([frame, x, y]) => [frame, [x, y]]));
      return (body.vectors[which] ?? []).flatMap(([row, dx, dy]) => {
        const frame = body.counting[row];
        const from = at.get(frame);
        if (!from) return [];
        const now = frame === this.bench.frame;
        const arrow = this.arrow(from, [from[0] + length * dx, from[1] + length * dy], body.colour, now ? "now" : "");
        return arrow ? [arrow] : [];
      });
    });
  }

  /** The displacement between the two moments that are compared. */
  comparison() {
    const { compared } = this.bench;
    if (!compared?.arrow) return [];
    const arrow = this.arrow(compared.arrow[0], compared.arrow[1], "#1E2723", "displacement now");
    return arrow ? [arrow] : [];
  }

  /** @param {number[]} from @param {number[]} to pixels @param {string} colour @param {string} kind */
  arrow(from, to, colour, kind) {
    const [ax, ay] = this.stage.pointOf(from);
    const [bx, by] = this.stage.pointOf(to);
    const long = Math.hypot(bx - ax, by - ay);
    if (long < PATH_FROM) return null;
    const [ux, uy] = [(bx - ax) / long, (by - ay) / long];
    const head = Math.min(ARROW, long / 2);
    const wing = (/** @type {number} */ side) => `${bx - head * ux + side * 0.55 * head * uy},${by - head * uy - side * 0.55 * head * ux}`;
    const d = `M${ax},${ay}L${bx},${by}M${wing(1)}L${bx},${by}L${wing(-1)}`;
    return svg("g", { class: `arrow ${kind}` }, [svg("path", { d, class: "under" }), svg("path", { d, stroke: colour })]);
  }
}

/** A dot as a part of a path. */
/** @param {number[]} at @param {number} r */
function dot([x, y], r) {
  return `M${(x - r).toFixed(1)},${y.toFixed(1)}a${r},${r} 0 1,0 ${2 * r},0a${r},${r} 0 1,0 ${-2 * r},0`;
}
