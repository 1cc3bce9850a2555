"""Guesses from which curves are searched for."""

import numpy as np
import pytest

from footing.core.curves import CURVES, own_curve
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


@pytest.mark.parametrize("text", ["a*sin(w*x)", "a*sin(w*x + p)", "a*cos(2*x/T) + c"])
def test_own_formulas_that_swing_find_their_frequency(text: str) -> None:
    rng = np.random.default_rng(4)
    curve = own_curve(text)
    lost = 0
    for _ in range(25):
        x = np.sort(rng.uniform(0, 4, rng.integers(20, 60)))
        values = rng.uniform(1, 3, len(curve.names))
        if "w" in curve.names:
            values[curve.names.index("w")] = rng.uniform(1, 15)
        else:
            values[curve.names.index("T")] = rng.uniform(0.15, 2)
        noise = rng.normal(scale=0.05, size=len(x))
        fit = fit_curve(x, curve.values(x, values) + noise, curve)
        lost += not isinstance(fit, Fit) or fit.rss > 1.1 * float(np.sum(noise**2))
    assert lost <= 1


def test_values_that_fit_as_well_are_named() -> None:
    """Two short spells far apart leave open how often it swung between them."""
    x = np.concatenate([np.arange(6) * 0.3, 20 + np.arange(6) * 0.3])
    noise = np.random.default_rng(3).normal(scale=0.1, size=12)
    fit = fit_curve(x, np.sin(2 * x) + noise, own_curve("a*sin(w*x + p)"))
    assert isinstance(fit, Fit)
    assert fit.rival is not None
