// Ground: scale and axes over the frame, and the marks to be aimed at.

/** @type {import("./index.js").StepModule} */
export const ground = {
  layers: ({ ground, bodies }) => [...ground.all(), ...bodies.dim()],
  keys: {},
  marking: false,
  showsArrivals: false,
  graphs: "none",
  models: "none",
  accounts: false,
};
