"""Least-squares fits with standard errors: each curve by the way that suits it.

Where neighbouring values share marks, generalised least squares with their covariance is used
(Aitken, Proc. R. Soc. Edinburgh 55, 42, 1936).
"""

from collections.abc import Mapping

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.covariances import Covariance
from footing.core.curves import Curve
from footing.core.fitting.linear import solve_linear, solve_polynomial, solve_within
from footing.core.fitting.problem import Free, Given, Points
from footing.core.fitting.result import Fit, NoFit, finished
from footing.core.fitting.searching import search


def fit_curve(
    x: FloatArray,
    y: FloatArray,
    curve: Curve,
    *,
    given: Mapping[str, Given] | None = None,
    covariance: Covariance | None = None,
) -> Fit | NoFit:
    """Fit a curve to ``(n,)`` points.

    Parameters
    ----------
    given : by parameter, what is fixed, bounded or started from
    covariance : of y, up to a common factor; None for independent y. It may be singular (derived
        values can depend on each other); values that those before them determine are left out and
        do not count as degrees of freedom.

    Returns
    -------
    Fit, or NoFit if there are fewer points than free parameters + 1, too few different x, if the
    curve is undefined at the points, or if the search does not converge.
    """
    free = Free(curve, given or {})
    p, n = len(free.places), len(x)
    if n < p + 1:
        return NoFit(
            f"{n} {'point' if n == 1 else 'points'} here; {_article(curve)} needs at least {p + 1}."
        )
    if len(np.unique(x)) < p:
        return NoFit(f"The points have too few different values of x for {_article(curve)}.")
    points = Points(x, y, None if covariance is None else covariance.whitener())
    if points.count - p < 1:
        return NoFit(f"The points depend on too few marks for {_article(curve)}.")
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


def _article(curve: Curve) -> str:
    if curve.key == "own":
        return "this formula"
    return f"{'an' if curve.title[0] in 'aeiou' else 'a'} {curve.title}"
