// The pages beside the workbench: forms that stay where they are, what is live, names that are dragged.

import { ask } from "./asking.js";
import { showBeside } from "./beside.js";
import { showBoard } from "./board.js";
import { joinForm } from "./join.js";
import { listenToClass } from "./lesson.js";
import { dragNames } from "./register.js";
import "./send-file.js";

const { body } = document;

/**
 * What htmx tells with its events.
 * @typedef {{xhr: XMLHttpRequest, elt: Element, shouldSwap: boolean, requestConfig: {path: string, verb: string}}} Told
 */

body.addEventListener("htmx:beforeSwap", (event) => {
  const told = /** @type {CustomEvent<Told>} */ (event).detail;
  const { pathname } = new URL(told.xhr.responseURL);
  const redirected = pathname !== new URL(told.requestConfig.path, location.href).pathname;
  if (!redirected || pathname === location.pathname) return;
  told.shouldSwap = false; // another page, with a head of its own
  location.assign(told.xhr.responseURL);
});

body.addEventListener("htmx:responseError", (event) => {
  const { xhr, elt } = /** @type {CustomEvent<Told>} */ (event).detail;
  let said = `Footing could not answer (${xhr.status}); try again in a moment.`;
  let field = null;
  try {
    ({ error: said, field } = JSON.parse(xhr.responseText));
  } catch {
    // something between the page and Footing answered
  }
  show(elt, said, field);
});
body.addEventListener("htmx:sendError", (event) => {
  show(/** @type {CustomEvent<Told>} */ (event).detail.elt, "Footing does not answer just now; try again in a moment.", null);
});

/**
 * Say what was wrong beside the form that it is about.
 * @param {Element} form @param {string} said @param {string | null} field
 */
function show(form, said, field) {
  const message = form.querySelector(".message") ?? document.querySelector("#main .message");
  if (message) message.textContent = said;
  else alert(said);
  for (const input of form.querySelectorAll("[aria-invalid]")) input.removeAttribute("aria-invalid");
  const wrong = field && /** @type {HTMLElement | null} */ (form.querySelector(`[name="${field}"]`));
  if (!wrong) return;
  wrong.setAttribute("aria-invalid", "true");
  wrong.focus();
}

body.addEventListener("htmx:beforeRequest", (event) => {
  const { elt } = /** @type {CustomEvent<Told>} */ (event).detail;
  for (const message of elt.querySelectorAll(".message")) message.textContent = "";
});
body.addEventListener("htmx:afterSwap", () => begin());
body.addEventListener("htmx:afterRequest", (event) => {
  const { elt, xhr } = /** @type {CustomEvent<Told>} */ (event).detail;
  if (elt instanceof HTMLFormElement && elt.dataset.empties !== undefined && xhr.status < 400) elt.reset();
});

body.addEventListener("change", (event) => {
  const form = /** @type {Element} */ (event.target).closest("form[data-at-once]");
  if (form instanceof HTMLFormElement) form.requestSubmit();
});

body.addEventListener("click", (event) => {
  const button = /** @type {Element} */ (event.target).closest("[data-show-class]");
  if (!(button instanceof HTMLElement)) return;
  const study = button.dataset.study ? Number(button.dataset.study) : null;
  ask(`/api/classes/${button.dataset.showClass}/shown`, { method: "PUT", content: { study } }).then(({ ok, error }) => {
    if (!ok) alert(error);
  });
});

/** What has to be done again when the page was made anew. */
function begin() {
  showBoard();
  showBeside();
  joinForm();
}

const projector = document.getElementById("projector");
/** @param {boolean} on */
function setProjector(on) {
  document.documentElement.classList.toggle("projector", on);
  projector?.setAttribute("aria-pressed", String(on));
}
setProjector(Boolean(projector) && localStorage.getItem("projector") === "true");
projector?.addEventListener("click", () => {
  const on = !document.documentElement.matches(".projector");
  localStorage.setItem("projector", String(on));
  setProjector(on);
});

dragNames();
listenToClass();
begin();
document.documentElement.dataset.ready = "true";
