// Comments beside a study that was handed in: where the next one goes, and flags where there are some.

import { svg } from "./drawing.js";
import { byId, part } from "./parts.js";

const FLAG = "M0,0V-26H18V-12H0";

export class Comments {
  /** @param {import("./state.js").Bench} bench @param {import("./overlay.js").Overlay} overlay */
  constructor(bench, overlay) {
    this.bench = bench;
    this.overlay = overlay;
    this.element = document.getElementById("comments");
    overlay.comments = this;
    if (!this.element) return;
    this.goWhereAsked();
    document.body.addEventListener("htmx:afterSwap", () => this.renew());
    document.body.addEventListener("htmx:responseError", (event) => this.refused(/** @type {CustomEvent} */ (event)));
    this.element.addEventListener("click", (event) => this.click(event));
    this.element.addEventListener("change", (event) => this.change(event));
    bench.on(["frame", "body", "step", "view"], () => this.offerPlaces());
  }

  /** A link to a comment names the frame and the body that it is about. */
  goWhereAsked() {
    const asked = new URLSearchParams(location.search);
    const [frame, body] = [asked.get("frame"), asked.get("body")];
    if (body) this.bench.pickBody(Number(body));
    if (frame) this.bench.goTo(Number(frame));
  }

  renew() {
    this.offerPlaces();
    this.overlay.draw();
  }

  /** @returns {{about: string, words: string}[]} */
  get all() {
    const found = this.element?.querySelectorAll(".comment") ?? [];
    return [...found].map((one) => ({ about: /** @type {HTMLElement} */ (one).dataset.about ?? "", words: one.textContent ?? "" }));
  }

  /** Flags at the marks and in the corner of the frame that is shown, each with its number in the list. */
  flags() {
    const { bench } = this;
    const footage = bench.footage?.id;
    return this.all.flatMap(({ about }, nth) => {
      const [kind, owner, number] = about.split("/");
      if (Number(number) !== bench.frame) return [];
      if (kind === "frame") return Number(owner) === footage ? [flag([14, 44], nth)] : [];
      const body = bench.view.bodies.find((one) => one.id === Number(owner.replace("b", "")));
      const mark = body && bench.marksOf(body).find(([at]) => at === Number(number));
      return mark ? [flag(this.overlay.stage.pointOf([mark[1], mark[2]]), nth)] : [];
    });
  }

  /** What the next comment can be about, as the page stands. */
  offerPlaces() {
    const select = /** @type {HTMLSelectElement | null} */ (document.getElementById("comment-place"));
    if (!select) return;
    const before = select.value;
    const options = this.places().map(([about, says]) => new Option(says, about, false, about === before));
    select.replaceChildren(...options);
    this.put();
  }

  /** @returns {[string, string][]} */
  places() {
    const { bench } = this;
    const { view, frame, footage } = bench;
    /** @type {[string, string][]} */
    const found = [["", "the whole"]];
    if (footage) found.push([`frame/${footage.id}/${frame}`, `frame ${frame}`]);
    for (const body of view.bodies) {
      if (!bench.marksOf(body).some(([at]) => at === frame)) continue;
      found.push([`mark/${body.id}/${frame}`, `the mark of ${body.name} in frame ${frame}`]);
      found.push([`point/${body.id}/${frame}`, `the point of ${body.name} of frame ${frame} on the graph`]);
      for (const column of view.measured) {
        found.push([`cell/b${body.id}/${frame}/${column.key}`, `${column.symbol ?? column.key} of ${body.name} in frame ${frame}`]);
      }
    }
    if (view.sheet) {
      const row = bench.cells.first;
      for (const column of view.columns) found.push([`cell/s${view.sheet.id}/${row}/${column.key}`, `${column.symbol} in row ${row}`]);
    }
    for (const fit of view.fits) found.push([`fit/${fit.id}`, `the fit ${fit.label_text || fit.title}`]);
    for (const finding of view.findings) found.push([`finding/${finding.id}`, `the finding ${finding.name}`]);
    return found;
  }

  put() {
    const select = byId("comment-place", HTMLSelectElement);
    part(/** @type {HTMLElement} */ (this.element), "[data-about-form] [name=about]", HTMLInputElement).value = select.value;
  }

  /** @param {Event} event */
  change(event) {
    const select = /** @type {HTMLSelectElement} */ (event.target);
    if (select.id === "comment-place") this.put();
    if (!("remark" in select.dataset) || !select.value) return;
    const words = part(/** @type {Element} */ (select.closest("form")), "textarea", HTMLTextAreaElement);
    words.setRangeText(select.value, words.selectionStart, words.selectionEnd, "end");
    select.value = "";
    words.focus();
  }

  /**
   * To the place of a comment, where it is on this source.
   * @param {MouseEvent} event
   */
  click(event) {
    const link = /** @type {HTMLAnchorElement | null} */ (/** @type {Element} */ (event.target).closest("a[data-comment-frame]"));
    if (!link || new URL(link.href).searchParams.get("source") !== String(this.bench.footage?.id)) return;
    event.preventDefault();
    const { commentFrame, commentBody } = link.dataset;
    if (commentBody) this.bench.pickBody(Number(commentBody));
    this.bench.goTo(Number(commentFrame));
  }

  /** @param {CustomEvent<{elt: Element, xhr: XMLHttpRequest}>} event */
  refused(event) {
    const { elt, xhr } = event.detail;
    const message = elt.querySelector(".message");
    if (message) message.textContent = JSON.parse(xhr.responseText).error;
  }
}

/** @param {number[]} point @param {number} nth */
function flag([x, y], nth) {
  return svg("g", { key: `comment/${nth}`, class: "comment-flag", transform: `translate(${x} ${y})` }, [
    svg("path", { d: FLAG }),
    svg("text", { x: 9, y: -15, "text-anchor": "middle" }, [String(nth + 1)]),
  ]);
}
