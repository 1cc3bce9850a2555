// Who else has the study open, where they are, and going along with one of them.

import { ask } from "./asking.js";
import { draw, html, svg } from "./drawing.js";
import { byId, part } from "./parts.js";

const POINTER_EVERY = 200; // ms between two places of a pointer, while somebody else is here
const SAID_AGAIN = 15_000; // ms between two signs of life
const GONE_AFTER = 40_000; // ms without one
const NEAR = 5; // frames in which two who mark the same body are told
const COLOURS = ["#7A3B8F", "#A87000", "#0B7F86", "#2C4A86", "#6F7A17", "#B83B6B"];

/**
 * Where somebody's page is, as it is told.
 * @typedef {{tab: string, name: string, teacher?: boolean, step: string, source?: string, frame?: number, body?: number, marking?: boolean, pointer?: number[] | null, hello?: boolean, leads?: boolean, helps?: boolean, gone?: boolean}} Here
 */

export class Together {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./stage.js").Stage} stage
   * @param {{goToStep: (step: string) => void, looking: boolean, role: string, name: string}} page
   */
  constructor(bench, stage, page) {
    this.bench = bench;
    this.stage = stage;
    this.page = page;
    this.tab = newName();
    /** @type {Map<string, {here: Here, at: number}>} */
    this.others = new Map();
    this.leads = false;
    /** @type {string | null} the tab that is gone along with, and those that are not any more */
    this.along = null;
    /** @type {Set<string>} */
    this.stayed = new Set();
    /** @type {number[] | null} */
    this.pointer = null;
    this.told = "";
    this.toldAt = 0;
    this.warned = "";
    this.timer = 0;
    this.layer = document.createElementNS("http://www.w3.org/2000/svg", "svg");
    this.layer.setAttribute("class", "others");
    this.layer.setAttribute("aria-hidden", "true");
    stage.element.append(this.layer);
    const leading = byId("lead");
    leading.addEventListener("click", () => this.lead(!this.leads));
    part(byId("along"), "button").addEventListener("click", () => this.stay());
    stage.element.addEventListener("pointermove", (event) => {
      this.pointer = bench.footage ? stage.pixelAt(event).map((value) => Math.round(value * 10) / 10) : null;
      this.soon();
    });
    stage.element.addEventListener("pointerleave", () => {
      this.pointer = null;
      this.soon();
    });
    bench.on(["step", "frame", "body", "view"], () => {
      this.soon();
      this.show();
    });
    addEventListener("pagehide", () => this.say({ gone: true }));
    document.addEventListener("visibilitychange", () => this.say({ gone: document.hidden, hello: !document.hidden }));
    setInterval(() => this.look(), SAID_AGAIN / 3);
    this.say({ hello: true });
  }

  /** Where this page is. */
  get here() {
    const { step, sourceId, frame, body } = this.bench;
    return {
      tab: this.tab,
      step,
      source: sourceId === null ? "" : String(sourceId),
      frame,
      body: body?.id ?? null,
      marking: this.bench.here.marking,
      pointer: this.pointer,
      leads: this.leads,
      helps: this.page.role === "teacher" && !this.page.looking,
    };
  }

  /** Tell the others before long, if there are any. */
  soon() {
    if (!this.others.size || this.timer) return;
    const wait = Math.max(0, this.toldAt + POINTER_EVERY - Date.now());
    this.timer = setTimeout(() => {
      this.timer = 0;
      if (JSON.stringify(this.here) !== this.told) this.say();
    }, wait);
  }

  /** @param {{hello?: boolean, gone?: boolean}} [more] */
  say(more = {}) {
    this.told = JSON.stringify(this.here);
    this.toldAt = Date.now();
    ask(`/api/studies/${this.bench.view.id}/here`, { content: { ...this.here, ...more }, keepalive: true });
  }

  /** Tell that one is still here; forget those who did not. */
  look() {
    if (document.hidden) return;
    if (Date.now() - this.toldAt > SAID_AGAIN) this.say();
    for (const [tab, { at }] of this.others) if (Date.now() - at > GONE_AFTER) this.others.delete(tab);
    this.show();
  }

