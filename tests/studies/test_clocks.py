"""The clock of a film: slow motion, two moments, and falls that accuse it."""

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from footing.settings import Settings
from tests.films import numbered_film
from tests.studies.conftest import Measured
from tests.studies.read_off import acceleration, cells, check
from tests.studies.steps import Tab

RATE = 25


def test_slow_motion_makes_accelerations_larger_by_the_square(measured: Measured) -> None:
    tab = measured.tab
    before = acceleration(tab)
    tab.does("set_clock", footage=measured.footage, clock="capture", typed="100")
    assert acceleration(tab) == pytest.approx(16 * before, rel=1e-3)
    assert cells(tab, "t")[1] == pytest.approx(1 / 100)
    assert "4 times faster" in tab.view()["ground"]["clock"]["consequence"]


def test_two_moments_set_the_clock_with_a_line_in_the_budget(measured: Measured) -> None:
    tab = measured.tab
    moments = {"clock": "moments", "typed": "0.100", "first": 0, "last": 10}
    tab.does("set_clock", footage=measured.footage, **moments)
    view = tab.view()
    assert view["footage"]["times"][10] == pytest.approx(0.1)
    budget = {part["source"]: part for part in view["findings"][0]["budget"]}
    relative = np.sqrt((0.0003 / 0.1) ** 2 + 2 * (0.1 / np.sqrt(12)) ** 2)
    value = acceleration(tab)
    assert float(budget["clock"]["text"]) == pytest.approx(abs(value) * 2 * relative, rel=0.05)


def test_a_fall_that_is_too_slow_accuses_the_clock(
    tab: Tab, footage: int, mark_fall: Callable[..., int]
) -> None:
    body = mark_fall(footage, 9.81 / 16)
    tab.does("add_fit", body=body, x="t", y="y", curve="quadratic")
    found = check(tab, "clock")
    assert not found["sound"]
    assert "4 times too slow" in found["reason"]
    tab.does("set_clock", footage=footage, clock="capture", typed="100")
    assert check(tab, "clock")["sound"]


@pytest.fixture
def mark_fall(tab: Tab) -> Callable[..., int]:
    def mark(footage: int, g: float) -> int:
        ends = {"start_x": 10, "start_y": 10, "end_x": 10, "end_y": 170}
        length = tab.makes("add_known_length", footage=footage, frame=0, **ends)
        tab.does("type_known_length", known_length=length, length="2.00", unit="m")
        body = tab.makes("add_body", footage=footage, name="lantern")
        marks = [[n, 100, 5 + 0.5 * g * (n / RATE) ** 2 * 80] for n in range(0, 40, 4)]
        tab.does("place_marks", body=body, marks=marks)
        return body

    return mark


def test_capture_rate_of_the_file_is_offered_and_not_applied(
    tab: Tab, films: Path, settings: Settings
) -> None:
    film = numbered_film(films / "slow-120.mp4", frames=12, rate=30, capture_rate=120)
    footage = tab.uploads(film, settings)
    clock = tab.view()["ground"]["clock"]
    assert (clock["kind"], clock["offer"]) == ("file", "120")
    assert "accelerations 16 times" in clock["offer_text"]
    assert check(tab, "clock")["sound"] is False
    tab.does("set_clock", footage=footage, clock="capture", typed="120")
    assert check(tab, "clock")["sound"]
