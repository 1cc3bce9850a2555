"""Guesses from which curves are searched for."""

import numpy as np
import pytest

from footing.core.curves import CURVES
from footing.core.fitting import Fit, fit_curve
from footing.core.starting import starts


@pytest.mark.parametrize("swings", [1.3, 11, 160, 870])
@pytest.mark.parametrize("n", [80, 3000])
def test_the_frequency_of_a_swing_is_guessed_however_long_the_series_is(
    swings: float, n: int
) -> None:
    if swings > 0.4 * n:
        swings = 0.3 * n
    rng = np.random.default_rng(round(swings) + n)
    x = np.sort(np.linspace(0, 5, n) + rng.uniform(-1, 1, n) / n)
    w = 2 * np.pi * swings / 5
    y = CURVES["sine"].values(x, np.array([0.3, w, 0.7, 2.0])) + rng.normal(scale=0.02, size=n)
    (guess,) = starts(CURVES["sine"], x, y)
    assert guess[1] == pytest.approx(w, abs=1.2 * np.pi / 5)
    found = fit_curve(x, y, CURVES["sine"])
    assert isinstance(found, Fit)
    assert abs(found.values[1]) == pytest.approx(w, rel=2e-3)
    assert abs(found.values[0]) == pytest.approx(0.3, rel=0.05)
