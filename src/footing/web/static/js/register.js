// Dragging names between groups, on the page of a class.

/** Let names be dragged; the same can be done by opening a name. */
export function dragNames() {
  let dragged = "";
  /** @param {Event} event */
  const groupAt = (event) => /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest?.("[data-group]"));
  document.addEventListener("dragstart", (event) => {
    const name = /** @type {Element} */ (event.target).closest?.("[data-student]");
    if (!(name instanceof HTMLElement)) return;
    dragged = name.dataset.student ?? "";
    event.dataTransfer?.setData("text/plain", name.textContent ?? "");
  });
  document.addEventListener("dragover", (event) => {
    const group = groupAt(event);
    if (!dragged || !group) return;
    event.preventDefault();
    for (const one of document.querySelectorAll("[data-group]")) one.classList.toggle("is-over", one === group);
  });
  document.addEventListener("dragend", () => {
    dragged = "";
    for (const one of document.querySelectorAll(".is-over")) one.classList.remove("is-over");
  });
  document.addEventListener("drop", (event) => {
    const group = groupAt(event);
    if (!dragged || !group) return;
    event.preventDefault();
    const select = document.querySelector(`[data-student="${dragged}"] select[name="group_id"]`);
    const form = select?.closest("form");
    if (!(select instanceof HTMLSelectElement) || !form) return;
    select.value = group.dataset.group ?? "";
    form.requestSubmit();
  });
}
