"""Marks that err together: intervals hold the truth again, and honest ones stay as they are."""

import numpy as np
import pytest

from footing.core.curves import CURVES
from footing.core.fitting import Fit, fit_curve, interval_factor, widened


def share(marks: int, correlation: float, tracks: int = 400) -> tuple[float, float]:
    """How often the plain and the widened interval of a velocity hold the truth."""
    rng = np.random.default_rng(5)
    times, plain, wide = np.arange(marks) / 30, 0, 0
    for _ in range(tracks):
        noise = rng.normal(size=marks)
        errors = noise.copy()
        for k in range(1, marks):
            errors[k] = correlation * errors[k - 1] + np.sqrt(1 - correlation**2) * noise[k]
        fit = fit_curve(times, 3 * times + errors, CURVES["line"])
        assert isinstance(fit, Fit)
        half = interval_factor(fit.dof) * fit.standard_errors[0]
        apart = abs(fit.values[0] - 3)
        plain += apart <= half
        wide += apart <= half * widened(fit, times)[0]
    return plain / tracks, wide / tracks


@pytest.mark.parametrize("marks", [60, 200])
def test_errors_of_a_hand_that_drifts_are_found_and_allowed_for(marks: int) -> None:
    plain, wide = share(marks, 0.7)
    assert plain < 0.7
    assert 0.92 <= wide <= 0.98


@pytest.mark.parametrize("marks", [30, 60])
def test_independent_errors_stay_as_they_are(marks: int) -> None:
    _, wide = share(marks, 0.0)
    assert 0.93 <= wide <= 0.98


def test_few_marks_are_helped_as_far_as_they_tell() -> None:
    plain, wide = share(15, 0.7)
    assert wide > plain + 0.1
