// Following: asks the server for it, shows how far it is, and leads from one open frame to the next.

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
    cards.addEventListener("submit", (event) => this.submit(event));
    cards.addEventListener("click", (event) => this.click(event));
    cards.addEventListener("input", () => this.readSizes());
    bench.addEventListener("follow", () => this.show());
    bench.addEventListener("step", () => this.readSizes());
    bench.addEventListener("sizes", (event) => this.writeSizes(/** @type {CustomEvent} */ (event).detail));
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
    await this.edits.tail; // the first mark may still be on its way
    const response = await fetch(`/api/studies/${this.bench.view.id}/follows`, {
      method: "POST",
      body: JSON.stringify(wanted),
      headers: { "Content-Type": "application/json" },
    });
    const answer = await response.json();
    form.querySelector(".message").textContent = response.ok ? "" : answer.error;
    if (!response.ok) return;
    await this.bench.fetchView();
    // a single frame is followed to be looked at
    if (Math.abs(wanted.to - wanted.frame) === this.bench.stride) this.bench.goTo(wanted.to);
  }

  /** @param {MouseEvent} event */
  async click(event) {
    const button = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("button"));
    if (!button) return;
    const { followTo, control, decide, body, frame } = button.dataset;
    if (followTo) {
      const to = followTo === "next" ? String(this.bench.frame + this.bench.stride) : followTo;
      /** @type {HTMLInputElement} */ (this.form.elements.namedItem("to")).value = to;
      if (followTo === "next") this.form.requestSubmit();
    } else if (control) {
      const { follow, id } = this.bench.view;
      const response = await fetch(`/api/studies/${id}/follows/${follow.id}/${control}`, { method: "POST" });
      if (!response.ok) this.bench.say((await response.json()).error);
      await this.bench.fetchView();
    } else if (decide) {
      const edit = { kind: "decide_doubt", body: Number(body), frame: Number(frame), decision: decide };
      const answer = await this.edits.send(edit);
      if (answer.ok) this.goToNext();
    }
  }

  /** The next frame that waits for a decision. */
  goToNext() {
    for (const body of this.bench.view.bodies) {
      if (!body.doubts.length) continue;
      this.bench.pickBody(body.id);
      this.bench.goTo(body.doubts[0][0]);
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
    const text = this.cards.querySelector("[data-follow-text]");
    text.textContent = follow.at === null ? "waiting for its turn …" : `frame ${follow.at} of ${follow.first} … ${follow.last}`;
  }

  /** Patch and search area on the stage are those of the form, while it sets them by hand. */
  readSizes() {
    const form = this.form;
    const sizes = /** @type {HTMLDetailsElement | null} */ (form?.querySelector("details.sizes"));
    const value = (name) => Number(/** @type {HTMLInputElement} */ (form.elements.namedItem(name)).value);
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
