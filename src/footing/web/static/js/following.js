// Following: asks the server for it, shows how far it is, and leads from one open frame to the next.

import { ask } from "./asking.js";
import { part, sure } from "./parts.js";

const NUMBERS = ["to", "stop_level", "reach", "search"];

export class Following {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./edits.js").Edits} edits
   * @param {import("./overlay.js").Overlay} overlay
   * @param {HTMLElement} cards
   */
  constructor(bench, edits, overlay, cards) {
    this.bench = bench;
    this.edits = edits;
    this.overlay = overlay;
    this.cards = cards;
    /** Whether each place is accepted before the next, and how it was asked for last. */
    this.each = false;
    /** @type {Record<string, any>} */
    this.how = {};
    /** @type {{body: number, first: number} | null} from which frame on a body is lost */
    this.lost = null;
    cards.addEventListener("submit", (event) => this.submit(event));
    cards.addEventListener("click", (event) => this.click(event));
    cards.addEventListener("input", () => this.readSizes());
    bench.on("follow", () => this.show());
    bench.on("view", () => this.look());
    bench.on("step", () => this.readSizes());
    bench.on("sizes", (sizes) => this.writeSizes(sizes));
  }

  /** @returns {HTMLFormElement | null} */
  get form() {
    return this.cards.querySelector("form[data-follow]");
  }

  /** @param {SubmitEvent} event */
  async submit(event) {
    const form = /** @type {HTMLFormElement} */ (event.target);
    if (!("follow" in form.dataset)) return;
    event.preventDefault();
    const data = new FormData(form);
    /** @type {Record<string, any>} */
    const wanted = { bodies: data.getAll("bodies").map(Number), frame: this.bench.frame, over_hand: data.has("over_hand") };
    for (const name of NUMBERS) {
      const text = String(data.get(name) ?? "").trim();
      if (text) wanted[name] = Number(text.replace(",", "."));
    }
    this.each = data.has("each");
    if (this.each) {
      // every place is a proposal, and the next frame is asked for by the answer
      const way = wanted.to < wanted.frame ? -1 : 1;
      Object.assign(wanted, { to: wanted.frame + way * this.bench.stride, stop_level: 1 });
    }
    const { bodies, frame, to, ...how } = wanted;
    this.how = how;
    await this.ask(wanted);
  }

  /** @param {Record<string, any>} wanted */
  async ask(wanted) {
    await this.edits.tail; // the first mark may still be on its way
    const answer = await ask(`/api/studies/${this.bench.view.id}/follows`, { content: wanted });
    const message = this.form?.querySelector(".message");
    if (message) message.textContent = answer.error;
    if (!answer.ok) return;
    await this.bench.fetchView();
    // a single frame is followed to be looked at
    if (Math.abs(wanted.to - wanted.frame) === this.bench.stride) this.bench.goTo(wanted.to);
  }

  /** @param {MouseEvent} event */
  async click(event) {
    const button = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("button"));
    if (!button) return;
    const { followTo, control, decide } = button.dataset;
    if (followTo) {
      const to = followTo === "next" ? String(this.bench.frame + this.bench.stride) : followTo;
      /** @type {HTMLInputElement} */ (sure(this.form).elements.namedItem("to")).value = to;
      if (followTo === "next") sure(this.form).requestSubmit();
    } else if (control) {
      const { follow, id } = this.bench.view;
      const answer = await ask(`/api/studies/${id}/follows/${sure(follow).id}/${control}`, { method: "POST" });
      if (!answer.ok) this.bench.say(answer.error);
      await this.bench.fetchView();
    } else if (decide) {
      const asked = /** @type {HTMLElement} */ (button.closest("[data-asked]"));
      await this.decide(decide, asked.dataset);
    }
  }

  /**
   * Answer for a whole stretch; what was lost at its end is followed on from there.
   * @param {string} decision @param {DOMStringMap} asked
   */
  async decide(decision, asked) {
    const [body, frame, last] = [asked.body, asked.frame, asked.last].map(Number);
    const answer = await this.edits.send({ kind: "decide_doubt", body, frame, last, decision });
    if (!answer.ok) return;
    if (decision === "right" && "goesOn" in asked) await this.goOn(body, last);
    else this.goToNext();
  }

  /** A mark by hand where it was lost, or later, answers, too. */
  async look() {
    const { follow } = this.bench.view;
    const lost = this.lost;
    this.lost = null;
    for (const body of this.bench.view.bodies) {
      const asked = body.asked.at(-1);
      const last = this.bench.marksOf(body).at(-1);
      if (asked && last && asked.last > last[0]) this.lost = { body: body.id, first: asked.first };
    }
    if (!lost || follow?.state !== "done") return;
    const body = this.bench.view.bodies.find(({ id }) => id === lost.body);
    const placed = body && this.bench.marksOf(body).find(([at]) => at >= lost.first && !(at in body.qualities));
    if (placed) await this.goOn(lost.body, placed[0]);
  }

  /**
   * Follow on from an answer, as far as was asked for.
   * @param {number} body @param {number} frame
   */
  async goOn(body, frame) {
    const { follow } = this.bench.view;
    const { first, last } = this.bench.film;
    const forward = !follow || follow.last >= follow.first;
    const to = this.each ? frame + (forward ? 1 : -1) * this.bench.stride : sure(follow).last;
    const beyond = to >= first && to <= last && (forward ? to > frame : to < frame);
    if (follow && beyond) await this.ask({ bodies: [body], frame, to, ...this.how });
    else this.goToNext();
  }

  /** The next frame that waits for a decision. */
  goToNext() {
    for (const body of this.bench.view.bodies) {
      if (!body.doubts.length) continue;
      this.bench.pickBody(body.id);
      this.bench.goTo(Number(body.doubts[0][0]));
      return;
    }
  }

  /** How far it is, without waiting for the card. */
  show() {
    const { follow } = this.bench.view;
    const bar = /** @type {HTMLProgressElement | null} */ (this.cards.querySelector("[data-follow-progress]"));
    const running = follow && ["waiting", "running"].includes(follow.state);
    if (!bar || !running) {
      this.bench.fetchView();
      return;
    }
    bar.value = follow.at === null ? 0 : Math.abs(follow.at - follow.first);
    part(this.cards, "[data-follow-text]").textContent = follow.at === null ? "waiting for its turn …" : `frame ${follow.at} of ${follow.first} … ${follow.last}`;
  }

  /** Patch and search area on the stage are those of the form, while it sets them by hand. */
  readSizes() {
    const form = this.form;
    const sizes = /** @type {HTMLDetailsElement | null} */ (form?.querySelector("details.sizes"));
    const value = (/** @type {string} */ name) => Number(/** @type {HTMLInputElement} */ (sure(form).elements.namedItem(name)).value);
    const wanted = sizes?.open && value("reach") && value("search");
    this.overlay.sizes = wanted ? { reach: value("reach"), search: value("search") } : null;
    this.overlay.draw();
  }

  /** @param {Record<string, number>} sizes */
  writeSizes(sizes) {
    for (const [name, value] of Object.entries(sizes)) {
      const input = /** @type {HTMLInputElement} */ (this.form?.elements.namedItem(name));
      if (!input) continue;
      input.value = String(value);
      input.dispatchEvent(new Event("input", { bubbles: true }));
    }
  }
}
