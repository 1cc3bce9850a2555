// What lies on the stage and can be dragged or nudged, by the name of its handle:
//   zero, height, fixed (the held end of a spring), angle, mark, point/N (the Nth point on a picture),
//   length/ID/start, length/ID/end, corner/ID (of an oblique view), line/end (being drawn),
//   area/reach, area/search (of following)

import { sure } from "./parts.js";

const LINES = { align: "align_axes", level: "level_up" };

export class Things {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./overlay.js").Overlay} overlay
   * @param {import("./edits.js").Edits} edits
   */
  constructor(bench, overlay, edits) {
    this.bench = bench;
    this.overlay = overlay;
    this.edits = edits;
  }

  /**
   * Where the thing behind a handle is, in pixels.
   * @param {string} handle @returns {number[] | null}
   */
  position(handle) {
    const { body, frame } = this.bench;
    const { draft } = this.overlay;
    const [kind, id, end] = handle.split("/");
    if (kind === "zero") return draft.zero ?? this.bench.ground.zero;
    if (kind === "height") return draft.height ?? this.bench.view.ledger?.energy.level ?? this.bench.ground.height_zero;
    if (kind === "fixed") return draft.fixed ?? this.bench.view.ledger?.energy.spring.fixed ?? null;
    if (kind === "corner") return draft.corner?.at ?? this.corner(id).at;
    if (kind === "mark" || kind === "point") {
      const number = kind === "mark" ? frame : Number(id);
      const mark = body && this.bench.marksOf(body).find(([at]) => at === number);
      return draft.mark?.at ?? mark?.slice(1) ?? null;
    }
    if (kind === "area") return this.areaCorner(id === "reach" ? "reach" : "search");
    if (kind === "length") return (draft.length ?? this.length(id))?.[end] ?? null;
    return null;
  }

  /**
   * Show a handle's thing at a pixel.
   * @param {string} handle @param {number[]} at
   */
  draftAt(handle, at) {
    const { body, frame } = this.bench;
    const { draft } = this.overlay;
    const [kind, id, end] = handle.split("/");
    if (kind === "zero" || kind === "height" || kind === "fixed") draft[kind] = at;
    else if (kind === "mark") draft.mark = { body: sure(body).id, frame, at };
    else if (kind === "point") draft.mark = { body: sure(body).id, frame: Number(id), at };
    else if (kind === "corner") draft.corner = { id: Number(id), at };
    else if (kind === "angle") draft.angle = this.angleTowards(at);
    else if (kind === "line") draft.line.end = at;
    else if (kind === "area") draft[id] = this.areaSize(at);
    else {
      if (!draft.length) {
        const known = sure(this.length(id));
        draft.length = { id: known.id, start: known.start, end: known.end };
      }
      draft.length[end] = at;
    }
  }

  /**
   * Turn of the axes whose pointer points to a pixel, to a tenth of a degree.
   * @param {number[]} at
   */
  angleTowards(at) {
    const [x, y] = this.overlay.stage.pointOf(this.bench.ground.zero);
    const [px, py] = this.overlay.stage.pointOf(at);
    return Math.round((Math.atan2(y - py, px - x) * 1800) / Math.PI) * (Math.PI / 1800);
  }

  /**
   * The lower right corner of the patch or of the search area.
   * @param {"reach" | "search"} name @returns {number[]}
   */
  areaCorner(name) {
    const half = this.overlay.draft[name] ?? sure(this.overlay.sizes)[name];
    return sure(this.position("mark")).map((value) => value + half);
  }

  /**
   * Half the side of a square around the mark whose corner is at a pixel.
   * @param {number[]} at
   */
  areaSize(at) {
    const [x, y] = sure(this.position("mark"));
    return Math.max(Math.round(Math.max(Math.abs(at[0] - x), Math.abs(at[1] - y))), 5);
  }

  /** @param {string} name @param {Record<string, number>} draft */
  setArea(name, draft) {
    this.bench.tell("sizes", { [name]: draft[name] });
  }

  /**
   * Begin to draw a line with a tool.
   * @param {string} tool @param {number[]} at @returns {string} the handle
   */
  beginLine(tool, at) {
    if (tool === "length") {
      this.overlay.draft.length = { id: 0, start: at, end: at };
      return "length/0/end";
    }
    this.overlay.draft.line = { tool, start: at, end: at };
    return "line/end";
  }

  /**
   * Make an edit of what was dragged.
   * @param {string} handle
   */
  commit(handle) {
    const { draft } = this.overlay;
    const kind = handle.split("/")[0];
    if (kind === "zero") return this.placeZero(draft.zero);
    if (kind === "height") return this.placeHeight(draft.height);
    if (kind === "fixed") return this.placeFixedEnd(draft.fixed);
    if (kind === "mark" || kind === "point") return this.placeMark(draft.mark.at, draft.mark.frame);
    if (kind === "angle") return this.turnAxes(draft.angle);
    if (kind === "corner") return this.moveCorner(draft.corner);
    if (kind === "line") return this.useLine(draft.line);
    if (kind === "area") return this.setArea(handle.split("/")[1], draft);
    return this.placeLength(draft.length);
  }

