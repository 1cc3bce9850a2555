"""Functions of a formula that look at other rows: linear in the values of their first argument."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy import sparse

from footing.core.arrays import FloatArray, IntArray
from footing.core.kinematics import VELOCITY_WINDOW, differentiator

_MOST_ROWS_CARRIED = 3000  # rows up to which uncertainties are carried through a running sum
_MOST_ENTRIES_CARRIED = 5_000_000  # of a matrix up to which they are carried through a summary


class NotRising(ValueError):
    """What a rate or an integral goes by does not always rise; ``row`` is where it first fails."""

    def __init__(self, row: int) -> None:
        super().__init__(row)
        self.row = row


@dataclass(frozen=True)
class Weights:
    """How each result follows from the n values.

    index : (m,) which values have a result
    apply : the results ``(m,)`` of values ``(n,)``
    matrix : the same as a sparse matrix ``(m, n)``; None where that would be too large
    """

    index: IntArray
    apply: Callable[[FloatArray], FloatArray]
    matrix: Any

    def spread(self, rows: IntArray, of: int) -> Any:
        """The matrix ``(of, of)`` where the n values are some of all rows."""
        entries = self.matrix.tocoo()
        at = (rows[self.index][entries.row], rows[entries.col])
        return sparse.csr_array((entries.data, at), shape=(of, of))


def rate(_n: int, by: FloatArray, *, breaks: IntArray) -> Weights:
    """Derivative by ``by`` at each value, as for velocities (docs/physics.md, Motion)."""
    found = differentiator(_rising(by), order=1, window=VELOCITY_WINDOW, breaks=breaks)
    return Weights(found.index, found, found.weights)


def running_sum(n: int, *, breaks: IntArray) -> Weights:  # noqa: ARG001, a sum crosses them
    """Sum of this value and all before it."""
    matrix = sparse.csr_array(np.tri(n)) if n <= _MOST_ROWS_CARRIED else None
    return Weights(np.arange(n), lambda values: np.asarray(np.cumsum(values)), matrix)


def integral(n: int, by: FloatArray, *, breaks: IntArray) -> Weights:  # noqa: ARG001, likewise
    """Area under straight lines from value to value, from the first one on."""
    half = np.diff(_rising(by)) / 2

    def apply(values: FloatArray) -> FloatArray:
        areas = half * (values[1:] + values[:-1])
        return np.concatenate([np.zeros(min(n, 1)), np.cumsum(areas)])

    if n > _MOST_ROWS_CARRIED or n < 2:
        return Weights(np.arange(n), apply, None)
    steps = np.zeros((n, n))
    steps[np.arange(1, n), np.arange(1, n)] = half
    steps[np.arange(1, n), np.arange(n - 1)] = half
    return Weights(np.arange(n), apply, sparse.csr_array(np.cumsum(steps, axis=0)))


def difference(n: int, *, breaks: IntArray) -> Weights:
    """Difference to the value before, unless something hits between them."""
    later = np.setdiff1d(np.arange(1, max(n, 1)), breaks + 1)
    m = len(later)
    at = (np.concatenate([np.arange(m)] * 2), np.concatenate([later, later - 1]))
    matrix = sparse.csr_array((np.repeat([1.0, -1.0], m), at), shape=(m, n))
    return Weights(later, lambda values: np.asarray(values[later] - values[later - 1]), matrix)


@dataclass(frozen=True)
class Summary:
    """One number from all values, and how it changes with each of them.

    which : (k,) the values that it depends on
    shares : (k,) its slope by each
    """

    value: float
    which: IntArray
    shares: FloatArray

    def spread(self, rows: IntArray, of: int, into: IntArray) -> Any:
        """The matrix ``(of, of)`` that puts it into rows, where the values are some of all rows;
        None where it would be too large.
        """
        if len(self.which) * of > _MOST_ENTRIES_CARRIED:
            return None
        columns = np.tile(rows[self.which], len(into))
        at = (np.repeat(into, len(self.which)), columns)
        return sparse.csr_array((np.tile(self.shares, len(into)), at), shape=(of, of))


def mean(values: FloatArray) -> Summary:
    """Their mean."""
    n = len(values)
    return Summary(float(values.mean()), np.arange(n), np.full(n, 1 / n))


def _one_of(find: Callable[[FloatArray], Any]) -> Callable[[FloatArray], Summary]:
    """The value that ``find`` gives the place of."""

    def of(values: FloatArray) -> Summary:
        place = int(find(values))
        return Summary(float(values[place]), np.array([place]), np.ones(1))

    return of


def _rising(by: FloatArray) -> FloatArray:
    falls = np.flatnonzero(np.diff(by) <= 0)
    if len(falls):
        raise NotRising(int(falls[0]) + 1)
    return by


WEIGHTS: dict[str, Callable[..., Weights]] = {
    "rate": rate,
    "sum": running_sum,
    "integral": integral,
    "diff": difference,
}
SUMMARIES: dict[str, Callable[[FloatArray], Summary]] = {
    "mean": mean,
    "smallest": _one_of(np.argmin),
    "largest": _one_of(np.argmax),
    "first": _one_of(lambda _values: 0),
}
UNBROKEN = frozenset({"mean"})  # summaries that cross no impact: each side has its own
