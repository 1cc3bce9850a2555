// Making SVG elements.

/**
 * Make an SVG element.
 * @param {string} name
 * @param {Record<string, string | number>} [attributes]
 * @param {(Node | string)[]} [children]
 * @returns {SVGElement}
 */
export function svg(name, attributes = {}, children = []) {
  const element = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, String(value));
  element.append(...children);
  return element;
}
