// Forms on the cards: their fields are named, and read as the edits want them.

import { sure } from "./parts.js";

/**
 * Give each form, and each field in it, an id after what it is about: so that what somebody types
 * belongs to the same thing as before when the cards come anew. The card is part of it: two steps
 * have forms of one kind, and one must not be taken for the other.
 * @param {ParentNode} cards
 */
export function nameFields(cards) {
  const used = new Map();
  for (const form of cards.querySelectorAll("form[data-kind], form[data-follow]")) {
    const fixed = [...form.querySelectorAll("input[type=hidden]")].map((one) => `${/** @type {HTMLInputElement} */ (one).name}=${one.getAttribute("value")}`);
    const card = form.closest("section[id]")?.id ?? "";
    const base = `form-${card}-${/** @type {HTMLElement} */ (form).dataset.kind ?? "follow"}-${fixed.filter((one) => !/^(series|selection)=/.test(one)).join("-")}`;
    const count = used.get(base) ?? 0;
    used.set(base, count + 1);
    const id = count ? `${base}-${count}` : base;
    if (!form.id) form.id = id;
    const fields = new Map();
    for (const field of form.querySelectorAll("input, select, textarea, button")) {
      if (field.id) continue;
      const name = field.getAttribute("name") ?? field.getAttribute("data-edit") ?? field.textContent?.trim();
      const which = ["radio", "checkbox"].includes(field.getAttribute("type") ?? "") ? field.getAttribute("value") : (field.getAttribute("data-given") ?? "");
      const own = `${id}-${name}-${which}`;
      const nth = fields.get(own) ?? 0;
      fields.set(own, nth + 1);
      field.id = nth ? `${own}-${nth}` : own;
    }
  }
}

/**
 * The fields of a form as the edit wants them.
 * @param {HTMLFormElement} form
 */
export function fields(form) {
  /** @type {Record<string, any>} */
  const found = {};
  for (const element of form.elements) {
    const input = /** @type {HTMLInputElement} */ (element);
    if (!input.name) continue;
    if (input.dataset.type === "many") {
      found[input.name] ??= [];
      if (input.checked) found[input.name].push(Number(input.value));
    } else if (input.dataset.type === "keys") {
      found[input.name] = input.value ? [Number(input.value)] : [];
    } else if (input.dataset.type === "list") {
      found[input.name] ??= [];
      if (input.value) found[input.name].push(input.value);
    } else if (input.dataset.type === "jsonlist") {
      found[input.name] ??= [];
      if (input.value) found[input.name].push(JSON.parse(input.value));
    } else if (input.dataset.type === "json") Object.assign(found, JSON.parse(input.value));
    else if (input.dataset.type === "ends") {
      found[input.name] ??= [];
      if (input.value.trim()) found[input.name].push(number(input.value));
    } else if (input.dataset.given) given(found, input);
    else if (input.dataset.look) look(found, input);
    else if (input.dataset.type === "bool") found[input.name] = input.checked;
    else if (input.dataset.type === "text-or-null") found[input.name] = input.value.trim() || null;
    else if (input.dataset.type === "number") found[input.name] = number(input.value);
    else found[input.name] = input.value;
  }
  return found;
}

/**
 * A number, null for nothing; what is no number is sent as typed, and the server says so.
 * @param {string} text
 */
function number(text) {
  if (text.trim() === "") return null;
  const value = Number(text.replace(",", ".").replace("−", "-"));
  return Number.isNaN(value) ? text : value;
}

/**
 * What is said about a parameter of a fit.
 * @param {Record<string, any>} found @param {HTMLInputElement} input
 */
function given(found, input) {
  found.given ??= {};
  const of = (found.given[sure(input.dataset.given)] ??= {});
  of[input.name] = input.type === "checkbox" ? input.checked : input.value;
}

/**
 * How the points of a column are drawn.
 * @param {Record<string, any>} found @param {HTMLInputElement} input
 */
function look(found, input) {
  found.looks ??= {};
  const of = (found.looks[sure(input.dataset.look)] ??= {});
  of[input.name] = input.name === "size" ? Number(input.value) : input.value;
}
