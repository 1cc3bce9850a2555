// The phone's page: film or choose, and send; goes on after a lost connection.

import { megabytes, sendFile } from "./sending.js";

const root = document.getElementById("phone");
/** @type {HTMLInputElement} */
const input = root.querySelector("#phone-file");
const part = (/** @type {string} */ id) => document.getElementById(id);

function send(/** @type {File} */ file) {
  const progress = /** @type {HTMLProgressElement} */ (part("phone-progress"));
  part("phone-sending").hidden = false;
  part("phone-done").hidden = true;
  part("phone-name").textContent = file.name;
  part("phone-message").textContent = "";
  sendFile(file, `/api/phone/${root.dataset.token}/uploads`, {}, {
    progress: (sent, size) => {
      progress.value = (100 * sent) / size;
      part("phone-share").textContent = `${megabytes(sent)} of ${megabytes(size)} MB`;
      part("phone-message").textContent = "";
    },
    waiting: () => {
      part("phone-message").textContent = "No connection; it goes on by itself when there is one.";
    },
    refused: (reason) => {
      part("phone-sending").hidden = true;
      part("phone-message").textContent = reason;
    },
    used: () => {
      part("phone-sending").hidden = true;
      part("phone-done").hidden = false;
    },
  });
  input.value = "";
}

input.addEventListener("change", () => {
  if (input.files[0]) send(input.files[0]);
});
