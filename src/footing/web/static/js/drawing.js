// Drawing: what an element is to hold is said anew each time, and only what differs is changed in it.

import { attributesModule, h, init, vnode } from "../vendor/drawing.js";

/**
 * Something to be drawn.
 * @typedef {{sel: string, elm?: Element}} Shape
 */

const NAMESPACE = "http://www.w3.org/2000/svg";
const patch = init([attributesModule]);
/** What was drawn in an element last. */
const drawn = new WeakMap();

/**
 * Say what an SVG element is to be. One with a key stays the same element wherever it stands among
 * its like, so that it keeps the focus.
 * @param {string} name
 * @param {Record<string, string | number>} [attributes]
 * @param {(Shape | string)[]} [children]
 * @returns {Shape}
 */
export function svg(name, attributes = {}, children = []) {
  const { key, ...attrs } = attributes;
  return h(name, { key, attrs, ns: NAMESPACE }, children);
}

/**
 * The same for an element of HTML.
 * @param {string} name
 * @param {Record<string, string | number>} [attributes]
 * @param {(Shape | string)[]} [children]
 * @returns {Shape}
 */
export function html(name, attributes = {}, children = []) {
  const { key, ...attrs } = attributes;
  return h(name, { key, attrs }, children);
}

/**
 * Make an element hold these shapes and nothing else.
 * @param {Element} element @param {Shape[]} shapes
 */
export function draw(element, shapes) {
  if (!drawn.has(element)) {
    element.replaceChildren();
    drawn.set(element, vnode("", {}, [], undefined, element));
  }
  drawn.set(element, patch(drawn.get(element), vnode("", {}, shapes, undefined, undefined)));
}
