// Predicted motions over the frame: a path with cross ticks at the frames, and a ghost in this one.

import { svg } from "./drawing.js";

const TICK = 4; // px, half of a cross tick
const APART = 5; // px between ticks, at the least
const GHOST = 9; // px, radius of what has no size
const NAME_AWAY = 6; // px

export class ModelsOverlay {
  /** @param {import("./overlay.js").Overlay} overlay */
  constructor(overlay) {
    this.overlay = overlay;
    this.bench = overlay.bench;
    this.stage = overlay.stage;
    /**
     * Paths that are drawn, with where the picture was then.
     * @type {WeakMap<object, {matrix: string, parts: import("./drawing.js").Shape[]}>}
     */
    this.drawn = new WeakMap();
    this.bench.on("models", () => overlay.draw());
  }

  /** The models that are switched on: their whole paths, and where each is in this frame. */
  all() {
    return this.bench.models.filter((one) => one.shown).flatMap((one) => [...this.path(one), ...this.ghost(one)]);
  }

  /**
   * The path leg by leg, for an impact breaks it.
   * @param {import("./shapes.js").ModelShape} model
   */
  path(model) {
    const { ghost } = model;
    if (!ghost) return [];
    const { matrix = "" } = this.stage.element.dataset;
    const drawn = this.drawn.get(ghost);
    if (drawn?.matrix === matrix) return drawn.parts; // while a film plays, the path stays
    const points = ghost.x.map((x, k) => this.stage.pointOf([x, ghost.y[k]]));
    const line = points.map(([x, y]) => `${x.toFixed(1)},${y.toFixed(1)}`).join("L");
    let [lastX, lastY] = [-Infinity, -Infinity];
    const ticks = points.map(([x, y], k) => {
      if (Math.hypot(x - lastX, y - lastY) < APART) return ""; // many on a spot would be one blot
      [lastX, lastY] = [x, y];
      const [ax, ay] = points[Math.max(k - 1, 0)];
      const [bx, by] = points[Math.min(k + 1, points.length - 1)];
      const long = Math.hypot(bx - ax, by - ay);
      if (!long) return "";
      const [nx, ny] = [(-(by - ay) / long) * TICK, ((bx - ax) / long) * TICK];
      return `M${(x - nx).toFixed(1)},${(y - ny).toFixed(1)}L${(x + nx).toFixed(1)},${(y + ny).toFixed(1)}`;
    });
    const dash = model.dashed ? "7 5" : "";
    const parts = [
      svg("path", { key: `under/${model.id}`, d: `M${line}`, class: "predicted under" }),
      svg("path", { key: `path/${model.id}`, d: `M${line}`, class: "predicted", stroke: model.colour, "stroke-dasharray": dash }),
      svg("path", { key: `ticks/${model.id}`, d: ticks.join("") || "M0,0", class: "predicted ticks", stroke: model.colour }),
    ];
    this.drawn.set(ghost, { matrix, parts });
    return parts;
  }

  /**
   * Where a model is in this frame; nowhere outside of its legs.
   * @param {import("./shapes.js").ModelShape} model
   */
  ghost(model) {
    const { ghost } = model;
    const k = ghost ? ghost.frames.indexOf(this.bench.frame) : -1;
    if (!ghost || k < 0) return [];
    const [cx, cy] = this.stage.pointOf([ghost.x[k], ghost.y[k]]);
    const r = Math.max(ghost.radius * this.stage.scale, GHOST);
    const seen = { key: `ghost/${model.id}`, class: "predicted-body", "data-ghost": model.id, "data-leg": ghost.leg[k], cx, cy, r, stroke: model.colour, "stroke-dasharray": model.dashed ? "5 4" : "" };
    return [
      svg("circle", { key: `ghost-under/${model.id}`, cx, cy, r, class: "predicted-body under" }),
      svg("circle", seen, [svg("title", {}, [`${model.name}, leg ${ghost.leg[k]}`])]),
      ...(model.id === this.bench.modelInHand?.id ? [svg("text", { x: cx + r + NAME_AWAY, y: cy + 4, class: "on-stage" }, [model.name])] : []),
    ];
  }
}
