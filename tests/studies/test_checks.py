"""Soundness: what is judged, in which unit, and in which order it is told."""

import numpy as np
import pytest

from footing.core import fit_soundness
from footing.core.soundness import Check
from footing.studies.steps import Step
from footing.studies.views.checks import STEPS
from tests.kinds import kinds
from tests.studies.conftest import Measured
from tests.studies.read_off import check
from tests.studies.steps import Tab

_G = 981.0  # px/s², where a metre is 100 px


def falling(tab: Tab, footage: int, *, slower: float) -> None:
    """A ball that falls and goes on sideways, filmed so many times slower than it plays."""
    body = tab.makes("add_body", footage=footage, name="ball")
    times = [n / 25 / slower for n in range(12)]
    marks = [[n, 20 + 200 * t, 20 + _G * t * t / 2] for n, t in enumerate(times)]
    tab.does("place_marks", body=body, marks=marks)
    tab.makes("add_fit", body=body, x="t", y="y", curve="quadratic")


@pytest.mark.parametrize("unit", ["m", "cm"])
@pytest.mark.parametrize(("slower", "sound"), [(1.0, True), (4.0, False)])
def test_a_fall_is_judged_in_metres_whatever_the_unit_of_the_study(
    tab: Tab, footage: int, unit: str, slower: float, sound: bool
) -> None:
    ends = {"start_x": 10, "start_y": 10, "end_x": 110, "end_y": 10}
    length = tab.makes("add_known_length", footage=footage, frame=0, **ends)
    tab.does("type_known_length", known_length=length, length="1.00", unit="m")
    falling(tab, footage, slower=slower)
    tab.does("set_unit", length=unit)
    clock = check(tab, "clock")
    assert clock["sound"] is sound
    assert sound or "4 times too slow" in clock["reason"]


def fitted(tab: Tab, footage: int, heights: list[float], *stretch: int) -> str | None:
    """What a quadratic through heights in px, a frame each, or a stretch of it, doubts itself."""
    body = tab.makes("add_body", footage=footage, name="ball")
    scatter = np.random.default_rng(7).normal(0, 0.3, len(heights))
    marks = [[n, 30 + n, 20 + y + e] for n, (y, e) in enumerate(zip(heights, scatter, strict=True))]
    tab.does("place_marks", body=body, marks=marks)
    over = []
    if stretch:
        first, last = stretch
        over = [tab.makes("add_passage", footage=footage, name="fall", first=first, last=last)]
    fit = tab.makes("add_fit", body=body, x="t", y="y", curve="quadratic", passages=over)
    return next(one["doubt"] for one in tab.view(footage)["fits"] if one["id"] == fit)


def test_a_fit_doubts_itself_where_its_curve_is_not_that_of_its_points(
    tab: Tab, footage: int
) -> None:
    let_go = [0.6 * max(n - 10, 0) ** 2 for n in range(24)]
    assert "misses something" in str(fitted(tab, footage, let_go))
    assert fitted(tab, footage, let_go, 10, 23) is None
    bounces = [60 - 0.7 * (n if n < 9 else 18 - n) ** 2 for n in range(18)]
    assert "a bounce or an impact" in str(fitted(tab, footage, bounces))


def test_what_is_shaky_comes_first(measured: Measured) -> None:
    """Also where it is found late, such as series of two units on one axis."""
    measured.tab.does("set_graph", footage=measured.footage, x="t", ys=["y", "vy"])
    sound = [one["sound"] for one in measured.tab.view(measured.footage)["checks"]]
    assert False in sound
    assert True in sound
    assert sound == sorted(sound)


def test_every_check_leads_to_the_step_at_which_it_is_put_right() -> None:
    assert set(STEPS) == kinds(Check)
    about_fits = {kind for kind, step in STEPS.items() if step == Step.GRAPH}
    assert about_fits == {kind for kind in STEPS if kind.__module__ == fit_soundness.__name__}
