// Parts of the page that are surely there: its templates and its scripts say so together.

/**
 * The first part of something that a selector finds.
 * @template {Element} [Kind=HTMLElement]
 * @param {ParentNode} within @param {string} selector @param {abstract new () => Kind} [kind] of element; it is only named here
 * @returns {Kind}
 */
export function part(within, selector, kind) {
  const found = within.querySelector(selector);
  if (!found) throw new Error(`No ${kind?.name ?? "element"} here is ${selector}`);
  return /** @type {Kind} */ (found);
}

/**
 * The element of the page with an id.
 * @template {Element} [Kind=HTMLElement]
 * @param {string} id @param {abstract new () => Kind} [kind]
 * @returns {Kind}
 */
export function byId(id, kind) {
  return part(document, `#${id}`, kind);
}

/**
 * Something that is there whenever this is asked.
 * @template Thing
 * @param {Thing | null | undefined} thing @returns {Thing}
 */
export function sure(thing) {
  if (thing === null || thing === undefined) throw new Error("Something is missing here.");
  return thing;
}
