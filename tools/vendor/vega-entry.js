// One module with everything a graph needs; the interpreter makes it run under script-src 'self'.
export { default as embed } from "vega-embed";
export { changeset } from "vega";
export { expressionInterpreter } from "vega-interpreter";
