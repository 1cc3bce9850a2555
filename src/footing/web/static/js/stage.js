// The stage: the frame on a canvas, with pan and zoom, and the overlay in the same place.

import { part, sure } from "./parts.js";
import { turning } from "./turning.js";

const LARGEST_ZOOM = 24;
const ZOOM_STEP = 1.25;
const FULL_FROM = 1.05; // screen pixels for each pixel of the screen picture, from which full is used

export class Stage {
  /**
   * @param {import("./state.js").Bench} bench
   * @param {import("./frames.js").Frames} frames
   * @param {HTMLElement} element
   */
  constructor(bench, frames, element) {
    this.bench = bench;
    this.frames = frames;
    this.element = element;
    this.canvas = part(element, "#frame", HTMLCanvasElement);
    /** @type {ImageBitmap | null} */
    this.picture = null;
    this.shownFrame = -1;
    this.scale = 1;
    this.left = 0;
    this.top = 0;
    this.fitted = true;
    /** Called whenever what lies over the frame must be drawn again. */
    this.onDraw = () => {};
    new ResizeObserver(() => this.resize()).observe(element);
    bench.on("frame", () => this.showFrame());
  }

  resize() {
    const box = this.element.getBoundingClientRect();
    const ratio = window.devicePixelRatio;
    this.canvas.width = Math.round(box.width * ratio);
    this.canvas.height = Math.round(box.height * ratio);
    if (this.fitted) this.fit();
    else this.draw();
  }

  /** How the picture is turned for seeing. */
  get turned() {
    const { quarter, mirror } = this.bench.ground;
    return turning(this.bench.film, quarter, mirror);
  }

  /** Scale at which the whole picture is shown. */
  get whole() {
    const { width, height } = this.turned;
    return Math.min(this.element.clientWidth / width, this.element.clientHeight / height);
  }

  /** Show the whole picture. */
  fit() {
    this.fitted = true;
    if (this.bench.footage) {
      const { width, height } = this.turned;
      this.scale = this.whole;
      this.left = (this.element.clientWidth - width * this.scale) / 2;
      this.top = (this.element.clientHeight - height * this.scale) / 2;
    }
    this.draw();
  }

  /**
   * Zoom, keeping a point of the stage in place.
   * @param {number} steps @param {[number, number]} [at]
   */
  zoom(steps, at = [this.element.clientWidth / 2, this.element.clientHeight / 2]) {
    if (!this.bench.footage) return;
    const wished = this.scale * ZOOM_STEP ** steps;
    if (wished <= this.whole) return this.fit();
    const scale = Math.min(wished, LARGEST_ZOOM);
    this.left = at[0] - ((at[0] - this.left) * scale) / this.scale;
    this.top = at[1] - ((at[1] - this.top) * scale) / this.scale;
    this.scale = scale;
    this.fitted = false;
    this.showFrame();
  }

  /** @param {number} dx @param {number} dy */
  pan(dx, dy) {
    this.fitted = false;
    this.left += dx;
    this.top += dy;
    this.draw();
  }

  /**
   * Pixel of the picture at a point of the window.
   * @param {{clientX: number, clientY: number}} event
   */
  pixelAt(event) {
    const box = this.element.getBoundingClientRect();
    const seen = [
      (event.clientX - box.left - this.left) / this.scale,
      (event.clientY - box.top - this.top) / this.scale,
    ];
    return this.turned.toPicture(seen).map((value) => value - 0.5);
  }

  /**
   * Point of the stage at a pixel of the picture.
   * @param {number[]} pixel
   */
  pointOf(pixel) {
    const [x, y] = pixel;
    const [u, v] = this.turned.toSeen([x + 0.5, y + 0.5]);
    return [u * this.scale + this.left, v * this.scale + this.top];
  }

  /** From pixels of the picture to points of the stage: a, b, c, d, e, f as in SVG. */
  get matrix() {
    const [e, f] = this.pointOf([0, 0]);
    const [ax, ay] = this.pointOf([1, 0]);
    const [cx, cy] = this.pointOf([0, 1]);
    return [ax - e, ay - f, cx - e, cy - f, e, f];
  }

