// Recording from a camera of this computer, with a countdown; the recording goes the way of any file.

import { part, sure } from "./parts.js";
import { SimulatedCamera } from "./simulated-camera.js";

const SIMULATED = "simulated";
const RATE = 30;
const COUNTDOWN = 3; // seconds
const LONGEST = 60; // seconds
const KINDS = ["video/mp4;codecs=avc1", "video/webm;codecs=vp9", "video/webm;codecs=vp8", "video/webm"];
const BITS = 8_000_000;
const PICTURE_QUALITY = 0.95;

/** The time of day, for the name of a file. */
const now = () => new Date().toTimeString().slice(0, 8).replaceAll(":", "");

export class CameraPanel {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} panel @param {import("./upload.js").Upload} upload */
  constructor(bench, panel, upload) {
    this.bench = bench;
    this.panel = panel;
    this.upload = upload;
    this.video = part(panel, "video", HTMLVideoElement);
    this.choice = part(panel, "select", HTMLSelectElement);
    /** @type {MediaStream | null} */
    this.stream = null;
    /** @type {SimulatedCamera | null} */
    this.simulated = null;
    /** @type {MediaRecorder | null} */
    this.recorder = null;
    this.timer = 0;
    document.addEventListener("click", (event) => {
      if (/** @type {Element} */ (event.target).closest("[data-camera]")) this.open();
    });
    this.choice.addEventListener("change", () => this.start());
    this.button("record").addEventListener("click", () => (this.recorder ? this.stop() : this.countDown(COUNTDOWN)));
    this.button("picture").addEventListener("click", () => this.takePicture());
    this.button("close").addEventListener("click", () => this.close());
    bench.on("step", () => this.close());
  }

  /** @param {string} name @returns {HTMLButtonElement} */
  button(name) {
    return part(this.panel, `[data-${name}]`, HTMLButtonElement);
  }

  /** @param {string} text */
  say(text) {
    part(this.panel, ".camera-said").textContent = text;
  }

  /** Show the panel with the cameras that there are; the simulated one is always there. */
  async open() {
    this.panel.hidden = false;
    const cameras = await this.cameras();
    const options = cameras.map((one, k) => new Option(one.label || `Camera ${k + 1}`, one.deviceId));
    this.choice.replaceChildren(...options, new Option("Simulated camera (winter fair)", SIMULATED));
    await this.start();
  }

  /** @returns {Promise<MediaDeviceInfo[]>} */
  async cameras() {
    if (!navigator.mediaDevices) {
      this.say("The browser gives its camera only to a page on this computer itself, or over https.");
      return [];
    }
    this.say("");
    const devices = await navigator.mediaDevices.enumerateDevices();
    return devices.filter((one) => one.kind === "videoinput");
  }

  /** Preview the chosen camera. */
  async start() {
    this.end();
    if (this.choice.value === SIMULATED) {
      this.simulated = new SimulatedCamera(RATE);
      this.stream = this.simulated.stream;
    } else {
      const wanted = { deviceId: this.choice.value, width: { ideal: 1280 }, frameRate: { ideal: RATE } };
      try {
        this.stream = await navigator.mediaDevices.getUserMedia({ video: wanted });
      } catch {
        this.say("This camera cannot be used; allow it in the browser, or choose another.");
        return;
      }
    }
    this.video.srcObject = this.stream;
    for (const name of ["record", "picture"]) this.button(name).disabled = false;
  }

  /** @param {number} seconds */
  countDown(seconds) {
    if (!this.stream) return;
    clearTimeout(this.timer);
    if (seconds === 0) return this.record();
    this.say(`Recording begins in ${seconds} …`);
    this.timer = setTimeout(() => this.countDown(seconds - 1), 1000);
  }

  record() {
    const kind = KINDS.find((one) => MediaRecorder.isTypeSupported(one));
    /** @type {Blob[]} */
    const pieces = [];
    this.recorder = new MediaRecorder(sure(this.stream), { mimeType: kind, videoBitsPerSecond: BITS });
    this.recorder.addEventListener("dataavailable", (event) => pieces.push(event.data));
    this.recorder.addEventListener("stop", () => this.recorded(new Blob(pieces, { type: kind })));
    this.recorder.start();
    this.simulated?.begin();
    this.say("Recording.");
    this.button("record").textContent = "Stop";
    this.timer = setTimeout(() => this.stop(), LONGEST * 1000);
  }

  stop() {
    clearTimeout(this.timer);
    this.recorder?.stop();
    this.recorder = null;
    this.button("record").textContent = "Record";
  }

  /** @param {Blob} recording */
  recorded(recording) {
    const ending = recording.type.startsWith("video/mp4") ? "mp4" : "webm";
    this.close();
    this.upload.send(new File([recording], `recording-${now()}.${ending}`, { type: recording.type }));
  }

  /** A single picture, to measure on. */
  takePicture() {
    const { videoWidth: width, videoHeight: height } = this.video;
    const canvas = Object.assign(document.createElement("canvas"), { width, height });
    sure(canvas.getContext("2d")).drawImage(this.video, 0, 0);
    canvas.toBlob((picture) => {
      this.close();
      this.upload.send(new File([sure(picture)], `picture-${now()}.jpg`, { type: "image/jpeg" }));
    }, "image/jpeg", PICTURE_QUALITY);
  }

  /** Let go of the camera. */
  end() {
    this.simulated?.end();
    this.simulated = null;
    for (const track of this.stream?.getTracks() ?? []) track.stop();
    this.stream = null;
    for (const name of ["record", "picture"]) this.button(name).disabled = true;
  }

  close() {
    if (this.panel.hidden) return;
    clearTimeout(this.timer);
    this.recorder = null;
    this.button("record").textContent = "Record";
    this.end();
    this.panel.hidden = true;
  }
}
