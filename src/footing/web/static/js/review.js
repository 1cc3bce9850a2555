// Reading what was handed in: a comment goes to the block in hand, with the words that are chosen; keys go on.

import { part } from "./parts.js";

const KEYS_OF_BLOCKS = "c";

/** @type {HTMLElement | null} */
let about = null;

/** The form for a comment that is not an answer. */
function form() {
  return /** @type {HTMLFormElement | null} */ (document.querySelector(".review-side [data-about-form]"));
}

/**
 * From now on a comment is about a block, and the words chosen in it.
 * @param {HTMLElement | null} block
 */
function take(block) {
  const said = form();
  if (!said) return;
  about?.classList.remove("about");
  about = block;
  about?.classList.add("about");
  const quote = block ? chosenIn(block) : "";
  part(said, "[name=about]", HTMLInputElement).value = block ? `block/${block.dataset.block}` : "";
  part(said, "[name=quote]", HTMLInputElement).value = quote;
  part(said, ".where").textContent = block ? `About ${block.dataset.says}${quote ? `: “${quote}”` : ""}` : "About the whole";
}

/** @param {HTMLElement} block */
function chosenIn(block) {
  const selection = getSelection();
  const inside = selection?.anchorNode && part(block, ".handed").contains(selection.anchorNode);
  return inside ? selection.toString().replace(/\s+/g, " ").trim().slice(0, 300) : "";
}

document.addEventListener("mouseup", (event) => {
  const target = /** @type {Element} */ (event.target);
  if (target.closest(".comments, .review-side")) return;
  const block = /** @type {HTMLElement | null} */ (target.closest(".handed-block[tabindex]"));
  if (block || target.closest(".review-report")) take(block);
});
document.addEventListener("focusin", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  if (target.matches(".handed-block[tabindex]") && target !== about) take(target);
});

document.addEventListener("change", (event) => {
  const select = /** @type {HTMLSelectElement} */ (event.target);
  if (!("remark" in select.dataset) || !select.value) return;
  const words = part(/** @type {Element} */ (select.closest("form")), "textarea", HTMLTextAreaElement);
  words.setRangeText(select.value, words.selectionStart, words.selectionEnd, "end");
  select.value = "";
  words.focus();
});

document.addEventListener("keydown", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  if (target.matches("input, textarea, select")) {
    if (event.key === "Escape") target.blur();
    return;
  }
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const key = event.key.toLowerCase();
  const link = /** @type {HTMLElement | null} */ (document.querySelector(`a[data-key="${CSS.escape(key)}"]`));
  if (link) link.click();
  else if (key === KEYS_OF_BLOCKS && form()) {
    const words = part(/** @type {HTMLFormElement} */ (form()), "textarea", HTMLTextAreaElement);
    words.focus();
    event.preventDefault();
  }
});

document.body.addEventListener("htmx:afterSwap", () => take(null));
