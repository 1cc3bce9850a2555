"""Where a body is and how fast it goes at a moment, from its marks on one side of that moment.

A line through the marks of a passage, or a parabola where that is significantly better (F test over
both coordinates at once: NIST Handbook of Statistical Methods, 4.4.4.6), taken at the moment.
"""

from dataclasses import dataclass

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray

LEAST_MARKS = 3  # of which a line leaves something to see how far marks scatter


@dataclass(frozen=True)
class Curve:
    """A polynomial through both coordinates, taken at a moment.

    position, velocity : (2,) at the moment
    position_weights, velocity_weights : (n,) of each mark in these
    rss : sum of squares that is left, of both coordinates
    dof : degrees of freedom of that
    extent : how far its marks lie apart
    """

    order: int
    position: FloatArray
    velocity: FloatArray
    position_weights: FloatArray
    velocity_weights: FloatArray
    rss: float
    dof: int
    extent: float


@dataclass(frozen=True)
class Approach:
    """A line through the marks of a passage, and a parabola where there are marks enough."""

    line: Curve
    parabola: Curve | None

    @property
    def chance(self) -> float:
        """How likely the gain of the parabola is by chance; 1 where there is none."""
        if self.parabola is None or self.parabola.dof < 1 or self.parabola.rss <= 0:
            return 1.0
        gain = max(self.line.rss - self.parabola.rss, 0.0) / 2
        ratio = gain / (self.parabola.rss / self.parabola.dof)
        return float(special.fdtrc(2, self.parabola.dof, ratio))


def approach(times: FloatArray, positions: FloatArray, moment: float) -> Approach:
    """Both curves through some marks.

    times : (n,) with at least two that differ; positions : (n, 2)
    """
    line = _curve(times, positions, moment, order=1)
    enough = len(np.unique(times)) > LEAST_MARKS
    return Approach(line, _curve(times, positions, moment, order=2) if enough else None)


def _curve(times: FloatArray, positions: FloatArray, moment: float, *, order: int) -> Curve:
    unit = float(np.abs(times - moment).max()) or 1.0
    basis = np.vander((times - moment) / unit, order + 1, increasing=True)
    weights = np.linalg.pinv(basis)
    coefficients = weights @ positions
    left = positions - basis @ coefficients
    return Curve(
        order,
        coefficients[0],
        coefficients[1] / unit,
        weights[0],
        weights[1] / unit,
        float(np.sum(left**2)),
        2 * (len(times) - order - 1),
        float(np.ptp(positions, axis=0).max()),
    )
