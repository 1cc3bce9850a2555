// Result boxes on the graph: what each fit says, in a box that can be moved off the points.

import { sure } from "./parts.js";

const EDGE = 8;
const LEFT = 90; // clear of the numbers at the axis

export class FitBoxes {
  /**
   * @param {import("./state.js").Bench} bench @param {import("./graph.js").Graph} graph
   * @param {import("./edits.js").Edits} edits
   */
  constructor(bench, graph, edits) {
    this.bench = bench;
    this.graph = graph;
    this.edits = edits;
    /** @type {{box: HTMLElement, dx: number, dy: number} | null} */
    this.held = null;
    graph.element.addEventListener("shown", () => this.show());
    graph.list.addEventListener("pointerdown", (event) => this.down(event), true);
    graph.list.addEventListener("pointermove", (event) => this.move(event), true);
    graph.list.addEventListener("pointerup", (event) => this.up(event), true);
  }

  show() {
    const { bench } = this;
    if (this.held) return; // its place is sent when it is let go
    for (const old of this.graph.list.querySelectorAll(".fit-box")) old.remove();
    if (bench.here.graphs !== "all" || !bench.options.fitBoxes) return;
    for (const panel of this.graph.panels) {
      let top = EDGE;
      for (const fit of panel.fits) {
        const box = this.box(fit);
        panel.plot.append(box);
        const { clientWidth: width, clientHeight: height } = panel.plot;
        const [x, y] = fit.box ? [fit.box[0] * width, fit.box[1] * height] : [LEFT, top];
        box.style.left = `${Math.min(x, Math.max(width - box.offsetWidth, 0))}px`;
        box.style.top = `${Math.min(y, Math.max(height - box.offsetHeight, 0))}px`;
        if (!fit.box) top += box.offsetHeight + EDGE;
      }
    }
  }

  /** @param {any} fit */
  box(fit) {
    const box = document.createElement("div");
    box.className = this.bench.options.largeBoxes ? "fit-box large" : "fit-box";
    box.dataset.fit = String(fit.id);
    box.style.borderColor = fit.colour;
    const title = Object.assign(document.createElement("b"), { textContent: fit.label_text || fit.title });
    box.append(title);
    if (this.bench.options.boxFormulas) {
      const formula = document.createElement("div");
      formula.innerHTML = fit.equations[0]; // MathML that the server made
      box.append(formula);
    }
    for (const one of fit.parameters) {
      const line = Object.assign(document.createElement("span"), { className: "figures" });
      for (const [letter, below] of one.formula) line.append(letter, Object.assign(document.createElement("sub"), { textContent: below }));
      line.append(` = ${one.text}`);
      box.append(line);
    }
    return box;
  }

  /** @param {PointerEvent} event */
  down(event) {
    const box = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest(".fit-box"));
    if (!box) return;
    this.held = { box, dx: event.clientX - box.offsetLeft, dy: event.clientY - box.offsetTop };
    box.setPointerCapture(event.pointerId);
    event.stopPropagation();
    event.preventDefault();
  }

  /** @param {PointerEvent} event */
  move(event) {
    if (!this.held) return;
    const { box, dx, dy } = this.held;
    const room = sure(box.parentElement).getBoundingClientRect();
    box.style.left = `${Math.min(Math.max(event.clientX - dx, 0), room.width - box.offsetWidth)}px`;
    box.style.top = `${Math.min(Math.max(event.clientY - dy, 0), room.height - box.offsetHeight)}px`;
    event.stopPropagation();
  }

  /** @param {PointerEvent} event */
  up(event) {
    if (!this.held) return;
    const { box } = this.held;
    this.held = null;
    event.stopPropagation();
    const { clientWidth: width, clientHeight: height } = sure(box.parentElement);
    this.edits.send({ kind: "place_box", fit: Number(box.dataset.fit), x: share(box.offsetLeft, width), y: share(box.offsetTop, height) });
  }
}

/**
 * A place as a share of the room.
 * @param {number} at @param {number} room
 */
function share(at, room) {
  return Math.min(Math.max(at / room, 0), 1);
}
