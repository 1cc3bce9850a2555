"""Fits of points that come with uncertainties of their own."""

import numpy as np
import pytest
from scipy import optimize

from footing.core.curves import CURVES
from footing.core.fitting import Fit, Hindrance, NoFit, fit_weighted, interval_factor

X = np.linspace(0.5, 6.0, 12)


def weighted(y: np.ndarray, curve: str, y_errors: np.ndarray, x_errors: np.ndarray) -> Fit:
    found = fit_weighted(X, y, CURVES[curve], x_errors=x_errors, y_errors=y_errors)  # type: ignore[index]
    assert isinstance(found, Fit)
    return found


def test_pearsons_points_with_yorks_weights() -> None:
    """K. Pearson 1901 with the weights of D. York, Canadian Journal of Physics 44, 1079, 1966."""
    x = np.array([0.0, 0.9, 1.8, 2.6, 3.3, 4.4, 5.2, 6.1, 6.5, 7.4])
    y = np.array([5.9, 5.4, 4.4, 4.6, 3.5, 3.7, 2.8, 2.8, 2.4, 1.5])
    of_x = np.array([1000, 1000, 500, 800, 200, 80, 60, 20, 1.8, 1.0])
    of_y = np.array([1, 1.8, 4, 8, 20, 20, 70, 70, 100, 500.0])
    errors = {"x_errors": of_x**-0.5, "y_errors": of_y**-0.5}
    found = fit_weighted(x, y, CURVES["line"], **errors)
    assert isinstance(found, Fit)
    assert found.values == pytest.approx([-0.480533407, 5.47991022], rel=2e-5)
    assert found.chi_squared == pytest.approx(11.8663531941, rel=1e-6)


@pytest.mark.parametrize("curve", ["line", "exponential", "power"])
def test_weights_give_what_the_library_gives(curve: str) -> None:
    rng = np.random.default_rng(4)
    errors = 0.05 + 0.03 * X
    of = CURVES[curve]  # type: ignore[index]
    truth = np.array([1.5, 0.4] if curve != "line" else [0.7, 2.0])
    y = of.values(X, truth) + errors * rng.normal(size=len(X))
    found = weighted(y, curve, errors, np.zeros(len(X)))
    values, covariance = optimize.curve_fit(
        lambda x, *p: of.values(x, np.array(p)), X, y, truth, sigma=errors, absolute_sigma=True
    )
    assert found.values == pytest.approx(values, rel=1e-5)
    assert found.standard_errors == pytest.approx(np.sqrt(np.diag(covariance)), rel=1e-3)


def test_intervals_hold_with_errors_on_both_axes_and_follow_a_larger_scatter() -> None:
    rng = np.random.default_rng(5)
    y_errors, x_errors = 0.04 + 0.04 * X, np.full(len(X), 0.08)
    for more, low in ((1.0, 0.93), (3.0, 0.90)):
        held = widened = 0
        for _ in range(300):
            x = X + x_errors * rng.normal(size=len(X))
            y = 0.8 * X + 1.0 + more * y_errors * rng.normal(size=len(X))
            found = fit_weighted(
                x, y, CURVES["line"], x_errors=x_errors if more == 1 else 0 * x, y_errors=y_errors
            )
            assert isinstance(found, Fit)
            half = interval_factor(found.dof) * found.standard_errors[0]
            held += abs(found.values[0] - 0.8) <= half
            widened += found.widened > 1
        assert low <= held / 300 <= 0.975
        assert widened / 300 < 0.03 if more == 1 else widened / 300 > 0.9


def test_a_point_without_an_uncertainty_has_no_weight() -> None:
    errors = np.full(len(X), 0.1)
    errors[3] = 0.0
    found = fit_weighted(X, 2 * X, CURVES["line"], x_errors=0 * X, y_errors=errors)
    assert isinstance(found, NoFit)
    assert found.why == Hindrance.NO_UNCERTAINTY
