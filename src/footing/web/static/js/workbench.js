// The workbench: puts the parts of the page together.

import { Bench } from "./state.js";
import { Cards } from "./cards.js";
import { Edits } from "./edits.js";
import { Frames } from "./frames.js";
import { Graph } from "./graph.js";
import { Keys } from "./keys.js";
import { Lengths } from "./lengths.js";
import { Overlay } from "./overlay.js";
import { Playing } from "./playing.js";
import { Pointing } from "./pointing.js";
import { Score } from "./score.js";
import { Stage } from "./stage.js";
import { Table } from "./table.js";
import { Upload } from "./upload.js";

const NOTE_STAYS = 6000;

const element = (/** @type {string} */ id) => document.getElementById(id);

const root = element("bench");
const bench = new Bench(JSON.parse(element("first-view").textContent), root.dataset.step);
const edits = new Edits(bench, element("saved"));
const frames = new Frames(bench);
const stage = new Stage(bench, frames, element("stage"));
const overlay = new Overlay(bench, stage);
const pointing = new Pointing(bench, stage, overlay, edits);
const score = new Score(bench, frames, edits, element("score"));
const playing = new Playing(bench, frames, element("score"));
const graph = new Graph(bench, element("graph"));
const table = new Table(bench, element("table"), element("table-body"));
new Lengths(bench, stage, edits);
new Upload(bench, element("stage"));
new Cards(bench, edits, element("cards"));
new Keys(bench, { stage, playing, pointing, edits });

function showUndo() {
  for (const [id, what] of [["undo", bench.view.undo], ["redo", bench.view.redo]]) {
    const button = /** @type {HTMLButtonElement} */ (element(id));
    button.disabled = !what;
    button.title = what ? `${id === "undo" ? "Undo" : "Redo"}: ${what}` : `Nothing to ${id}`;
  }
}

function showSteps() {
  for (const link of document.querySelectorAll(".rail a")) {
    const { step } = /** @type {HTMLElement} */ (link).dataset;
    const state = bench.view.steps?.[step] ?? "untouched";
    /** @type {HTMLElement} */ (link.querySelector(".state")).dataset.state = state;
    link.querySelector(".state-text").textContent = state;
    if (step === bench.step) link.setAttribute("aria-current", "step");
    else link.removeAttribute("aria-current");
  }
  root.dataset.step = bench.step;
  root.dataset.tool = bench.tool || (pointing.marking ? "mark" : "");
}

function showNote(/** @type {string} */ text) {
  const note = element("stage-note");
  note.textContent = text;
  note.hidden = !text;
  clearTimeout(Number(note.dataset.timer));
  note.dataset.timer = String(setTimeout(() => (note.hidden = true), NOTE_STAYS));
}

function goToStep(/** @type {string} */ step) {
  bench.setStep(step);
  requestAnimationFrame(() => stage.resize());
}

document.querySelector(".rail").addEventListener("click", (event) => {
  const link = /** @type {HTMLAnchorElement} */ (/** @type {Element} */ (event.target).closest("a"));
  const mouse = /** @type {MouseEvent} */ (event);
  if (!link || mouse.ctrlKey || mouse.metaKey) return;
  event.preventDefault();
  history.pushState({}, "", link.href);
  goToStep(link.dataset.step);
});
window.addEventListener("popstate", () => goToStep(location.pathname.split("/").at(-1)));

element("undo").addEventListener("click", () => edits.send({ kind: "undo" }));
element("redo").addEventListener("click", () => edits.send({ kind: "redo" }));
element("back").addEventListener("click", () => bench.stepBy(-1));
element("forward").addEventListener("click", () => bench.stepBy(1));
element("zoom-in").addEventListener("click", () => stage.zoom(1));
element("zoom-out").addEventListener("click", () => stage.zoom(-1));
element("zoom-fit").addEventListener("click", () => stage.fit());
element("projector").addEventListener("click", () => setProjector(!document.documentElement.matches(".projector")));

element("stage").addEventListener("click", (event) => {
  const text = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("[data-type-at]"));
  if (text) /** @type {HTMLInputElement} */ (document.querySelector(text.dataset.typeAt))?.select();
});
element("go-to").addEventListener("change", (event) => {
  const input = /** @type {HTMLInputElement} */ (event.target);
  const last = (bench.footage?.frames ?? 1) - 1;
  const frame = Number(input.value);
  if (!/^\d+$/.test(input.value.trim()) || frame > last) bench.say(`Type a frame from 0 to ${last}.`);
  else bench.goTo(frame);
  input.value = "";
  input.blur();
});

function setProjector(/** @type {boolean} */ on) {
  document.documentElement.classList.toggle("projector", on);
  element("projector").setAttribute("aria-pressed", String(on));
  localStorage.setItem("projector", String(on));
}

bench.addEventListener("view", showUndo);
for (const name of ["view", "step", "tool"]) bench.addEventListener(name, showSteps);
bench.addEventListener("note", (event) => showNote(/** @type {CustomEvent} */ (event).detail));
let shownContent = bench.footage?.content;
bench.addEventListener("view", () => {
  if (bench.footage?.content === shownContent) return;
  shownContent = bench.footage?.content;
  stage.picture = null;
  stage.fit();
  stage.showFrame();
});

setProjector(localStorage.getItem("projector") === "true");
showUndo();
showSteps();
table.draw();
score.draw();
stage.showFrame();
graph.update();
document.fonts.ready.then(() => score.draw());
root.dataset.ready = "true";
