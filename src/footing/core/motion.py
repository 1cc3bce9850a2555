"""The motion of one body: every quantity at every counting mark, with uncertainties.

Needs marks, frame times and the ground; gives the columns of the table and the points of a graph.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from footing.core.arrays import BoolArray, FloatArray, IntArray
from footing.core.kinematics import (
    ACCELERATION_WINDOW,
    VELOCITY_WINDOW,
    Differentiator,
    differentiator,
)
from footing.core.quantities import QUANTITIES, QuantityKey


@dataclass(frozen=True)
class Column:
    """One quantity at some of the marks.

    index : (m,) which marks have a value
    values, uncertainties : (m,) in the quantity's unit
    at_end : (m,) true for values taken off-centre at the end of a stretch
    """

    index: IntArray
    values: FloatArray
    uncertainties: FloatArray
    at_end: BoolArray


class Motion:
    """Columns of one body, computed when asked for.

    Parameters
    ----------
    times : (n,) rising study times of the counting marks, seconds; on a picture their numbers
    positions : (n, 2) world positions
    heights : (n,) along *up*
    position_uncertainty : of one coordinate of a mark, in the unit of the positions
    """

    def __init__(
        self,
        times: FloatArray,
        positions: FloatArray,
        *,
        heights: FloatArray,
        position_uncertainty: float,
    ) -> None:
        self.times = times
        self.positions = positions
        self._coordinates = {"x": positions[:, 0], "y": positions[:, 1], "h": heights}
        self.position_uncertainty = position_uncertainty
        self._derivatives: dict[int, Differentiator] = {}

    def column(self, key: QuantityKey) -> Column:
        """The column of a quantity of `footing.core.quantities`."""
        quantity = QUANTITIES[key]
        n = len(self.times)
        if quantity.order <= 0:
            timed = quantity.order < 0
            values = self.times if timed else self._coordinates[quantity.component]
            u = 0.0 if timed else self.position_uncertainty
            return Column(np.arange(n), values, np.full(n, u), np.zeros(n, dtype=bool))
        derivative = self._derivative(quantity.order)
        if quantity.component == "magnitude":
            values = np.hypot(*(derivative(self.positions[:, axis]) for axis in (0, 1)))
        else:
            values = derivative(self._coordinates[quantity.component])
        return Column(
            derivative.index,
            values,
            derivative.uncertainty(self.position_uncertainty),
            derivative.at_end,
        )

    def covariance(self, key: QuantityKey) -> Callable[[IntArray], FloatArray] | None:
        """How the values of a column depend on each other, or None if they do not.

        The result takes row numbers of the column and gives their covariance for marks of variance
        1. A speed is followed to first order: u(v) along the direction of motion.
        """
        quantity = QUANTITIES[key]
        if quantity.order <= 0:
            return None
        derivative = self._derivative(quantity.order)
        if quantity.component != "magnitude":
            return derivative.covariance

        def of_speed(rows: IntArray) -> FloatArray:
            velocity = np.stack([derivative(self.positions[:, axis])[rows] for axis in (0, 1)])
            speed = np.hypot(*velocity)
            direction = velocity / np.where(speed > 0, speed, 1.0)
            parallel = direction.T @ direction
            return np.asarray(parallel * derivative.covariance(rows), dtype=float)

        return of_speed

    def _derivative(self, order: int) -> Differentiator:
        if order not in self._derivatives:
            window = {1: VELOCITY_WINDOW, 2: ACCELERATION_WINDOW}[order]
            self._derivatives[order] = differentiator(self.times, order=order, window=window)
        return self._derivatives[order]
