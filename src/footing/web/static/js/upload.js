// Bringing a video in: dropped on the stage or chosen, with its progress.

export class Upload {
  /** @param {import("./state.js").Bench} bench @param {HTMLElement} stage */
  constructor(bench, stage) {
    this.bench = bench;
    /** @type {HTMLElement} */
    this.drop = stage.querySelector("#drop");
    /** @type {HTMLInputElement} */
    this.file = stage.querySelector("#file");
    /** @type {HTMLProgressElement} */
    this.progress = stage.querySelector("#upload-progress");
    /** @type {HTMLElement} */
    this.message = stage.querySelector("#upload-message");
    /** @type {HTMLElement} */
    this.share = stage.querySelector("#upload-share");
    bench.addEventListener("view", () => this.show());
    this.file.addEventListener("change", () => this.send(this.file.files[0]));
    stage.addEventListener("dragover", (event) => event.preventDefault());
    stage.addEventListener("drop", (event) => {
      event.preventDefault();
      const file = event.dataTransfer.files[0];
      if (bench.footage) bench.say("This study has footage already; start a new study for this video.");
      else this.send(file);
    });
    this.show();
  }

  show() {
    this.drop.hidden = Boolean(this.bench.footage);
  }

  /** @param {File | undefined} file */
  send(file) {
    if (!file) return;
    const { view } = this.bench;
    const request = new XMLHttpRequest();
    request.open("POST", `/api/studies/${view.id}/footage?name=${encodeURIComponent(file.name)}&based_on=${view.seq}`);
    request.upload.addEventListener("progress", (event) => {
      this.progress.value = (100 * event.loaded) / event.total;
      this.share.textContent = `${(event.loaded / 1e6).toFixed(1)} of ${(event.total / 1e6).toFixed(1)} MB`;
    });
    request.addEventListener("load", () => this.arrived(request));
    request.addEventListener("error", () => this.refused("The connection was lost; choose the file again."));
    this.message.textContent = "";
    this.progress.hidden = false;
    request.send(file);
  }

  /** @param {XMLHttpRequest} request */
  arrived(request) {
    const answer = JSON.parse(request.responseText);
    if (request.status !== 200) return this.refused(answer.error);
    this.refused("");
    this.bench.setView(answer.view);
  }

  /** @param {string} text */
  refused(text) {
    this.progress.hidden = true;
    this.share.textContent = "";
    this.message.textContent = text;
    this.file.value = "";
  }
}
