"""The motion of one body: every quantity at every counting mark, with uncertainties.

Needs marks, frame times and the ground; gives the columns of the table and the points of a graph.
"""

from collections.abc import Mapping
from functools import cached_property
from typing import Literal

import numpy as np
from scipy import sparse

from footing.core.arrays import BoolArray, FloatArray, IntArray
from footing.core.covariances import Covariance, root
from footing.core.kinematics import (
    ACCELERATION_WINDOW,
    VELOCITY_WINDOW,
    Differentiator,
    differentiator,
    mark_scatter,
    plane_scatter,
    stretches,
)
from footing.core.paths import Column, Sized, Travelled, plain, sized, travelled
from footing.core.quantities import QUANTITIES, QuantityKey
from footing.core.since_start import SinceStart
from footing.core.turning import UNTURNED, Angles, Turning
from footing.core.windows import Windows

Coordinate = Literal["x", "y", "th"]
_AXES: tuple[Coordinate, Coordinate] = ("x", "y")
MARK_ERRORS = ("e1", "e2")  # independent errors of a mark, where they are not round
_STATED_COUNTS = 10.0  # degrees of freedom of the stated uncertainty beside what marks show


class Motion:
    """Columns of one body, computed when asked for.

    Parameters
    ----------
    times : (n,) rising study times of the counting marks, seconds; on a picture their numbers
    positions : (n, 2) world positions
    heights : (n,) along *up*
    up : (2,) the world direction in which heights grow, of length 1
    position_uncertainty : of one coordinate of a mark, in the unit of the positions; typical where
        it differs
    error_shapes : (n, 2, 2) how the errors of each mark lie, in units of that: columns by
        independent errors; None where they are round and alike
    breaks : k where no derivative crosses from mark k to mark k + 1
    impacts : those of them that no mean crosses either
    velocity_window : marks of which a velocity is made
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
        error_shapes: FloatArray | None = None,
        breaks: IntArray | None = None,
        impacts: IntArray | None = None,
        velocity_window: int = VELOCITY_WINDOW,
        turning: Turning | None = None,
    ) -> None:
        self.times = times
        self.positions = positions
        self.heights = heights
        self.up = up
        self._coordinates = {"x": positions[:, 0], "y": positions[:, 1], "h": heights}
        self.position_uncertainty = position_uncertainty
        self.error_shapes = error_shapes
        self.turning = turning
        self.breaks = np.empty(0, dtype=np.int64) if breaks is None else breaks
        self.impacts = np.empty(0, dtype=np.int64) if impacts is None else impacts
        self.velocity_window = velocity_window
        self._windows = {1: velocity_window, 2: max(ACCELERATION_WINDOW, velocity_window)}
        self._every = np.arange(len(times))
        self._since_start = SinceStart(times, self.impacts)
        self._angles = Angles(turning or UNTURNED, times, self.breaks, self._windows)
        self._derivatives: dict[tuple[int, int], Differentiator] = {}
        self._sizes: dict[int, Sized] = {}
        self._columns: dict[QuantityKey, Column] = {}

    def column(self, key: QuantityKey) -> Column:
        """The column of a quantity of `footing.core.quantities`."""
        if key not in self._columns:
            self._columns[key] = self._column(key)
        return self._columns[key]

    def _column(self, key: QuantityKey) -> Column:
        quantity = QUANTITIES[key]
        if quantity.order < 0:
            return plain(self._every, self.times, 0.0)
        if quantity.component == "angle":
            return self._angles.column(quantity.order)
        if quantity.component == "path":
            return self._travelled.column
        if quantity.component == "direction":
            return self._direction()
        if quantity.since_start:
            values = self._coordinates[quantity.component]
            return self._since_start.column(values, self._uncertainty(key))
        if quantity.order == 0:
            values = self._coordinates[quantity.component]
            return plain(self._every, values, self._uncertainty(key))
        if quantity.component == "magnitude":
            return self._size(quantity.order).column
        derivative = self._derivative(quantity.order)
        return Column(
            derivative.index,
            derivative(self._coordinates[quantity.component]),
            self._uncertainty(key),
            derivative.at_end,
        )

    def weights(self, key: QuantityKey) -> dict[Coordinate, sparse.csr_array]:
        """How the values of a column follow from the coordinates of the marks, to first order.

        For each coordinate that matters a sparse matrix ``(m, n)``: the slope of each value by the
        x or y of each mark, or by the angle there. All that values share, they share through marks.
        """
        quantity = QUANTITIES[key]
        if quantity.order < 0:
            return {}
        if quantity.component == "angle":
            return {"th": self._angles.weights(quantity.order)}
        if quantity.component == "path":
            return {axis: _added_up(part) for axis, part in self._travelled.steps.items()}
        if quantity.component == "magnitude":
            return self._size(quantity.order).slopes
        if quantity.component == "direction":
            return self._of_direction()
        if quantity.since_start:
            each = self._since_start.weights
        elif quantity.order == 0:
            each = sparse.eye_array(len(self.times), format="csr")
        else:
            each = self._derivative(quantity.order).weights
        slopes = {"x": (1.0, 0.0), "y": (0.0, 1.0), "h": self.up}[quantity.component]
        return {axis: each * by for axis, by in zip(_AXES, slopes, strict=True) if by}

    def errors(self, key: QuantityKey) -> dict[str, sparse.csr_array]:
        """How the values of a column follow from the independent errors of the marks.

        By their source sparse ``(m, n)``: the coordinates, or ``e1`` and ``e2`` where the errors of
        a mark are not round. Each has the uncertainty of a coordinate (or of an angle, ``th``).
        """
        return self.independent(self.weights(key))

    def independent(
        self, slopes: Mapping[Coordinate, sparse.csr_array]
    ) -> dict[str, sparse.csr_array]:
        """Slopes by coordinates as slopes by independent errors."""
        shapes = self.error_shapes
        if shapes is None or "th" in slopes or not slopes:
            return {str(of): by for of, by in slopes.items()}

        def along(k: int) -> sparse.csr_array:
            each = (
                by @ sparse.diags_array(shapes[:, "xy".index(of), k]) for of, by in slopes.items()
            )
            return sparse.csr_array(sum(each))

        return {source: along(k) for k, source in enumerate(MARK_ERRORS)}

    def _uncertainty(self, key: QuantityKey) -> FloatArray:
        """Standard uncertainties ``(m,)`` of what is linear in the coordinates."""
        return self.position_uncertainty * self._gain(key)

    def _gain(self, key: QuantityKey) -> FloatArray:
        """What errors of variance 1 do to each value: in every direction the same, if round."""
        quantity = QUANTITIES[key]
        if self.error_shapes is None and quantity.component in self._coordinates:
            if quantity.since_start:
                return np.sqrt(2) / self._since_start.elapsed
            if quantity.order == 0:
                return np.ones(len(self.times))
            return self._derivative(quantity.order).uncertainty(1.0)
        if quantity.component == "direction":
            moves, across = self._across_motion(self._derivative(1).windows)
            return self._derivative(1).windows.chosen(moves).spread(across, self.error_shapes)
        squares = sum(by.multiply(by).sum(axis=1) for by in self.errors(key).values())
        return np.asarray(np.sqrt(squares), dtype=float).reshape(-1)

    def covariance(self, key: QuantityKey) -> Covariance | None:
        """How the values of a column depend on each other, for marks of variance 1.

        None if they share no marks. Sizes have a part of the second order: errors across them.
        """
        quantity = QUANTITIES[key]
        if quantity.component == "path":
            return self._travelled.covariance
        if quantity.since_start:
            return self._since_start.covariance
        if quantity.order <= 0:
            return None
        if quantity.component == "magnitude":
            return self._size(quantity.order).covariance
        parts = [Covariance.of_slopes(part) for part in self.errors(key).values()]
        total = parts[0]
        for part in parts[1:]:
            total = total.plus(part)
        return total

    @cached_property
    def scatter(self) -> float:
        """Standard deviation of one coordinate of a mark, as far as the marks show it.

        What is stated counts like ten degrees of freedom beside what the marks show, so that few
        marks change little about it.
        """
        return self._with_stated(*mark_scatter(self.times, self.positions, self.breaks))

    @cached_property
    def plane_scatter(self) -> float:
        """The same, and alike whichever way the axes lie."""
        return self._with_stated(*plane_scatter(self.times, self.positions, self.breaks))

    def _with_stated(self, shown: float, dof: float) -> float:
        stated = self.position_uncertainty**2
        return float(np.sqrt((_STATED_COUNTS * stated + dof * shown) / (_STATED_COUNTS + dof)))

    def across(self, key: QuantityKey) -> sparse.csr_array | None:
        """How a size (a distance, or the magnitude of a vector) follows from errors across it.

        Sparse ``(m, k)`` by k independent errors, each as uncertain as a coordinate of a mark.
        None for a column that is no size.
        """
        quantity = QUANTITIES[key]
        if quantity.component == "path":
            steps = self._travelled.of_speeds @ root(self._size(1).across)
            return _added_up(steps)
        if quantity.component == "magnitude":
            return root(self._size(quantity.order).across)
        return None

    def added(self, key: QuantityKey) -> FloatArray:
        """By how much noise had made the values of a column too large ``(m,)``; 0 for most."""
        component = QUANTITIES[key].component
        if component == "magnitude":
            return self._size(QUANTITIES[key].order).added
        if component == "path":
            return self._travelled.of_speeds @ self._size(1).added
        return np.zeros(1)

    def _across_motion(self, windows: Windows) -> tuple[IntArray, FloatArray]:
        """Where the direction of a velocity is known, and how it turns with errors ``(2, k)``."""
        vector = np.stack([windows(self.positions[:, axis]) for axis in (0, 1)])
        size = np.hypot(*vector)
        moves = np.flatnonzero(self._moves(size))
        along = vector[:, moves] / size[moves]
        return moves, np.rad2deg(np.stack([-along[1], along[0]]) / size[moves])

    def _of_direction(self) -> dict[Coordinate, sparse.csr_array]:
        """Of the direction of a velocity, which changes across it."""
        windows = self._derivative(1).windows
        moves, across = self._across_motion(windows)
        each = windows.chosen(moves).matrix
        return {axis: sparse.diags_array(by) @ each for axis, by in zip(_AXES, across, strict=True)}

    def _size(self, order: int) -> Sized:
        if order not in self._sizes:
            self._sizes[order] = sized(self, order, window=self._windows[order])
        return self._sizes[order]

    def noise(self, key: QuantityKey) -> FloatArray:
        """Standard deviation ``(m,)`` of what the marks' scatter does to a column."""
        quantity = QUANTITIES[key]
        if quantity.component == "magnitude":
            return self.scatter * np.sqrt(self._size(quantity.order).variances)
        return self.scatter * self._gain(key)

    def of_order(self, order: int) -> IntArray:
        """The marks at which there is a derivative of this order."""
        return self._derivative(order).index

    def derivative_of(self, order: int, window: int) -> Differentiator:
        """The derivative at every mark through a window of this many marks."""
        if (order, window) not in self._derivatives:
            self._derivatives[order, window] = differentiator(
                self.times, order=order, window=window, breaks=self.breaks
            )
        return self._derivatives[order, window]

    def stretches(self) -> list[tuple[int, int]]:
        """Where derivatives are taken without crossing anything."""
        return stretches(self.times, self.breaks)

    @cached_property
    def _travelled(self) -> Travelled:
        return travelled(self, self._size(1))

    def _moves(self, speed: FloatArray) -> BoolArray:
        """Where the direction of the velocity is known at all."""
        u = self._derivative(1).uncertainty(self.position_uncertainty)
        return np.asarray(speed > u, dtype=bool)

    def _direction(self) -> Column:
        """Direction of the velocity, degrees from +x; none where the body rests."""
        derivative = self._derivative(1)
        vx, vy = (derivative(self.positions[:, axis]) for axis in (0, 1))
        speed = np.hypot(vx, vy)
        moves = self._moves(speed)
        return Column(
            derivative.index[moves],
            np.rad2deg(np.arctan2(vy, vx)[moves]),
            self._uncertainty("phi"),
            derivative.at_end[moves],
        )

    def _derivative(self, order: int) -> Differentiator:
        return self.derivative_of(order, self._windows[order])


def _added_up(steps: sparse.csr_array) -> sparse.csr_array:
    """Slopes ``(n, n)`` of sums, from those of their steps ``(n, n)``."""
    return sparse.csr_array(np.cumsum(steps.toarray(), axis=0))
