// The workbench: puts the parts of the page together.

import { byId, part } from "./parts.js";
import { Bench } from "./state.js";
import { Bars } from "./bars.js";
import { CameraPanel } from "./camera.js";
import { Cards } from "./cards.js";
import { Comments } from "./comments.js";
import { Comparing } from "./comparing.js";
import { draw, html } from "./drawing.js";
import { Edits } from "./edits.js";
import { FitBoxes } from "./fit-boxes.js";
import { FitTrial } from "./fit-trial.js";
import { Following } from "./following.js";
import { Frames } from "./frames.js";
import { Graph } from "./graph.js";
import { GraphTools } from "./graph-tools.js";
import { Impacts } from "./impacts.js";
import { Keys } from "./keys.js";
import { Ledger } from "./ledger.js";
import { Lesson } from "./lesson-bench.js";
import { Legs } from "./legs.js";
import { Lengths } from "./lengths.js";
import { Live } from "./live.js";
import { Models } from "./models.js";
import { Overlay } from "./overlay.js";
import { PlaceKeeper } from "./place.js";
import { Playing } from "./playing.js";
import { Pointing } from "./pointing.js";
import { Report } from "./report.js";
import { Score } from "./score.js";
import { SheetGrid } from "./sheet.js";
import { Straighten } from "./straighten.js";
import { Stage } from "./stage.js";
import { Table } from "./table.js";
import { Together } from "./together.js";
import { Tables } from "./tables.js";
import { Things } from "./things.js";
import { Upload } from "./upload.js";
import { WorkingPanel } from "./working.js";

const NOTE_STAYS = 6000;

const root = byId("bench");
const bench = new Bench(JSON.parse(byId("first-view").textContent ?? ""), root.dataset.step ?? "", JSON.parse(root.dataset.place ?? "null"));
const edits = new Edits(bench, byId("saved"));
const frames = new Frames(bench);
const stage = new Stage(bench, frames, byId("stage"));
const overlay = new Overlay(bench, stage);
const things = new Things(bench, overlay, edits);
const pointing = new Pointing(bench, stage, overlay, things);
const impacts = new Impacts(bench, edits);
const score = new Score(bench, frames, edits, { impacts, legs: new Legs(bench, edits) }, byId("score"));
const playing = new Playing(bench, frames, byId("score"));
const graph = new Graph(bench, byId("graph"));
new FitBoxes(bench, graph, edits);
const tools = new GraphTools(bench, graph, edits);
new SheetGrid(bench, edits, byId("sheet"));
new Tables(bench, edits);
new FitTrial(bench, graph);
new Straighten(bench, edits, graph);
const table = new Table(bench, byId("table"), byId("table-body"));
new Lengths(bench, stage, edits);
const upload = new Upload(bench, byId("stage"));
new CameraPanel(bench, byId("camera"), upload);
new Cards(bench, edits, byId("cards"));
new Following(bench, edits, overlay, byId("cards"));
new Comparing(bench, stage, byId("moments"));
new Bars(bench, byId("bars"));
new Ledger(bench, byId("ledger"));
const models = new Models(bench, edits, byId("model"));
new WorkingPanel(bench, byId("working"));
const report = new Report(bench, edits, byId("report"));
new Keys({ bench, stage, playing, pointing, edits, tools, impacts, models, report });
const looking = root.dataset.looking === "true";
edits.looking = looking;
const lesson = new Lesson(bench, root);
const together = new Together(bench, stage, { goToStep, looking, role: root.dataset.role ?? "", name: root.dataset.name ?? "" });
lesson.onShow = (/** @type {boolean} */ on) => together.lead(on);
new Live(bench, edits, upload, together, (notice) => lesson.heard(notice));
if (!looking) new PlaceKeeper(bench);
new Comments(bench, overlay);

function showUndo() {
  for (const [id, what] of Object.entries({ undo: bench.view.undo, redo: bench.view.redo })) {
    const button = byId(id, HTMLButtonElement);
    button.disabled = !what;
    button.title = what ? `${id === "undo" ? "Undo" : "Redo"}: ${what}` : `Nothing to ${id}`;
  }
}

