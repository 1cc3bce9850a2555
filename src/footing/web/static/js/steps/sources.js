// Sources: the frame alone.

/** @type {import("./index.js").StepModule} */
export const sources = { layers: () => [], keys: {}, marking: false, showsArrivals: true, graphs: "none", models: "none", accounts: false };
