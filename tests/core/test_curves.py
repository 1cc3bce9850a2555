from dataclasses import replace

import numpy as np
import pytest

from footing.core.curves import CURVES, own_curve
from footing.core.dimensions import read_unit
from footing.core.fitting import Fit, Given, Hindrance, NoFit, fit_curve
from footing.core.formulas.syntax import WrongFormula
from footing.core.meaning import parameters, readings
from footing.core.reading import Reading, Variable

TIME = Variable("time", "t", read_unit("s"))
WAY = Variable("position x", "x", read_unit("m"), 0)
TRUTH = {
    "level": [2.5],
    "line": [1.5, -2.0],
    "proportional": [0.7],
    "quadratic": [-4.9, 3.0, 1.0],
    "vertex": [-4.9, 0.6, 1.2],
    "cubic": [1.0, -2.0, 0.5, 3.0],
    "power": [2.0, 1.5],
    "inverse": [3.0],
    "inverse_square": [3.0],
    "root": [1.3],
    "exponential": [2.0, -1.5],
    "exponential_level": [60.0, -1.2, 20.0],
    "logarithm": [2.0, 1.0],
    "logistic": [5.0, 4.0, 1.1],
    "sine": [0.12, 7.0, 0.4, 0.02],
    "damped_sine": [0.12, 0.6, 9.0, 0.4, 0.02],
    "bell": [3.0, 1.2, 0.3, 0.5],
    "chain": [0.8, 1.1, -0.3],
}


def test_every_named_curve_is_tried() -> None:
    assert set(TRUTH) == set(CURVES)


@pytest.mark.parametrize(("simple", "free"), [(a, b) for a in TRUTH for b in CURVES[a].within])
def test_a_curve_within_another_is_one_of_its_cases(simple: str, free: str) -> None:
    """So that an F test between the two means something."""
    x = np.linspace(0.2, 2, 40)
    y = CURVES[simple].values(x, np.array(TRUTH[simple]))
    fit = fit_curve(x, y, CURVES[free])
    if isinstance(fit, NoFit):  # where what it has more does nothing, it is not told apart
        assert simple == "level"
        return
    assert np.abs(fit.residuals).max() < 1e-6 * np.abs(y).max()


@pytest.mark.parametrize("key", TRUTH)
def test_named_curve_is_found_again_from_points_with_scatter(key: str) -> None:
    curve = CURVES[key]
    rng = np.random.default_rng(7)
    x = np.linspace(0.1, 2.3, 60)
    truth = np.array(TRUTH[key])
    y = curve.values(x, truth)
    y = y + rng.normal(scale=0.01 * (np.ptp(y) or 1.0), size=60)
    fit = fit_curve(x, y, curve)
    assert isinstance(fit, Fit)
    assert np.all(np.abs(fit.values - truth) < 5 * fit.standard_errors + 1e-9)
    assert fit.scatter == pytest.approx(0.01 * (np.ptp(curve.values(x, truth)) or 1.0), rel=0.4)


@pytest.mark.parametrize("key", TRUTH)
def test_slopes_by_the_parameters_are_exact(key: str) -> None:
    curve = CURVES[key]
    x = np.linspace(0.2, 2, 9)
    values = np.array(TRUTH[key])
    _, slopes = curve.slopes(x, values)
    for place in range(len(values)):
        step = np.zeros(len(values))
        step[place] = 1e-6
        numeric = (curve.values(x, values + step) - curve.values(x, values - step)) / 2e-6
        assert slopes[:, place] == pytest.approx(numeric, rel=1e-5, abs=1e-6)


@pytest.mark.parametrize(
    ("key", "units"),
    [
        ("quadratic", ["cm/s²", "cm/s", "cm"]),
        ("vertex", ["cm/s²", "s", "cm"]),
        ("sine", ["cm", "1/s", "", "cm"]),
        ("exponential", ["cm", "1/s"]),
        ("logistic", ["cm", "1/s", "s"]),
        ("inverse_square", ["cm·s²"]),
        ("root", ["cm/s^0.5"]),
        ("power", ["cm", ""]),
        ("logarithm", ["cm", "cm"]),
        ("bell", ["cm", "s", "s", "cm"]),
    ],
)
def test_parameters_get_the_units_of_their_columns(key: str, units: list[str]) -> None:
    found, problem = CURVES[key].units(read_unit("s"), read_unit("cm"))
    assert [str(unit) for unit in found] == units
    assert problem is None


def test_a_formula_without_consistent_units_says_where() -> None:
    chain = CURVES["chain"]
    assert chain.units(read_unit("m"), read_unit("m"))[1] is None
    assert "do not go together" in str(chain.units(read_unit("s"), read_unit("m"))[1])


def test_own_formula_with_a_constant_that_has_a_unit() -> None:
    curve = own_curve("v*x - 0.5*9.81 m/s^2*x^2")
    units, problem = curve.units(read_unit("s"), read_unit("m"))
    assert ([str(unit) for unit in units], problem) == (["m/s"], None)


