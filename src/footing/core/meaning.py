"""What the parameters of a fit mean, with units.

When x is time and y a coordinate, the slope of a line is a velocity and a quadratic holds half the
acceleration; when y is a velocity, the slope is an acceleration. A sine has a period, an
exponential a half-life: what a named curve says stands beside it in `curves`. Values at t = 0 and
at the start of the passage, and what follows from several parameters, come from the same covariance
as the parameters (JCGM 100:2008, 5.2.2).
"""

from dataclasses import dataclass
from math import perm

import numpy as np

from footing.core.fitting import Fit, interval_factor
from footing.core.quantities import Quantity
from footing.core.reading import (
    Derivative,
    Estimate,
    Formula,
    Moment,
    Reading,
    Variable,
    derivative_key,
    estimate,
)

_NEAR = 0.3  # of the reach of the points, by which x = 0 may lie outside them
_SUFFIXES = {0: "", 1: "", 2: "2", 3: "6"}  # order! in front of a coefficient


def variable(quantity: Quantity, *, length_unit: str) -> Variable:
    """A quantity of a body as it stands on an axis."""
    coordinate = quantity.component in ("x", "y", "h", "angle") and not quantity.since_start
    return Variable(
        quantity.name,
        quantity.symbol + quantity.subscript,
        quantity.dimension.in_units(length_unit),
        quantity.order if coordinate else None,
        turning=quantity.component == "angle",
    )


def parameters(fit: Fit, x: Variable, y: Variable) -> list[Reading]:
    """The bare parameters of a fit, with their units."""
    units, _ = fit.curve.units(x.unit, y.unit)
    rows = (fit.curve.names, fit.curve.symbols, fit.values, units, np.eye(len(units)))
    return [
        Reading(name, None, (symbol,), estimate(fit, float(value), gradient), unit)
        for name, symbol, value, unit, gradient in zip(*rows, strict=True)
    ]


def readings(fit: Fit, x: Variable, y: Variable, *, start: float, end: float) -> list[Reading]:
    """What the fit says, most telling first.

    ``start`` and ``end`` are the ends of the fitted points in x. Derivatives in time have their
    names; what a slope or an intercept is in general is said by the names of the axes.
    """
    degree = fit.curve.degree
    if degree is not None and x.is_time and y.order is not None:
        return _in_time(fit, x, y, degree, start=start, end=end)
    return fit.curve.readings(fit, x, y) if fit.curve.readings else []


@dataclass(frozen=True)
class Intercept:
    """How far an intercept is from zero, in standard errors, and whether it may be zero."""

    apart: float
    may_be_zero: bool


def intercept(fit: Fit, *, start: float, end: float) -> Intercept | None:
    """Whether the intercept is zero within its uncertainty.

    None where a curve has none, and where x = 0 is far from the points, which reach from ``start``
    to ``end``: nothing that anybody knows happens there.
    """
    if not fit.curve.asks_for_zero:
        return None
    room = _NEAR * (end - start)
    if not start - room <= 0 <= end + room:
        return None
    value, error = float(fit.values[-1]), float(fit.standard_errors[-1])
    if not error > 0:
        return None
    half = interval_factor(fit.dof) * error
    return Intercept(abs(value) / error, may_be_zero=abs(value) <= half)


def derivative(fit: Fit, x: float, order: int) -> Estimate:
    """A derivative of a polynomial (order 0: itself) at ``x``."""
    powers = range(len(fit.values) - 1, -1, -1)
    slopes = [perm(power, order) * x ** max(power - order, 0) for power in powers]
    gradient = np.array(slopes, dtype=float)
    return estimate(fit, float(gradient @ fit.values), gradient)


def _in_time(
    fit: Fit, x: Variable, y: Variable, degree: int, *, start: float, end: float
) -> list[Reading]:
    found = []
    outside = not start <= 0 <= end
    for order in range(degree, -1, -1):
        depth = (y.order or 0) + order
        key, unit = derivative_key(depth, turning=y.turning), y.unit / x.unit**order
        if key is None:
            continue
        always, at_zero, at_start = (Derivative(depth, y.turning, moment) for moment in Moment)
        leading, formula = derivative(fit, 0.0, order), _leading(fit, order)
        if order == degree:
            found.append(Reading(key.split()[0], always, formula, leading, unit))
            continue
        there = derivative(fit, start, order)
        found += [
            Reading(f"{key}_at_zero", at_zero, formula, leading, unit, outside),
            Reading(f"{key}_at_start", at_start, (), there, unit),
        ]
    return found


def _leading(fit: Fit, order: int) -> Formula:
    """The formula of the derivative of this order at x = 0: order! · c_order."""
    letter, below = fit.curve.symbols[len(fit.curve.symbols) - 1 - order]
    return ((_SUFFIXES[order] + letter, below),)
