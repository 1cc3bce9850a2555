// What is drawn over the frame: the ground, the bodies, the models, and the ledgers.

import { AccountsOverlay } from "./accounts-overlay.js";
import { GroundOverlay } from "./ground-overlay.js";
import { MarksOverlay } from "./marks-overlay.js";
import { ModelsOverlay } from "./models-overlay.js";
import { part } from "./parts.js";
import { draw, svg } from "./drawing.js";

export class Overlay {
  /** @param {import("./state.js").Bench} bench @param {import("./stage.js").Stage} stage */
  constructor(bench, stage) {
    this.bench = bench;
    this.stage = stage;
    this.element = part(stage.element, "#overlay", SVGElement);
    /**
     * What is being dragged, shown instead of what the view says.
     * @type {Record<string, any>}
     */
    this.draft = {};
    /**
     * Corners of an oblique view that are placed already, while it is begun.
     * @type {number[][]}
     */
    this.corners = [];
    /**
     * Patch and search area of following, while they are set by hand.
     * @type {{reach: number, search: number} | null}
     */
    this.sizes = null;
    /** @type {import("./comments.js").Comments | null} what was said of a study that was handed in */
    this.comments = null;
    this.ground = new GroundOverlay(this);
    this.bodies = new MarksOverlay(this);
    this.accounts = new AccountsOverlay(this);
    this.models = new ModelsOverlay(this);
    stage.onDraw = () => this.draw();
    bench.on("tool", () => (this.corners = []));
    bench.on(["view", "body", "step", "tool", "options", "compare"], () => this.draw());
  }

  draw() {
    const { view, here } = this.bench;
    const focused = /** @type {HTMLElement} */ (document.activeElement)?.dataset?.handle;
    draw(this.element, view.footage ? [...here.layers(this), ...(this.comments?.flags() ?? [])] : []);
    if (focused) {
      /** @type {any} */ (this.element.querySelector(`[data-handle="${focused}"]`))?.focus();
    }
  }

  /**
   * Something that can be dragged.
   * @param {string} name @param {number[]} point @param {string} label
   */
  handle(name, [x, y], label) {
    return svg("circle", {
      key: name,
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
