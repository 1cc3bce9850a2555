"""Speed, and distance travelled, along a path whose marks scatter.

Marks that scatter make every speed too large, and a path from mark to mark longer than the way of
the body. So sizes of derivatives are given without what noise adds (`footing.core.speed`), where a
body is slow from wider windows, and the distance is the integral of that speed, by the trapezoidal
rule. Across a gap, which no derivative crosses, it is the straight line.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Protocol

import numpy as np
from scipy import sparse

from footing.core.arrays import BoolArray, FloatArray, IntArray
from footing.core.covariances import Covariance
from footing.core.kinematics import Differentiator
from footing.core.speed import true_sizes
from footing.core.windows import Windows

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


def plain(index: IntArray, values: FloatArray, uncertainties: FloatArray | float) -> Column:
    """A column ``(m,)`` of which no value is taken off-centre; one uncertainty may be of all."""
    each = np.full(len(index), uncertainties) if isinstance(uncertainties, float) else uncertainties
    return Column(index, values, each, np.zeros(len(index), dtype=bool))


def nothing() -> Column:
    """A column without values."""
    none = np.empty(0)
    return Column(np.empty(0, dtype=np.int64), none, none, np.empty(0, dtype=bool))


class Path(Protocol):
    """What is asked of a motion here (`footing.core.motion`)."""

    times: FloatArray
    positions: FloatArray
    position_uncertainty: float
    error_shapes: FloatArray | None

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

    windows : which marks each is made of
    along : (2, m) the direction that a wide window gives; one that scatters with each mark would
        hide how well neighbours tell each other's errors
    sharing : (m,) how much of what neighbours share counts in the second order
    own : (m,) variance that each has for itself, about as much as the next order gives
    added : (m,) by how much noise had made the values too large
    """

    path: Path
    column: Column
    windows: Windows
    along: FloatArray
    sharing: FloatArray
    own: FloatArray
    added: FloatArray

    @cached_property
    def slopes(self) -> dict[Any, Any]:
        """By axis sparse ``(m, n)``: how the values change with the coordinates of the marks."""
        return {
            axis: replace(self.windows, weights=self.windows.weights * by[:, None]).matrix
            for axis, by in zip(("x", "y"), self.along, strict=True)
        }

    @cached_property
    def errors(self) -> dict[str, sparse.csr_array]:
        """The same by independent errors of the marks."""
        return self.path.independent(self.slopes)

    @cached_property
    def across(self) -> sparse.csr_array:
        """Sparse ``(m, m)``: covariance from errors across the vector, for marks of variance 1."""
        shared = (self.windows.matrix @ self.windows.matrix.T).tocoo()
        squares = shared.data**2 * self.sharing[shared.row] * self.sharing[shared.col]
        each = np.arange(len(self.own))
        places = np.append(shared.row, each), np.append(shared.col, each)
        return sparse.csr_array((np.append(squares, self.own), places), shape=shared.shape)

    @cached_property
    def covariance(self) -> Covariance:
        """Of the values, for marks of variance 1."""
        return Covariance(sum(part @ part.T for part in self.errors.values()) + self.across)

    @cached_property
    def variances(self) -> FloatArray:
        """Of each value ``(m,)``, for marks of variance 1."""
        along = self.windows.spread(self.along, self.path.error_shapes) ** 2
        return np.asarray(along + self.sharing**2 * self.windows.gain**4 + self.own, dtype=float)


def sized(path: Path, order: int, *, window: int) -> Sized:
    """The size of the derivative of this order, from windows of at least ``window`` marks."""
    windows, at_end = _windowed(path, order, window)
    index = path.derivative_of(order, window).index
    measured = np.hypot(*_vectors(path, windows))
    gain = _gain(path, windows)
    scatter = path.scatter * gain
    values = true_sizes(measured, scatter)
    wide = _vectors(path, path.derivative_of(order, max(_PILOT, window)).windows)
    sharing = path.scatter / np.sqrt(2) / np.maximum(np.maximum(values, scatter), _SMALLEST)
    own = gain**2 * np.minimum(scatter / np.maximum(values, _SMALLEST), 1.0) ** 4
    column = Column(index, values, np.zeros(len(values)), at_end)
    made = Sized(path, column, windows, _unit(wide), sharing, own, measured - values)
    u = path.position_uncertainty * np.sqrt(made.variances)
    return replace(made, column=replace(column, uncertainties=u))


