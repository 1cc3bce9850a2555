// Model: predicted motions over the frame, with the marks above them.

/** @type {import("./index.js").StepModule} */
export const model = {
  layers: ({ bodies, models }) => [...models.all(), ...bodies.marks({ small: true })],
  marking: false,
  showsArrivals: false,
  graphs: "none",
  accounts: false,
  models: "own",
  keys: {
    v: ({ bench }) => {
      bench.setOption("modelFilm", !bench.options.modelFilm);
      return true;
    },
    n: ({ models }) => {
      models.nextQuantity();
      return true;
    },
    b: ({ models }) => {
      models.nextModel();
      return true;
    },
  },
};
