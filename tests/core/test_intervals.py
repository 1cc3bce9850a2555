"""Interval honesty: over simulated tracks 95 % intervals hold the truth as often as they say."""

import numpy as np
import pytest

from footing.core.curves import CURVES
from footing.core.dimensions import read_unit
from footing.core.findings import Contribution, combine
from footing.core.fitting import Fit, fit_curve
from footing.core.meaning import Variable, readings
from footing.core.motion import Motion

TRACKS = 2000
TIME = Variable("time", "t", read_unit("s"))
TRUTH = {"velocity": 1.7, "acceleration": -9.81}


def covered(rng: np.random.Generator, what: str) -> bool:
    """One track: marks with scatter, all lengths wrong by the same unknown share."""
    times = np.arange(14) / 30
    g = TRUTH["acceleration"] if what != "velocity" else 0.0
    scale_error = 0.006
    wrong = 1 + rng.normal(scale=scale_error)
    y = wrong * (TRUTH["velocity"] * times + g / 2 * times**2)
    y = y + rng.normal(scale=0.004, size=14)
    curve, order, covariance = "quadratic", 0, None
    if what == "velocity":
        curve = "line"
    if what == "acceleration":  # from the velocities, which share marks
        flat = np.stack([np.zeros(14), y], axis=1)
        motion = Motion(times, flat, heights=y, position_uncertainty=0.004)
        column, shared = motion.column("vy"), motion.covariance("vy")
        assert shared is not None
        times, y, covariance = times[column.index], column.values, shared(column.index)
        curve, order = "line", 1
    fit = fit_curve(times, y, CURVES[curve], covariance=covariance)
    assert isinstance(fit, Fit)
    unit = read_unit("m") if order == 0 else read_unit("m/s")
    said = readings(fit, TIME, Variable("y", "y", unit, order), start=0, end=1)
    key = "velocity" if what == "velocity" else "acceleration"
    one = next(reading for reading in said if reading.key == key)
    budget = (
        Contribution("fit", one.standard_error, fit.dof),
        Contribution("scale", abs(one.value) * scale_error),
    )
    result = combine(one.value, budget)
    return abs(result.value - TRUTH[key]) <= result.half_width


@pytest.mark.parametrize("what", ["velocity", "acceleration", "g"])
def test_intervals_hold_the_truth_in_93_to_97_of_a_hundred(what: str) -> None:
    rng = np.random.default_rng({"velocity": 1, "acceleration": 2, "g": 3}[what])
    hits = sum(covered(rng, what) for _ in range(TRACKS))
    assert 0.93 <= hits / TRACKS <= 0.97