def _gain(path: Path, windows: Windows) -> FloatArray:
    """Root mean square ``(m,)`` of what errors of variance 1 do to the components of vectors."""
    if path.error_shapes is None:
        return windows.gain
    both = np.ones((2, len(windows.starts)))
    of_axes = [windows.spread(both * axis, path.error_shapes) for axis in ([[1], [0]], [[0], [1]])]
    return np.asarray(np.hypot(*of_axes) / np.sqrt(2), dtype=float)


def _vectors(path: Path, windows: Windows) -> FloatArray:
    return np.stack([windows(path.positions[:, axis]) for axis in (0, 1)])


def _unit(vector: FloatArray) -> FloatArray:
    """Directions of vectors ``(2, m)``; any where there is none."""
    size = np.hypot(*vector)
    found = np.where(size > 0, vector / np.where(size > 0, size, 1.0), [[1.0], [0.0]])
    return np.asarray(found, dtype=float)


def _windowed(path: Path, order: int, window: int) -> tuple[Windows, BoolArray]:
    """Weights, each from the narrowest window in which the vector is clear of noise."""
    about = _usual_sizes(path, path.derivative_of(order, max(_PILOT, window)))
    hidden = np.arange(len(about))  # rows that wait for a wider window
    parts, rows = [], []
    at_end = np.zeros(len(about), dtype=bool)
    for width in range(window, _WIDEST + 1, 2):
        made = path.derivative_of(order, width)
        clear = about[hidden] >= _CLEAR * made.uncertainty(path.scatter)[hidden]
        here = hidden if width + 2 > _WIDEST else hidden[clear]
        if len(here):
            parts.append(made.windows.chosen(here))
            rows.append(here)
            at_end[here] = made.at_end[here]
        hidden = hidden[~clear]
        if not len(hidden):
            break
    if not parts:
        return path.derivative_of(order, window).windows, at_end
    order_of_rows = np.argsort(np.concatenate(rows))
    return Windows.stacked(parts, len(path.times)).chosen(order_of_rows), at_end


