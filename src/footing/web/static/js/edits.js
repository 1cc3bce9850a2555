// The page's side of the one door for changes. Edits are sent one after the other, each with a token
// by which the server knows a repetition. What has not been answered is kept beside the page, so
// that a reload or a sign-in in between loses nothing; what cannot be stored is named and set aside,
// and the rest goes on.

const RETRY_AFTER = 1000; // ms
const SIGNED_OUT_AFTER = 2000; // ms between two looks whether somebody signed in again
const FAULTS = 2; // answers of 500 after which an edit is set aside

/** @typedef {{edit: Record<string, any>, based_on: number, token: string}} Request */
/** @typedef {{ok: boolean, made: number | null, field: string | null}} Outcome */

export class Edits {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} saved */
  constructor(bench, saved) {
    this.bench = bench;
    this.saved = saved;
    /**
     * Not answered yet, in the order in which they go.
     * @type {Request[]}
     */
    this.unsent = [];
    /**
     * Those that the server could not store.
     * @type {Request[]}
     */
    this.failed = [];
    this.away = false;
    /** Whether this page only looks, so that nothing is sent. */
    this.looking = false;
    /**
     * Tokens of the edits of this window.
     * @type {Set<string>}
     */
    this.own = new Set();
    this.again = Object.assign(document.createElement("button"), { type: "button", className: "button is-small", hidden: true });
    this.again.textContent = "Try again";
    this.again.addEventListener("click", () => this.tryAgain());
    this.saved.after(this.again);
    /** @type {Promise<any>} */
    this.tail = Promise.resolve();
    addEventListener("beforeunload", (event) => {
      if (this.unsent.length || this.failed.length) event.preventDefault();
    });
    this.takeUp();
  }

  /** How many edits wait for an answer. */
  get waiting() {
    return this.unsent.length;
  }

  /** Under which the page keeps what is not answered. */
  get key() {
    return `unsent-${this.bench.view.id}`;
  }

  /** Send what an earlier page of this window could not send any more. */
  takeUp() {
    const left = /** @type {Request[]} */ (JSON.parse(sessionStorage.getItem(this.key) ?? "[]"));
    for (const request of left) this.enqueue(request, null);
  }

  /**
   * Send an edit.
   * @param {Record<string, any>} edit
   * @param {HTMLElement | null} [message] where a refusal is shown; the stage if none is given
   * @param {{place: (string | number)[], value: any} | null} [supposed] what is shown until the answer
   * @returns {Promise<Outcome>}
   */
  send(edit, message = null, supposed = null) {
    if (this.looking) {
      this.bench.say("You are only looking here; nothing is changed.");
      this.bench.tellView();
      return Promise.resolve({ ok: false, made: null, field: null });
    }
    const request = { edit, based_on: -1, token: newToken() };
    if (supposed) this.bench.suppose(request, supposed.place, supposed.value);
    return this.enqueue(request, message);
  }

  /** @param {Request} request @param {HTMLElement | null} message @returns {Promise<Outcome>} */
  enqueue(request, message) {
    this.unsent.push(request);
    this.own.add(request.token);
    this.keep();
    this.show();
    const answer = this.tail.then(() => this.post(request, message));
    this.tail = answer.catch(() => undefined);
    return answer;
  }

  /** @param {Request} request @param {HTMLElement | null} message @returns {Promise<Outcome>} */
  async post(request, message) {
    if (request.based_on < 0) request.based_on = this.bench.view.seq;
    this.keep();
    const { asSeen } = this.bench;
    const response = await this.fetchUntilAnswered(JSON.stringify(request));
    const answer = await response.json().catch(() => ({ error: `Footing answered ${response.status}.` }));
    this.unsent = this.unsent.filter((one) => one !== request);
    this.bench.answered(request);
    if (answer.undone) this.bench.say(takenBack(answer.undone));
    if (response.status >= 500) this.failed.push(request);
    this.keep();
    this.show();
    const said = response.status >= 500 ? `“${name(request.edit)}” could not be stored. ${answer.error}` : answer.error;
    if (message) message.textContent = response.ok ? "" : said;
    else if (!response.ok) this.bench.say(said);
    const told = "seq" in answer;
    if (!told) this.bench.tellView(); // what is shown is what is stored
    else if (asSeen !== this.bench.asSeen || !this.bench.take(answer)) await this.bench.fetchView();
    return { ok: response.ok, made: answer.made_key ?? null, field: answer.field ?? null };
  }

  /** @param {string} body */
  async fetchUntilAnswered(body) {
    const options = { method: "POST", body, headers: { "Content-Type": "application/json" } };
    for (let faults = 0; ; ) {
      let wait = RETRY_AFTER;
      try {
        const query = this.bench.asked(this.unsent.length === 1);
        const response = await fetch(`/api/studies/${this.bench.view.id}/edits?${query}`, options);
        this.setAway(false);
        if (response.status === 500) faults += 1;
        if (response.status < 500 && response.status !== 401) return response;
        if (faults === FAULTS) return response;
        if (response.status === 401) {
          this.show("not saved: you are signed out; sign in in another window, and this goes on");
          wait = SIGNED_OUT_AFTER;
        } else {
          this.show("not saved yet: Footing is busy, trying again");
          wait = 1000 * Number(response.headers.get("Retry-After") ?? 1);
        }
      } catch {
        this.setAway(true); // no connection: the same request is made again
      }
      await new Promise((resolve) => setTimeout(resolve, wait));
    }
  }

  /**
   * Whether the server is away, as an edit or the live updates notice.
   * @param {boolean} away
   */
  setAway(away) {
    if (this.away === away) return;
    this.away = away;
    this.show();
  }

  /** Send once more what could not be stored. */
  tryAgain() {
    for (const request of this.failed.splice(0)) {
      request.based_on = -1;
      this.enqueue(request, null);
    }
  }

  /** Keep what is not stored, for the next page of this window. */
  keep() {
    const left = [...this.failed, ...this.unsent];
    if (left.length) sessionStorage.setItem(this.key, JSON.stringify(left));
    else sessionStorage.removeItem(this.key);
  }

  /** @param {string} [text] */
  show(text = this.state) {
    this.saved.textContent = text;
    this.saved.classList.toggle("unsaved", this.away || this.failed.length > 0 || text.startsWith("not"));
    this.again.hidden = this.failed.length === 0;
  }

  get state() {
    const waiting = this.unsent.length === 1 ? "1 change waits" : `${this.unsent.length} changes wait`;
    if (this.away) return this.unsent.length ? `not saved yet: no answer, ${waiting} here` : "no connection to Footing";
    if (this.failed.length) return `not saved: ${this.failed.map((one) => name(one.edit)).join(", ")}`;
    return this.unsent.length ? "saving …" : "saved ✓";
  }
}

/**
 * What an undo or a redo did, as it is said.
 * @param {{kind: string, label: string}} undone @param {string} [by]
 */
export function takenBack({ kind, label }, by) {
  const done = kind === "undo" ? "taken back" : "made again";
  return by ? `In another window ${by} has ${done}: ${label}.` : `${done[0].toUpperCase()}${done.slice(1)}: ${label}.`;
}

/**
 * An edit in words.
 * @param {Record<string, any>} edit
 */
function name(edit) {
  const words = String(edit.kind).replaceAll("_", " ");
  return edit.frame === undefined ? words : `${words} in frame ${edit.frame}`;
}

/** A token for one edit. Works on plain http too, where crypto.randomUUID does not. */
function newToken() {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (byte) => byte.toString(16).padStart(2, "0")).join("");
}
