"""Least-squares fits with standard errors: each curve by the way that suits it.

Where neighbouring values share marks, generalised least squares with their covariance is used
(Aitken, Proc. R. Soc. Edinburgh 55, 42, 1936).
"""

from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np
from scipy import sparse

from footing.core.arrays import FloatArray
from footing.core.covariances import Covariance
from footing.core.curves import Curve
from footing.core.fitting.linear import solve_linear, solve_polynomial, solve_within
from footing.core.fitting.problem import Free, Given, Points
from footing.core.fitting.result import Fit, Hindrance, NoFit, finished
from footing.core.fitting.searching import search

_ROUNDS = 6  # in which weights by effective variances settle
_SETTLED = 1e-6
_STEPS = 400


def fit_curve(
    x: FloatArray,
    y: FloatArray,
    curve: Curve,
    *,
    given: Mapping[str, Given] | None = None,
    covariance: Covariance | None = None,
    stated: bool = False,
) -> Fit | NoFit:
    """Fit a curve to ``(n,)`` points.

    Parameters
    ----------
    given : by parameter, what is fixed, bounded or started from
    covariance : of y, up to a common factor; None for independent y. It may be singular (derived
        values can depend on each other); values that those before them determine are left out and
        do not count as degrees of freedom.
    stated : whether the covariance is known by itself and not up to a factor only

    Returns
    -------
    Fit, or NoFit if there are fewer points than free parameters + 1, too few different x, if the
    curve is undefined at the points, or if the search does not converge.
    """
    free = Free(curve, given or {})
    p, n = len(free.places), len(x)
    if n < p + 1:
        return NoFit.of(Hindrance.TOO_FEW_POINTS, free, n)
    if len(np.unique(x)) < p:
        return NoFit.of(Hindrance.TOO_FEW_X, free, n)
    points = Points(x, y, None if covariance is None else covariance.whitener(), stated)
    if points.count - p < 1:
        return NoFit.of(Hindrance.TOO_FEW_MARKS, free, n)
    outcome = _solved(points, free)
    return outcome if isinstance(outcome, NoFit) else replace(outcome, weighing=covariance)


def _solved(points: Points, free: Free) -> Fit | NoFit:
    curve, p = free.curve, len(free.places)
    if p == 0:
        return finished(points, free, free.filled(np.zeros(len(curve.names))))
    if curve.degree is not None and p == len(curve.names) and not free.bounded:
        return solve_polynomial(points, curve)
    linear = solve_linear(points, free)
    if linear is None:
        return search(points, free)
    if free.holds(linear.values):
        return linear
    return finished(points, free, solve_within(points, free))


def fit_weighted(
    x: FloatArray,
    y: FloatArray,
    curve: Curve,
    *,
    x_errors: FloatArray,
    y_errors: FloatArray,
    given: Mapping[str, Given] | None = None,
) -> Fit | NoFit:
    """Fit a curve to points that come with standard uncertainties ``(n,)`` of their own.

    Each counts by its effective variance u_y² + (f' u_x)²; where x is uncertain, the sum of squares
    in units of it is least, with all that depends on the parameters (D. York, Canadian Journal of
    Physics 44, 1079, 1966, for lines; J. Orear, American Journal of Physics 50, 912, 1982).

    Returns
    -------
    As `fit_curve`, and NoFit where a point has no uncertainty. If the points scatter more than
    their uncertainties explain (χ², 1 %), the standard errors follow the scatter.
    """

    def variances(outcome: Fit) -> FloatArray:
        return np.asarray(y_errors**2 + (outcome.slope(x) * x_errors) ** 2, dtype=float)

    def weighed(outcome: Fit) -> Fit | NoFit:
        weighing = Covariance(sparse.csr_array(sparse.diags_array(variances(outcome))))
        return fit_curve(x, y, curve, given=given, covariance=weighing, stated=True)

    outcome = fit_curve(x, y, curve, given=given)  # for a first slope
    if isinstance(outcome, NoFit):
        return outcome
    if not np.all(variances(outcome) > 0):
        return NoFit.of(Hindrance.NO_UNCERTAINTY, Free(curve, given or {}), len(x))
    if not np.any(x_errors):
        return weighed(outcome)
    for _ in range(_ROUNDS):
        before = outcome.values
        outcome = weighed(outcome)
        if isinstance(outcome, NoFit) or np.allclose(outcome.values, before, rtol=_SETTLED, atol=0):
            break
    if isinstance(outcome, NoFit) or outcome.at_bound:
        return outcome
    free = Free(curve, given or {})
    values = _least(outcome, free, lambda fit: (y - fit.predict(x)) / np.sqrt(variances(fit)))
    weighing = Covariance(
        sparse.csr_array(sparse.diags_array(variances(replace(outcome, values=values))))
    )
    least = finished(Points(x, y, weighing.whitener(), known=True), free, values)
    return least if isinstance(least, NoFit) else replace(least, weighing=weighing)


def _least(outcome: Fit, free: Free, left: Callable[[Fit], FloatArray]) -> FloatArray:
    """The parameters at which what is left is least, from where a fit ended."""
    from scipy import optimize  # takes long to load

    def full(asked: FloatArray) -> FloatArray:
        values = outcome.values.copy()
        values[free.places] = asked
        return values

    def remains(asked: FloatArray) -> FloatArray:
        return left(replace(outcome, values=full(asked)))

    with np.errstate(all="ignore"):
        begin = outcome.values[free.places]
        asked, *_ = optimize.leastsq(remains, begin, maxfev=_STEPS)
        asked = np.atleast_1d(asked)
        better = np.sum(remains(asked) ** 2) < np.sum(remains(begin) ** 2)
    return full(asked) if better and np.isfinite(asked).all() else outcome.values