function showSoundness() {
  const shaky = bench.view.checks.filter((check) => !check.sound);
  const button = byId("soundness-button");
  button.hidden = !bench.view.checks.length;
  part(button, ".count").textContent = `${bench.view.checks.length - shaky.length} · ${shaky.length}`;
  button.dataset.sound = String(!shaky.length);
  button.title = `${bench.view.checks.length - shaky.length} sound, ${shaky.length} shaky`;
  draw(
    byId("soundness-list"),
    bench.view.checks.map(({ sound, title, reason, step, number }) => {
      /** @type {Record<string, number>} */
      const place = number === null ? {} : { "data-number": number };
      return html("li", { "data-sound": String(sound) }, [
        html("span", { class: "bubble", "aria-hidden": "true" }),
        html("div", {}, [html("b", {}, [title]), " ", html("span", { class: "soft state-word" }, [sound ? "sound" : "shaky"]), html("p", {}, [reason])]),
        html("button", { class: "button is-small", "aria-label": `Go to ${title}`, "data-go-to": step, ...place }, ["Go there"]),
      ]);
    }),
  );
}

function showSteps() {
  for (const link of document.querySelectorAll(".rail a")) {
    const { step = "", name = "", sheetName } = /** @type {HTMLElement} */ (link).dataset;
    const state = bench.view.steps?.[step] ?? "untouched";
    /** @type {HTMLElement} */ (part(link, ".state")).dataset.state = state;
    part(link, ".state-text").textContent = state;
    part(link, ".step-name").textContent = (bench.sheet && sheetName) || name;
    if (step === bench.step) {
      link.setAttribute("aria-current", "step");
      root.dataset.room = /** @type {HTMLElement} */ (link).dataset.room;
    } else link.removeAttribute("aria-current");
  }
  for (const keys of document.querySelectorAll("[data-keys-of]")) {
    /** @type {HTMLElement} */ (keys).hidden = /** @type {HTMLElement} */ (keys).dataset.keysOf !== bench.step;
  }
  root.dataset.step = bench.step;
  root.dataset.tool = bench.tool || (pointing.marking ? "mark" : "");
}

/** Which body the next click marks, in which frame; always in view while marking. */
function showTurn() {
  const { body, here, frame, isPicture } = bench;
  const turn = byId("turn");
  turn.hidden = !here.marking || !body || !bench.footage;
  if (turn.hidden || !body) return;
  part(turn, "path").setAttribute("d", body.path);
  part(turn, "path").setAttribute("fill", body.colour);
  part(turn, "b").textContent = body.name;
  const marked = bench.marksOf(body).some(([at]) => at === frame);
  const says = body.kind !== "marked" ? "follows from its bodies" : bench.tool ? "waits for the other tool" : isPicture ? "gets the next point" : body.hidden.includes(frame) ? "is said to be hidden here" : body.aside.includes(frame) ? "is marked here, but set aside" : marked ? "is marked here; a click moves it" : "is marked by the next click";
  part(turn, "span").textContent = says;
  const spot = part(turn, "img", HTMLImageElement);
  const wanted = body.marks.length && !body.background ? `/api/studies/${bench.view.id}/bodies/${body.id}/spot.jpg?of=${bench.spotKey(body)}` : "";
  spot.hidden = !wanted || body.kind !== "marked";
  if (wanted && spot.getAttribute("src") !== wanted) spot.src = wanted;
  spot.alt = spot.title = body.spot || `The spot of ${body.name} that is marked`;
  part(turn, "i").textContent = body.spot;
}

function showNote(/** @type {string} */ text) {
  const note = byId("stage-note");
  note.textContent = text;
  note.hidden = !text;
  clearTimeout(Number(note.dataset.timer));
  note.dataset.timer = String(setTimeout(() => (note.hidden = true), NOTE_STAYS));
}

function goToStep(/** @type {string} */ step) {
  bench.setStep(step);
  requestAnimationFrame(() => stage.resize());
}

part(document, ".rail").addEventListener("click", (event) => {
  const link = /** @type {HTMLAnchorElement} */ (/** @type {Element} */ (event.target).closest("a"));
  const mouse = /** @type {MouseEvent} */ (event);
  if (!link || mouse.ctrlKey || mouse.metaKey) return;
  event.preventDefault();
  history.pushState({}, "", link.href);
  goToStep(link.dataset.step ?? "");
});
window.addEventListener("popstate", () => goToStep(location.pathname.split("/").at(-1) ?? ""));

