"""The benchmarks: speeds as ratios within one run, or beside the limit that they aim at.

Nothing here fails: a slow machine prints "over". The tests never look at time.
"""

import json
import shutil
import statistics
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import av
from playwright.sync_api import Page, sync_playwright

from footing.demo.render import CLIPS
from footing.demo.seed import seed_demo
from footing.media.cache import FrameCache
from footing.media.index import MediaIndex, index_video
from footing.media.service import FrameService, StoredMedia
from footing.serving import open_database, running
from footing.settings import Settings
from footing.store.database import connected
from footing.store.tables import Study
from footing.web.app import create_app

_CLIP = CLIPS / "sled-run.mp4"
_CHROMIUM = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--no-first-run"]
_CLICKS = 24
_REQUESTS = 60

# Counts, in the page, the milliseconds from letting the mouse go to the next frame on the stage and
# to the graph that holds the new mark, both at the moment at which they are painted.
_STOPWATCH = """
() => {
  window.laps = {frame: [], graph: []};
  let start = 0;
  document.addEventListener("pointerup", () => { start = performance.now(); }, true);
  const watch = (id, attribute, lap) => new MutationObserver(() => {
    const from = start;
    requestAnimationFrame(() => window.laps[lap].push(performance.now() - from));
  }).observe(document.getElementById(id), {attributeFilter: [attribute]});
  watch("stage", "data-shown", "frame");
  watch("graph", "data-seq", "graph");
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


def run() -> None:
    """Print every benchmark."""
    folder = Path(tempfile.mkdtemp(prefix="footing-bench-"))
    folder.chmod(0o755)  # the database's own user must reach its cluster in here
    try:
        settings = Settings(data=folder, demo=True)
        _index(settings)
        _frames(folder)
        with _demo_site(settings) as address, _window(address) as page:
            _first_frame(page, address)
            _cached_requests(page, address)
            _clicks(page, address)
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def _line(name: str, value: float, unit: str, limit: float, *, at_least: bool = False) -> None:
    kept = value >= limit if at_least else value <= limit
    wanted = f"{'at least' if at_least else 'at most'} {limit:g} {unit}".strip()
    print(f"{name:<58}{value:>9.3g} {unit:<9}{wanted:<20}{'' if kept else 'over'}", flush=True)


def _seconds(action: Callable[[], object]) -> float:
    started = time.perf_counter()
    action()
    return time.perf_counter() - started


def _indexed(settings: Settings, path: Path) -> MediaIndex:
    return index_video(
        path,
        seconds=settings.decode_seconds,
        frame_count=settings.frame_count,
        frame_pixels=settings.frame_pixels,
    )


def _index(settings: Settings) -> None:
    megabytes = _CLIP.stat().st_size / 1e6
    taken = statistics.median(_seconds(lambda: _indexed(settings, _CLIP)) for _ in range(7))
    _line(
        f"index {megabytes:.1f} MB, {_indexed(settings, _CLIP).frames} frames",
        1000 * taken,
        "ms",
        200,
    )
    _line("index, for each megabyte", 1000 * taken / megabytes, "ms/MB", 100)


def _frames(folder: Path) -> None:
    """Every frame once through the frame service, against decoding alone with PyAV."""
    index = _indexed(Settings(data=folder), _CLIP)

    def decode_alone() -> None:
        with av.open(str(_CLIP)) as container:
            for frame in container.decode(video=0):
                frame.to_ndarray(format="bgr24")

    alone = min(_seconds(decode_alone) for _ in range(3))
    cache = FrameCache(folder / "bench-frames", limit=2**30)
    service = FrameService(cache, seconds=60)
    video = StoredMedia("bench", _CLIP, index)
    served = _seconds(lambda: [service.jpeg(video, n, "screen") for n in range(index.frames)])
    _line("plain decode to BGR, 1280 × 720", index.frames / alone, "frames/s", 0, at_least=True)
    _line(
        "frame service, first time: its rate ÷ plain decode",
        alone / served,
        "",
        0.25,
        at_least=True,
    )
    again = _seconds(lambda: [service.jpeg(video, n, "screen") for n in range(index.frames)])
    _line("frame service, cached: its rate ÷ plain decode", alone / again, "", 5, at_least=True)
    service.close()


@contextmanager
def _demo_site(settings: Settings) -> Iterator[str]:
    with open_database(settings):
        with connected():
            seed_demo(settings)
        with running(create_app(settings)) as address:
            yield address


@contextmanager
def _window(address: str) -> Iterator[Page]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path=shutil.which("chromium"), args=_CHROMIUM
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.click("button[value=teacher]")
        yield page
        browser.close()


def _sled_study() -> int:
    with connected():
        return int(Study.get(Study.title == "Sled run").id)


def _first_frame(page: Page, address: str) -> None:
    """From the moment at which the last byte was sent to the first frame on the stage."""
    page.goto(address)
    page.get_by_role("button", name="Start a new study").first.click()
    page.wait_for_selector("#bench[data-ready=true]")
    page.evaluate(_UPLOAD_WATCH)
    page.locator("#file").set_input_files(_CLIP)
    page.wait_for_selector("#stage[data-shown='0']")
    page.wait_for_function("window.shownAt")
    lap = page.evaluate("window.shownAt - window.sentAt")
    _line("upload's end to first frame on the stage", lap, "ms", 1000)


def _cached_requests(page: Page, address: str) -> None:
    study = _sled_study()
    content = page.request.get(f"{address}/api/studies/{study}").json()["footage"]["content"]
    path = f"{address}/api/studies/{study}/footage/{content}/frames"
    first, cached = (page.evaluate(_REQUEST_LAPS, [path, _REQUESTS]) for _ in range(2))
    _line("frame request from the browser, first time, median", statistics.median(first), "ms", 60)
    _line("frame request from the browser, cached, median", statistics.median(cached), "ms", 30)


def _clicks(page: Page, address: str) -> None:
    study = _sled_study()
    positions = json.loads(_CLIP.with_suffix(".json").read_text())["positions"]
    page.goto(f"{address}/studies/{study}/mark")
    page.wait_for_selector("#bench[data-ready=true]")
    page.wait_for_selector("#plot canvas")
    page.wait_for_timeout(1500)  # a person looks before the first click
    page.evaluate(_STOPWATCH)
    stage = page.locator("#stage")
    box = stage.bounding_box()
    assert box is not None
    for _ in range(_CLICKS):
        frame = int(stage.get_attribute("data-shown") or 0)
        scale, left, top = (
            float(stage.get_attribute(f"data-{n}") or 0) for n in ("scale", "left", "top")
        )
        x, y = positions[frame]
        page.mouse.click(box["x"] + left + (x + 0.5) * scale, box["y"] + top + (y + 0.5) * scale)
        page.wait_for_timeout(400)
    laps = page.evaluate("window.laps")
    name = f"median of {_CLICKS} clicks, 1280 × 720"
    _line(f"click to next frame, {name}", statistics.median(laps["frame"]), "ms", 50)
    _line(f"click to updated graph, {name}", statistics.median(laps["graph"]), "ms", 100)
