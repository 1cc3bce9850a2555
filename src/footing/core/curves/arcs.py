"""Parabolas and cubics."""

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.curves.curve import named
from footing.core.reading import (
    Derivative,
    Fitted,
    Meaning,
    Reading,
    Variable,
    following,
    itself,
    value_of,
)


def vertex(x: FloatArray, y: FloatArray) -> tuple[float, float, float]:
    """Factor, place and value of the vertex of a parabola through points."""
    a, b, c = np.polyfit(x, y, 2)
    top = -b / (2 * a) if a else float(x.mean())
    return a, top, c - a * top**2


def _from_vertex(x: FloatArray, y: FloatArray) -> list[FloatArray]:
    return [np.array(vertex(x, y))]


def _turning_point(fit: Fitted, x: Variable, y: Variable) -> list[Reading]:
    found = []
    if x.is_time and y.order == 0:
        key = "angular" if y.turning else "acceleration"
        meaning = Derivative(2, y.turning)
        twice = following(fit, 2 * value_of(fit, "a"), {"a": 2.0})
        found.append(Reading(key, meaning, (("2a", ""),), twice, y.unit / x.unit**2))
    return [
        *found,
        itself(fit, "turning_x", Meaning.TURNING_X, "x0", x.unit),
        itself(fit, "turning_y", Meaning.TURNING_Y, "y0", y.unit),
    ]


CURVES = (
    named(
        *("quadratic", "quadratic", "arcs", "a*x^2 + b*x + c", "a b c"),
        degree=2,
        within=("cubic",),
        asks_for_zero=True,
    ),
    named(
        *("vertex", "quadratic by its vertex", "arcs", "a*(x - x0)^2 + y0", "a x0 y0"),
        guess=_from_vertex,
        readings=_turning_point,
    ),
    named("cubic", "cubic", "arcs", "a*x^3 + b*x^2 + c*x + d", "a b c d", degree=3),
)
