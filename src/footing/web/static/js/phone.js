// The phone's page: film or choose, and send; goes on after a lost connection.

import { byId } from "./parts.js";
import { megabytes, sendFile } from "./sending.js";

const root = byId("phone");
const input = byId("phone-file", HTMLInputElement);

function send(/** @type {File} */ file) {
  const progress = byId("phone-progress", HTMLProgressElement);
  byId("phone-sending").hidden = false;
  byId("phone-done").hidden = true;
  byId("phone-name").textContent = file.name;
  byId("phone-message").textContent = "";
  sendFile(file, `/api/phone/${root.dataset.token}/uploads`, {}, {
    progress: (sent, size) => {
      progress.value = (100 * sent) / size;
      byId("phone-share").textContent = `${megabytes(sent)} of ${megabytes(size)} MB`;
      byId("phone-message").textContent = "";
    },
    waiting: () => {
      byId("phone-message").textContent = "No connection; it goes on by itself when there is one.";
    },
    refused: (reason) => {
      byId("phone-sending").hidden = true;
      byId("phone-message").textContent = reason;
    },
    used: () => {
      byId("phone-sending").hidden = true;
      byId("phone-done").hidden = false;
    },
  });
  input.value = "";
}

input.addEventListener("change", () => {
  if (input.files?.[0]) send(input.files[0]);
});
