"""Tables, graphs and fits: what an edit costs when there is much, and what libraries cost alone."""

import statistics
from functools import partial
from pathlib import Path

import numpy as np
import vl_convert
from playwright.sync_api import Page
from scipy import optimize

from footing.bench.client import Client
from footing.bench.measuring import line, seconds
from footing.bench.site import demo_site, window
from footing.core.curves import CURVES
from footing.core.fitting import fit_curve
from footing.core.motion import Motion
from footing.core.quantities import QuantityKey
from footing.core.starting import starts
from footing.demo.filming import write_video
from footing.settings import Settings
from footing.studies.views.graph_file import filled, graph_file

_MARKS, _BODIES = 2000, 4
_ROWS, _COLUMNS = 100_000, 200
_TIMES = 7
_GRAPH_WATCH = """
([selector]) => {
  const graph = document.querySelector(selector);
  window.redrawn = new Promise((done) => new MutationObserver(
    () => requestAnimationFrame(() => done(performance.now())),
  ).observe(graph, {attributeFilter: ["data-seq"]}));
  return performance.now();
}
"""
_SCROLLS = {
    "scrolled by a turn of the wheel": ("scrollTop", 120),
    "scrolled by a thousand rows": ("scrollTop", 27_000),
    "scrolled to columns beside": ("scrollLeft", 120),
}
_SCROLL = """
async ([way, by, times]) => {
  const view = document.querySelector("#sheet .slick-viewport-top.slick-viewport-right");
  const laps = [];
  for (let n = 0; n < times; n += 1) {
    const begun = performance.now();
    view[way] += by;
    await new Promise((done) => requestAnimationFrame(() => setTimeout(done)));
    laps.push(performance.now() - begun);
    await new Promise((done) => setTimeout(done, 200));
  }
  return laps;
}
"""


def measure(settings: Settings, folder: Path) -> None:
    """Everything about tables, graphs and fits."""
    _fits()
    _derived_columns()
    with demo_site(settings) as address, window(address) as page:
        _many_marks(page, address, folder)
        _long_sheet(page, address)


def _fits() -> None:
    """A fit against the bare call of the library, from the same starting values."""
    rng = np.random.default_rng(1)
    x = np.linspace(0, 4, 400)
    curve = CURVES["sine"]
    y = curve.values(x, np.array([0.12, 7.0, 0.4, 0.02])) + rng.normal(scale=0.004, size=400)
    start = starts(curve, x, y)[0]

    def bare() -> object:
        return optimize.curve_fit(
            lambda x, a, w, p, c: a * np.sin(w * x + p) + c, x, y, p0=start, xtol=1e-15, ftol=1e-15
        )

    ours = statistics.median(seconds(lambda: fit_curve(x, y, curve)) for _ in range(_TIMES))
    theirs = statistics.median(seconds(bare) for _ in range(_TIMES))
    guess = statistics.median(seconds(lambda: starts(curve, x, y)) for _ in range(_TIMES))
    line("sine through 400 points, without its start ÷ bare scipy", (ours - guess) / theirs, "", 6)
    line("sine through 400 points, guess included", 1000 * ours, "ms", 100)


def _derived_columns() -> None:
    """Fits of what is computed from 2 000 marks: in milliseconds, and against one of positions."""
    times = np.arange(_MARKS) / 240
    noise = np.random.default_rng(1).normal(scale=0.5, size=(_MARKS, 2))
    path = np.stack([900 * times, 300 * np.sin(times)], axis=1) + noise

    def fits(key: QuantityKey) -> None:
        motion = Motion(times, path, heights=path[:, 1], position_uncertainty=0.5)
        column = motion.column(key)
        fit_curve(
            times[column.index], column.values, CURVES["line"], covariance=motion.covariance(key)
        )

    plain = statistics.median(seconds(partial(fits, "y")) for _ in range(_TIMES))
    derived: dict[QuantityKey, str] = {"vy": "velocity", "v": "speed", "s": "distance travelled"}
    for key, name in derived.items():
        lap = statistics.median(seconds(partial(fits, key)) for _ in range(_TIMES))
        line(f"line through {_MARKS} values of a {name}", 1000 * lap, "ms", 30)
        line(f"  ÷ the same through {_MARKS} positions", lap / plain, "", 60)


def _new_study(page: Page, address: str) -> int:
    page.goto(address)
    page.get_by_role("button", name="Start a new study").first.click()
    page.wait_for_selector("#bench[data-ready=true]")
    return int(page.locator("#bench").get_attribute("data-study") or 0)


