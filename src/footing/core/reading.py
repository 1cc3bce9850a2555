"""What a number that a fit gives is: its meaning, its value and its unit.

These are data; `footing.words.readings` says them in words.
"""

from dataclasses import dataclass, field
from enum import Enum, auto
from math import sqrt
from typing import Protocol

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.dimensions import SECOND, Unit

Symbol = tuple[str, str]  # letter and subscript
Formula = tuple[Symbol, ...]


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
class Estimate:
    """What follows from the parameters of a fit, with its standard error.

    gradient : (p,) its slopes by the parameters
    """

    value: float
    standard_error: float
    gradient: FloatArray = field(compare=False)


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
    estimate: Estimate
    unit: Unit
    outside: bool = False

    @property
    def value(self) -> float:
        """The number, in ``unit``."""
        return self.estimate.value

    @property
    def standard_error(self) -> float:
        """As the fit alone says it."""
        return self.estimate.standard_error


class NamedParameters(Protocol):
    """A curve, as far as its parameters have names (p,) and printed symbols (p,)."""

    @property
    def names(self) -> tuple[str, ...]:
        """Of the parameters."""

    @property
    def symbols(self) -> tuple[Symbol, ...]:
        """The same as they are printed."""


class Fitted(Protocol):
    """What readings need of a fit: values ``(p,)`` and covariance ``(p, p)`` of its parameters."""

    @property
    def curve(self) -> NamedParameters:
        """Whose parameters they are."""

    @property
    def values(self) -> FloatArray:
        """Of the parameters."""

    @property
    def covariance(self) -> FloatArray:
        """Of the parameters."""


def estimate(fit: Fitted, value: float, gradient: FloatArray) -> Estimate:
    """A value that changes by ``gradient`` ``(p,)`` with the parameters."""
    return Estimate(value, sqrt(max(float(gradient @ fit.covariance @ gradient), 0.0)), gradient)


def value_of(fit: Fitted, name: str) -> float:
    """The value of a parameter."""
    return float(fit.values[fit.curve.names.index(name)])


def following(fit: Fitted, value: float, slopes: dict[str, float]) -> Estimate:
    """A value that follows from parameters, with its slopes by those that matter."""
    return estimate(fit, value, np.array([slopes.get(name, 0.0) for name in fit.curve.names]))


def itself(fit: Fitted, key: str, meaning: Meaning, name: str, unit: Unit) -> Reading:
    """A parameter as a reading."""
    symbol = fit.curve.symbols[fit.curve.names.index(name)]
    return Reading(key, meaning, (symbol,), following(fit, value_of(fit, name), {name: 1.0}), unit)


_TURNING_KEYS = ("angle", "angular velocity", "angular acceleration")
_ALONG_KEYS = ("position", "velocity", "acceleration", "rate of change of acceleration")


def derivative_key(order: int, *, turning: bool) -> str | None:
    """How findings refer to a derivative of a position or an angle; None beyond those known."""
    keys = _TURNING_KEYS if turning else _ALONG_KEYS
    return keys[order] if order < len(keys) else None
