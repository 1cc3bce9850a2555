// The stage: the frame on a canvas, with pan and zoom, and the overlay in the same place.

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
    /** @type {HTMLCanvasElement} */
    this.canvas = element.querySelector("#frame");
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
    bench.addEventListener("frame", () => this.showFrame());
  }

  resize() {
    const box = this.element.getBoundingClientRect();
    const ratio = window.devicePixelRatio;
    this.canvas.width = Math.round(box.width * ratio);
    this.canvas.height = Math.round(box.height * ratio);
    if (this.fitted) this.fit();
    else this.draw();
  }

  /** Show the whole picture. */
  fit() {
    const footage = this.bench.footage;
    this.fitted = true;
    if (footage) {
      const { clientWidth, clientHeight } = this.element;
      this.scale = Math.min(clientWidth / footage.width, clientHeight / footage.height);
      this.left = (clientWidth - footage.width * this.scale) / 2;
      this.top = (clientHeight - footage.height * this.scale) / 2;
    }
    this.draw();
  }

  /** Zoom, keeping a point of the stage in place. @param {number} steps @param {[number, number]} [at] */
  zoom(steps, at = [this.element.clientWidth / 2, this.element.clientHeight / 2]) {
    const footage = this.bench.footage;
    if (!footage) return;
    const whole = Math.min(
      this.element.clientWidth / footage.width,
      this.element.clientHeight / footage.height,
    );
    const wished = this.scale * ZOOM_STEP ** steps;
    if (wished <= whole) return this.fit();
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

  /** Pixel of the picture at a point of the window. @param {{clientX: number, clientY: number}} event */
  pixelAt(event) {
    const box = this.element.getBoundingClientRect();
    return [
      (event.clientX - box.left - this.left) / this.scale - 0.5,
      (event.clientY - box.top - this.top) / this.scale - 0.5,
    ];
  }

  /** Point of the stage at a pixel of the picture. @param {number[]} pixel */
  pointOf([x, y]) {
    return [(x + 0.5) * this.scale + this.left, (y + 0.5) * this.scale + this.top];
  }

  get size() {
    const zoomed = this.scale * window.devicePixelRatio;
    const footage = this.bench.footage;
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
    if (frame !== this.bench.frame || footage !== this.bench.footage) return;
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
    const context = this.canvas.getContext("2d");
    const footage = this.bench.footage;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.clearRect(0, 0, this.canvas.width, this.canvas.height);
    if (footage && this.picture) {
      const ratio = window.devicePixelRatio;
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      context.imageSmoothingEnabled = this.scale < 3;
      const [width, height] = [footage.width * this.scale, footage.height * this.scale];
      context.drawImage(this.picture, this.left, this.top, width, height);
    }
    const { scale, left, top, shownFrame: shown } = this;
    const { dataset } = this.element;
    for (const [name, value] of Object.entries({ scale, left, top, shown })) {
      if (dataset[name] !== String(value)) dataset[name] = String(value);
    }
    this.onDraw();
  }

  /**
   * Draw the surroundings of a pixel into a small canvas.
   * @param {HTMLCanvasElement} canvas @param {ImageBitmap} picture
   * @param {number[]} pixel @param {number} reach pixels on each side
   */
  magnify(canvas, picture, [x, y], reach) {
    const context = canvas.getContext("2d");
    const k = picture.width / this.bench.footage.width;
    const side = (2 * reach + 1) * k;
    context.imageSmoothingEnabled = false;
    context.fillStyle = "#1E2723";
    context.fillRect(0, 0, canvas.width, canvas.height);
    context.drawImage(
      picture,
      (x + 0.5) * k - side / 2,
      (y + 0.5) * k - side / 2,
      side,
      side,
      0,
      0,
      canvas.width,
      canvas.height,
    );
    const middle = canvas.width / 2;
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
