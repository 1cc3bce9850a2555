// What the ledgers draw over the frame: momenta head to tail, and a spring.

import { svg } from "./drawing.js";

const LABEL = 8; // px between an arrow and its name
const BESIDE = 5; // px from the middle, of a sum
const COILS = 9;
const COIL = 7; // px to each side

export class AccountsOverlay {
  /** @param {import("./overlay.js").Overlay} overlay */
  constructor(overlay) {
    this.overlay = overlay;
    this.bench = overlay.bench;
    this.stage = overlay.stage;
  }

  /** Momenta before and after each impact, from one point; those after it dashed. */
  momenta() {
    const momenta = this.bench.view.ledger?.momenta ?? [];
    return momenta.flatMap(({ arrows }) => {
      const sums = arrows.filter((arrow) => arrow.total);
      return [...sums, ...arrows.filter((arrow) => !arrow.total)].flatMap((arrow) => this.momentum(arrow));
    });
  }

  /** @param {import("./shapes.js").ArrowShape} arrow */
  momentum({ start, end, colour, side, total, name }) {
    const below = side === "after" ? 1 : -1;
    // sums lie beside each other, so that equal ones are seen as two
    const aside = total ? this.stage.offsetOf([0, (below * BESIDE) / this.stage.scale]) : [0, 0];
    const [from, to] = [start, end].map(([x, y]) => [x + aside[0], y + aside[1]]);
    const kind = `now momentum ${side} ${total ? "sum" : ""}`;
    const drawn = this.overlay.bodies.arrow(from, to, colour, kind);
    if (!drawn || !total) return drawn ? [drawn] : [];
    const [ax, ay] = this.stage.pointOf(from);
    const [bx, by] = this.stage.pointOf(to);
    const at = { x: (ax + bx) / 2, y: (ay + by) / 2 + (side === "after" ? 18 : -LABEL), class: "on-stage", "text-anchor": "middle" };
    return [drawn, svg("text", at, [`${name} ${side}`])];
  }

  /** The spring from its held end to the body in this frame. */
  spring() {
    const { draft } = this.overlay;
    const spring = this.bench.view.ledger?.energy.spring;
    const fixed = draft.fixed ?? spring?.fixed;
    if (!spring?.fixed || !fixed) return [];
    const parts = [this.overlay.handle("fixed", this.stage.pointOf(fixed), "Held end of the spring")];
    const body = this.bench.view.bodies.find((one) => one.id === spring.body);
    const mark = body && this.bench.marksOf(body).find(([frame]) => frame === this.bench.frame);
    if (mark) parts.unshift(...this.coils(this.stage.pointOf(fixed), this.stage.pointOf(mark.slice(1))));
    return parts;
  }

  /**
   * @param {number[]} from @param {number[]} to points of the stage
   */
  coils([ax, ay], [bx, by]) {
    const long = Math.hypot(bx - ax, by - ay) || 1;
    const [ux, uy] = [(bx - ax) / long, (by - ay) / long];
    const points = Array.from({ length: 2 * COILS + 1 }, (_, k) => {
      const along = (long * (k + 0.5)) / (2 * COILS + 1);
      const aside = k % 2 ? COIL : -COIL;
      return `${ax + ux * along - uy * aside},${ay + uy * along + ux * aside}`;
    });
    const d = `M${ax},${ay}L${points.join("L")}L${bx},${by}`;
    return [svg("path", { d, class: "spring under" }), svg("path", { d, class: "spring" })];
  }
}
