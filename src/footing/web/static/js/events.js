// What the parts of the page tell each other.

/**
 * What is told with each event; most tell only that it happened.
 * @typedef {object} Told
 * @property {Set<keyof import("./shapes.js").StateShape>} view the study changed: in these parts of the state
 * @property {void} frame the time cursor moved, or another row is looked at
 * @property {void} body another body is marked next
 * @property {void} tool
 * @property {void} step
 * @property {string} note something to say at the stage
 * @property {void} options how the page shows things
 * @property {void} models a model is shown as it would be
 * @property {void} follow how far following is
 * @property {{reach?: number, search?: number}} sizes patch or search area of following, while they are set by hand
 * @property {void} compare
 * @property {void} stretch a part of a graph was chosen
 * @property {void} cells cells of a sheet were chosen
 * @property {void} cards other cards
 * @property {string} working a number whose working is wanted, by what names it
 * @property {number} length a known length was drawn and has no value yet
 */

/**
 * @template {keyof Told} Name
 * @typedef {(told: Told[Name]) => void} Listener
 */

export class Events {
  constructor() {
    /** @type {Map<keyof Told, Listener<any>[]>} */
    this.listeners = new Map();
  }

  /**
   * Have something done whenever one of these events is told.
   * @template {keyof Told} Name
   * @param {Name | Name[]} names @param {Listener<Name>} then
   */
  on(names, then) {
    for (const name of [names].flat()) this.listeners.set(name, [...(this.listeners.get(name) ?? []), then]);
  }

  /**
   * @template {keyof Told} Name
   * @param {Name} name @param {Told[Name] extends void ? [] : [Told[Name]]} told
   */
  tell(name, ...told) {
    for (const listener of this.listeners.get(name) ?? []) listener(told[0]);
  }
}
