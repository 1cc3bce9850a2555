"""Bell and chain."""

from math import copysign

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.curves.arcs import vertex
from footing.core.curves.curve import named
from footing.core.curves.guessing import best_on_grid, reach
from footing.core.reading import Fitted, Meaning, Reading, Variable, following, itself, value_of

_SPREADS = (0.05, 0.1, 0.2, 0.4)


def _bell(x: FloatArray, y: FloatArray) -> list[FloatArray]:
    grid = [(x0, s * reach(x)) for x0 in np.linspace(x.min(), x.max(), 21) for s in _SPREADS]
    (x0, s), (a, c) = best_on_grid(
        y, grid, lambda x0, s: (np.exp(-((x - x0) ** 2) / (2 * s**2)), np.ones_like(x))
    )
    return [np.array([a, x0, s, c])]


def _chain(x: FloatArray, y: FloatArray) -> list[FloatArray]:
    """Near its lowest point a chain is the parabola (x − x₀)²/(2a)."""
    a, x0, lowest = vertex(x, y)
    radius = 1 / (2 * a) if a else reach(x)
    return [np.array([radius, x0, lowest - radius])]


def _centre_and_width(fit: Fitted, x: Variable, _y: Variable) -> list[Reading]:
    s = value_of(fit, "s")
    width = following(fit, abs(s), {"s": copysign(1, s)})
    return [
        itself(fit, "centre", Meaning.CENTRE, "x0", x.unit),
        Reading("width", Meaning.WIDTH, (("|s|", ""),), width, x.unit),
    ]


CURVES = (
    named(
        *("bell", "bell", "shapes", "A*exp(-(x - x0)^2/(2*s^2)) + c", "A x0 s c"),
        guess=_bell,
        readings=_centre_and_width,
    ),
    named(
        *("chain", "hanging chain", "shapes", "a*cosh((x - x0)/a) + c", "a x0 c"),
        guess=_chain,
    ),
)
