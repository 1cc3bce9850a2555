from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest

from footing.core import fit_soundness, soundness
from footing.core.choosing import ByChance, ByInformation, TooFewPoints
from footing.core.curves import CURVES, Curve, own_curve
from footing.core.dimensions import read_unit
from footing.core.fitting import Hindrance, NoFit
from footing.core.formulas.notes import InRadians, NoiseTakenOff, NumberIn
from footing.core.meaning import Intercept
from footing.core.reading import Derivative, Estimate, Meaning, Moment, Reading, Variable
from footing.core.soundness import Check
from footing.core.straightening import FORMS
from footing.words.checks import said_of
from footing.words.choices import reason_of
from footing.words.fitting import no_fit_said
from footing.words.formulas import note_said
from footing.words.readings import intercept_sentence, label_of
from footing.words.straight_forms import stands_for
from tests.kinds import kinds

LINE, ARC, SINE = CURVES["line"], CURVES["quadratic"], CURVES["sine"]
TIME = Variable("time", "t", read_unit("s"))
HEIGHT = Variable("height", "h", read_unit("cm"))

# each check where it is sound, and where it is shaky; None where there is no such case
BOTH: list[tuple[Check | None, Check | None]] = [
    (soundness.ScaleKnown(True), soundness.ScaleKnown(False)),
    (None, soundness.UnusableNumbers(("1e999",))),
    (soundness.LengthSize(0.004, 0.002, 0.5), soundness.LengthSize(0.05, 0.001, 0.06)),
    (soundness.LengthSize(0.004, 0.002, 0.5), soundness.LengthSize(0.05, 0.04, 0.5)),
    (
        soundness.LengthsTogether(2, 0.3, agree=True),
        soundness.LengthsTogether(2, -4.2, agree=False),
    ),
    (soundness.ClockPlausible(), soundness.ClockPlausible(-0.61, 4.0)),
    (soundness.ClockPlausible(), soundness.ClockPlausible(sign=soundness.CaptureRate(240, 30))),
    (soundness.ClockPlausible(), soundness.ClockPlausible(sign=soundness.UnevenFrames())),
    (soundness.ClockPlausible(), soundness.ClockPlausible(sign=soundness.NamedSlow())),
    (soundness.UpLevel(0.4), soundness.UpLevel(-3.0)),
    (soundness.SpanChosen(9, 0, moving=True), soundness.SpanChosen(0, 7, moving=True)),
    (soundness.SpanChosen(9, 0, moving=True), soundness.SpanChosen(9, 0, moving=False)),
    (None, soundness.RepeatedFrames(3)),
    (soundness.Readout(0.002, 0.01), soundness.Readout(0.03, 0.01)),
    (soundness.Depth(0.25, 0.01, corrected=True), soundness.Depth(0.25, 0.01, corrected=False)),
    (fit_soundness.PointsEnough(LINE, 9), fit_soundness.PointsEnough(LINE, 4)),
    (
        fit_soundness.Pattern(LINE, 0.4, None),
        fit_soundness.Pattern(LINE, 0.001, 17),
    ),
    (fit_soundness.ErringTogether(1.2), fit_soundness.ErringTogether(3.4)),
    (fit_soundness.Outliers(LINE), fit_soundness.Outliers(LINE, 2, 6.1, 17)),
    (fit_soundness.ImpactInside(None), fit_soundness.ImpactInside(12)),
    (fit_soundness.ThroughZero(0.5, 2.1), fit_soundness.ThroughZero(7.3, 2.1)),
    (None, fit_soundness.AxisLimits(2)),
    (None, fit_soundness.UnitsTogether(("h against t",), (("E", "J and m"),))),
]


def test_every_check_has_words_of_its_own_for_both_outcomes() -> None:
    assert {type(shaky) for _, shaky in BOTH} == kinds(Check)
    said = [(said_of(shaky), sound and said_of(sound)) for sound, shaky in BOTH if shaky]
    assert len({shaky.reason for shaky, _ in said}) == len(BOTH)
    for shaky, sound in said:
        assert shaky.reason.endswith((".", "?"))
        assert sound is None or (sound.title == shaky.title and sound.reason != shaky.reason)


