"""The motion of one body: every quantity at every counting mark, with uncertainties.

Needs marks, frame times and the ground; gives the columns of the table and the points of a graph.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from scipy import sparse

from footing.core.arrays import BoolArray, FloatArray, IntArray
from footing.core.kinematics import (
    ACCELERATION_WINDOW,
    VELOCITY_WINDOW,
    Differentiator,
    differentiator,
)
from footing.core.quantities import QUANTITIES, QuantityKey

Coordinate = Literal["x", "y", "th"]
_AXES: tuple[Coordinate, Coordinate] = ("x", "y")
_WINDOWS = {1: VELOCITY_WINDOW, 2: ACCELERATION_WINDOW}


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


@dataclass(frozen=True)
class Turning:
    """How a line on a body turns: at some of its marks the angle in radians, without jumps.

    index : (m,) which marks; angles : (m,) from +x, counter-clockwise
    uncertainty : of one angle, radians
    """

    index: IntArray
    angles: FloatArray
    uncertainty: float


def turning(index: IntArray, arms: FloatArray, *, position_uncertainty: float) -> Turning:
    """The turning of a line from one spot to a second one.

    index : (m,) marks of the first at which the second is marked, too
    arms : (m, 2) from the first to the second, world
    """
    angles = np.unwrap(np.arctan2(arms[:, 1], arms[:, 0]))
    lengths = np.hypot(*arms.T)
    typical = float(np.median(lengths)) if len(lengths) else 1.0
    return Turning(index, angles, float(np.sqrt(2)) * position_uncertainty / (typical or 1.0))


class Motion:
    """Columns of one body, computed when asked for.

    Parameters
    ----------
    times : (n,) rising study times of the counting marks, seconds; on a picture their numbers
    positions : (n, 2) world positions
    heights : (n,) along *up*
    up : (2,) the world direction in which heights grow, of length 1
    position_uncertainty : of one coordinate of a mark, in the unit of the positions
    breaks : k where no derivative crosses from mark k to mark k + 1
    turning : how a line on the body turns, if a second spot is marked
    """

    def __init__(
        self,
        times: FloatArray,
        positions: FloatArray,
        *,
        heights: FloatArray,
        position_uncertainty: float,
        up: tuple[float, float] = (0.0, 1.0),
        breaks: IntArray | None = None,
        turning: Turning | None = None,
    ) -> None:
        self.times = times
        self.positions = positions
        self.heights = heights
        self.up = up
        self._coordinates = {"x": positions[:, 0], "y": positions[:, 1], "h": heights}
        self.position_uncertainty = position_uncertainty
        self.turning = turning
        self._breaks = np.empty(0, dtype=np.int64) if breaks is None else breaks
        self._derivatives: dict[int, Differentiator] = {}

    def with_turning(self, turning: Turning | None) -> "Motion":
        """The same motion of a body of which it is known, too, how it turns."""
        return Motion(
            self.times,
            self.positions,
            heights=self.heights,
            up=self.up,
            position_uncertainty=self.position_uncertainty,
            breaks=self._breaks,
            turning=turning,
        )

    def column(self, key: QuantityKey) -> Column:
        """The column of a quantity of `footing.core.quantities`."""
        quantity = QUANTITIES[key]
        if quantity.order < 0:
            return self._plain(self.times, 0.0)
        if quantity.component == "angle":
            return self._angular(quantity.order)
        if quantity.component == "path":
            return self._travelled()
        if quantity.component == "direction":
            return self._direction()
        if quantity.since_start:
            return self._since_start(quantity.component)
        if quantity.order == 0:
            return self._plain(self._coordinates[quantity.component], self.position_uncertainty)
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

    def weights(self, key: QuantityKey) -> dict[Coordinate, Any]:
        """How the values of a column follow from the coordinates of the marks, to first order.

        For each coordinate that matters a sparse matrix ``(m, n)``: the slope of each value by the
        x or y of each mark, or by the angle there. All that values share, they share through marks.
        """
        quantity = QUANTITIES[key]
        if quantity.order < 0:
            return {}
        if quantity.component == "angle":
            return {"th": self._angular_weights(quantity.order)}
        if quantity.component == "path":
            return self._travelled_weights()
        if quantity.since_start:
            each = self._since_start_weights()
        elif quantity.order == 0:
            each = sparse.eye_array(len(self.times), format="csr")
        else:
            each = self._derivative(quantity.order).weights
        if quantity.component in ("magnitude", "direction"):
            return self._of_vector(quantity.component, each)
        slopes = {"x": (1.0, 0.0), "y": (0.0, 1.0), "h": self.up}[quantity.component]
        return {axis: each * by for axis, by in zip(_AXES, slopes, strict=True) if by}

    def covariance(self, key: QuantityKey) -> Callable[[IntArray], FloatArray] | None:
        """How the values of a column depend on each other, or None if they share no marks.

        The result takes row numbers of the column and gives their covariance for marks of variance
        1.
        """
        quantity = QUANTITIES[key]
        shares = quantity.order > 0 or quantity.since_start or quantity.component == "path"
        if not shares:
            return None

        def of(rows: IntArray) -> FloatArray:  # weights cost much, and only fits ask for this
            chosen = [part[rows] for part in self.weights(key).values()]
            return np.asarray(sum((part @ part.T).toarray() for part in chosen), dtype=float)

        return of

    def _of_vector(self, component: str, each: Any) -> dict[Coordinate, Any]:
        """Of the size of a derivative, which changes along it, or of its direction, across it."""
        vector = np.stack([each @ self.positions[:, axis] for axis in (0, 1)])
        size = np.hypot(*vector)
        along = np.where(size > 0, vector / np.where(size > 0, size, 1.0), [[1.0], [0.0]])
        if component == "magnitude":
            return {
                axis: sparse.diags_array(by) @ each for axis, by in zip(_AXES, along, strict=True)
            }
        moves = self._moves(size)
        across = np.rad2deg(np.stack([-along[1], along[0]])[:, moves] / size[moves])
        return {
            axis: sparse.diags_array(by) @ each[moves]
            for axis, by in zip(_AXES, across, strict=True)
        }

    def _plain(self, values: FloatArray, uncertainty: float) -> Column:
        n = len(values)
        return Column(np.arange(n), values, np.full(n, uncertainty), np.zeros(n, dtype=bool))

    def _since_start(self, component: str) -> Column:
        """Displacement since the first mark, over the time since then."""
        if len(self.times) < 2:
            return _nothing()
        after = np.arange(1, len(self.times))
        elapsed = self.times[1:] - self.times[0]
        values = self._coordinates[component]
        u = np.sqrt(2) * self.position_uncertainty / elapsed
        return Column(
            after, (values[1:] - values[0]) / elapsed, u, np.zeros(len(after), dtype=bool)
        )

    def _since_start_weights(self) -> Any:
        """Each by its own mark, and all by the first one: (δ_ij − δ_0j) / Δt_i."""
        n = len(self.times)
        if n < 2:
            return sparse.csr_array((0, n))
        since = sparse.eye_array(n, format="csr")[1:] - sparse.csr_array(
            (np.ones(n - 1), (np.arange(n - 1), np.zeros(n - 1, dtype=int))), shape=(n - 1, n)
        )
        return sparse.diags_array(1 / (self.times[1:] - self.times[0])) @ since

    def _travelled(self) -> Column:
        """Length of the path since the first mark, from chord to chord."""
        n = len(self.times)
        lengths = np.hypot(*np.diff(self.positions, axis=0).T)
        values = np.concatenate([np.zeros(min(n, 1)), np.cumsum(lengths)])
        u = self.position_uncertainty * np.sqrt(self._travelled_variance())
        return Column(np.arange(n), values, u, np.zeros(n, dtype=bool))

    def _along(self) -> FloatArray:
        """Direction ``(n − 1, 2)`` of each chord."""
        steps = np.diff(self.positions, axis=0)
        lengths = np.hypot(*steps.T)
        return np.asarray(steps / np.where(lengths > 0, lengths, 1.0)[:, None], dtype=float)

    def _travelled_variance(self) -> FloatArray:
        """For marks of variance 1: both ends pull fully, the marks between where the path bends."""
        bends = np.sum(np.diff(self._along(), axis=0) ** 2, axis=1)
        variance = 2 + np.concatenate([np.zeros(min(len(self.times), 2)), np.cumsum(bends)])
        if len(variance):
            variance[0] = 0.0  # it is zero there by its definition
        return np.asarray(variance[: len(self.times)], dtype=float)

    def _travelled_weights(self) -> dict[Coordinate, Any]:
        """A mark pulls at a length that ends there along the last chord, at a longer one where the
        path bends, and the first mark at all of them.
        """
        n = len(self.times)
        found: dict[Coordinate, Any] = {}
        for axis, along in zip(_AXES, self._along().T, strict=True):
            pulls = np.zeros((n, n))
            pulls[np.arange(1, n), np.arange(1, n)] = along
            passed = np.concatenate([np.zeros(min(n, 1)), along])[: max(n - 1, 0)] - along
            pulls[:, : max(n - 1, 0)] += np.tri(n, max(n - 1, 0), -1) * passed
            found[axis] = sparse.csr_array(pulls)
        return found

    def _moves(self, speed: FloatArray) -> BoolArray:
        """Where the direction of the velocity is known at all."""
        u = self._derivative(1).uncertainty(self.position_uncertainty)
        return np.asarray(speed > u, dtype=bool)

    def _direction(self) -> Column:
        """Direction of the velocity, degrees from +x; none where the body rests."""
        derivative = self._derivative(1)
        vx, vy = (derivative(self.positions[:, axis]) for axis in (0, 1))
        u = derivative.uncertainty(self.position_uncertainty)
        speed = np.hypot(vx, vy)
        moves = self._moves(speed)
        return Column(
            derivative.index[moves],
            np.rad2deg(np.arctan2(vy, vx)[moves]),
            np.rad2deg(u[moves] / speed[moves]),
            derivative.at_end[moves],
        )

    def _angular(self, order: int) -> Column:
        turning = self.turning
        if turning is None:
            return _nothing()
        if order == 0:
            n = len(turning.index)
            u = np.full(n, turning.uncertainty)
            return Column(turning.index, turning.angles, u, np.zeros(n, dtype=bool))
        derivative = self._angular_derivative(order)
        return Column(
            turning.index[derivative.index],
            derivative(turning.angles),
            derivative.uncertainty(turning.uncertainty),
            derivative.at_end,
        )

    def _angular_derivative(self, order: int) -> Differentiator:
        index = self._turning_index
        return differentiator(self.times[index], order=order, window=_WINDOWS[order])

    def _angular_weights(self, order: int) -> Any:
        index = self._turning_index
        at = (np.ones(len(index)), (np.arange(len(index)), index))
        chosen = sparse.csr_array(at, shape=(len(index), len(self.times)))
        return self._angular_derivative(order).weights @ chosen if order else chosen

    @property
    def _turning_index(self) -> IntArray:
        return self.turning.index if self.turning else np.empty(0, dtype=np.int64)

    def _derivative(self, order: int) -> Differentiator:
        if order not in self._derivatives:
            self._derivatives[order] = differentiator(
                self.times, order=order, window=_WINDOWS[order], breaks=self._breaks
            )
        return self._derivatives[order]


def _nothing() -> Column:
    none = np.empty(0)
    return Column(np.empty(0, dtype=np.int64), none, none, np.empty(0, dtype=bool))
