// Report: blocks on paper. The keys take a block in hand, move it, and write in it.

/** @type {import("./index.js").StepModule} */
export const report = {
  layers: ({ bodies }) => [...bodies.marks({ small: true })],
  marking: false,
  showsArrivals: false,
  graphs: "none",
  models: "none",
  accounts: false,
  keys: {
    n: ({ report }) => report.next(1),
    b: ({ report }) => report.next(-1),
    r: ({ report }) => report.move(-1),
    v: ({ report }) => report.move(1),
    y: ({ report }) => report.write(),
  },
};