def _many_marks(page: Page, address: str, folder: Path) -> None:
    """One edit with 2 000 marks on each of four bodies: the answer, and the graph on the screen."""
    study = _new_study(page, address)
    film = folder / "many-frames.mp4"
    picture = np.full((90, 160, 3), 90, dtype=np.uint8)
    write_video(
        film, (picture for _ in range(_MARKS + 1)), rate=60, encoder={"preset": "ultrafast"}
    )
    page.locator("#file").set_input_files(film)
    page.wait_for_selector("#stage[data-shown='0']")
    client = Client(page, address, study)
    stage = client.view()["footage"]
    assert stage is not None
    footage = stage["id"]
    frames = np.arange(_MARKS)
    for place in range(_BODIES):
        body = client.makes("add_body", footage=footage, name=f"body {place}")
        y = 45 + (10 + place) * np.sin(frames / 90)
        marks = [[int(n), float(20 + n / 20), float(up)] for n, up in zip(frames, y, strict=True)]
        client.does("place_marks", body=body, marks=marks)
    client.does("add_fit", body=body, x="t", y="y", curve="sine")
    state = statistics.median(seconds(client.view) for _ in range(_TIMES))
    laps = [seconds(partial(_moved, client, body, 25.0 + n)) for n in range(_TIMES)]
    name = f"edit answered, {_BODIES} × {_MARKS} marks and a sine"
    line(name, 1000 * statistics.median(laps), "ms", 500)
    line("  the same state asked for again", 1000 * state, "ms", 500)
    page.goto(f"{address}/studies/{study}/graph")
    page.wait_for_selector("#plot canvas")
    page.wait_for_timeout(1500)
    redraws = []
    for n in range(_TIMES):
        begun = page.evaluate(_GRAPH_WATCH, ["#graph"])
        _moved(client, body, 40.0 + n)
        redraws.append(page.evaluate("() => window.redrawn") - begun)
    line("  edit to redrawn graph, seen by another", statistics.median(redraws), "ms", 1500)
    view = client.view()
    spec = filled(view["graphs"][0], view["fits"]) | {"width": 900, "height": 558}
    alone = seconds(lambda: vl_convert.vegalite_to_svg(spec, vl_version="6.4"))
    whole = seconds(lambda: graph_file(view, 0, "svg"))
    line("graph as SVG by the server ÷ vl-convert alone", whole / alone, "", 1.3)


def _moved(client: Client, body: int, x: float) -> None:
    client.does("place_mark", body=body, frame=5, x=x, y=50.0)


def _long_sheet(page: Page, address: str) -> None:
    """A sheet of 200 columns and 100 000 rows: bringing it in, looking at it, one edit."""
    client = Client(page, address, _new_study(page, address))
    rng = np.random.default_rng(2)
    some = rng.normal(size=(1000, _COLUMNS)).round(3)
    block = "\n".join(",".join(f"{value:g}" for value in row) for row in some) + "\n"
    header = ",".join(f"q{n}" for n in range(_COLUMNS)) + "\n"
    data = (header + block * (_ROWS // 1000)).encode()
    path = f"/api/studies/{client.study}/tables?name=long"
    taken = seconds(lambda: client.http.post(path, content=data).raise_for_status())
    line(f"{_COLUMNS} × {_ROWS} cells brought in, {len(data) / 1e6:.0f} MB", taken, "s", 90)
    source = str(client.view()["sources"][0]["id"])
    view = client.view(source)
    assert view["sheet"] is not None
    sheet, column = view["sheet"]["id"], view["columns"][0]["id"]
    client.seq = view["seq"]
    window = f"/api/studies/{client.study}/sheets/{sheet}/cells?first=70000&count=100"
    laps = [seconds(lambda: client.http.get(window).raise_for_status()) for _ in range(_TIMES)]
    line("100 of its rows, all columns", 1000 * statistics.median(laps), "ms", 500)
    client.does("add_column", source, sheet=sheet, name="sum", symbol="S", formula="q0^2 + q1")

    def types(text: str) -> None:
        client.does("set_cells", source, sheet=sheet, row=70_000, column=column, cells=[[text]])

    laps = [seconds(partial(types, str(n))) for n in range(_TIMES)]
    name = "one cell typed, with a computed column and a graph"
    line(name, 1000 * statistics.median(laps), "ms", 1500)

    def inserts() -> None:
        client.does("insert_rows", source, sheet=sheet, row=50_000)

    laps = [seconds(inserts) for _ in range(_TIMES)]
    line("one row put between", 1000 * statistics.median(laps), "ms", 2000)
    _looked_at(page, address, client.study)


def _looked_at(page: Page, address: str, study: int) -> None:
    """The long sheet in the browser: opened, scrolled through, typed into."""

    def opens() -> None:
        page.goto(f"{address}/studies/{study}/mark")
        page.wait_for_selector("#sheet[data-seq]")

    line("  the sheet opened in the browser", seconds(opens), "s", 10)
    page.wait_for_timeout(2000)  # the graph beside it is drawn
    for name, ways in _SCROLLS.items():
        laps = page.evaluate(_SCROLL, [*ways, _TIMES])
        line(f"  {name}, to the next picture", statistics.median(laps), "ms", 300)
    page.locator("#sheet .slick-cell.l1").first.click()
    redraws = []
    for n in range(_TIMES):
        begun = page.evaluate(_GRAPH_WATCH, ["#graph"])
        page.keyboard.type(str(n))
        page.keyboard.press("Enter")
        redraws.append(page.evaluate("() => window.redrawn") - begun)
    line("  a cell typed there to the redrawn graph", statistics.median(redraws), "ms", 1500)
