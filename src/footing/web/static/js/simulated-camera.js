// A stand-in for a camera: a lantern swings from a rope at the winter fair. It is drawn on a canvas
// that gives a stream like a camera's. Beside the rope stands a pole of 1.00 m.

import { sure } from "./parts.js";

const [WIDTH, HEIGHT] = [1280, 720];
const METRE = 260; // pixels
const ROPE = 1.6; // m
const REACH = 0.14; // rad, the largest turn of the rope
const GRAVITY = 9.81;
const HOOK = [640, 96];
const POLE = [980, 640]; // its foot
const FLAKES = 90;

export class SimulatedCamera {
  /** @param {number} rate frames for each second */
  constructor(rate) {
    this.canvas = Object.assign(document.createElement("canvas"), { width: WIDTH, height: HEIGHT });
    this.context = sure(this.canvas.getContext("2d"));
    this.background = this.painted();
    this.startedAt = performance.now();
    this.timer = setInterval(() => this.draw(), 1000 / rate);
    this.stream = this.canvas.captureStream(rate);
    this.draw();
  }

  /** The swing begins anew. */
  begin() {
    this.startedAt = performance.now();
  }

  end() {
    clearInterval(this.timer);
  }

  draw() {
    const t = (performance.now() - this.startedAt) / 1000;
    const turn = REACH * Math.cos(Math.sqrt(GRAVITY / ROPE) * t);
    const x = HOOK[0] + ROPE * METRE * Math.sin(turn);
    const y = HOOK[1] + ROPE * METRE * Math.cos(turn);
    const { context } = this;
    context.drawImage(this.background, 0, 0);
    context.fillStyle = "rgba(255, 255, 255, 0.8)";
    for (let k = 0; k < FLAKES; k += 1) {
      const [fx, fy] = [(k * 397 + 11 * Math.sin(t + k)) % WIDTH, (k * 211 + t * (40 + (k % 5) * 8)) % HEIGHT];
      context.fillRect(fx, fy, 2, 2);
    }
    context.strokeStyle = "#3C3226";
    context.lineWidth = 3;
    context.beginPath();
    context.moveTo(HOOK[0], HOOK[1]);
    context.lineTo(x, y - 18);
    context.stroke();
    context.fillStyle = "#D98A1E";
    context.beginPath();
    context.arc(x, y, 22, 0, 2 * Math.PI);
    context.fill();
    context.fillStyle = "#FFF1C9";
    context.beginPath();
    context.arc(x, y, 7, 0, 2 * Math.PI);
    context.fill();
  }

  /** What does not move: evening sky, snow, spruces, the beam, the pole of a metre. */
  painted() {
    const canvas = Object.assign(document.createElement("canvas"), { width: WIDTH, height: HEIGHT });
    const context = sure(canvas.getContext("2d"));
    const sky = context.createLinearGradient(0, 0, 0, HEIGHT);
    sky.addColorStop(0, "#5C7391");
    sky.addColorStop(1, "#C7CBD0");
    context.fillStyle = sky;
    context.fillRect(0, 0, WIDTH, HEIGHT);
    context.fillStyle = "#4C5B55";
    for (let k = 0; k < 16; k += 1) {
      const [x, h] = [k * 88 - 20, 130 + 60 * Math.abs(Math.sin(k * 2.1))];
      context.beginPath();
      context.moveTo(x, 560);
      context.lineTo(x + 34, 560 - h);
      context.lineTo(x + 68, 560);
      context.fill();
    }
    context.fillStyle = "#EDF0F3";
    context.fillRect(0, 556, WIDTH, HEIGHT - 556);
    context.fillStyle = "#5A4630";
    context.fillRect(420, 78, 440, 20);
    context.fillRect(424, 78, 18, 500);
    context.fillRect(838, 78, 18, 500);
    for (let k = 0; k < 10; k += 1) {
      context.fillStyle = k % 2 ? "#F4F4F2" : "#B23A2C";
      context.fillRect(POLE[0] - 7, POLE[1] - ((k + 1) * METRE) / 10, 14, METRE / 10);
    }
    return canvas;
  }
}
