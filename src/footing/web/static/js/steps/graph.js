// Graph: all graphs with their tools; small marks beside them.

/** @type {import("./index.js").StepModule} */
export const graph = {
  layers: ({ bodies }) => [...bodies.vectors(), ...bodies.marks({ small: true }), ...bodies.comparison()],
  marking: false,
  showsArrivals: false,
  graphs: "all",
  models: "lines",
  accounts: false,
  keys: {
    q: takes("graph-slope"),
    c: takes("graph-stretch"),
    v: takes("graph-try"),
    b: takes("graph-sketch"),
    w: ({ tools }) => {
      tools.showAll();
      return true;
    },
  },
};

/**
 * Take a tool, or lay it down again.
 * @param {string} tool
 */
function takes(tool) {
  return (/** @type {import("./index.js").Hands} */ { bench }) => {
    bench.setTool(bench.tool === tool ? "" : tool);
    return true;
  };
}
