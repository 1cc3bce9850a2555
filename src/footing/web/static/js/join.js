// Coming into a class: picking a name, and a PIN or four pictures.

import { part, sure } from "./parts.js";

/** Make the form work, if this page has it. */
export function joinForm() {
  const form = document.getElementById("join-form");
  if (!(form instanceof HTMLFormElement) || form.dataset.works) return;
  form.dataset.works = "true";
  work(form);
}

/** @param {HTMLFormElement} form */
function work(form) {
  const name = part(form, "[name=name]", HTMLInputElement);
  const kind = part(form, "[name=kind]", HTMLInputElement);
  const pin = part(form, "[name=secret]", HTMLInputElement);
  const said = part(form, "[data-chosen]");
  /** @type {{name: string, kind: string}[]} */
  const joined = JSON.parse(form.dataset.joined ?? "[]");
  /** @type {string[]} */
  let chosen = [];

  /** @param {string} use */
  function setKind(use) {
    kind.value = use;
    for (const block of form.querySelectorAll("[data-secret]")) {
      /** @type {HTMLElement} */ (block).hidden = /** @type {HTMLElement} */ (block).dataset.secret !== use;
    }
  }

  function showChosen() {
    said.textContent = chosen.length ? chosen.join(" · ") : "";
    for (const picture of form.querySelectorAll("[data-picture]")) {
      /** @type {HTMLButtonElement} */ (picture).disabled = chosen.length >= Number(said.dataset.chosen);
    }
  }

  /** Somebody who was here before is asked for what they chose. */
  function showName() {
    const typed = name.value.trim().toLowerCase();
    const known = joined.find((one) => one.name.toLowerCase() === typed && one.kind !== "new");
    for (const [selector, there] of /** @type {[string, boolean][]} */ ([["[data-new]", !known], ["[data-back]", Boolean(known)]])) {
      for (const one of form.querySelectorAll(selector)) /** @type {HTMLElement} */ (one).hidden = !there;
    }
    setKind(known ? known.kind : kind.value);
    for (const button of form.querySelectorAll("[data-name]")) {
      button.setAttribute("aria-pressed", String(/** @type {HTMLElement} */ (button).dataset.name?.toLowerCase() === typed));
    }
  }

  name.addEventListener("input", showName);
  form.addEventListener("click", (event) => {
    const { name: picked, use, picture, again } = sure(/** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("button, form"))).dataset;
    if (picked !== undefined) {
      name.value = picked;
      showName();
      if (kind.value === "pin") pin.focus();
    }
    if (use) setKind(use);
    if (picture && chosen.length < Number(said.dataset.chosen)) chosen.push(picture);
    if (again !== undefined) chosen = [];
    showChosen();
  });
  form.addEventListener("htmx:configRequest", (event) => {
    const { parameters } = /** @type {CustomEvent} */ (event).detail;
    if (kind.value === "pictures") parameters.secret = chosen.join(" ");
    delete parameters.pictures;
  });
}
