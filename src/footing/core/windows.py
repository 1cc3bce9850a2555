"""Weighted sums over neighbouring marks: what a derivative at each mark is made of.

Each of the m sums goes over a window of at most w marks beside each other, so that a few numbers
for each say all. Sparse matrices of the same are made where sums of sums are asked for.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy import sparse

from footing.core.arrays import FloatArray, IntArray


@dataclass(frozen=True)
class Windows:
    """Weights of m sums over some of n values.

    starts : (m,) the first value of each window
    weights : (m, w); 0 behind the end of a window that is narrower than w
    count : n
    """

    starts: IntArray
    weights: FloatArray
    count: int

    @classmethod
    def none(cls, count: int) -> "Windows":
        """No sums at all."""
        return cls(np.empty(0, dtype=np.int64), np.empty((0, 1)), count)

    @classmethod
    def stacked(cls, parts: Sequence["Windows"], count: int) -> "Windows":
        """The sums of all parts, one part after the other."""
        width = max((part.weights.shape[1] for part in parts), default=1)
        filled = [
            np.pad(part.weights, ((0, 0), (0, width - part.weights.shape[1]))) for part in parts
        ]
        if not parts:
            return cls.none(count)
        return cls(np.concatenate([part.starts for part in parts]), np.concatenate(filled), count)

    @cached_property
    def members(self) -> IntArray:
        """The values ``(m, w)`` of each window; any where the weight is 0."""
        reach = self.starts[:, None] + np.arange(self.weights.shape[1])
        return np.minimum(reach, max(self.count - 1, 0))

    def __call__(self, values: FloatArray) -> FloatArray:
        """Sums ``(m,)`` of values ``(n,)``."""
        return np.asarray(np.sum(self.weights * values[self.members], axis=1), dtype=float)

    def chosen(self, rows: IntArray) -> "Windows":
        """Some of the sums."""
        return Windows(self.starts[rows], self.weights[rows], self.count)

    @cached_property
    def gain(self) -> FloatArray:
        """Standard deviations ``(m,)`` for independent values of variance 1."""
        return np.asarray(np.sqrt(np.sum(self.weights**2, axis=1)), dtype=float)

    def spread(self, directions: FloatArray, shapes: FloatArray | None) -> FloatArray:
        """Standard deviations ``(m,)`` of components of sums over marks of the plane.

        directions : (2, m) along which, of any length
        shapes : (n, 2, 2) how the errors of each mark lie; None for round ones of variance 1
        """
        if shapes is None:
            return np.asarray(np.hypot(*directions) * self.gain, dtype=float)
        along = np.einsum("am,mwak->mwk", directions, shapes[self.members])
        squares = (self.weights[:, :, None] * along) ** 2
        return np.asarray(np.sqrt(squares.sum(axis=(1, 2))), dtype=float)

    @cached_property
    def matrix(self) -> sparse.csr_array:
        """The same as a sparse matrix ``(m, n)``."""
        m, width = self.weights.shape
        rows = np.repeat(np.arange(m), width)
        weighs = self.weights.ravel() != 0
        entries = (self.weights.ravel()[weighs], (rows[weighs], self.members.ravel()[weighs]))
        return sparse.csr_array(entries, shape=(m, self.count))
