// Pages of a class that are live: made anew soon after something happened, and taken along by a teacher.

import { isDriven, showsOthers } from "./beside.js";

const SOON = 700; // ms after the first thing that happened to the class
const LATER = 1500; // ms after the first thing that happened in a study; there, things happen all the time
const SPREAD = 1500; // ms by which pages differ at random, so that not all of a class ask at once
const SILENT = 50_000; // ms without a sign of life, after which the connection is made anew
const LOOK = 10_000; // ms

/** Listen to the classes of this page, if it has any. */
export function listenToClass() {
  const main = document.getElementById("main");
  if (main?.dataset.liveClass) keepUnsent();
  for (const of of main?.dataset.liveClass?.split(" ") ?? []) new LiveClass(of, main?.dataset.liveStudies === "true");
}

/** What somebody typed or chose and did not send yet stays, however often the page is made anew; so does what plays. */
function keepUnsent() {
  /** @type {Set<Node>} */
  const unsent = new Set();
  document.addEventListener("input", ({ target }) => target instanceof Node && unsent.add(target));
  document.addEventListener("htmx:beforeSwap", (event) => {
    const { isError, requestConfig } = /** @type {CustomEvent<{isError: boolean, requestConfig: {elt: Element}}>} */ (event).detail;
    if (isError || !(requestConfig.elt instanceof HTMLFormElement)) return;
    for (const field of requestConfig.elt.elements) unsent.delete(field);
  });
  Idiomorph.defaults.callbacks.beforeNodeMorphed = (old, anew) => (isDriven(old) ? showsOthers(old, anew) : !unsent.has(old));
}

class LiveClass {
  /** @param {string} of @param {boolean} studies */
  constructor(of, studies) {
    this.of = of;
    this.studies = studies;
    this.timer = 0;
    this.dueAt = Infinity;
    this.heardAt = Date.now();
    this.missed = false;
    /** @type {EventSource | null} */
    this.source = null;
    document.addEventListener("visibilitychange", () => this.listen());
    setInterval(() => this.look(), LOOK);
    this.listen();
  }

  listen() {
    if (document.hidden) {
      this.source?.close();
      this.source = null;
      this.missed = true;
    } else if (!this.source) {
      const source = new EventSource(`/api/classes/${this.of}/events?studies=${this.studies}`);
      this.source = source;
      this.heardAt = Date.now();
      source.addEventListener("ready", () => {
        this.heardAt = Date.now();
        document.documentElement.dataset.live = "true";
        if (this.missed) this.soon();
        this.missed = false;
      });
      source.addEventListener("tick", () => (this.heardAt = Date.now()));
      source.addEventListener("error", () => (this.missed = true));
      source.addEventListener("message", (event) => this.heard(JSON.parse(event.data)));
    }
  }

  /** A computer that slept believes in a connection that is no more. */
  look() {
    if (!this.source || Date.now() - this.heardAt < SILENT) return;
    this.source.close();
    this.source = null;
    this.missed = true;
    this.listen();
  }

  /** @param {any} notice */
  heard(notice) {
    this.heardAt = Date.now();
    const looksAlong = document.querySelector(".own-group");
    if (notice.shown && looksAlong) location.assign(`/studies/${notice.shown}?looking=1`);
    else this.soon(notice.studies ? LATER + SPREAD * Math.random() : SOON);
  }

  makeAnew() {
    const target = document.getElementById("main") ?? document.body;
    const asked = htmx.ajax("GET", location.pathname + location.search, { source: target, target, swap: "morph:outerHTML", select: "#main" });
    asked.catch(() => (this.missed = true)); // it is made up for when the connection is back
  }

  /**
   * Make the page anew in a while, however much happens until then; somebody who types or drags is left alone.
   * @param {number} [wait]
   */
  soon(wait = SOON) {
    const at = Date.now() + wait;
    if (at >= this.dueAt) return;
    clearTimeout(this.timer);
    this.dueAt = at;
    this.timer = setTimeout(() => {
      this.dueAt = Infinity;
      const typing = document.activeElement?.matches("#main input:not([type=checkbox]), #main textarea, #main select");
      const open = document.querySelector("#main .person details[open]");
      if (typing || open) this.soon();
      else this.makeAnew();
    }, wait);
  }
}
