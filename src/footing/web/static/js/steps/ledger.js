// Ledger: the zero of height, a spring, and momenta head to tail over the frame.

/** @type {import("./index.js").StepModule} */
export const ledger = {
  layers: ({ bench, ground, bodies, accounts }) => [
    ...bodies.marks({ small: true }),
    ...(bench.options.ledgerTab === "momentum" ? accounts.momenta() : [...accounts.spring(), ...ground.level()]),
  ],
  marking: false,
  showsArrivals: false,
  graphs: "none",
  models: "none",
  accounts: true,
  keys: {
    i: ({ impacts }) => impacts.placeHere(),
    n: toggles("ledgerTab", ["energy", "momentum"]),
    v: toggles("ledgerFilm", [false, true]),
    b: toggles("ledgerBands", [true, false]),
  },
};

/**
 * From one way of showing things to the other.
 * @param {string} option @param {[unknown, unknown]} ways
 */
function toggles(option, ways) {
  return (/** @type {import("./index.js").Hands} */ { bench }) => {
    bench.setOption(option, bench.options[option] === ways[0] ? ways[1] : ways[0]);
    return true;
  };
}
