"""Swings, steady and damped."""

from fractions import Fraction
from math import copysign, pi

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.curves.curve import named
from footing.core.curves.guessing import frequencies, reach, swing, swings_solved
from footing.core.dimensions import Unit
from footing.core.reading import Fitted, Meaning, Reading, Variable, following, itself, value_of

_DAMPINGS = (0.0, 0.3, 1.0, 2.0, 4.0)
_FEW_STARTS = 3


def _sine(x: FloatArray, y: FloatArray) -> list[FloatArray]:
    tried = frequencies(x, y)
    factors, left = swings_solved(x, y, tried, np.ones_like(x))
    best = int(np.argmin(left))
    amplitude, phase = swing(factors[best, 0], factors[best, 1])
    return [np.array([amplitude, float(tried[best]), phase, float(factors[best, 2])])]


def _damped_sine(x: FloatArray, y: FloatArray) -> list[FloatArray]:
    """The best of each of some dampings."""
    tried = frequencies(x, y)
    found = []
    for damping in _DAMPINGS:
        d = damping / reach(x)
        factors, left = swings_solved(x, y, tried, np.exp(-d * (x - x.min())))
        best = int(np.argmin(left))
        amplitude, phase = swing(factors[best, 0], factors[best, 1])
        start = [amplitude * np.exp(d * x.min()), d, float(tried[best]), phase]
        found.append((float(left[best]), [*start, float(factors[best, 2])]))
    return [np.array(start) for _, start in sorted(found)[:_FEW_STARTS]]


def _swings(fit: Fitted, x: Variable, y: Variable) -> list[Reading]:
    w, a = value_of(fit, "w"), value_of(fit, "A")
    if not w:
        return []
    per = Unit((("rad", Fraction(1)),)) / x.unit
    what = Meaning.PERIOD if x.is_time else Meaning.WAVELENGTH
    rate = Meaning.ANGULAR_FREQUENCY if x.is_time else Meaning.ANGULAR_WAVE_NUMBER
    pace = following(fit, abs(w), {"w": copysign(1, w)})
    size = following(fit, abs(a), {"A": copysign(1, a)})
    period = following(fit, 2 * pi / abs(w), {"w": -2 * pi / (w * abs(w))})
    return [
        Reading("period", what, (("2π/|ω|", ""),), period, x.unit),
        Reading("angular_frequency", rate, (("|ω|", ""),), pace, per),
        Reading("amplitude", Meaning.AMPLITUDE, (("|A|", ""),), size, y.unit),
        itself(fit, "rest", Meaning.REST, "c", y.unit),
    ]


def _damped_swings(fit: Fitted, x: Variable, y: Variable) -> list[Reading]:
    swinging, d = _swings(fit, x, y), value_of(fit, "d")
    if not swinging or not d:
        return swinging
    fades = following(fit, 1 / d, {"d": -1 / d**2})
    return [*swinging, Reading("decay", Meaning.DECAY, (("1/d", ""),), fades, x.unit)]


CURVES = (
    named(
        *("sine", "sine", "swings", "A*sin(w*x + p) + c", "A w p c"),
        guess=_sine,
        readings=_swings,
        within=("damped_sine",),
        swings=True,
    ),
    named(
        *("damped_sine", "damped sine", "swings", "A*exp(-d*x)*sin(w*x + p) + c", "A d w p c"),
        guess=_damped_sine,
        readings=_damped_swings,
        swings=True,
    ),
)
