// Result boxes on the graph: what each fit says, in a box that can be moved off the points.

const EDGE = 8;

export class FitBoxes {
  /** @param {import("./state.js").Bench} bench @param {import("./graph.js").Graph} graph */
  constructor(bench, graph) {
    this.bench = bench;
    this.graph = graph;
    /** @type {{box: HTMLElement, dx: number, dy: number} | null} */
    this.held = null;
    graph.element.addEventListener("shown", () => this.show());
    graph.list.addEventListener("pointerdown", (event) => this.down(event), true);
    graph.list.addEventListener("pointermove", (event) => this.move(event), true);
    graph.list.addEventListener("pointerup", (event) => this.up(event), true);
  }

  show() {
    const { bench } = this;
    for (const old of this.graph.list.querySelectorAll(".fit-box")) old.remove();
    if (bench.step !== "graph" || !bench.options.fitBoxes) return;
    for (const panel of this.graph.panels) {
      const fits = bench.view.fits.filter((fit) => panel.data.drawn_fits.includes(fit.id) && !fit.reason);
      fits.forEach((fit, place) => panel.plot.append(this.box(fit, place)));
    }
  }

  /** @param {any} fit @param {number} place */
  box(fit, place) {
    const box = document.createElement("div");
    box.className = "fit-box";
    box.dataset.fit = String(fit.id);
    const title = Object.assign(document.createElement("b"), { textContent: fit.label_text || fit.title });
    box.append(title);
    const said = fit.readings.length ? fit.readings.slice(0, 2) : fit.parameters.slice(0, 3);
    for (const one of said) box.append(Object.assign(document.createElement("span"), { className: "figures", textContent: `${one.label || one.key} = ${one.text}` }));
    const { x, y } = this.bench.options.boxPlaces[fit.id] ?? { x: 90, y: EDGE + 64 * place };
    box.style.left = `${x}px`;
    box.style.top = `${y}px`;
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
    const room = box.parentElement.getBoundingClientRect();
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
    this.bench.setOption("boxPlaces", { ...this.bench.options.boxPlaces, [box.dataset.fit]: { x: box.offsetLeft, y: box.offsetTop } });
  }
}
