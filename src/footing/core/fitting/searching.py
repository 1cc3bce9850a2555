"""Curves that are not linear in their parameters, searched for with exact slopes.

By Levenberg and Marquardt's method (lmfit, on MINPACK), from every starting value that the points
suggest.
"""

from math import inf, isinf
from typing import Any

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.fitting.problem import Free, Points
from footing.core.fitting.result import Fit, NoFit, finished
from footing.core.starting import starts

_CLOSE = 1e-15  # relative change at which a search ends
_OFF_BOUND = 0.01  # share of the room between bounds by which a start stays off them
_STEPS = 4000


def search(points: Points, free: Free) -> Fit | NoFit:
    """The best of the searches from all starting values."""
    curve = free.curve
    own_start = all(free.of(name).start is not None for name in curve.names)
    guesses = [np.zeros(len(curve.names))] if own_start else starts(curve, points.x, points.y)
    best: FloatArray | None = None
    least = inf
    defined = False
    for guess in guesses:
        begin = _started(free, guess)
        with np.errstate(all="ignore"):
            defined = defined or bool(np.isfinite(curve.values(points.x, begin)).all())
        found = _search(points, free, begin)
        if found is not None and found[1] < least * (1 - 1e-9):
            best, least = found
    if best is None and not defined:
        return NoFit(
            f"“{curve.title}” is undefined at some of the points; leave those out, or give other "
            "starting values."
        )
    if best is None:
        return NoFit("No values were found at which this curve settles; give starting values.")
    return finished(points, free, best)


def _started(free: Free, guess: FloatArray) -> FloatArray:
    """A guess with the starting values put in that were given, inside the bounds."""
    begin = free.filled(guess)
    for place in free.places:
        given = free.of(free.curve.names[place])
        wanted = begin[place] if given.start is None else given.start
        begin[place] = _inside(wanted, given.low, given.high)
    return begin


def _inside(value: float, low: float, high: float) -> float:
    """A start inside bounds; on a bound itself the search would see no slope and stay there."""
    reach = high - low if not isinf(high - low) else max(abs(value), 1.0)
    return min(max(value, low + _OFF_BOUND * reach), high - _OFF_BOUND * reach)


def _search(points: Points, free: Free, begin: FloatArray) -> tuple[FloatArray, float] | None:
    """Values at which the sum of squares is least, with that sum, from one start; None if none."""
    import lmfit  # takes most of a second, and only curves that are searched for need it

    curve = free.curve
    parameters = lmfit.Parameters()
    for place in free.places:
        given = free.of(curve.names[place])
        parameters.add(f"p{place}", value=begin[place], min=given.low, max=given.high)

    def full(asked: Any) -> FloatArray:
        values = begin.copy()
        values[free.places] = [asked[f"p{place}"].value for place in free.places]
        return values

    def remains(asked: Any) -> FloatArray:
        return points.whitened(curve.values(points.x, full(asked)) - points.y)

    def slopes(asked: Any) -> FloatArray:
        _, by = curve.slopes(points.x, full(asked))
        return points.whitened(by[:, free.places])

    minimizer = lmfit.Minimizer(remains, parameters, nan_policy="raise", calc_covar=False)
    try:
        with np.errstate(all="ignore"):
            found: Any = minimizer.leastsq(
                Dfun=slopes, col_deriv=0, ftol=_CLOSE, xtol=_CLOSE, gtol=0.0, max_nfev=_STEPS
            )
    except (ValueError, np.linalg.LinAlgError):  # not a number on the way
        return None
    values = full(found.params)
    if not found.success or not np.isfinite(values).all():
        return None
    return values, float(np.sum(remains(found.params) ** 2))
