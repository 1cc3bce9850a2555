"""Speed, and distance travelled, along a path whose marks scatter.

Marks that scatter make every speed too large, and a path from mark to mark longer than the way of
the body. So sizes of derivatives are given without what noise adds (`footing.core.speed`), where a
body is slow from wider windows, and the distance is the integral of that speed, by the trapezoidal
rule. Across a gap, which no derivative crosses, it is the straight line.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, Protocol

import numpy as np
from scipy import sparse

from footing.core.arrays import BoolArray, FloatArray, IntArray
from footing.core.covariances import Covariance
from footing.core.kinematics import Differentiator
from footing.core.speed import true_sizes

_CLEAR = 5.0  # standard deviations that a size should have; from there on noise adds 2 % at most
_PILOT = 9  # marks of the windows that tell how large a size is about
_AROUND = 8  # marks to each side that tell it
_WIDEST = 31  # marks
_SMALLEST = 1e-300


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


def nothing() -> Column:
    """A column without values."""
    none = np.empty(0)
    return Column(np.empty(0, dtype=np.int64), none, none, np.empty(0, dtype=bool))


class Path(Protocol):
    """What is asked of a motion here (`footing.core.motion`)."""

    times: FloatArray
    positions: FloatArray
    position_uncertainty: float

    @property
    def scatter(self) -> float:
        """Standard deviation of one coordinate of a mark."""

    def derivative_of(self, order: int, window: int) -> Differentiator:
        """Derivatives through a window of so many marks."""

    def independent(self, slopes: Mapping[Any, Any]) -> dict[str, sparse.csr_array]:
        """Slopes by coordinates as slopes by independent errors of the marks."""

    def stretches(self) -> list[tuple[int, int]]:
        """Where derivatives are taken without crossing anything."""


@dataclass(frozen=True)
class Sized:
    """The size of a derivative at m of n marks.

    slopes : by axis sparse (m, n): how the values change with the coordinates of the marks, along
        the direction that a wide window gives. One that scatters with each mark would hide how well
        neighbours tell each other's errors.
    errors : the same by independent errors of the marks
    across : sparse (m, m): covariance from errors across the vector, of the second order and (on
        its diagonal) about as much as the next one gives, for marks of variance 1
    added : (m,) by how much noise had made the values too large
    """

    column: Column
    slopes: dict[Any, Any]
    errors: dict[str, sparse.csr_array]
    across: sparse.csr_array
    added: FloatArray

    @property
    def covariance(self) -> Covariance:
        """Of the values, for marks of variance 1."""
        return Covariance(sum(part @ part.T for part in self.errors.values()) + self.across)


def sized(path: Path, order: int, *, window: int) -> Sized:
    """The size of the derivative of this order, from windows of at least ``window`` marks."""
    weights, at_end = _windowed(path, order, window)
    index = path.derivative_of(order, window).index
    vector = _vectors(path, weights)
    measured = np.hypot(*vector)
    gain = _gain(path, weights)
    scatter = path.scatter * gain
    values = true_sizes(measured, scatter)
    wide = _vectors(path, path.derivative_of(order, max(_PILOT, window)).weights)
    shared = sparse.csr_array(weights @ weights.T)
    by = sparse.diags_array(1 / np.maximum(np.maximum(values, scatter), _SMALLEST))
    across = sparse.csr_array(by @ shared.multiply(shared) @ by) * (path.scatter**2 / 2)
    third = gain**2 * np.minimum(scatter / np.maximum(values, _SMALLEST), 1.0) ** 4
    slopes = _along(wide, weights)
    made = Sized(
        Column(index, values, np.zeros(len(values)), at_end),
        slopes,
        path.independent(slopes),
        across + sparse.diags_array(third),
        measured - values,
    )
    u = path.position_uncertainty * np.sqrt(made.covariance.variances)
    return replace(made, column=replace(made.column, uncertainties=u))


def _gain(path: Path, weights: sparse.csr_array) -> FloatArray:
    """Root mean square ``(m,)`` of what errors of variance 1 do to the components of vectors."""
    squares = sum(
        by.multiply(by).sum(axis=1)
        for axis in ("x", "y")
        for by in path.independent({axis: weights}).values()
    )
    return np.asarray(np.sqrt(squares / 2), dtype=float).reshape(-1)


def _vectors(path: Path, weights: sparse.csr_array) -> FloatArray:
    return np.stack([weights @ path.positions[:, axis] for axis in (0, 1)])


def _along(vector: FloatArray, weights: sparse.csr_array) -> dict[Any, Any]:
    """Slopes of sizes along these vectors ``(2, m)``."""
    size = np.hypot(*vector)
    along = np.where(size > 0, vector / np.where(size > 0, size, 1.0), [[1.0], [0.0]])
    return {
        axis: sparse.csr_array(sparse.diags_array(by) @ weights)
        for axis, by in zip(("x", "y"), along, strict=True)
    }


def _windowed(path: Path, order: int, window: int) -> tuple[sparse.csr_array, BoolArray]:
    """Weights ``(m, n)``, each from the narrowest window in which the vector is clear of noise."""
    about = _usual_sizes(path, path.derivative_of(order, max(_PILOT, window)))
    hidden = np.arange(len(about))  # rows that wait for a wider window
    parts, rows = [], []
    at_end = np.zeros(len(about), dtype=bool)
    for width in range(window, _WIDEST + 1, 2):
        made = path.derivative_of(order, width)
        clear = about[hidden] >= _CLEAR * made.uncertainty(path.scatter)[hidden]
        here = hidden if width + 2 > _WIDEST else hidden[clear]
        if len(here):
            parts.append(made.weights[here])
            rows.append(here)
            at_end[here] = made.at_end[here]
        hidden = hidden[~clear]
        if not len(hidden):
            break
    if not parts:
        return path.derivative_of(order, window).weights, at_end
    order_of_rows = np.argsort(np.concatenate(rows))
    return sparse.csr_array(sparse.vstack(parts, format="csr")[order_of_rows]), at_end


def _usual_sizes(path: Path, pilot: Differentiator) -> FloatArray:
    """About how large a vector is at each mark: the root of its mean square around there.

    By itself a mark whose noise lengthens the vector would be given a narrow window for that.
    """
    squares = np.sum(_vectors(path, pilot.weights) ** 2, axis=0)
    squares -= 2 * pilot.uncertainty(path.scatter) ** 2
    weight = 1 / np.maximum(pilot.uncertainty(1.0), _SMALLEST) ** 4  # that of a square
    usual = np.empty(len(squares))
    for first, last in path.stretches():
        here = np.flatnonzero((pilot.index >= first) & (pilot.index < last))
        if len(here):
            sums = np.concatenate(
                [
                    [[0.0, 0.0]],
                    np.cumsum(
                        np.stack([squares[here] * weight[here], weight[here]], axis=1), axis=0
                    ),
                ]
            )
            n = len(here)
            low = np.maximum(np.arange(n) - _AROUND, 0)
            high = np.minimum(np.arange(n) + _AROUND + 1, n)
            total = sums[high] - sums[low]
            usual[here] = total[:, 0] / total[:, 1]
    return np.sqrt(np.maximum(usual, 0.0))


@dataclass(frozen=True)
class Travelled:
    """The distance travelled since the first mark.

    steps : by axis sparse (n, n): slopes of the steps that lead to each mark
    of_speeds : sparse (n, m): how these steps follow from the m speeds
    """

    column: Column
    steps: dict[Any, Any]
    of_speeds: sparse.csr_array
    covariance: Covariance


def travelled(path: Path, speed: Sized) -> Travelled:
    """The distance travelled at each mark, from the speed at the marks."""
    n = len(path.times)
    place = np.full(n, -1)
    place[speed.column.index] = np.arange(len(speed.column.index))
    smooth = np.zeros(n, dtype=bool)
    for first, last in path.stretches():
        smooth[first + 1 : last] = (place[first + 1 : last] >= 0) & (place[first : last - 1] >= 0)
    steps_of_speed = _trapezoids(path.times, np.flatnonzero(smooth), place, len(speed.column.index))
    chords = np.flatnonzero(~smooth)
    chords = chords[chords > 0]
    differences = sparse.csr_array(
        (
            np.repeat([1.0, -1.0], len(chords)),
            (np.tile(chords, 2), np.concatenate([chords, chords - 1])),
        ),
        shape=(n, n),
    )
    across = np.stack([differences @ path.positions[:, axis] for axis in (0, 1)])
    lengths = np.hypot(*across)
    along = across / np.where(lengths > 0, lengths, 1.0)
    slopes = {
        axis: sparse.csr_array(
            steps_of_speed @ speed.slopes[axis] + sparse.diags_array(by) @ differences
        )
        for axis, by in zip(("x", "y"), along, strict=True)
    }
    values = np.cumsum(steps_of_speed @ speed.column.values + lengths)
    matrix = sum(part @ part.T for part in path.independent(slopes).values())
    matrix = matrix + steps_of_speed @ speed.across @ steps_of_speed.T
    covariance = Covariance(sparse.csr_array(matrix), summed=True)
    u = path.position_uncertainty * np.sqrt(np.maximum(covariance.variances, 0.0))
    column = Column(np.arange(n), values, u, np.zeros(n, dtype=bool))
    return Travelled(column, slopes, steps_of_speed, covariance)


def _trapezoids(times: FloatArray, at: IntArray, place: IntArray, speeds: int) -> sparse.csr_array:
    """Matrix ``(n, speeds)`` of the steps of an integral that lead to these marks."""
    half = (times[at] - times[at - 1]) / 2
    entries = (np.tile(half, 2), (np.tile(at, 2), np.concatenate([place[at], place[at - 1]])))
    return sparse.csr_array(entries, shape=(len(times), speeds))
