// The steps of the page, one module each. What Python says of a step (name, cards, keys, room) is in web/steps.py.

import { graph } from "./graph.js";
import { ground } from "./ground.js";
import { ledger } from "./ledger.js";
import { mark } from "./mark.js";
import { model } from "./model.js";
import { report } from "./report.js";
import { sources } from "./sources.js";

/**
 * What a key may need.
 * @typedef {{bench: import("../state.js").Bench, stage: import("../stage.js").Stage,
 *   playing: import("../playing.js").Playing, pointing: import("../pointing.js").Pointing,
 *   edits: import("../edits.js").Edits, tools: import("../graph-tools.js").GraphTools,
 *   impacts: import("../impacts.js").Impacts, models: import("../models.js").Models,
 *   report: import("../report.js").Report}} Hands
 */

/**
 * What a step is in the page.
 *
 * - layers: what is drawn over the frame, from below
 * - keys: of this step, by what `event.key` says in small letters; false where one means nothing now
 * - marking: whether a click on the frame marks
 * - showsArrivals: whether a source that arrives is put on the stage at once
 * - accounts: whether the ledgers are shown
 * - models: whether predicted motions are shown: with a part of the page of their own, or as lines on graphs
 * - graphs: which are shown, the first one beside a sheet only; with all of them there are residuals, boxes and tools
 * @typedef {{layers: (overlay: import("../overlay.js").Overlay) => import("../drawing.js").Shape[],
 *   keys: Record<string, (hands: Hands) => boolean>, marking: boolean, showsArrivals: boolean, accounts: boolean,
 *   models: "none" | "own" | "lines",
 *   graphs: "none" | "beside a sheet" | "all"}} StepModule
 */

/** @type {Record<string, StepModule>} */
export const STEPS = { sources, ground, mark, graph, model, ledger, report };