@pytest.mark.parametrize(
    ("check", "number"),
    [
        (soundness.LengthSize(0.05, 0.001, 0.06), "6 % of the picture"),
        (soundness.LengthSize(0.05, 0.04, 0.5), "5.0 % only, because of the digits"),
        (soundness.LengthsTogether(2, -4.2, agree=False), "4.2 uncertainties"),
        (soundness.ClockPlausible(-0.61, 4.0), "0.61 m/s² is free fall 4 times too slow"),
        (soundness.ClockPlausible(-4.4, 1.5), "1.5 times too slow"),
        (soundness.ClockPlausible(sign=soundness.CaptureRate(240, 30)), "captured at 240 frames/s"),
        (soundness.UpLevel(-3.0), "3.0° off"),
        (soundness.SpanChosen(0, 7, moving=True), "All 7 marks"),
        (soundness.RepeatedFrames(1), "A frame repeats"),
        (soundness.RepeatedFrames(3), "3 frames repeat"),
        (soundness.Readout(0.03, 0.01), "by 3 %, more than the stated 1 %"),
        (soundness.Depth(0.25, 0.01, corrected=False), "by 25 %"),
        (fit_soundness.PointsEnough(ARC, 4), "Only 4 points for a quadratic with 3 parameters"),
        (fit_soundness.ErringTogether(3.4), "3.4 times as large"),
        (fit_soundness.Outliers(LINE, 2, 6.1, 17), "2 points lie too far from the straight line"),
        (fit_soundness.ThroughZero(7.3, 2.1), "7.3 standard errors"),
        (fit_soundness.AxisLimits(1), "1 point lies outside"),
        (fit_soundness.UnitsTogether(("h against t",), (("E", "J and m"),)), "E (J and m)"),
    ],
)
def test_a_shaky_check_says_its_numbers(check: Check, number: str) -> None:
    assert not check.sound
    assert number in said_of(check).reason


def reading(meaning: Meaning | Derivative | None) -> Reading:
    return Reading("some", meaning, (), Estimate(1.0, 0.1, np.zeros(2)), read_unit("s"))


def test_every_meaning_has_a_label_of_its_own() -> None:
    labels = [label_of(reading(meaning), TIME, HEIGHT) for meaning in Meaning]
    assert len(set(labels)) == len(Meaning)
    assert label_of(reading(None), TIME, HEIGHT) == ""


@pytest.mark.parametrize(
    ("meaning", "label"),
    [
        (Meaning.SLOPE, "change of height with time"),
        (Meaning.INTERCEPT, "height where time is 0"),
        (Meaning.CONSTANT, "time to change by the factor e"),
        (Derivative(2, turning=False), "acceleration"),
        (Derivative(1, turning=False, moment=Moment.AT_ZERO), "velocity at t = 0"),
        (Derivative(0, turning=True, moment=Moment.AT_START), "angle at start"),
    ],
)
def test_what_a_number_is_is_said_with_the_names_of_the_axes(
    meaning: Meaning | Derivative, label: str
) -> None:
    assert label_of(reading(meaning), TIME, HEIGHT) == label


def test_an_intercept_that_is_not_zero_asks_for_a_reason() -> None:
    assert "is zero" in intercept_sentence(Intercept(0.4, may_be_zero=True))
    assert "3.1 uncertainties" in intercept_sentence(Intercept(3.1, may_be_zero=False))
    exact = intercept_sentence(Intercept(4.5e16, may_be_zero=False))  # points without scatter
    assert "more than 100 uncertainties" in exact


@pytest.mark.parametrize(
    ("curve", "points", "said"),
    [
        (LINE, 1, "1 point here; a straight line needs at least 3."),
        (own_curve("a*x + b"), 2, "2 points here; this formula needs at least 3."),
    ],
)
def test_it_is_said_how_many_points_a_curve_needs(curve: Curve, points: int, said: str) -> None:
    assert no_fit_said(NoFit(Hindrance.TOO_FEW_POINTS, curve, points, 3)) == said


def test_every_reason_why_there_is_no_fit_is_a_sentence_of_its_own() -> None:
    said = {no_fit_said(NoFit(why, ARC, 2, 4)) for why in Hindrance}
    assert len(said) == len(Hindrance)
    assert all(sentence.endswith(".") and "{" not in sentence for sentence in said)


def test_what_to_know_of_a_formula_is_said_with_its_function_and_unit() -> None:
    said = [note_said(InRadians("sin")), note_said(NumberIn("ln", TIME.unit))]
    assert "sin()" in said[0]
    assert "radians" in said[0]
    assert said[1] == "ln takes the number of its argument in s."
    assert "Noise" in note_said(NoiseTakenOff())


def test_which_curve_is_better_is_said_with_the_reason() -> None:
    earned, idle = ByChance(LINE, ARC, 1e-5), ByChance(LINE, ARC, 0.3)
    clear = ByInformation(SINE, ARC, 350.0)
    unclear, beyond = replace(clear, times=3.0), replace(clear, times=1e9)
    said = [reason_of(one) for one in (earned, idle, clear, unclear, beyond, TooFewPoints(LINE))]
    for sentence, part in zip(
        said,
        (
            "The quadratic describes these points better than the straight line",
            "The straight line is enough; the quadratic is hardly better",
            "The sine is 350 times as likely as the quadratic",
            "do not tell a sine from a quadratic",
            "far more than a thousand times",
            "too few points",
        ),
        strict=True,
    ):
        assert part in sentence
    assert "less than 0.1 %" in said[0]
    assert "30 %" in said[1]


def test_slope_and_intercept_of_every_form_stand_for_something() -> None:
    stands = {key: stands_for(key, TIME, Variable("size", "u", read_unit("V"))) for key in FORMS}
    assert all(one != other for one, other in combinations(stands.values(), 2))
    assert stands_for("y2-x", HEIGHT, TIME)[0] == "2/a, from t² = 2 d/a"
    assert stands["y2-x"][0] == "the factor c in u² = c·t"
