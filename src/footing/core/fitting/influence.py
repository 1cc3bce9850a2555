"""How the parameters of a fit follow from its points, to first order.

At the least sum of squares, parameters change by H (δy − f' δx) with H = (JᵀJ)⁻¹Jᵀ, J the slopes of
the curve by the free parameters, both whitened (JCGM 100:2008, 5.1.2, applied to the estimate).
"""

from dataclasses import dataclass

import numpy as np

from footing.core.arrays import FloatArray, IntArray
from footing.core.covariances import Whitener
from footing.core.fitting.result import Fit


@dataclass(frozen=True)
class Influence:
    """What points do to the parameters of a fit.

    moving : (k,) places of the parameters that can change
    inverse : (k, r) (JᵀJ)⁻¹Jᵀ of whitened J
    along : (n,) slope of the curve by x at the points
    """

    parameters: int
    moving: IntArray
    inverse: FloatArray
    whitener: Whitener | None
    along: FloatArray

    def of_change(self, x: FloatArray, y: FloatArray) -> FloatArray:
        """Change ``(p,)`` of the parameters where the points change by x and y ``(n,)``."""
        change = y - self.along * x
        white = change if self.whitener is None else self.whitener(change)
        found = np.zeros(self.parameters)
        found[self.moving] = self.inverse @ white
        return found

    def by_points(self, gradient: FloatArray) -> FloatArray:
        """Change ``(n,)`` with the y of each point of what changes by ``gradient`` ``(p,)``."""
        white = self.inverse.T @ gradient[self.moving]
        return white if self.whitener is None else self.whitener.adjoint(white, len(self.along))


def influence(fit: Fit, x: FloatArray, *, held: frozenset[str] = frozenset()) -> Influence:
    """The influence of the points of a fit, in the units in which it was made.

    ``held`` are parameters that were fixed; those at a bound do not change either.
    """
    slopes = fit.curve.slopes(x, fit.values)[1]
    still = held | set(fit.at_bound)
    moving = np.array([k for k, name in enumerate(fit.curve.names) if name not in still], dtype=int)
    whitener = None if fit.weighing is None else fit.weighing.whitener()
    columns = slopes[:, moving] if whitener is None else whitener(slopes[:, moving])
    sizes = np.linalg.norm(columns, axis=0)
    inverse = np.linalg.pinv(columns / np.where(sizes > 0, sizes, 1.0))
    return Influence(
        len(fit.values),
        moving,
        inverse / np.where(sizes > 0, sizes, 1.0)[:, None],
        whitener,
        fit.slope(x),
    )