def _usual_sizes(path: Path, pilot: Differentiator) -> FloatArray:
    """About how large a vector is at each mark: the root of its mean square around there.

    By itself a mark whose noise lengthens the vector would be given a narrow window for that.
    """
    squares = np.sum(_vectors(path, pilot.windows) ** 2, axis=0)
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

    speed : from which it is made
    smooth, halves : (k,) the steps that are integrals, by the mark to which each leads, and half
        the time that each takes
    before, after : (k,) places of the speeds at both ends of these
    chords, along : (c,) the steps across gaps, by the mark to which each leads, and (2, c) their
        directions
    """

    column: Column
    speed: Sized
    smooth: IntArray
    halves: FloatArray
    before: IntArray
    after: IntArray
    chords: IntArray
    along: FloatArray

    @cached_property
    def of_speeds(self) -> sparse.csr_array:
        """Sparse ``(n, m)``: how the steps that lead to each mark follow from the m speeds."""
        places = np.concatenate([self.after, self.before])
        entries = (np.tile(self.halves, 2), (np.tile(self.smooth, 2), places))
        return sparse.csr_array(entries, shape=(len(self.column.index), len(self.speed.own)))

    @cached_property
    def steps(self) -> dict[Any, Any]:
        """By axis sparse ``(n, n)``: slopes of the steps that lead to each mark."""
        step, mark, slopes = self._entries
        n = len(self.column.index)
        return {
            axis: sparse.csr_array((by, (step, mark)), shape=(n, n))
            for axis, by in zip(("x", "y"), slopes, strict=True)
        }

    @property
    def _entries(self) -> tuple[IntArray, IntArray, FloatArray]:
        """Step, mark and slopes ``(2, e)``, wherever a step changes with a mark."""
        windows, along = self.speed.windows, self.speed.along
        steps, marks = [np.tile(self.chords, 2)], [np.concatenate([self.chords, self.chords - 1])]
        slopes = [np.concatenate([self.along, -self.along], axis=1)]
        for ends in (self.after, self.before):
            weights = windows.weights[ends] * self.halves[:, None]
            steps.append(np.repeat(self.smooth, weights.shape[1]))
            marks.append(windows.members[ends].ravel())
            slopes.append((along[:, ends, None] * weights).reshape(2, -1))
        return np.concatenate(steps), np.concatenate(marks), np.concatenate(slopes, axis=1)

    @cached_property
    def covariance(self) -> Covariance:
        """Of the distances, for marks of variance 1."""
        matrix = sum(part @ part.T for part in self.speed.path.independent(self.steps).values())
        return Covariance(sparse.csr_array(matrix + self._from_across), summed=True)

    @cached_property
    def _from_across(self) -> sparse.csr_array:
        return self.of_speeds @ self.speed.across @ self.of_speeds.T

    @property
    def variances(self) -> FloatArray:
        """Of the distances ``(n,)``, for marks of variance 1; without making all of the above."""
        step, mark, slopes = self._entries
        shapes = self.speed.path.error_shapes
        if shapes is not None:
            slopes = np.einsum("ae,eak->ke", slopes, shapes[mark])
        grown = _growth_of_sums(step, mark, slopes, len(self.column.index))
        return grown + Covariance(self._from_across, summed=True).variances


def travelled(path: Path, speed: Sized) -> Travelled:
    """The distance travelled at each mark, from the speed at the marks."""
    n = len(path.times)
    place = np.full(n, -1)
    place[speed.column.index] = np.arange(len(speed.column.index))
    is_smooth = np.zeros(n, dtype=bool)
    for first, last in path.stretches():
        known = (place[first + 1 : last] >= 0) & (place[first : last - 1] >= 0)
        is_smooth[first + 1 : last] = known
    smooth, chords = np.flatnonzero(is_smooth), np.flatnonzero(~is_smooth)
    chords = chords[chords > 0]
    halves = (path.times[smooth] - path.times[smooth - 1]) / 2
    before, after = place[smooth - 1], place[smooth]
    across = (path.positions[chords] - path.positions[chords - 1]).T
    lengths = np.hypot(*across)
    along = across / np.where(lengths > 0, lengths, 1.0)
    added = np.zeros(n)
    added[smooth] = halves * (speed.column.values[after] + speed.column.values[before])
    added[chords] = lengths
    column = Column(np.arange(n), np.cumsum(added), np.zeros(n), np.zeros(n, dtype=bool))
    made = Travelled(column, speed, smooth, halves, before, after, chords, along)
    u = path.position_uncertainty * np.sqrt(np.maximum(made.variances, 0.0))
    return replace(made, column=replace(column, uncertainties=u))


def _growth_of_sums(step: IntArray, mark: IntArray, slopes: FloatArray, n: int) -> FloatArray:
    """Variances ``(n,)`` of sums of steps that rest on independent marks of variance 1.

    slopes : (k, e) of a step by k errors of a mark. What a sum owes to a mark changes only with
    the steps that the mark is in: by s² with s the slopes until then, added up.
    """
    order = np.lexsort((step, mark))
    step, mark, slopes = step[order], mark[order], slopes[:, order]
    sums = np.cumsum(slopes, axis=1)
    begins = np.flatnonzero(np.diff(mark, prepend=-1))
    until = np.concatenate([np.zeros((len(slopes), 1)), sums], axis=1)[:, begins]
    counts = np.diff(begins, append=len(mark))
    sums -= np.repeat(until, counts, axis=1)
    growth = np.sum(slopes * (2 * sums - slopes), axis=0)
    return np.asarray(np.cumsum(np.bincount(step, weights=growth, minlength=n)), dtype=float)
