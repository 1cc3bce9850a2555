import csv
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from footing.core.curves import CURVES
from footing.core.fitting import Fit, Hindrance, NoFit, fit_curve, interval_factor
from footing.core.meaning import derivative
from footing.core.motion import Motion

REFERENCE = Path(__file__).parents[1] / "reference"

# NIST Statistical Reference Datasets, linear regression: certified values and standard deviations
CERTIFIED = {
    "norris": (
        "line",
        [1.00211681802045, -0.262323073774029],
        [0.429796848199937e-03, 0.232818234301152],
        0.884796396144373,
    ),
    "pontius": (
        "quadratic",
        [-0.316081871345029e-14, 0.732059160401003e-06, 0.673565789473684e-03],
        [0.486652849992036e-16, 0.157817399981659e-09, 0.107938612033077e-03],
        0.205177424076185e-03,
    ),
}


def columns(name: str) -> tuple[np.ndarray, np.ndarray]:
    with (REFERENCE / f"{name}.csv").open() as file:
        rows = [(float(row["x"]), float(row["y"])) for row in csv.DictReader(file)]
    x, y = np.array(rows).T
    return x, y


def fitted(x: np.ndarray, y: np.ndarray, curve: str, covariance: object = None) -> Fit:
    outcome = fit_curve(x, y, CURVES[curve], covariance=covariance)  # type: ignore[arg-type]
    assert isinstance(outcome, Fit)
    return outcome


@pytest.mark.parametrize("name", CERTIFIED)
def test_certified_values_and_errors_to_nine_digits(name: str) -> None:
    curve, values, errors, scatter = CERTIFIED[name]
    fit = fitted(*columns(name), curve)
    assert fit.values == pytest.approx(values, rel=1e-9)
    assert fit.standard_errors == pytest.approx(errors, rel=1e-9)
    assert fit.scatter == pytest.approx(scatter, rel=1e-9)


def test_cubic_far_from_zero_keeps_its_digits() -> None:
    x = 1000 + np.linspace(0, 1, 30)
    exact = np.array([2.0, -5999.0, 5_998_000.0, -1_998_999_000.0])
    z = x - 1000
    y = 2 * z**3 + z**2 + 0 * z + 1000
    fit = fitted(x, y, "cubic")
    assert fit.predict(x) == pytest.approx(np.polyval(exact, x), abs=1e-5)
    assert derivative(fit, 1000.5, 3).value == pytest.approx(12, rel=1e-9)


@pytest.mark.parametrize(("curve", "needed"), [("line", 3), ("quadratic", 4), ("cubic", 5)])
def test_too_few_points_are_said_and_nothing_is_made_up(curve: str, needed: int) -> None:
    x = np.arange(needed - 1.0)
    outcome = fit_curve(x, x**2, CURVES[curve])
    assert isinstance(outcome, NoFit)
    assert outcome.why == Hindrance.TOO_FEW_POINTS
    assert (outcome.points, outcome.needed) == (needed - 1, needed)


def test_points_at_one_moment_give_no_line() -> None:
    outcome = fit_curve(np.ones(5), np.arange(5.0), CURVES["line"])
    assert isinstance(outcome, NoFit)
    assert outcome.why == Hindrance.TOO_FEW_X


def test_constant_points_have_no_r_squared() -> None:
    assert fitted(np.arange(5.0), np.full(5, 2.0), "line").r_squared is None


def test_r_squared_and_scatter_by_their_definitions() -> None:
    x = np.array([0.0, 1, 2, 3, 4])
    y = np.array([0.1, 0.9, 2.2, 2.8, 4.1])
    fit = fitted(x, y, "line")
    residuals = y - np.polyval(np.polyfit(x, y, 1), x)
    assert fit.rss == pytest.approx(np.sum(residuals**2))
    assert fit.scatter == pytest.approx(np.sqrt(np.sum(residuals**2) / 3))
    assert fit.r_squared == pytest.approx(1 - np.sum(residuals**2) / np.sum((y - y.mean()) ** 2))


def test_derivative_of_the_curve_carries_the_full_covariance() -> None:
    rng = np.random.default_rng(8)
    x = np.linspace(0, 1, 25)
    slopes = []
    for _ in range(2000):
        fit = fitted(x, 1 + x - 3 * x**2 + rng.normal(scale=0.01, size=25), "quadratic")
        slope = derivative(fit, 0.8, 1)
        slopes.append((slope.value, slope.standard_error))
    values, errors = np.array(slopes).T
    assert values.mean() == pytest.approx(1 - 6 * 0.8, abs=0.002)
    assert np.sqrt(np.mean(errors**2)) == pytest.approx(values.std(), rel=0.05)


def test_line_through_velocities_knows_that_they_share_marks() -> None:
    """The plain formula would claim an error several times too small or too large."""
    rng = np.random.default_rng(5)
    times = np.arange(20) / 30
    found, claimed = [], []
    for _ in range(1500):
        y = 2 * times - 4.9 * times**2 + rng.normal(scale=0.003, size=20)
        motion = Motion(
            times,
            np.stack([np.zeros(20), y], axis=1),
            heights=y,
            position_uncertainty=0.003,
        )
        column = motion.column("vy")
        covariance = motion.covariance("vy")
        assert covariance is not None
        fit = fitted(times[column.index], column.values, "line", covariance)
        found.append(fit.values[0])
        claimed.append(fit.standard_errors[0])
    assert np.mean(found) == pytest.approx(-9.8, abs=0.02)
    assert np.sqrt(np.mean(np.square(claimed))) == pytest.approx(np.std(found), rel=0.06)


def test_intervals_of_the_acceleration_hold_the_truth_as_often_as_they_say() -> None:
    rng = np.random.default_rng(6)
    times = np.arange(12) / 30
    hits = 0
    for _ in range(2000):
        y = 2 * times - 4.905 * times**2 + rng.normal(scale=0.004, size=12)
        fit = fitted(times, y, "quadratic")
        found = derivative(fit, 0, 2)
        hits += abs(found.value + 9.81) < interval_factor(fit.dof) * found.standard_error
    assert 0.93 <= hits / 2000 <= 0.97


@given(
    coefficients=st.lists(st.floats(-50, 50), min_size=3, max_size=3),
    start=st.floats(-100, 100),
    length=st.floats(0.1, 50),
)
def test_exact_parabolas_are_found_again(coefficients, start, length) -> None:
    x = start + np.linspace(0, length, 15)
    y = np.polyval(coefficients, x)
    fit = fitted(x, y, "quadratic")
    assert fit.predict(x) == pytest.approx(y, rel=1e-9, abs=1e-9 * (1 + np.abs(y).max()))