@pytest.mark.parametrize(
    ("text", "said"), [("x^2", "no parameter"), ("a*rate(x)", "cannot be part"), ("a*2x", "2*x")]
)
def test_no_curve(text: str, said: str) -> None:
    with pytest.raises(WrongFormula, match=said.replace("*", r"\*")):
        own_curve(text)


def test_fixed_and_bounded_parameters() -> None:
    x = np.linspace(0, 1, 20)
    y = 3 * x + 1 + 0.01 * np.cos(40 * x)
    fixed = fit_curve(x, y, CURVES["line"], given={"b": Given(start=1.0, fixed=True)})
    assert isinstance(fixed, Fit)
    assert fixed.values[1] == 1
    assert fixed.standard_errors[1] == 0
    assert fixed.dof == 19
    assert fixed.values[0] == pytest.approx(np.sum(x * (y - 1)) / np.sum(x**2))
    bounded = fit_curve(x, y, CURVES["line"], given={"m": Given(low=0.0, high=2.0)})
    assert isinstance(bounded, Fit)
    assert bounded.values[0] == pytest.approx(2, abs=1e-5)
    assert bounded.at_bound == ("m",)


def test_all_fixed_tells_the_sum_of_squares_of_what_was_tried() -> None:
    x, y = np.arange(4.0), np.array([1.0, 3, 5, 8])
    given = {"m": Given(start=2.0, fixed=True), "b": Given(start=1.0, fixed=True)}
    fit = fit_curve(x, y, CURVES["line"], given=given)
    assert isinstance(fit, Fit)
    assert fit.rss == pytest.approx(1)


def test_what_cannot_be_told_apart_is_said() -> None:
    x = np.linspace(0.5, 2, 9)
    outcome = fit_curve(x, 2 * np.exp(x), own_curve("a*b*exp(k*x)"))
    assert isinstance(outcome, NoFit)
    assert outcome.why in (Hindrance.NOT_TOLD_APART, Hindrance.NO_END)


@pytest.mark.parametrize(
    ("formula", "why"),
    [
        ("a*ln(x) + b", Hindrance.UNDEFINED_AT_FIRST),
        ("a*x^n + b", Hindrance.NO_END),  # it has values where n is whole, and none beside
    ],
)
def test_a_curve_that_is_undefined_at_the_points_is_said(formula: str, why: Hindrance) -> None:
    outcome = fit_curve(np.linspace(-2, -1, 9), np.ones(9), own_curve(formula))
    assert isinstance(outcome, NoFit)
    assert outcome.why == why


def test_with_all_values_fixed_a_curve_that_is_undefined_at_the_points_is_said() -> None:
    outcome = fit_curve(
        np.linspace(0, 4, 9), np.ones(9), own_curve("a/x"), given={"a": Given(2.0, fixed=True)}
    )
    assert isinstance(outcome, NoFit)
    assert outcome.why == Hindrance.UNDEFINED


def test_a_value_that_is_fixed_need_not_have_a_slope() -> None:
    """The root is infinitely steep in c where x = c; nobody asks for it when c stays there."""
    x = np.linspace(0, 4, 9)
    given = {"a": Given(2.0, fixed=True), "c": Given(0.0, fixed=True)}
    fit = fit_curve(x, 2 * np.sqrt(x), own_curve("a*sqrt(x - c)"), given=given)
    assert isinstance(fit, Fit)
    assert fit.rss == pytest.approx(0)


@pytest.mark.parametrize("mirrored", [False, True])
@pytest.mark.parametrize("key", TRUTH)
def test_readings_change_with_the_parameters_as_they_say(key: str, mirrored: bool) -> None:
    """With their signs: what two findings have in common adds up or cancels by them."""
    x, curve = np.linspace(0.1, 2.3, 60), CURVES[key]
    fit = fit_curve(x, curve.values(x, np.array(TRUTH[key])), curve)
    assert isinstance(fit, Fit)
    fit = replace(fit, values=-fit.values if mirrored else fit.values)

    def read(fit: Fit) -> dict[str, Reading]:
        every = (*parameters(fit, TIME, WAY), *readings(fit, TIME, WAY, start=0.1, end=2.3))
        return {one.key: one for one in every}

    for place, value in enumerate(fit.values):
        ends = []
        for step in (1e-6, -1e-6):
            values = fit.values.copy()
            values[place] = value + step
            ends.append(read(replace(fit, values=values)))
        for name, reading in read(fit).items():
            numeric = (ends[0][name].value - ends[1][name].value) / 2e-6
            assert reading.estimate.gradient[place] == pytest.approx(numeric, rel=1e-5, abs=1e-7)


def test_a_swing_has_a_period_and_a_frequency() -> None:
    x = np.linspace(0, 4, 80)
    fit = fit_curve(x, 0.1 * np.sin(2 * np.pi * x / 1.6 + 1) + 0.02, CURVES["sine"])
    assert isinstance(fit, Fit)
    found = {one.key: one for one in readings(fit, TIME, WAY, start=0, end=4)}
    assert found["period"].value == pytest.approx(1.6)
    assert str(found["angular_frequency"].unit) == "rad/s"
    assert found["amplitude"].value == pytest.approx(0.1)
