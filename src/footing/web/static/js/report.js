// The report on its sheet of paper: which block is in hand, moving blocks, putting values into a text.

import { part } from "./parts.js";

export class Report {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./edits.js").Edits} edits
   * @param {HTMLElement} element
   */
  constructor(bench, edits, element) {
    this.bench = bench;
    this.edits = edits;
    this.element = element;
    /** @type {HTMLElement | null} The block that is dragged. */
    this.dragged = null;
    element.addEventListener("focusin", (event) => this.take(blockOf(event.target)));
    element.addEventListener("keydown", (event) => this.key(event));
    element.addEventListener("change", (event) => this.putValue(/** @type {HTMLSelectElement} */ (event.target)));
    element.addEventListener("click", (event) => this.click(event));
    element.addEventListener("pointerdown", (event) => this.grab(event));
    element.addEventListener("pointermove", (event) => this.drag(event));
    element.addEventListener("pointerup", (event) => this.drop(event));
    element.addEventListener("pointercancel", () => this.letGo());
    bench.on("step", () => (bench.block = null));
  }

  /** @returns {HTMLElement[]} */
  get blocks() {
    return [...this.element.querySelectorAll(".block")].map((one) => /** @type {HTMLElement} */ (one));
  }

  /** @returns {HTMLElement | undefined} the block in hand, if it is still there */
  get inHand() {
    return this.blocks.find((one) => Number(one.dataset.block) === this.bench.block);
  }

  /** @param {HTMLElement | null} block */
  take(block) {
    if (block) this.bench.block = Number(block.dataset.block);
  }

  /** @param {number} way */
  next(way) {
    const { blocks, inHand } = this;
    if (!blocks.length) return false;
    const at = inHand ? blocks.indexOf(inHand) + way : way > 0 ? 0 : blocks.length - 1;
    const block = blocks[Math.max(0, Math.min(at, blocks.length - 1))];
    block.focus();
    block.scrollIntoView({ block: "nearest" });
    return true;
  }

  /** @param {number} way */
  move(way) {
    const { blocks, inHand } = this;
    if (!inHand) return false;
    const at = blocks.indexOf(inHand);
    const to = at + way;
    if (to < 0 || to >= blocks.length) return true;
    const above = way > 0 ? blocks[to] : blocks[to - 1];
    this.send(inHand, above);
    return true;
  }

  /** Put the pen down on the block in hand. */
  write() {
    const field = this.inHand?.querySelector("textarea, input:not([type=hidden])");
    /** @type {HTMLElement | undefined} */ (field ?? undefined)?.focus();
    return Boolean(field);
  }

  /**
   * Move a block below another one, or to the top.
   * @param {HTMLElement} block @param {HTMLElement | undefined} above
   */
  async send(block, above) {
    const id = Number(block.dataset.block);
    const answer = await this.edits.send({ kind: "move_block", block: id, after: Number(above?.dataset.block ?? 0) });
    const moved = this.blocks.find((one) => Number(one.dataset.block) === id);
    if (answer.ok && moved) {
      moved.focus();
      moved.scrollIntoView({ block: "nearest" });
    }
  }

  /** @param {KeyboardEvent} event */
  key(event) {
    const target = /** @type {HTMLElement} */ (event.target);
    if (event.key === "Escape" && target.matches("textarea, input, select")) {
      blockOf(target)?.focus();
      event.stopPropagation();
      return;
    }
    const ways = /** @type {Record<string, number>} */ ({ ArrowUp: -1, ArrowDown: 1 });
    if (!target.closest("[data-grip]") || !(event.key in ways)) return;
    event.preventDefault();
    event.stopPropagation();
    this.move(ways[event.key]);
  }

  /** @param {MouseEvent} event */
  click(event) {
    const button = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("[data-put-text]"));
    if (button) this.insert(button, button.dataset.putText ?? "");
    const block = blockOf(event.target);
    const isText = block && ["text", "heading", "title"].includes(block.dataset.kindOf ?? "");
    if (isText && /** @type {Element} */ (event.target).closest(".block-shows")) this.write();
  }

  /** @param {HTMLSelectElement} select */
  putValue(select) {
    if (!("putValue" in select.dataset) || !select.value) return;
    this.insert(select, `{${select.value}}`);
    select.value = "";
  }

  /**
   * Put letters where the pen is in the text beside a field.
   * @param {Element} beside @param {string} letters
   */
  insert(beside, letters) {
    const text = part(/** @type {Element} */ (beside.closest("form")), "textarea", HTMLTextAreaElement);
    text.setRangeText(letters, text.selectionStart, text.selectionEnd, "end");
    text.dispatchEvent(new Event("input", { bubbles: true }));
    text.focus();
  }

  /** @param {PointerEvent} event */
  grab(event) {
    const grip = /** @type {Element} */ (event.target).closest("[data-grip]");
    if (!grip || event.button !== 0) return;
    this.dragged = blockOf(grip);
    this.dragged?.classList.add("dragged");
    this.element.setPointerCapture(event.pointerId);
    event.preventDefault();
    /** @type {HTMLElement} */ (grip).focus();
  }

  /** @param {PointerEvent} event */
  drag(event) {
    if (!this.dragged) return;
    const place = this.placeAt(event.clientY);
    for (const block of this.blocks) {
      block.classList.toggle("drop-below", block === place.above);
      block.classList.toggle("drop-above", !place.above && block === this.blocks[0]);
    }
  }

  /**
   * Between which blocks a height lies.
   * @param {number} y
   */
  placeAt(y) {
    const above = this.blocks.filter((block) => {
      const { top, height } = block.getBoundingClientRect();
      return top + height / 2 < y;
    });
    return { above: above.at(-1) };
  }

  /** @param {PointerEvent} event */
  drop(event) {
    const { dragged } = this;
    if (!dragged) return;
    const { above } = this.placeAt(event.clientY);
    const before = this.blocks[this.blocks.indexOf(dragged) - 1];
    this.letGo();
    if (above !== dragged && above !== before) this.send(dragged, above);
  }

  letGo() {
    this.dragged = null;
    for (const block of this.blocks) block.classList.remove("dragged", "drop-below", "drop-above");
  }
}

/**
 * @param {EventTarget | null} target
 * @returns {HTMLElement | null}
 */
function blockOf(target) {
  return target instanceof Element ? target.closest(".block") : null;
}
