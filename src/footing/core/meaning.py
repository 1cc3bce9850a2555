"""What the parameters of a fit mean, with units.

When x is time and y a coordinate, the slope of a line is a velocity and a quadratic holds half the
acceleration; when y is a velocity, the slope is an acceleration. A sine has a period, an
exponential a half-life. Values at t = 0 and at the start of the passage, and what follows from
several parameters, come from the same covariance as the parameters (JCGM 100:2008, 5.2.2).
"""

from dataclasses import dataclass
from fractions import Fraction
from math import log, pi

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.dimensions import SECOND, Unit
from footing.core.fitting import Fit, interval_factor
from footing.core.quantities import Quantity

_TURNING_NAMES = ("angle", "angular velocity", "angular acceleration")
_DERIVATIVE_NAMES = ("position", "velocity", "acceleration", "rate of change of acceleration")
_NEAR = 0.3  # of the reach of the points, by which x = 0 may lie outside them
_SUFFIXES = {0: "", 1: "", 2: "2", 3: "6"}  # order! in front of a coefficient

Formula = tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class Variable:
    """What stands on an axis.

    order : how many times a position or an angle is differentiated to get it; None for others
    turning : whether it is an angle or a derivative of one
    """

    name: str
    symbol: str
    unit: Unit
    order: int | None = None
    turning: bool = False

    @property
    def is_time(self) -> bool:
        """Whether it measures time."""
        return self.unit.converts_to(SECOND)


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
    formula: Formula
    value: float
    standard_error: float
    unit: Unit
    outside: bool = False


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
    rows = (fit.curve.names, fit.curve.symbols, fit.values, fit.standard_errors, units)
    return [
        Reading(name, "", (symbol,), float(value), float(error), unit)
        for name, symbol, value, error, unit in zip(*rows, strict=True)
    ]


def readings(fit: Fit, x: Variable, y: Variable, *, start: float, end: float) -> list[Reading]:
    """What the fit says, most telling first.

    ``start`` and ``end`` are the ends of the fitted points in x. Derivatives in time have their
    names; what a slope or an intercept is in general is said by the names of the axes.
    """
    degree = fit.curve.degree
    if degree is not None and x.is_time and y.order is not None:
        return _in_time(fit, x, y, degree, start=start, end=end)
    return _SAYS[fit.curve.key](fit, x, y) if fit.curve.key in _SAYS else []


def sense(fit: Fit, *, start: float, end: float) -> str | None:
    """Whether the intercept is zero within its uncertainty.

    None where a curve has none, and where x = 0 is far from the points, which reach from ``start``
    to ``end``: nothing that anybody knows happens there.
    """
    if fit.curve.key not in ("line", "quadratic"):
        return None
    room = _NEAR * (end - start)
    if not start - room <= 0 <= end + room:
        return None
    value, error = float(fit.values[-1]), float(fit.standard_errors[-1])
    if not error > 0:
        return None
    half = interval_factor(fit.dof) * error
    if abs(value) <= half:
        return "The intercept is zero within its uncertainty."
    return (
        f"The intercept is {abs(value) / error:.1f} uncertainties away from zero. Does a value "
        "other than zero make sense there?"
    )


def derivative(fit: Fit, x: float, order: int) -> tuple[float, float]:
    """Value and standard error of a derivative of a polynomial (order 0: itself) at ``x``."""
    p = len(fit.values)
    gradient = np.zeros(p)
    for k in range(p):
        power = p - 1 - k
        if power >= order:
            factor = np.prod(np.arange(power, power - order, -1, dtype=float))
            gradient[k] = factor * x ** (power - order)
    return float(gradient @ fit.values), _error(fit, gradient)


def _error(fit: Fit, gradient: FloatArray) -> float:
    return float(np.sqrt(max(float(gradient @ fit.covariance @ gradient), 0.0)))


def _in_time(
    fit: Fit, x: Variable, y: Variable, degree: int, *, start: float, end: float
) -> list[Reading]:
    names = _TURNING_NAMES if y.turning else _DERIVATIVE_NAMES
    found = []
    outside = not start <= 0 <= end
    for order in range(degree, -1, -1):
        depth = (y.order or 0) + order
        if depth >= len(names):
            continue
        name, unit = names[depth], y.unit / x.unit**order
        if order == degree:
            leading = derivative(fit, 0.0, order)
            found.append(Reading(name.split()[0], name, _leading(fit, order), *leading, unit))
            continue
        at_zero, at_start = derivative(fit, 0.0, order), derivative(fit, start, order)
        found += [
            Reading(
                f"{name}_at_zero", f"{name} at t = 0", _leading(fit, order), *at_zero, unit, outside
            ),
            Reading(f"{name}_at_start", f"{name} at start", (), *at_start, unit),
        ]
    return found


