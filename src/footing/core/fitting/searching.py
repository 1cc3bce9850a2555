"""Curves that are not linear in their parameters, searched for with exact slopes.

By Levenberg and Marquardt's method (MINPACK through scipy), from every starting value that the
points suggest; between bounds by trust regions (M. A. Branch, T. F. Coleman and Y. Li, SIAM J. Sci.
Comput. 21, 1, 1999).
"""

from dataclasses import replace
from math import isinf

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.fitting.problem import Free, Points
from footing.core.fitting.result import Fit, Hindrance, NoFit, finished
from footing.core.starting import starts

_CLOSE = 1e-15  # relative change at which a search ends
_OFF_BOUND = 0.01  # share of the room between bounds by which a start stays off them
_STEPS = 4000
_STEPS_OF_SEVERAL = 600
_FIRST_STEPS = 60  # with which starts are compared; the best few go on from there
_GO_ON = 3
_AS_WELL = 1.05  # times the least sum of squares, up to which other values do as well
_VISIBLE = 3.0  # times the scatter, by which another curve runs elsewhere
_MINPACK_CONVERGED = (1, 2, 3, 4)


def search(points: Points, free: Free) -> Fit | NoFit:
    """The best of the searches from all starting values."""
    curve = free.curve
    own_start = all(free.of(name).start is not None for name in curve.names)
    guesses = [np.zeros(len(curve.names))] if own_start else starts(curve, points.x, points.y)
    begins = [_started(free, guess) for guess in guesses]
    with np.errstate(all="ignore"):
        sound = [one for one in begins if np.isfinite(curve.values(points.x, one)).all()]
    if not sound:
        return NoFit.of(Hindrance.UNDEFINED_AT_FIRST, free, len(points.x))
    steps = _STEPS if len(sound) == 1 else _STEPS_OF_SEVERAL
    if len(sound) > 1:
        tried = [_search(points, free, one, steps=_FIRST_STEPS) for one in sound]
        ordered = sorted((one for one in tried if one is not None), key=lambda one: one[1])
        sound = [values for values, _, _ in _apart(ordered)[:_GO_ON]]
    ended = [
        found
        for begin in sound
        if (found := _search(points, free, begin, steps=steps)) is not None and found[2]
    ]
    if not ended:
        return NoFit.of(Hindrance.NO_END, free, len(points.x))
    best, least, _ = min(ended, key=lambda one: one[1])
    fit = finished(points, free, best)
    if isinstance(fit, NoFit):
        return fit
    others = [values for values, rest, _ in ended if rest <= least * _AS_WELL]
    return replace(fit, rival=_rival(fit, points.x, others))


def _rival(fit: Fit, x: FloatArray, others: list[FloatArray]) -> FloatArray | None:
    """Other values that describe the points as well by another curve between them."""
    between = np.linspace(float(x.min()), float(x.max()), 7 * len(x) + 1)
    with np.errstate(all="ignore"):
        ours = fit.predict(between)
        for values in others:
            apart = np.abs(fit.curve.values(between, values) - ours)
            if np.isfinite(apart).all() and float(apart.max()) > _VISIBLE * fit.scatter:
                return values
    return None


def _apart(ordered: list[tuple[FloatArray, float, bool]]) -> list[tuple[FloatArray, float, bool]]:
    """Those that did not end in the same place as one before."""
    kept: list[tuple[FloatArray, float, bool]] = []
    for one in ordered:
        if not any(np.isclose(one[1], other[1], rtol=1e-6, atol=0) for other in kept):
            kept.append(one)
    return kept


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


def _search(
    points: Points, free: Free, begin: FloatArray, *, steps: int
) -> tuple[FloatArray, float, bool] | None:
    """Values, their sum of squares, and whether the search ended there; None if it broke off."""
    from scipy import optimize  # takes long to load, and only curves that are searched for need it

    curve, bounded = free.curve, free.bounded

    def full(asked: FloatArray) -> FloatArray:
        values = begin.copy()
        values[free.places] = asked
        return values

    def remains(asked: FloatArray) -> FloatArray:
        return _numbers(points.whitened(curve.values(points.x, full(asked)) - points.y))

    def slopes(asked: FloatArray) -> FloatArray:
        return _numbers(points.whitened(curve.slopes(points.x, full(asked))[1][:, free.places]))

    try:
        with np.errstate(all="ignore"):
            if bounded:
                given = [free.of(curve.names[place]) for place in free.places]
                found = optimize.least_squares(
                    remains,
                    begin[free.places],
                    jac=slopes,
                    bounds=([one.low for one in given], [one.high for one in given]),
                    xtol=_CLOSE,
                    ftol=_CLOSE,
                    gtol=None,
                    x_scale="jac",
                    max_nfev=steps,
                )
                values, ended = full(found.x), bool(found.status > 0)
            else:
                asked, _, _, _, status = optimize.leastsq(
                    remains,
                    begin[free.places],
                    Dfun=slopes,
                    full_output=True,
                    ftol=_CLOSE,
                    xtol=_CLOSE,
                    gtol=0.0,
                    maxfev=steps,
                )
                values, ended = full(np.atleast_1d(asked)), status in _MINPACK_CONVERGED
            rest = float(np.sum(remains(values[free.places]) ** 2))
    except (_NoNumber, ValueError, np.linalg.LinAlgError):
        return None
    return (values, rest, ended) if np.isfinite(values).all() else None


class _NoNumber(ArithmeticError):
    """The curve is undefined where the search has come to."""


def _numbers(values: FloatArray) -> FloatArray:
    if not np.isfinite(values).all():
        raise _NoNumber
    return values
