// The library that draws graphs: as large as everything else together, so it is fetched where a graph is drawn.

/** Fetched once, and there at once the next time. */
export const plotting = () => import("../vendor/vega.js");