  /** @param {number[]} at */
  placeZero(at) {
    const [x, y] = at;
    const supposed = { place: ["ground", "zero"], value: at };
    return this.edits.send({ kind: "set_zero", footage: this.bench.film.id, x, y }, null, supposed);
  }

  /** @param {number[]} at */
  placeHeight(at) {
    const [x, y] = at;
    const supposed = { place: ["ground", "height_zero"], value: at };
    return this.edits.send({ kind: "set_height_zero", footage: this.bench.film.id, x, y }, null, supposed);
  }

  /** @param {number[]} at */
  placeFixedEnd([x, y]) {
    return this.edits.send({ kind: "set_fixed_end", footage: this.bench.film.id, x, y });
  }

  /** @param {number} angle */
  turnAxes(angle) {
    const { flip_x, flip_y } = this.bench.ground;
    const degrees = ((angle * 180) / Math.PI).toFixed(1);
    const edit = { kind: "turn_axes", footage: this.bench.film.id, angle: degrees, flip_x, flip_y };
    return this.edits.send(edit, null, { place: ["ground", "angle"], value: angle });
  }

  /** @param {{id: number, at: number[]}} corner */
  moveCorner({ id, at }) {
    const nth = sure(this.bench.ground.plane).points.indexOf(this.corner(id));
    const supposed = { place: ["ground", "plane", "points", nth, "at"], value: at };
    return this.edits.send({ kind: "move_plane_point", point: id, x: at[0], y: at[1] }, null, supposed);
  }

  /** @param {{tool: keyof typeof LINES, start: number[], end: number[]}} line */
  useLine({ tool, start, end }) {
    this.bench.setTool("");
    return this.edits.send({ kind: LINES[tool], footage: this.bench.film.id, ...ends(start, end) });
  }

  /** @param {{id: number, start: number[], end: number[]}} length */
  async placeLength({ id, start, end }) {
    const { bench } = this;
    if (id) {
      const lengths = bench.ground.known_lengths;
      const nth = lengths.findIndex((one) => one.id === id);
      const supposed = { place: ["ground", "known_lengths", nth], value: { ...lengths[nth], start, end } };
      await this.edits.send({ kind: "move_known_length", known_length: id, ...ends(start, end) }, null, supposed);
      return;
    }
    bench.setTool("");
    const edit = { kind: "add_known_length", footage: bench.film.id, frame: bench.frame };
    const answer = await this.edits.send({ ...edit, ...ends(start, end) });
    if (answer.made) bench.tell("length", answer.made);
  }

  /**
   * Place a mark of the body in turn; on a picture the next point of the shape.
   * @param {number[]} at @param {number} [number] frame, or number of the point
   */
  async placeMark(at, number = this.nextMark) {
    const [x, y] = at;
    const { bench } = this;
    const body = sure(bench.body);
    const { width, height } = bench.film;
    const inside = x >= -0.5 && y >= -0.5 && x <= width - 0.5 && y <= height - 0.5;
    if (!inside) return bench.say("That is outside the picture.");
    const key = `${body.id}/${number}`;
    const place = [x, y];
    bench.pending.set(key, place);
    await this.edits.send({ kind: "place_mark", body: body.id, frame: number, x, y });
    if (bench.pending.get(key) === place) bench.pending.delete(key);
    this.overlay.draw();
  }

  /** Where the next mark goes: into the frame shown, or behind the last point of a picture. */
  get nextMark() {
    const { bench } = this;
    if (!bench.isPicture) return bench.frame;
    return (bench.marksOf(sure(bench.body)).at(-1)?.[0] ?? -1) + 1;
  }

  /**
   * A click with a tool in hand.
   * @param {number[]} at @returns {boolean} whether the tool took it
   */
  clickWith(at) {
    const { bench } = this;
    const { tool } = bench;
    if (tool === "zero" || tool === "height" || tool === "fixed-end") {
      bench.setTool("");
      if (tool === "zero") this.placeZero(at);
      else if (tool === "height") this.placeHeight(at);
      else this.placeFixedEnd(at);
    } else if (tool === "plane") this.addCorner(at);
    else if (tool === "plane-point") {
      bench.setTool("");
      this.edits.send({ kind: "add_plane_point", footage: bench.film.id, x: at[0], y: at[1] });
    } else return false;
    return true;
  }

  /**
   * The four corners of a rectangle, one after the other.
   * @param {number[]} at
   */
  addCorner(at) {
    const { bench } = this;
    const corners = this.overlay.corners;
    corners.push(at);
    if (corners.length === 4) {
      const edit = { kind: "draw_plane", footage: bench.film.id, frame: bench.frame, corners: [...corners] };
      bench.setTool("");
      bench.say("");
      this.edits.send(edit);
    } else bench.say(["", "Now the lower right corner.", "Now the upper right corner.", "Now the upper left corner."][corners.length]);
    this.overlay.draw();
  }

  /** @param {string | number} id */
  length(id) {
    return this.bench.ground.known_lengths.find((one) => one.id === Number(id));
  }

  /** @param {string | number} id */
  corner(id) {
    return sure(this.bench.ground.plane?.points.find((one) => one.id === Number(id)));
  }
}

/** @param {number[]} start @param {number[]} end */
function ends(start, end) {
  return { start_x: start[0], start_y: start[1], end_x: end[0], end_y: end[1] };
}
