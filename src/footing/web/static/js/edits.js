// The page's side of the one door for changes: edits are sent one after the other, each is retried
// with the same token until the server has answered, and the answer is the new state.

const RETRY_AFTER = 1000;

export class Edits {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} saved */
  constructor(bench, saved) {
    this.bench = bench;
    this.saved = saved;
    this.waiting = 0;
    /** @type {Promise<any>} */
    this.tail = Promise.resolve();
  }

  /**
   * Send an edit.
   * @param {Record<string, any>} edit
   * @param {HTMLElement | null} [message] where a refusal is shown; the stage if none is given
   * @returns {Promise<{ok: boolean, made: string | null, field: string | null}>}
   */
  send(edit, message = null) {
    this.waiting += 1;
    this.show("saving …");
    const answer = this.tail.then(() => this.post(edit, message));
    this.tail = answer.catch(() => undefined);
    return answer;
  }

  /** @param {Record<string, any>} edit @param {HTMLElement | null} message */
  async post(edit, message) {
    const token = newToken();
    const { asSeen } = this.bench;
    const body = JSON.stringify({ edit, based_on: this.bench.view.seq, token });
    const response = await this.fetchUntilAnswered(body);
    this.waiting -= 1;
    const answer = await response.json();
    this.show(this.waiting ? "saving …" : "saved ✓");
    if (message) message.textContent = response.ok ? "" : answer.error;
    else if (!response.ok) this.bench.say(answer.error);
    if (answer.view && asSeen === this.bench.asSeen) this.bench.setView(answer.view);
    else if (answer.view) await this.bench.fetchView(); // another source came on the stage meanwhile
    return { ok: response.ok, made: answer.made ?? null, field: answer.field ?? null };
  }

  /** @param {string} body */
  async fetchUntilAnswered(body) {
    const options = { method: "POST", body, headers: { "Content-Type": "application/json" } };
    for (;;) {
      try {
        const response = await fetch(`/api/studies/${this.bench.view.id}/edits${this.bench.asSeen}`, options);
        if (response.status < 500) return response;
      } catch {
        // no connection: the same request is made again below
      }
      this.show("not saved yet: no answer, trying again");
      await new Promise((resolve) => setTimeout(resolve, RETRY_AFTER));
    }
  }

  /** @param {string} text */
  show(text) {
    this.saved.textContent = text;
    this.saved.classList.toggle("unsaved", text.startsWith("not"));
  }
}

/** A token for one edit. Works on plain http too, where crypto.randomUUID does not. */
function newToken() {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (byte) => byte.toString(16).padStart(2, "0")).join("");
}
