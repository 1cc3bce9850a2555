// A file that is sent as it is: an archive of a lab, a study or a class; then the page of what became of it.

import { part } from "./parts.js";

document.addEventListener("submit", async (event) => {
  const form = /** @type {HTMLFormElement} */ (event.target);
  if (!form.dataset.sendFile) return;
  event.preventDefault();
  const message = part(form, ".message");
  const button = part(form, "button", HTMLButtonElement);
  const [file] = part(form, "[type=file]", HTMLInputElement).files ?? [];
  message.textContent = file ? `${file.name} is on its way …` : "Choose a file first.";
  if (!file) return;
  button.disabled = true;
  const fields = new URLSearchParams([...new FormData(form)].filter(([, value]) => typeof value === "string" && value).map(([name, value]) => [name, String(value)]));
  try {
    const answer = await fetch(`${form.dataset.sendFile}?${fields}`, { method: "POST", body: file, headers: { "Content-Type": "application/zip", "HX-Request": "true" } });
    if (answer.ok) location.assign(answer.url);
    else message.textContent = (await answer.json()).error;
  } catch {
    message.textContent = "Footing does not answer just now; try again in a moment.";
  }
  button.disabled = false;
});
