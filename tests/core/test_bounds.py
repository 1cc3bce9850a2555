"""Fits whose parameters are held or bounded."""

import numpy as np
import pytest

from footing.core.curves import CURVES, own_curve
from footing.core.fitting import Fit, Given, fit_curve

X = np.linspace(0, 2, 30)


def fitted(y: np.ndarray, curve: str, **given: Given) -> Fit:
    found = fit_curve(X, y, CURVES[curve], given=given)
    assert isinstance(found, Fit)
    return found


@pytest.mark.parametrize("bounds", [(-10, 10), (1.4, 1.6), (-np.inf, 1.6), (0, np.inf)])
def test_bounds_that_hold_the_best_value_change_nothing(bounds: tuple[float, float]) -> None:
    y = 3 - 2 * X + 1.5 * X**2 + 0.001 * np.sin(40 * X)
    a = CURVES["quadratic"].names[0]
    free = fitted(y, "quadratic")
    low, high = bounds
    bounded = fitted(y, "quadratic", **{a: Given(low=low, high=high)})
    assert bounded.values == pytest.approx(free.values, rel=1e-9)
    assert bounded.standard_errors == pytest.approx(free.standard_errors, rel=1e-6)
    assert bounded.at_bound == ()


def test_at_a_bound_the_others_are_the_best_for_it() -> None:
    y = 3 - 2 * X + 1.5 * X**2
    a = CURVES["quadratic"].names[0]
    bounded = fitted(y, "quadratic", **{a: Given(high=1.0)})
    held = fitted(y, "quadratic", **{a: Given(start=1.0, fixed=True)})
    assert bounded.at_bound == (a,)
    assert bounded.values == pytest.approx(held.values, rel=1e-6)


@pytest.mark.parametrize("start", [None, 0.5, 4.0])
def test_a_search_that_begins_at_a_bound_leaves_it(start: float | None) -> None:
    curve = own_curve("a*exp(-k*x)", variable="x")
    y = 2.5 * np.exp(-1.3 * X)
    given = {"k": Given(start=start, low=0.5, high=4.0), "a": Given(low=0.0)}
    found = fit_curve(X, y, curve, given=given)
    assert isinstance(found, Fit)
    values = dict(zip(curve.names, found.values, strict=True))
    assert values == pytest.approx({"a": 2.5, "k": 1.3}, rel=1e-6)
    assert found.at_bound == ()
