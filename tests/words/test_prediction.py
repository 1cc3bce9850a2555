"""What is said of predicted motions."""

import pytest

from footing.core.drag import Suits
from footing.core.prediction.adjusting import NotAdjusted, Why
from footing.core.prediction.chain import Slot
from footing.core.prediction.integrating import MotionStopped, Stop
from footing.core.prediction.judging import Compared
from footing.words.prediction import (
    air_matters_said,
    compared_said,
    not_adjusted_said,
    stop_said,
    stops_said,
    suits_said,
)

SLOTS = (Slot(0, "g"), Slot(None, "mass"))


@pytest.mark.parametrize("why", Stop)
def test_why_a_motion_stops(why: Stop) -> None:
    stopped = MotionStopped(why, 0.5)
    stopped.time = 1.25
    assert stop_said(stopped).startswith("at t = 1.25 s the ")


@pytest.mark.parametrize("why", Why)
def test_why_nothing_was_found(why: Why) -> None:
    said = not_adjusted_said(NotAdjusted(why, SLOTS, 3), lambda slot: slot.name)
    assert "g and mass" in said
    assert said.endswith(".")


@pytest.mark.parametrize(
    ("marks", "said"), [(0, "no mark there"), (1, "1 mark there"), (4, "4 marks there")]
)
def test_marks_are_counted(marks: int, said: str) -> None:
    assert not_adjusted_said(NotAdjusted(Why.TOO_FEW, SLOTS, marks), str).startswith(said)


def test_a_law_that_suits_needs_no_word() -> None:
    assert {how for how in Suits if not suits_said(how)} == {Suits.WELL}


def test_which_prediction_does_better() -> None:
    names, sizes = ("with air", "without air"), ("1 mm", "9 mm")
    assert compared_said(Compared(0.001, 0.009, -5.0), names, sizes) == (
        "“with air” lies closer to the marks than “without air”: 1 mm against 9 mm."
    )
    assert compared_said(Compared(0.009, 0.001, 5.0), names, ("9 mm", "1 mm")) == (
        "“without air” lies closer to the marks than “with air”: 1 mm against 9 mm."
    )
    assert "cannot be told apart" in compared_said(Compared(0.001, 0.002, -1.0), names, sizes)


def test_whether_the_air_matters_and_where_a_prediction_stops() -> None:
    assert air_matters_said(20.0, "5 cm", "2 mm").startswith("The air matters here")
    assert air_matters_said(1.0, "2 mm", "2 mm").startswith("The air hardly matters")
    assert stops_said(None) == "matches all marks within their scatter"
    assert stops_said("0.25") == "leaves the marks at 0.25 s"
