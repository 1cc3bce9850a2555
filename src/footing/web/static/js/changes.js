// How a state becomes the next one: see studies/difference.py. What a change does not name is the same
// object before and after, so that whoever shows a part can tell whether it is still the same.

/** @typedef {import("./shapes.js").Change} Change */

/**
 * A value after a change; the value itself is not touched.
 * @param {any} value @param {Change} change @returns {any}
 */
export function applied(value, change) {
  if ("to" in change) return change.to;
  if (change.rows) {
    const [first, count, rows] = change.rows;
    return [...value.slice(0, first), ...rows, ...value.slice(first + count)];
  }
  if (!change.fields && !change.items && !change.without) return value;
  const made = Array.isArray(value) ? [...value] : { ...value };
  for (const [name, each] of Object.entries(change.fields ?? change.items ?? {})) made[name] = applied(made[name], each);
  for (const name of change.without ?? []) delete made[name];
  return made;
}

/**
 * The change that puts a value in a place of a state.
 * @param {(string | number)[]} place names of fields, and numbers of items @param {any} to @returns {Change}
 */
export function put(place, to) {
  const [first, ...rest] = place;
  if (first === undefined) return { to };
  return { [typeof first === "number" ? "items" : "fields"]: { [first]: put(rest, to) } };
}
