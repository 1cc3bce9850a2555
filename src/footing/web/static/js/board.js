// The drawing of a board, made anew when what it shows has changed.

import { plotting } from "./plotting.js";

const drawn = { spec: "" };

/** Draw the board, if this page has one and it shows something else than before. */
export async function showBoard() {
  const place = document.getElementById("board-plot");
  if (!place) return;
  const text = place.dataset.spec ?? "";
  if (text === drawn.spec && place.querySelector("svg")) return;
  drawn.spec = text;
  const { embed, expressionInterpreter } = await plotting();
  if (text !== drawn.spec) return; // another one came meanwhile
  const spec = JSON.parse(text);
  await embed(place, { ...spec, width: "container" }, { actions: false, ast: true, expr: expressionInterpreter, renderer: "svg", tooltip: false });
}
