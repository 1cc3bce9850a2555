"""How a line on a body turns: its angle, and the derivatives of that, at the marks of both ends."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy import sparse

from footing.core.arrays import FloatArray, IntArray
from footing.core.kinematics import Differentiator, differentiator
from footing.core.paths import Column, nothing, plain


@dataclass(frozen=True)
class Turning:
    """How a line on a body turns: at some of its marks the angle in radians, without jumps.

    index : (m,) which marks; angles : (m,) from +x, counter-clockwise
    uncertainty : of one angle, radians
    """

    index: IntArray
    angles: FloatArray
    uncertainty: float


UNTURNED = Turning(np.empty(0, dtype=np.int64), np.empty(0), 0.0)


def turning(index: IntArray, arms: FloatArray, *, position_uncertainty: float) -> Turning:
    """The turning of a line from one spot to a second one.

    index : (m,) marks of the first at which the second is marked, too
    arms : (m, 2) from the first to the second, world
    """
    angles = np.unwrap(np.arctan2(arms[:, 1], arms[:, 0]))
    lengths = np.hypot(*arms.T)
    typical = float(np.median(lengths)) if len(lengths) else 1.0
    return Turning(index, angles, float(np.sqrt(2)) * position_uncertainty / (typical or 1.0))


@dataclass(frozen=True)
class Angles:
    """Angles of a line at the marks of a body, and how fast they change.

    times : (n,) of all marks, seconds
    breaks : k where no derivative crosses from mark k to mark k + 1
    windows : marks of which the derivative of each order is made
    """

    turning: Turning
    times: FloatArray
    breaks: IntArray
    windows: Mapping[int, int]

    def column(self, order: int) -> Column:
        """The angle, or its derivative of an order."""
        turning = self.turning
        if not len(turning.index):
            return nothing()
        if order == 0:
            return plain(turning.index, turning.angles, turning.uncertainty)
        derivative = self._derivative(order)
        return Column(
            turning.index[derivative.index],
            derivative(turning.angles),
            derivative.uncertainty(turning.uncertainty),
            derivative.at_end,
        )

    def weights(self, order: int) -> sparse.csr_array:
        """How the values follow from the angles at all marks: sparse ``(m, n)``."""
        index = self.turning.index
        at = (np.ones(len(index)), (np.arange(len(index)), index))
        chosen = sparse.csr_array(at, shape=(len(index), len(self.times)))
        return self._derivative(order).weights @ chosen if order else chosen

    def _derivative(self, order: int) -> Differentiator:
        index = self.turning.index
        breaks = np.unique(np.searchsorted(index, self.breaks, side="right") - 1)
        return differentiator(
            self.times[index],
            order=order,
            window=self.windows[order],
            breaks=breaks[(breaks >= 0) & (breaks < len(index) - 1)],
        )