  /**
   * Somebody told where they are.
   * @param {Here} here
   */
  heard(here) {
    const { name, role } = this.page;
    if (here.tab === this.tab || (here.name === name && Boolean(here.teacher) === (role === "teacher"))) return; // oneself, perhaps in another window
    if (here.gone) this.others.delete(here.tab);
    else this.others.set(here.tab, { here, at: Date.now() });
    if (here.hello && !here.gone) this.say();
    if (here.leads && !this.stayed.has(here.tab)) this.along = here.tab;
    if (!here.leads) {
      this.stayed.delete(here.tab);
      if (this.along === here.tab) this.along = null;
    }
    if (here.gone && this.along === here.tab) this.along = null;
    if (this.along === here.tab) this.goAlong(here);
    this.warn(here);
    this.show();
  }

  /** @param {boolean} on */
  lead(on) {
    this.leads = on;
    if (on) this.along = null;
    this.say();
    this.show();
  }

  stay() {
    if (this.along) this.stayed.add(this.along);
    this.along = null;
    this.show();
  }

  /** @param {Here} here */
  async goAlong(here) {
    const { bench } = this;
    if (here.source && here.source !== String(bench.sourceId ?? "")) {
      await bench.showSource(here.source.startsWith("s") ? here.source : Number(here.source));
    }
    if (here.step !== bench.step) this.page.goToStep(here.step);
    if (here.frame !== undefined) bench.goTo(here.frame);
    if (here.body && here.body !== bench.body?.id && bench.view.bodies.some((one) => one.id === here.body)) bench.pickBody(here.body);
  }

  /**
   * Two who mark the same body in the same place hear of each other, once for each meeting.
   * @param {Here} here
   */
  warn(here) {
    const { bench } = this;
    const { body } = bench;
    const meets = here.marking && bench.here.marking && here.body === body?.id && here.source === String(bench.sourceId) && Math.abs((here.frame ?? 0) - bench.frame) <= NEAR;
    const meeting = meets ? `${here.tab} ${body?.id}` : "";
    if (meeting && meeting !== this.warned) bench.say(`${here.name} is marking ${body?.name} here, too; take another stretch or another body.`);
    if (meeting || this.warned.startsWith(here.tab)) this.warned = meeting;
  }

  show() {
    const { bench, stage } = this;
    const others = [...this.others.values()].map(({ here }) => here).sort((a, b) => a.name.localeCompare(b.name));
    const names = new Map(others.map((here) => [here.name, here]));
    draw(byId("people"), [...names.values()].map((here) => html("li", { key: here.name, "data-who": String(colourOf(here.name)), title: whereIs(here) }, [here.name, ...(here.teacher ? [html("small", {}, [here.helps ? " helps" : " looks"])] : [])])));
    const leading = byId("lead");
    leading.hidden = !others.length && !this.leads;
    leading.setAttribute("aria-pressed", String(this.leads));
    const leader = this.along && this.others.get(this.along)?.here;
    const along = byId("along");
    along.hidden = !leader;
    if (leader) part(along, "span").textContent = `You go along with ${leader.name}.`;
    for (const link of document.querySelectorAll(".rail a")) {
      const step = /** @type {HTMLElement} */ (link).dataset.step;
      const there = [...names.values()].filter((here) => here.step === step).map((here) => here.name);
      /** @type {HTMLElement} */ (link).dataset.people = there.join(", ");
    }
    const pointing = others.filter((here) => here.pointer && here.source === String(bench.sourceId) && bench.footage);
    draw(this.layer, pointing.map((here) => {
      const [x, y] = stage.pointOf(/** @type {number[]} */ (here.pointer));
      const colour = COLOURS[colourOf(here.name)];
      const aside = here.frame === bench.frame || bench.isPicture ? "" : `, frame ${here.frame}`;
      return svg("g", { key: here.tab, transform: `translate(${x} ${y})` }, [
        svg("path", { d: "M0 0L5 13L8 8L13 6Z", fill: colour, stroke: "#FFFFFF" }),
        svg("text", { x: 14, y: 18, fill: colour, class: "on-stage" }, [`${here.name}${aside}`]),
      ]);
    }));
  }
}

/** @param {Here} here */
function whereIs(here) {
  return `${here.name} is at ${here.step}${here.frame === undefined ? "" : `, frame ${here.frame}`}`;
}

/** @param {string} name */
function colourOf(name) {
  const sum = [...name].reduce((total, letter) => total + (letter.codePointAt(0) ?? 0), 0);
  return sum % COLOURS.length;
}

/** A name that this page gives itself. */
function newName() {
  return Array.from(crypto.getRandomValues(new Uint8Array(8)), (byte) => byte.toString(16).padStart(2, "0")).join("");
}
