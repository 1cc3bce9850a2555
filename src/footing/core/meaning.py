"""What the parameters of a fit mean, with units.

When x is time and y a coordinate, the slope of a line is a velocity and a quadratic holds half the
acceleration; when y is a velocity, the slope is an acceleration. A sine has a period, an
exponential a half-life. Values at t = 0 and at the start of the passage, and what follows from
several parameters, come from the same covariance as the parameters (JCGM 100:2008, 5.2.2).
"""

from dataclasses import dataclass
from enum import Enum, auto
from fractions import Fraction
from math import log, pi

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.dimensions import SECOND, Unit
from footing.core.fitting import Fit, interval_factor
from footing.core.quantities import Quantity

_TURNING_KEYS = ("angle", "angular velocity", "angular acceleration")
_DERIVATIVE_KEYS = ("position", "velocity", "acceleration", "rate of change of acceleration")
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


class Meaning(Enum):
    """What a number of a fit is, where it is one of its own kind."""

    MEAN = auto()
    SLOPE = auto()
    INTERCEPT = auto()
    TURNING_X = auto()
    TURNING_Y = auto()
    PERIOD = auto()
    WAVELENGTH = auto()
    ANGULAR_FREQUENCY = auto()
    ANGULAR_WAVE_NUMBER = auto()
    AMPLITUDE = auto()
    REST = auto()
    DECAY = auto()
    DOUBLING = auto()
    HALF_LIFE = auto()
    HALVING = auto()
    CONSTANT = auto()
    LEVEL = auto()
    CENTRE = auto()
    WIDTH = auto()


class Moment(Enum):
    """When a derivative has this value."""

    ALWAYS = auto()
    AT_ZERO = auto()
    AT_START = auto()


@dataclass(frozen=True)
class Derivative:
    """A derivative of a position or an angle by time, of this order, at a moment."""

    order: int
    turning: bool
    moment: Moment = Moment.ALWAYS


@dataclass(frozen=True)
class Reading:
    """One number that a fit gives.

    key : stable name, by which a finding refers to it
    meaning : what it is; None for a bare parameter
    formula : how it follows from the parameters, as (text, subscript) pieces; may be empty
    outside : true for a value at t = 0 where t = 0 lies outside the fitted passage
    """

    key: str
    meaning: Meaning | Derivative | None
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
        Reading(name, None, (symbol,), float(value), float(error), unit)
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
    if fit.curve.key not in ("line", "quadratic"):
        return None
    room = _NEAR * (end - start)
    if not start - room <= 0 <= end + room:
        return None
    value, error = float(fit.values[-1]), float(fit.standard_errors[-1])
    if not error > 0:
        return None
    half = interval_factor(fit.dof) * error
    return Intercept(abs(value) / error, may_be_zero=abs(value) <= half)


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
    keys = _TURNING_KEYS if y.turning else _DERIVATIVE_KEYS
    found = []
    outside = not start <= 0 <= end
    for order in range(degree, -1, -1):
        depth = (y.order or 0) + order
        if depth >= len(keys):
            continue
        key, unit = keys[depth], y.unit / x.unit**order
        always, at_zero, at_start = (Derivative(depth, y.turning, moment) for moment in Moment)
        leading, formula = derivative(fit, 0.0, order), _leading(fit, order)
        if order == degree:
            found.append(Reading(key.split()[0], always, formula, *leading, unit))
            continue
        there = derivative(fit, start, order)
        found += [
            Reading(f"{key}_at_zero", at_zero, formula, *leading, unit, outside),
            Reading(f"{key}_at_start", at_start, (), *there, unit),
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


def _itself(fit: Fit, key: str, meaning: Meaning, name: str, unit: Unit) -> Reading:
    """A parameter as a reading."""
    symbol = fit.curve.symbols[fit.curve.names.index(name)]
    return Reading(key, meaning, (symbol,), *_from(fit, _of(fit, name), {name: 1.0}), unit)


def _level(fit: Fit, _x: Variable, y: Variable) -> list[Reading]:
    return [_itself(fit, "mean", Meaning.MEAN, "c", y.unit)]


def _straight(fit: Fit, x: Variable, y: Variable) -> list[Reading]:
    found = [_itself(fit, "slope", Meaning.SLOPE, "m", y.unit / x.unit)]
    if fit.curve.key == "line":
        found.append(_itself(fit, "intercept", Meaning.INTERCEPT, "b", y.unit))
    return found


def _vertex(fit: Fit, x: Variable, y: Variable) -> list[Reading]:
    found = []
    if x.is_time and y.order == 0:
        key = (_TURNING_KEYS if y.turning else _DERIVATIVE_KEYS)[2].split()[0]
        meaning = Derivative(2, y.turning)
        twice = _from(fit, 2 * _of(fit, "a"), {"a": 2.0})
        found.append(Reading(key, meaning, (("2a", ""),), *twice, y.unit / x.unit**2))
    return [
        *found,
        _itself(fit, "turning_x", Meaning.TURNING_X, "x0", x.unit),
        _itself(fit, "turning_y", Meaning.TURNING_Y, "y0", y.unit),
    ]


def _swings(fit: Fit, x: Variable, y: Variable) -> list[Reading]:
    w, a = _of(fit, "w"), _of(fit, "A")
    if not w:
        return []
    per = Unit((("rad", Fraction(1)),)) / x.unit
    what = Meaning.PERIOD if x.is_time else Meaning.WAVELENGTH
    rate = Meaning.ANGULAR_FREQUENCY if x.is_time else Meaning.ANGULAR_WAVE_NUMBER
    size = _from(fit, abs(a), {"A": 1.0})
    period = _from(fit, 2 * pi / abs(w), {"w": 2 * pi / w**2})
    found = [
        Reading("period", what, (("2π/|ω|", ""),), *period, x.unit),
        Reading("angular_frequency", rate, (("|ω|", ""),), *_from(fit, abs(w), {"w": 1.0}), per),
        Reading("amplitude", Meaning.AMPLITUDE, (("|A|", ""),), *size, y.unit),
        _itself(fit, "rest", Meaning.REST, "c", y.unit),
    ]
    if fit.curve.key == "damped_sine" and (d := _of(fit, "d")):
        fades = _from(fit, 1 / d, {"d": 1 / d**2})
        found.append(Reading("decay", Meaning.DECAY, (("1/d", ""),), *fades, x.unit))
    return found


def _growth(fit: Fit, x: Variable, y: Variable) -> list[Reading]:
    k = _of(fit, "k")
    if not k:
        return []
    falling = Meaning.HALF_LIFE if x.is_time else Meaning.HALVING
    what = Meaning.DOUBLING if k > 0 else falling
    half = _from(fit, log(2) / abs(k), {"k": log(2) / k**2})
    constant = _from(fit, 1 / abs(k), {"k": 1 / k**2})
    if fit.curve.key == "exponential_level":
        last = _itself(fit, "level", Meaning.LEVEL, "c", y.unit)
    else:
        last = _itself(fit, "intercept", Meaning.INTERCEPT, "a", y.unit)
    return [
        Reading("half", what, (("ln 2/|k|", ""),), *half, x.unit),
        Reading("constant", Meaning.CONSTANT, (("1/|k|", ""),), *constant, x.unit),
        last,
    ]


def _bell(fit: Fit, x: Variable, _y: Variable) -> list[Reading]:
    width = _from(fit, abs(_of(fit, "s")), {"s": 1.0})
    return [
        _itself(fit, "centre", Meaning.CENTRE, "x0", x.unit),
        Reading("width", Meaning.WIDTH, (("|s|", ""),), *width, x.unit),
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
