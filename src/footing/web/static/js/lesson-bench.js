// What a lesson does with a study's page: asking for help, looking at what the teacher shows.

import { ask } from "./asking.js";

const OWN = "own-study"; // where somebody was before the class looked at one study

export class Lesson {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} root */
  constructor(bench, root) {
    this.bench = bench;
    this.root = root;
    /** @type {(on: boolean) => void} what else is done when the class looks here, or no more */
    this.onShow = () => undefined;
    const { hand, showing } = this;
    hand?.addEventListener("click", () => this.raise(hand.getAttribute("aria-pressed") !== "true"));
    showing?.addEventListener("click", () => this.showToAll(showing.getAttribute("aria-pressed") !== "true"));
    const back = document.getElementById("look-away");
    const own = sessionStorage.getItem(OWN);
    if (back instanceof HTMLAnchorElement && own && this.isStudent) back.href = own;
  }

  get hand() {
    return document.getElementById("hand");
  }

  get showing() {
    return document.getElementById("show-class");
  }

  get isStudent() {
    return this.root.dataset.role === "student";
  }

  /** @param {boolean} up */
  async raise(up) {
    const { ok, error } = await ask(`/api/studies/${this.bench.view.id}/hand`, { content: { up } });
    if (!ok) this.bench.say(error);
  }

  /** @param {boolean} on */
  async showToAll(on) {
    const study = on ? this.bench.view.id : null;
    const { ok, error } = await ask(`/api/classes/${this.root.dataset.class}/shown`, { method: "PUT", content: { study } });
    if (ok) this.onShow(on);
    else this.bench.say(error);
  }

  /**
   * Something that the whole class, or the whole group, is told.
   * @param {any} notice
   */
  heard(notice) {
    if ("hand" in notice) {
      this.hand?.setAttribute("aria-pressed", String(notice.hand));
      this.bench.say(notice.hand ? `${notice.by} asks your teacher for help.` : "Your teacher knows that you need no help now.");
    }
    if (notice.labs) this.bench.fetchView(); // what the lab asks for, or how graphs look
    if (!("shown" in notice)) return;
    const here = notice.shown === this.bench.view.id;
    this.showing?.setAttribute("aria-pressed", String(here));
    if (!this.isStudent || here) return;
    if (notice.shown) {
      if (this.root.dataset.looking !== "true") sessionStorage.setItem(OWN, location.href);
      location.assign(`/studies/${notice.shown}?looking=1`);
    } else if (this.root.dataset.looking === "true") {
      const own = sessionStorage.getItem(OWN) ?? "/";
      sessionStorage.removeItem(OWN);
      location.assign(own);
    }
  }
}
