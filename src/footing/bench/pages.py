"""What a person at a browser waits for."""

import json
import os
import statistics
from pathlib import Path

import httpx2 as httpx
from playwright.sync_api import Page

from footing.bench.client import Client
from footing.bench.files import CLIP, long_film
from footing.bench.measuring import line, seconds
from footing.bench.site import demo_site, demo_teacher, new_study, sled_study, window
from footing.settings import Settings
from footing.store.database import connected
from footing.studies.school import people
from footing.web.security import COOKIE

_CLICKS = 24
_REQUESTS = 60
_UPLOAD = 200 * 2**20

# Counts, in the page, the milliseconds from letting the mouse go to the next frame on the stage and
# to the lane that has the new mark as a point, both at the moment at which they are painted.
_STOPWATCH = """
() => {
  window.laps = {frame: [], lane: []};
  let start = 0;
  document.addEventListener("pointerup", () => { start = performance.now(); }, true);
  const painted = (lap) => {
    const from = start;
    requestAnimationFrame(() => window.laps[lap].push(performance.now() - from));
  };
  new MutationObserver(() => painted("frame"))
    .observe(document.getElementById("stage"), {attributeFilter: ["data-shown"]});
  const lanes = document.getElementById("lanes");
  const points = () => lanes.querySelectorAll(".curve-point").length;
  let drawn = points();
  new MutationObserver(() => {
    if (points() > drawn) painted("lane");
    drawn = points();
  }).observe(lanes, {childList: true, subtree: true});
}
"""

_UPLOAD_WATCH = """
() => {
  const send = XMLHttpRequest.prototype.send;
  XMLHttpRequest.prototype.send = function (body) {
    this.upload.addEventListener("load", () => { window.sentAt = performance.now(); });
    send.call(this, body);
  };
  new MutationObserver(() => requestAnimationFrame(() => {
    const { shown } = document.getElementById("stage").dataset;
    if (shown === "0") window.shownAt ??= performance.now();
  })).observe(document.getElementById("stage"), {attributeFilter: ["data-shown"]});
}
"""

# Milliseconds of each of some frame requests, one after the other, past the browser's own cache.
_REQUEST_LAPS = """
async ([path, count]) => {
  const laps = [];
  for (let frame = 0; frame < count; frame += 1) {
    const start = performance.now();
    await (await fetch(`${path}/${frame}/screen.jpg`, {cache: "no-store"})).blob();
    laps.push(performance.now() - start);
  }
  return laps;
}
"""


def measure(settings: Settings, folder: Path) -> None:
    """Everything at the browser."""
    films = {name: folder / f"{name}.mp4" for name in ("libx264", "libx265")}
    for codec, path in films.items():
        long_film(path, codec)
    with demo_site(settings) as address, window(address) as page:
        sled = _first_frame(page, address, CLIP, "1.9 MB, 720p H.264")
        _first_frame(page, address, films["libx264"], "10 s of 1080p H.264")
        _first_frame(page, address, films["libx265"], "10 s of 1080p HEVC")
        _upload(address, folder)
        _cached_requests(page, address)
        _clicks(page, address, sled)


def _first_frame(page: Page, address: str, film: Path, name: str) -> int:
    """From the moment at which the last byte was sent to the first frame on the stage.

    Gives the key of the study that the film is in now.
    """
    with connected():
        study = new_study(name)
    page.goto(f"{address}/studies/{study}/sources")
    page.wait_for_selector("#bench[data-ready=true]")
    page.evaluate(_UPLOAD_WATCH)
    page.locator("#file").set_input_files(film)
    page.wait_for_selector("#stage[data-shown='0']")
    page.wait_for_function("() => window.shownAt")
    lap = page.evaluate("window.shownAt - window.sentAt")
    line(f"upload's end to first frame, {name}", lap, "ms", 1000)
    return study


def _cached_requests(page: Page, address: str) -> None:
    study = sled_study()
    content = page.request.get(f"{address}/api/studies/{study}").json()["footage"]["content"]
    path = f"{address}/api/studies/{study}/footage/{content}/frames"
    first, cached = (page.evaluate(_REQUEST_LAPS, [path, _REQUESTS]) for _ in range(2))
    line("frame request from the browser, first time, median", statistics.median(first), "ms", 60)
    line("frame request from the browser, cached, median", statistics.median(cached), "ms", 30)


def _clicks(page: Page, address: str, study: int) -> None:
    client = Client(page, address, study)
    client.does("add_body", footage=client.view()["sources"][0]["id"], name="sled")
    positions = json.loads(CLIP.with_suffix(".json").read_text())["positions"]
    page.goto(f"{address}/studies/{study}/mark")
    page.wait_for_selector("#bench[data-ready=true]")
    page.wait_for_selector("#stage[data-shown='0']")
    page.wait_for_timeout(1500)  # a person looks before the first click
    page.evaluate(_STOPWATCH)
    stage = page.locator("#stage")
    box = stage.bounding_box()
    assert box is not None
    for _ in range(_CLICKS):
        frame = int(stage.get_attribute("data-shown") or 0)
        a, b, c, d, e, f = map(float, (stage.get_attribute("data-matrix") or "").split(","))
        x, y = positions[frame]
        page.mouse.click(box["x"] + a * x + c * y + e, box["y"] + b * x + d * y + f)
        page.wait_for_timeout(400)
    laps = page.evaluate("window.laps")
    name = f"median of {_CLICKS} clicks, 1280 × 720"
    line(f"click to next frame, {name}", statistics.median(laps["frame"]), "ms", 50)
    line(f"click to the point in the lane, {name}", statistics.median(laps["lane"]), "ms", 40)


def _upload(address: str, folder: Path) -> None:
    """Receiving a large file against writing it to disk, both until it is safely there."""
    data = os.urandom(_UPLOAD)

    def write() -> None:
        with (folder / "plain").open("wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())

    plain = statistics.median(seconds(write) for _ in range(3))
    with connected():
        token = people.sign_in(demo_teacher(), days=1)
    client = httpx.Client(base_url=address, cookies={COOKIE: token}, timeout=120)
    path = f"/api/studies/{sled_study()}/uploads"
    # one byte more is announced than comes, so that receiving alone is measured
    begun = client.post(path, headers={"Upload-Length": str(_UPLOAD + 1)})
    headers = {"Upload-Offset": "0", "Content-Type": "application/offset+octet-stream"}
    taken = seconds(lambda: client.patch(begun.headers["Location"], content=data, headers=headers))
    client.delete(begun.headers["Location"])
    line("plain write of 200 MB, safely on disk", _UPLOAD / 1e6 / plain, "MB/s", 0, at_least=True)
    line("upload of 200 MB: its rate ÷ plain write", plain / taken, "", 0.1, at_least=True)
