"""Models: integration and search beside the library alone, and a model while a film plays."""

import statistics
from collections.abc import Iterator
from pathlib import Path

import numpy as np
from playwright.sync_api import Page
from scipy.integrate import solve_ivp
from scipy.optimize import least_squares

from footing.bench.measuring import line, seconds
from footing.bench.site import demo_site, demo_teacher, new_study, window
from footing.core.arrays import FloatArray, Image
from footing.core.drag import frontal_area
from footing.core.prediction.adjusting import Adjusted, Track, adjust
from footing.core.prediction.chain import Chain, Leg
from footing.core.prediction.laws import LAWS
from footing.demo.filming import write_video
from footing.settings import Settings
from footing.store.database import connected
from footing.studies.door import EditRequest, submit
from footing.studies.films import uploads
from footing.studies.model.keys import made_key

_TIMES = 5
_MARKS = 120
_FRAMES = 600
_PLAYS = 3
_REST = {"x": 0.0, "y": 0.0, "vx": 1.0, "vy": 3.0}
_BODY = {"g": 9.81, "mass": 0.018, "diameter": 0.12, "drag_coefficient": 0.6, "density": 1.2}
_SHARP = {"rtol": 1e-11, "atol": 1e-13}

# Counts, in the page, the frames that come onto the stage.
_COUNTER = """
() => {
  window.shownFrames = 0;
  new MutationObserver(() => { window.shownFrames += 1; })
    .observe(document.getElementById("stage"), {attributeFilter: ["data-shown"]});
}
"""


def measure(settings: Settings, folder: Path) -> None:
    """Speed as ratios, and frames shown while a model moves."""
    _integration()
    _search()
    film = folder / "long.mp4"
    write_video(film, _swinging(), rate=30, encoder={"preset": "ultrafast", "g": "30"})
    with demo_site(settings) as address, window(address) as page:
        _overlay(page, address, film, settings)


def _fall(_t: float, state: FloatArray, coefficient: float) -> FloatArray:
    """The same fall with drag, as somebody would write it for the library alone."""
    pull = 1.2 * coefficient * frontal_area(0.12) / (2 * 0.018)
    vx, vy = state[2:]
    speed = float(np.hypot(vx, vy))
    return np.array([vx, vy, -pull * speed * vx, -9.81 - pull * speed * vy])


def _bare(times: FloatArray, start: FloatArray, coefficient: float) -> FloatArray:
    found = solve_ivp(
        _fall,
        (0.0, float(times[-1])),
        start,
        method="DOP853",
        t_eval=times,
        args=(coefficient,),
        **_SHARP,
    )
    return np.asarray(found.y[:2].T)


def _integration() -> None:
    times = np.linspace(0.0, 2.0, _FRAMES)
    chain = Chain((Leg(LAWS["quadratic drag"], None, _REST),), _BODY, 0.0, 2.0)
    start = np.array([*_REST.values()])
    ours = statistics.median(seconds(lambda: chain.solve().at(times)) for _ in range(_TIMES))
    bare = statistics.median(seconds(lambda: _bare(times, start, 0.6)) for _ in range(_TIMES))
    line(f"a fall with drag at {_FRAMES} moments ÷ the library alone", ours / bare, "", 2)


def _search() -> None:
    """Five parameters of a fall with drag from its marks."""
    times = np.linspace(0.0, 1.0, _MARKS)
    chain = Chain((Leg(LAWS["quadratic drag"], None, _REST),), _BODY, 0.0, 1.0)
    exact = chain.solve().at(times)[0][0, :, :2]
    marks = exact + np.random.default_rng(1).normal(scale=0.002, size=exact.shape)
    asked = [(0, name) for name in ("x", "y", "vx", "vy", "drag_coefficient")]

    def left(values: FloatArray) -> FloatArray:
        return (_bare(times, values[:4], values[4]) - marks).ravel()

    def alone() -> None:
        least_squares(left, np.array([0.0, 0.0, 0.9, 2.8, 0.5]), x_scale="jac", jac="3-point")

    def ours() -> None:
        assert isinstance(adjust(chain, asked, Track(times, marks)), Adjusted)

    mine = statistics.median(seconds(ours) for _ in range(_TIMES))
    bare = statistics.median(seconds(alone) for _ in range(_TIMES))
    line(f"five parameters from {_MARKS} marks ÷ the library alone", mine / bare, "", 1)


def _overlay(page: Page, address: str, film: Path, settings: Settings) -> None:
    """Frames shown while a film plays with a model over all of it, and without."""
    with connected():
        study = new_study("model over a film")
        content = uploads.take_in(film, settings)
        hand = _Hand(study)
        footage = hand.does("add_footage", content=content, name="long.mp4")
        ends = {"start_x": 20, "start_y": 340, "end_x": 620, "end_y": 340}
        known = hand.does("add_known_length", footage=footage, frame=0, **ends)
        hand.does("type_known_length", known_length=known, length="5.00", unit="m")
        body = hand.does("add_body", footage=footage, name="ball")
        frames = range(0, _FRAMES, 2)
        marks = [[n, 40 + 1.8 * n / 2, 180 + 100 * float(np.sin(n / 20))] for n in frames]
        hand.does("place_marks", body=body, marks=marks)
        model = hand.does(
            "add_model", footage=footage, body=body, name="swing", law="constant velocity"
        )
    page.goto(f"{address}/studies/{study}/model")
    page.wait_for_selector("#bench[data-ready=true]")
    page.wait_for_selector("#overlay [data-ghost]")
    page.evaluate(_COUNTER)
    _played(page)  # once, so that the frames are there
    shown: dict[bool, list[int]] = {True: [], False: []}
    box = page.locator(f'.model-line[data-model="{model}"] [name=shown]')
    for _ in range(_PLAYS):
        for on in (True, False):
            box.set_checked(on)
            page.wait_for_timeout(1500)
            shown[on].append(_played(page))
    with_model, without = (statistics.median(shown[on]) for on in (True, False))
    name = "frames shown while playing, with a model ÷ without"
    line(name, with_model / without, "", 0.97, at_least=True)


def _swinging() -> Iterator[Image]:
    """A small picture over which something moves, so that showing it costs little."""
    plain = np.full((360, 640, 3), 200, dtype=np.uint8)
    for n in range(_FRAMES):
        picture = plain.copy()
        x, y = 40 + 9 * n // 10, 180 + round(100 * float(np.sin(n / 20)))
        picture[y - 6 : y + 6, x - 6 : x + 6] = 40
        yield picture


def _played(page: Page) -> int:
    """How many frames are shown while the film plays from its first frame on."""
    page.locator("#go-to").fill("0")
    page.locator("#go-to").press("Enter")
    page.wait_for_selector("#stage[data-shown='0']")
    before = page.evaluate("window.shownFrames")
    page.locator("#play").click()
    page.wait_for_selector("#play[aria-label='Play']", timeout=60_000)
    return int(page.evaluate("window.shownFrames") - before)


class _Hand:
    """The teacher, at a study."""

    def __init__(self, study: int) -> None:
        self._study = study
        self._seq = 0

    def does(self, kind: str, **fields: object) -> int:
        request = EditRequest.model_validate(
            {"edit": {"kind": kind, **fields}, "based_on": self._seq, "token": f"{self._seq:032x}"}
        )
        accepted = submit(self._study, demo_teacher(), request)
        self._seq = accepted.seq
        return made_key(accepted.made) or 0
