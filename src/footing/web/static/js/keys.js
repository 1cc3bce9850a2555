// The keys. Stepping lies under the left hand, so that the right one can point.

const NUDGE = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
const FINE = 0.1;
/** At Graph. @type {Record<string, string>} */
const TOOLS = { q: "graph-slope", c: "graph-stretch", v: "graph-try", b: "graph-sketch" };

export class Keys {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {{stage: import("./stage.js").Stage, playing: import("./playing.js").Playing,
   *   pointing: import("./pointing.js").Pointing, edits: import("./edits.js").Edits,
   *   tools: import("./graph-tools.js").GraphTools}} parts
   */
  constructor(bench, parts) {
    this.bench = bench;
    this.parts = parts;
    this.help = document.getElementById("keys");
    this.button = document.getElementById("keys-button");
    this.button.addEventListener("click", () => this.toggleHelp());
    document.addEventListener("keydown", (event) => this.down(event));
    document.addEventListener("keyup", (event) => {
      if (event.key in NUDGE) parts.pointing.endNudge();
    });
  }

  toggleHelp() {
    this.help.hidden = !this.help.hidden;
    this.button.setAttribute("aria-expanded", String(!this.help.hidden));
  }

  /** Panels and small forms that lie over the page. */
  closeWhatIsOpen() {
    if (!this.help.hidden) this.toggleHelp();
    const soundness = document.getElementById("soundness");
    if (!soundness.hidden) document.getElementById("soundness-button").click();
    document.getElementById("straight-forms").hidden = true;
    for (const button of document.querySelectorAll("form:not([hidden]) > [data-cancel], .camera:not([hidden]) [data-close]")) {
      /** @type {HTMLElement} */ (button).click();
    }
  }

  /** @param {KeyboardEvent} event */
  down(event) {
    const target = /** @type {HTMLElement} */ (event.target);
    const typing = target.matches("input:not([type=checkbox]), select, textarea");
    if (typing) {
      if (event.key !== "Escape") return;
      target.blur();
      this.closeWhatIsOpen();
      return;
    }
    if (event.ctrlKey || event.metaKey) {
      if (event.key.toLowerCase() !== "z") return;
      this.parts.edits.send({ kind: event.shiftKey ? "redo" : "undo" });
    } else if (event.key in NUDGE) {
      const size = event.shiftKey ? FINE : 1;
      const [dx, dy] = NUDGE[event.key];
      if (!this.parts.pointing.nudge(dx * size, dy * size)) return;
    } else if (event.key === " " && target.matches("button, a, [role=button]")) return;
    else if (!this.press(event.key.toLowerCase(), event.shiftKey)) return;
    event.preventDefault();
  }

  /** @param {string} key @param {boolean} shift @returns {boolean} whether the key means something */
  press(key, shift) {
    const { bench } = this;
    const { stage, playing, edits, pointing } = this.parts;
    const { footage, body } = bench;
    if (key === "?") this.toggleHelp();
    else if (key === "escape") {
      bench.setTool("");
      pointing.cancel();
      this.closeWhatIsOpen();
    } else if (key === "w" && bench.step === "graph") this.parts.tools.showAll();
    else if (key in TOOLS && bench.step === "graph") bench.setTool(bench.tool === TOOLS[key] ? "" : TOOLS[key]);
    else if (!footage) return false;
    else if (key === "d" || key === "f") {
      const way = key === "f" ? 1 : -1;
      if (shift) bench.stepFrames(way);
      else bench.stepBy(way);
    } else if (bench.isPicture && "ag ".includes(key)) return false;
    else if (key === "a") bench.goTo(bench.motionEnds[0]);
    else if (key === "g") bench.goTo(bench.motionEnds[1]);
    else if (key === " ") playing.toggle();
    else if (key === "w") stage.fit();
    else if (key === "z") edits.send({ kind: "undo" });
    else if (key === "t" && body) {
      const { bodies } = bench.view;
      bench.pickBody(bodies[(bodies.indexOf(body) + 1) % bodies.length].id);
    } else if (/^[1-9]$/.test(key) && bench.view.bodies[Number(key) - 1]) {
      bench.pickBody(bench.view.bodies[Number(key) - 1].id);
    } else if (key === "s") return pointing.markAtPointer();
    else if (key === "y" && bench.step === "mark" && document.querySelector("#card-eye")) {
      /** @type {HTMLInputElement} */ (document.querySelector("#card-eye [name=text]")).focus();
    } else if (key === "c" && bench.step === "mark" && document.querySelector(".decide [data-confirm]")) {
      /** @type {HTMLElement} */ (document.querySelector(".decide [data-confirm]")).click();
    } else if (key === "r" && bench.step === "mark" && body && !bench.isPicture) bench.goOnFromLast();
    else if (key === "h" && bench.step === "mark" && body?.kind === "marked" && !bench.isPicture) {
      edits.send({ kind: "hide_body", body: body.id, frame: bench.frame });
      bench.goOn();
    } else if (key === "x" && bench.step === "mark" && body?.kind === "marked" && !bench.isPicture) {
      const aside = !body.aside.includes(bench.frame);
      edits.send({ kind: "set_mark_aside", body: body.id, frame: bench.frame, aside });
    } else if (key === "e" && bench.step === "mark" && body) {
      const marks = bench.marksOf(body);
      const number = bench.isPicture ? marks.at(-1)?.[0] : bench.frame;
      const said = body.hidden.includes(number) || body.doubts.some(([at]) => at === number);
      if (!said && !marks.some(([at]) => at === number)) return false;
      edits.send({ kind: "remove_mark", body: body.id, frame: number });
    } else return false;
    return true;
  }
}