def _leading(fit: Fit, order: int) -> Formula:
    """The formula of the derivative of this order at x = 0: order! · c_order."""
    letter, below = fit.curve.symbols[len(fit.curve.symbols) - 1 - order]
    return ((_SUFFIXES[order] + letter, below),)


def _of(fit: Fit, name: str) -> float:
    return float(fit.values[fit.curve.names.index(name)])


def _from(fit: Fit, value: float, slopes: dict[str, float]) -> tuple[float, float]:
    """A value that follows from parameters, with the error that its slopes by them give."""
    gradient = np.array([slopes.get(name, 0.0) for name in fit.curve.names])
    return value, _error(fit, gradient)


def _itself(fit: Fit, key: str, label: str, name: str, unit: Unit) -> Reading:
    """A parameter as a reading."""
    symbol = fit.curve.symbols[fit.curve.names.index(name)]
    return Reading(key, label, (symbol,), *_from(fit, _of(fit, name), {name: 1.0}), unit)


def _level(fit: Fit, _x: Variable, y: Variable) -> list[Reading]:
    return [_itself(fit, "mean", f"mean {y.name}", "c", y.unit)]


def _straight(fit: Fit, x: Variable, y: Variable) -> list[Reading]:
    found = [_itself(fit, "slope", f"change of {y.name} with {x.name}", "m", y.unit / x.unit)]
    if fit.curve.key == "line":
        found.append(_itself(fit, "intercept", f"{y.name} where {x.name} is 0", "b", y.unit))
    return found


def _vertex(fit: Fit, x: Variable, y: Variable) -> list[Reading]:
    found = []
    if x.is_time and y.order == 0:
        name = (_TURNING_NAMES if y.turning else _DERIVATIVE_NAMES)[2]
        twice = _from(fit, 2 * _of(fit, "a"), {"a": 2.0})
        found.append(Reading(name.split()[0], name, (("2a", ""),), *twice, y.unit / x.unit**2))
    return [
        *found,
        _itself(fit, "turning_x", f"{x.name} at the vertex", "x0", x.unit),
        _itself(fit, "turning_y", f"{y.name} at the vertex", "y0", y.unit),
    ]


def _swings(fit: Fit, x: Variable, y: Variable) -> list[Reading]:
    w, a = _of(fit, "w"), _of(fit, "A")
    if not w:
        return []
    per = Unit((("rad", Fraction(1)),)) / x.unit
    what = "period" if x.is_time else "wavelength"
    rate = "angular frequency" if x.is_time else "angular wave number"
    period = _from(fit, 2 * pi / abs(w), {"w": 2 * pi / w**2})
    found = [
        Reading("period", what, (("2π/|ω|", ""),), *period, x.unit),
        Reading("angular_frequency", rate, (("|ω|", ""),), *_from(fit, abs(w), {"w": 1.0}), per),
        Reading("amplitude", "amplitude", (("|A|", ""),), *_from(fit, abs(a), {"A": 1.0}), y.unit),
        _itself(fit, "rest", "middle of the swing", "c", y.unit),
    ]
    if fit.curve.key == "damped_sine" and (d := _of(fit, "d")):
        fades = _from(fit, 1 / d, {"d": 1 / d**2})
        found.append(Reading("decay", "decay to 1/e", (("1/d", ""),), *fades, x.unit))
    return found


def _growth(fit: Fit, x: Variable, y: Variable) -> list[Reading]:
    k = _of(fit, "k")
    if not k:
        return []
    what = "doubling" if k > 0 else "half-life" if x.is_time else "halving"
    half = _from(fit, log(2) / abs(k), {"k": log(2) / k**2})
    constant = _from(fit, 1 / abs(k), {"k": 1 / k**2})
    label = f"{x.name} to change by the factor e"
    if fit.curve.key == "exponential_level":
        last = _itself(fit, "level", "level", "c", y.unit)
    else:
        last = _itself(fit, "intercept", f"{y.name} where {x.name} is 0", "a", y.unit)
    return [
        Reading("half", what, (("ln 2/|k|", ""),), *half, x.unit),
        Reading("constant", label, (("1/|k|", ""),), *constant, x.unit),
        last,
    ]


def _bell(fit: Fit, x: Variable, _y: Variable) -> list[Reading]:
    width = _from(fit, abs(_of(fit, "s")), {"s": 1.0})
    return [
        _itself(fit, "centre", "centre", "x0", x.unit),
        Reading("width", "width (standard deviation)", (("|s|", ""),), *width, x.unit),
    ]


_SAYS = {
    "level": _level,
    "line": _straight,
    "proportional": _straight,
    "vertex": _vertex,
    "sine": _swings,
    "damped_sine": _swings,
    "exponential": _growth,
    "exponential_level": _growth,
    "bell": _bell,
}