  /**
   * Offset in pixels of the picture for an offset as seen.
   * @param {number[]} seen
   */
  offsetOf(seen) {
    const [dx, dy] = seen;
    const [a, b, c, d] = this.turned.matrix;
    return [a * dx + b * dy, c * dx + d * dy];
  }

  get size() {
    const zoomed = this.scale * window.devicePixelRatio;
    const footage = this.bench.film;
    const ofScreen = (zoomed * Math.max(footage.width, footage.height)) / 1280;
    return this.frames.hasFull && ofScreen > FULL_FROM ? "full" : "screen";
  }

  async showFrame() {
    const { frame, footage } = this.bench;
    if (!footage) return;
    const { size } = this;
    const other = size === "full" ? this.frames.get(frame, "screen") : null;
    const here = this.frames.get(frame, size) ?? other;
    if (here) this.put(here, frame);
    this.frames.prefetchSoon();
    if (this.frames.get(frame, size)) return;
    const picture = await this.frames.load(frame, size);
    if (frame !== this.bench.frame || footage.content !== this.bench.footage?.content) return;
    if (picture) this.put(picture, frame);
    else this.bench.say(`Frame ${frame} cannot be shown; step past it.`);
  }

  /** @param {ImageBitmap} picture @param {number} frame */
  put(picture, frame) {
    this.picture = picture;
    this.shownFrame = frame;
    this.draw();
  }

  draw() {
    const context = sure(this.canvas.getContext("2d"));
    const footage = this.bench.footage;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.clearRect(0, 0, this.canvas.width, this.canvas.height);
    if (footage && this.picture) {
      const ratio = window.devicePixelRatio;
      const { width, height, matrix } = this.turned;
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      context.imageSmoothingEnabled = this.scale < 3;
      context.translate(this.left + (width * this.scale) / 2, this.top + (height * this.scale) / 2);
      context.transform(matrix[0], matrix[1], matrix[2], matrix[3], 0, 0);
      const [wide, high] = [footage.width * this.scale, footage.height * this.scale];
      context.drawImage(this.picture, -wide / 2, -high / 2, wide, high);
    }
    const { dataset } = this.element;
    const told = { matrix: footage ? String(this.matrix) : "", shown: String(this.shownFrame) };
    for (const [name, value] of Object.entries(told)) {
      if (dataset[name] !== value) dataset[name] = value;
    }
    this.onDraw();
  }

  /**
   * Draw the surroundings of a pixel into a small canvas.
   * @param {HTMLCanvasElement} canvas @param {ImageBitmap} picture
   * @param {number[]} pixel @param {number} reach pixels on each side
   * @param {boolean} [aim] whether the middle is marked
   */
  magnify(canvas, picture, [x, y], reach, aim = true) {
    const context = sure(canvas.getContext("2d"));
    const k = picture.width / this.bench.film.width;
    const side = (2 * reach + 1) * k;
    const middle = canvas.width / 2;
    const [a, b, c, d] = this.turned.matrix;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.imageSmoothingEnabled = false;
    context.fillStyle = "#1E2723";
    context.fillRect(0, 0, canvas.width, canvas.height);
    context.setTransform(a, b, c, d, middle, middle);
    const [left, top] = [(x + 0.5) * k - side / 2, (y + 0.5) * k - side / 2];
    context.drawImage(picture, left, top, side, side, -middle, -middle, 2 * middle, 2 * middle);
    context.setTransform(1, 0, 0, 1, 0, 0);
    if (!aim) return;
    context.strokeStyle = "#FBF9F4";
    context.lineWidth = 1;
    context.beginPath();
    for (const [dx, dy] of [[1, 0], [-1, 0], [0, 1], [0, -1]]) {
      context.moveTo(middle + 5 * dx, middle + 5 * dy);
      context.lineTo(middle + 16 * dx, middle + 16 * dy);
    }
    context.stroke();
  }
}
