// Two films at the same moment of their own times, moved by one slider.

const STEP = 1 / 15; // s of a film between two pictures while both play

/**
 * Which frames a film has, with their moments, and where they are had.
 * @typedef {{address: string, frames: [number, number][]}} Film
 */

/** @type {ReturnType<typeof setTimeout> | undefined} */
let playing;

/** What listens for the films that are shown. */
let listening = new AbortController();

/** Have the slider move both films, if this page has two. */
export function showBeside() {
  const slider = document.getElementById("both-at");
  const pictures = [...document.querySelectorAll("img[data-film]")];
  if (!(slider instanceof HTMLInputElement) || !pictures.length || slider.dataset.begun) return;
  stop();  // what was done with others, which were shown before
  listening.abort();
  listening = new AbortController();
  const { signal } = listening;
  // from now on they are what the slider says, and not as the server sends them
  for (const driven of document.querySelectorAll("#both-at, #both-says, #play-both, [data-frame-of], img[data-film]")) /** @type {HTMLElement} */ (driven).dataset.begun = "true";
  /** @type {Film[]} */
  const films = pictures.map((picture) => JSON.parse(/** @type {HTMLElement} */ (picture).dataset.film ?? ""));
  const times = films.flatMap((film) => film.frames.map(([, at]) => at));
  slider.min = String(Math.min(...times));
  slider.max = String(Math.max(...times));
  slider.value = slider.min;
  slider.addEventListener("input", () => show(slider, pictures, films), { signal });
  const play = document.getElementById("play-both");
  play?.addEventListener("click", () => {
    if (playing) stop();
    else go(slider, pictures, films);
    play.textContent = playing ? "Stop" : "Play";
  }, { signal });
  show(slider, pictures, films);
}

/**
 * Whether the page itself says what an element shows, and not the server.
 * @param {Node} node
 */
export function isDriven(node) {
  return node instanceof HTMLElement && node.dataset.begun === "true";
}

/**
 * Whether an element is of other films when it is made anew.
 * @param {Node} old @param {Node} anew
 */
export function showsOthers(old, anew) {
  return !(old instanceof HTMLElement && anew instanceof HTMLElement && old.dataset.version === anew.dataset.version);
}

/** @param {HTMLInputElement} slider @param {Element[]} pictures @param {Film[]} films */
async function show(slider, pictures, films) {
  const at = Number(slider.value);
  const says = document.getElementById("both-says");
  if (says) says.textContent = `${at.toFixed(2)} s`;
  await Promise.all(pictures.map((picture, place) => {
    const { address, frames } = films[place];
    const [frame] = frames.reduce((best, one) => (Math.abs(one[1] - at) < Math.abs(best[1] - at) ? one : best));
    const caption = document.querySelector(`[data-frame-of="${place}"]`);
    if (caption) caption.textContent = `frame ${frame}`;
    const image = /** @type {HTMLImageElement} */ (picture);
    image.src = `${address}/${frame}/screen.jpg`;
    return image.decode().catch(() => undefined);
  }));
}

/** @param {HTMLInputElement} slider @param {Element[]} pictures @param {Film[]} films */
function go(slider, pictures, films) {
  if (Number(slider.value) >= Number(slider.max)) slider.value = slider.min;
  const began = performance.now() - Number(slider.value) * 1000;
  const next = async () => {
    slider.value = String((performance.now() - began) / 1000);
    await show(slider, pictures, films);
    if (!playing) return;
    if (Number(slider.value) < Number(slider.max)) playing = setTimeout(next, STEP * 1000);
    else document.getElementById("play-both")?.click();
  };
  playing = setTimeout(next, 0);
}

function stop() {
  clearTimeout(playing);
  playing = undefined;
}
