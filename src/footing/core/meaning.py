"""What the parameters of a fit mean, with units.

When x is time and y a coordinate, the slope of a line is a velocity and a quadratic holds half the
acceleration; when y is a velocity, the slope is an acceleration. Values at t = 0 and at the start
of the passage come from the same covariance as the parameters.
"""

from dataclasses import dataclass

from footing.core.fitting import Fit
from footing.core.quantities import Quantity
from footing.core.units import Dimension

_TURNING_NAMES = ("angle", "angular velocity", "angular acceleration")
_DERIVATIVE_NAMES = ("position", "velocity", "acceleration", "rate of change of acceleration")


@dataclass(frozen=True)
class Reading:
    """One number that a fit gives.

    key : stable name, by which a finding refers to it
    label : what it is, in words
    formula : how it follows from the parameters, as (text, subscript) pieces; may be empty
    outside : true for a value at t = 0 where t = 0 lies outside the fitted passage
    """

    key: str
    label: str
    formula: tuple[tuple[str, str], ...]
    value: float
    standard_error: float
    dimension: Dimension
    outside: bool = False


def parameters(fit: Fit, x: Quantity, y: Quantity) -> list[Reading]:
    """The bare parameters of a fit, with their units."""
    dimensions = fit.curve.dimensions(x.dimension, y.dimension)
    return [
        Reading(name, "", (symbol,), float(value), float(error), dimension)
        for name, symbol, value, error, dimension in zip(
            fit.curve.names,
            fit.curve.symbols,
            fit.values,
            fit.standard_errors,
            dimensions,
            strict=True,
        )
    ]


def readings(fit: Fit, x: Quantity, y: Quantity, *, start: float, end: float) -> list[Reading]:
    """What the fit says about the motion, most telling first.

    ``start`` and ``end`` are the ends of the fitted points in x. Empty where x is not time or y is
    neither a coordinate nor a velocity component.
    """
    turns = y.component == "angle"
    if x.key != "t" or y.since_start or not (turns or y.component in ("x", "y", "h")):
        return []
    names = _TURNING_NAMES if turns else _DERIVATIVE_NAMES
    found = []
    highest = fit.curve.degree
    outside = not start <= 0 <= end
    for order in range(highest, -1, -1):
        depth = y.order + order
        if depth >= len(names):
            continue
        name = names[depth]
        dimension = Dimension(0 if turns else 1, -depth, angle=int(turns))
        if order == highest:
            value, error = fit.derivative_at(0.0, order)
            formula = _leading(fit, order)
            found.append(Reading(name.split()[0], name, formula, value, error, dimension))
            continue
        for moment, suffix, words in (
            (0.0, "at_zero", "at t = 0"),
            (start, "at_start", "at start"),
        ):
            value, error = fit.derivative_at(moment, order)
            formula = _leading(fit, order) if suffix == "at_zero" else ()
            found.append(
                Reading(
                    f"{name}_{suffix}",
                    f"{name} {words}",
                    formula,
                    value,
                    error,
                    dimension,
                    outside=suffix == "at_zero" and outside,
                )
            )
    return found


def _leading(fit: Fit, order: int) -> tuple[tuple[str, str], ...]:
    """The formula of the derivative of this order at x = 0: order! · c_order."""
    symbol = fit.curve.symbols[fit.curve.degree - order]
    factor = {0: "", 1: "", 2: "2", 3: "6"}[order]
    return ((factor + symbol[0], symbol[1]),)