byId("soundness-button").addEventListener("click", () => {
  const panel = byId("soundness");
  panel.hidden = !panel.hidden;
  byId("soundness-button").setAttribute("aria-expanded", String(!panel.hidden));
});
byId("soundness-list").addEventListener("click", (event) => {
  const { goTo, number } = /** @type {HTMLElement} */ (event.target).dataset;
  const link = goTo && /** @type {HTMLElement} */ (document.querySelector(`.rail a[data-step="${goTo}"]`));
  if (link) link.click();
  if (number) bench.goToPoint(-1, Number(number));
});
byId("undo").addEventListener("click", () => edits.send({ kind: "undo" }));
byId("redo").addEventListener("click", () => edits.send({ kind: "redo" }));
byId("back").addEventListener("click", () => bench.stepBy(-1));
byId("forward").addEventListener("click", () => bench.stepBy(1));
byId("zoom-in").addEventListener("click", () => stage.zoom(1));
byId("zoom-out").addEventListener("click", () => stage.zoom(-1));
byId("zoom-fit").addEventListener("click", () => stage.fit());
byId("projector").addEventListener("click", () => setProjector(!document.documentElement.matches(".projector")));

byId("stage").addEventListener("click", (event) => {
  const text = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest("[data-type-at]"));
  const field = text && /** @type {HTMLInputElement | null} */ (document.querySelector(text.dataset.typeAt ?? ""));
  const fold = field?.closest("details");
  if (fold) fold.open = true;
  field?.select();
});
byId("lane-choice").addEventListener("change", (event) => {
  bench.setOption("lanes", /** @type {HTMLSelectElement} */ (event.target).value);
});
byId("lane-tall").addEventListener("click", () => bench.setOption("tall", !bench.options.tall));
function showLaneChoice() {
  /** @type {HTMLSelectElement} */ (byId("lane-choice")).value = bench.options.lanes;
  byId("lane-tall").setAttribute("aria-pressed", String(bench.options.tall));
}
byId("large-graph").addEventListener("click", () => bench.setOption("largeGraph", !bench.options.largeGraph));
function showLarge() {
  root.dataset.large = String(bench.options.largeGraph);
  byId("large-graph").setAttribute("aria-pressed", String(bench.options.largeGraph));
  window.dispatchEvent(new Event("resize"));
}
bench.on("options", showLarge);
showLarge();
bench.on("options", showLaneChoice);
showLaneChoice();
byId("go-to").addEventListener("change", (event) => {
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
  byId("projector").setAttribute("aria-pressed", String(on));
  localStorage.setItem("projector", String(on));
}

bench.onParts(["undo", "redo"], showUndo);
bench.onParts(["checks"], showSoundness);
bench.on(["view", "step", "tool"], showSteps);
bench.on(["view", "step", "tool", "body", "frame"], showTurn);
bench.on("note", showNote);
const kindOnStage = () => (bench.sheet ? "sheet" : (bench.footage?.kind ?? ""));
const onStage = () => {
  const { footage, view } = bench;
  return view.sheet ? `s${view.sheet.id}` : footage ? [footage.id, footage.content, view.ground?.quarter, view.ground?.mirror].join() : "";
};
let shown = onStage();
bench.on("view", () => {
  if (onStage() === shown) return;
  const sameFile = shown.split(",")[1] === bench.footage?.content;
  shown = onStage();
  if (!sameFile) stage.picture = null;
  root.dataset.kind = kindOnStage();
  root.dataset.upright = String((bench.footage?.height ?? 0) > (bench.footage?.width ?? 0));
  stage.fit();
  stage.showFrame();
});

setProjector(localStorage.getItem("projector") === "true");
showUndo();
showSoundness();
showSteps();
showTurn();
table.draw();
score.draw();
stage.showFrame();
graph.update();
document.fonts.ready.then(() => score.draw());
root.dataset.kind = kindOnStage();
root.dataset.upright = String((bench.footage?.height ?? 0) > (bench.footage?.width ?? 0));
root.dataset.ready = "true";
