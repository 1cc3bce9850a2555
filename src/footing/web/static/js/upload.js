// Bringing files in: dropped on the stage or chosen, and those that phones are sending.

import { part } from "./parts.js";
import { megabytes, sendFile } from "./sending.js";
import { takeTable } from "./tables.js";

const TABLE = /\.(csv|tsv|txt|ods|xlsx)$/i;
const GONE_AFTER = 4000; // ms that a file which has arrived stays in the list

export class Upload {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} stage */
  constructor(bench, stage) {
    this.bench = bench;
    this.drop = part(stage, "#drop");
    this.file = part(stage, "#file", HTMLInputElement);
    this.list = part(stage, "#arrivals");
    /**
     * The footage whose file is replaced by the next file chosen.
     * @type {string}
     */
    this.replaces = "";
    bench.on(["view", "step"], () => this.show());
    this.file.addEventListener("change", () => this.sendAll([...(this.file.files ?? [])]));
    document.addEventListener("click", (event) => this.click(event));
    stage.addEventListener("dragover", (event) => event.preventDefault());
    stage.addEventListener("drop", (event) => {
      event.preventDefault();
      this.replaces = "";
      this.sendAll([...(event.dataTransfer?.files ?? [])]);
    });
    this.show();
  }

  show() {
    this.drop.hidden = Boolean(this.bench.footage || this.bench.sheet);
  }

  /**
   * Buttons of the cards: another source, another file for this one.
   * @param {MouseEvent} event
   */
  click(event) {
    const button = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("[data-choose-file]"));
    if (!button) return;
    this.replaces = button.dataset.replaces ?? "";
    this.file.click();
  }

  /** @param {File[]} files */
  sendAll(files) {
    for (const file of files) this.send(file);
    this.file.value = "";
  }

  /** @param {File} file */
  send(file) {
    const line = this.line(`own-${file.name}-${file.size}`, file.name);
    if (TABLE.test(file.name)) {
      takeTable(this.bench, file, file.name.replace(TABLE, "")).then((refusal) => (refusal ? line.refuse(refusal) : line.finish()));
      return;
    }
    /** @type {Record<string, string>} */
    const metadata = this.replaces ? { replaces: this.replaces } : {};
    this.replaces = "";
    const sending = sendFile(file, `/api/studies/${this.bench.view.id}/uploads`, metadata, {
      progress: (sent, size) => line.show(sent, size),
      waiting: () => line.say("No connection; trying again …"),
      refused: (reason) => line.refuse(reason),
      used: (made) => {
        line.finish();
        this.arrived(made);
      },
    });
    line.stop = () => sending.stop();
  }

  /**
   * What a phone is sending, as the server tells.
   * @param {any} upload
   */
  told(upload) {
    if (!upload.phone) return; // this page, or another tab, shows its own
    const line = this.line(`phone-${upload.id}`, `${upload.name} from a phone`);
    if (upload.state === "refused") line.refuse(upload.reason);
    else if (upload.state === "used") {
      line.finish();
      this.arrived(upload.made);
    } else line.show(upload.received, upload.size);
  }

  /**
   * A new source is shown at once, unless somebody is at work on another.
   * @param {number} made
   */
  async arrived(made) {
    const { bench } = this;
    if (!bench.footage || bench.here.showsArrivals) {
      if (bench.footage?.id === made) await bench.fetchView();
      else await bench.showSource(made);
    } else await bench.fetchView();
    if (bench.footage?.id !== made) bench.say("A new source has arrived; it is in the list at Sources.");
  }

  /**
   * The line of a file in the list.
   * @param {string} key @param {string} name
   */
  line(key, name) {
    const present = /** @type {any} */ (this.list.querySelector(`[data-key="${CSS.escape(key)}"]`));
    if (present) return present.line;
    const element = /** @type {any} */ (document.createElement("div"));
    element.dataset.key = key;
    element.innerHTML = `<b></b><progress class="progress is-primary" max="100"></progress>
      <span class="soft figures share"></span><p class="message" role="alert"></p>
      <button type="button" class="button is-small">Stop</button>`;
    element.querySelector("b").textContent = name;
    element.querySelector("progress").setAttribute("aria-label", `Progress of ${name}`);
    this.list.append(element);
    element.line = new Line(element);
    return element.line;
  }
}

/** One file on its way. */
class Line {
  /** @param {HTMLElement} element */
  constructor(element) {
    this.element = element;
    this.stop = () => {};
    this.button = part(element, "button");
    this.button.hidden = true;
    this.button.addEventListener("click", () => {
      this.stop();
      element.remove();
    });
  }

  /** @param {string} name @returns {HTMLElement} */
  part(name) {
    return part(this.element, name);
  }

  /** @param {number} sent @param {number} size */
  show(sent, size) {
    /** @type {HTMLProgressElement} */ (this.part("progress")).value = (100 * sent) / size;
    this.part(".share").textContent = `${megabytes(sent)} of ${megabytes(size)} MB`;
    this.part(".message").textContent = "";
    this.button.hidden = sent === size;
  }

  /** @param {string} text */
  say(text) {
    this.part(".message").textContent = text;
  }

  /** @param {string} reason */
  refuse(reason) {
    this.say(reason);
    this.part("progress").hidden = true;
    this.part(".share").textContent = "";
    this.button.textContent = "Close";
    this.button.hidden = false;
    this.stop = () => {};
  }

  finish() {
    this.part(".share").textContent = "arrived";
    this.button.hidden = true;
    setTimeout(() => this.element.remove(), GONE_AFTER);
  }
}
