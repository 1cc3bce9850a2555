// Mark: each click is a mark, and keys do what a hand beside the mouse can.

/** @type {import("./index.js").StepModule} */
export const mark = {
  layers: ({ bench, ground, bodies }) => [
    ...(bench.ground.zero_placed ? [ground.axes(false)] : []),
    ...bodies.vectors(),
    ...bodies.marks({ small: false }),
    ...bodies.ghost(),
    ...bodies.proposals(),
    ...bodies.areas(),
    ...bodies.comparison(),
  ],
  marking: true,
  showsArrivals: false,
  graphs: "beside a sheet",
  models: "none",
  accounts: false,
  keys: {
    s: ({ pointing }) => pointing.markAtPointer(),
    e: removeMark,
    x: setAside,
    h: hideBody,
    c: () => press(".decide [data-confirm]"),
    r: goOnFromLast,
    y: () => focus("#card-eye [name=text]"),
  },
};

/** @param {import("./index.js").Hands} hands */
function removeMark({ bench, edits }) {
  const { body } = bench;
  if (!bench.footage || !body) return false;
  const marks = bench.marksOf(body);
  const number = bench.isPicture ? (marks.at(-1)?.[0] ?? -1) : bench.frame;
  const said = body.hidden.includes(number) || body.doubts.some(([at]) => at === number);
  if (!said && !marks.some(([at]) => at === number)) return false;
  edits.send({ kind: "remove_mark", body: body.id, frame: number });
  return true;
}

/** @param {import("./index.js").Hands} hands */
function setAside({ bench, edits }) {
  const { body } = bench;
  if (!body || !isMarkedInFrames(bench)) return false;
  const aside = !body.aside.includes(bench.frame);
  edits.send({ kind: "set_mark_aside", body: body.id, frame: bench.frame, aside });
  return true;
}

/** @param {import("./index.js").Hands} hands */
function hideBody({ bench, edits }) {
  const { body } = bench;
  if (!body || !isMarkedInFrames(bench)) return false;
  edits.send({ kind: "hide_body", body: body.id, frame: bench.frame });
  bench.goOn();
  return true;
}

/** @param {import("./index.js").Hands} hands */
function goOnFromLast({ bench }) {
  if (!bench.footage || !bench.body || bench.isPicture) return false;
  bench.goOnFromLast();
  return true;
}

/** @param {import("../state.js").Bench} bench */
function isMarkedInFrames(bench) {
  return Boolean(bench.footage) && bench.body?.kind === "marked" && !bench.isPicture;
}

/** @param {string} selector */
function press(selector) {
  const button = /** @type {HTMLElement | null} */ (document.querySelector(selector));
  button?.click();
  return button !== null;
}

/** @param {string} selector */
function focus(selector) {
  const field = /** @type {HTMLElement | null} */ (document.querySelector(selector));
  field?.focus();
  return field !== null;
}
