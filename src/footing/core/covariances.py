"""How values that share marks depend on each other, kept narrow.

A value that was computed from a few neighbouring marks depends on its neighbours only, so that the
covariance of n such values is a band; of values that were added up (a distance travelled), that of
their steps is. Both are whitened in O(n) by a banded Cholesky decomposition (G. H. Golub and
C. F. Van Loan, Matrix Computations, 4th ed., 4.3.5), with which generalised least squares become
plain ones (A. C. Aitken, Proc. R. Soc. Edinburgh 55, 42, 1936).
"""

from dataclasses import dataclass, replace

import numpy as np
from scipy import linalg, sparse

from footing.core.arrays import FloatArray, IntArray

_WIDEST = 64  # diagonals beside the main one, up to which a covariance is treated as a band
_NUDGE = 1e-12  # of each variance: makes the decomposition of a singular matrix possible
_FEW = 4  # marks of which each value is made, up to which steps between them are made of no fewer
_DETERMINED = 1e-6  # of its variance, below which what is left of a value says nothing new
_ROUND_OFF = 1e-13  # of the largest entry


@dataclass(frozen=True)
class Whitener:
    """Turns n values into r independent ones of equal variance.

    kept : (r,) the values that say something which those before them do not
    factors : (r,) by which these are divided first
    summed : whether it is then the steps between them that are whitened
    sizes : (r,) standard deviations of these
    lower : (w + 1, r) bands of the triangle that whitens them once they are divided by these
    """

    kept: IntArray
    factors: FloatArray
    summed: bool
    sizes: FloatArray
    lower: FloatArray

    @property
    def count(self) -> int:
        """How many independent values there are."""
        return len(self.kept)

    def __call__(self, values: FloatArray) -> FloatArray:
        """Values or columns of values ``(n, …)`` as independent ones ``(r, …)``."""
        by_row = (-1, *(1,) * (values.ndim - 1))
        values = values[self.kept] / self.factors.reshape(by_row)
        if self.summed:
            values = np.diff(values, axis=0, prepend=np.zeros_like(values[:1]))
        width = len(self.lower) - 1
        solved = linalg.solve_banded(
            (width, 0), self.lower, values / self.sizes.reshape(by_row), check_finite=False
        )
        return np.asarray(solved, dtype=float)

    def adjoint(self, white: FloatArray, n: int) -> FloatArray:
        """The transposed map: from ``(r,)`` to ``(n,)``."""
        width, r = len(self.lower) - 1, self.count
        upper = np.zeros_like(self.lower)
        for k in range(width + 1):
            upper[width - k, k:] = self.lower[k, : r - k]
        solved = linalg.solve_banded((0, width), upper, white, check_finite=False) / self.sizes
        if self.summed:
            solved = solved - np.append(solved[1:], 0.0)
        found = np.zeros(n)
        found[self.kept] = solved / self.factors
        return found


@dataclass(frozen=True)
class Covariance:
    """Covariance of n values, up to a common factor.

    matrix : sparse (n, n); of the values, or where ``summed`` of the first value and of the steps
        from each value to the next
    factors : (n,) by which all is multiplied afterwards; None if by nothing
    """

    matrix: sparse.csr_array
    summed: bool = False
    factors: FloatArray | None = None

    @classmethod
    def of_slopes(cls, slopes: sparse.csr_array | FloatArray) -> "Covariance":
        """That of values with these slopes ``(n, m)`` by m independent marks of variance 1.

        Values that were added up are recognised by their steps, which depend on fewer marks.
        """
        values = slopes if isinstance(slopes, sparse.csr_array) else sparse.csr_array(slopes)
        if values.nnz > _FEW * values.shape[0]:
            steps = _pruned(sparse.csr_array(_steps(values.shape[0]) @ values))
            if 2 * steps.nnz < values.nnz:
                return cls(steps @ steps.T, summed=True)
        return cls(values @ values.T)

    def plus(self, other: "Covariance") -> "Covariance":
        """The sum of the covariances of independent parts."""
        one, two = self._multiplied_out(), other._multiplied_out()
        if one.summed != two.summed:
            one, two = one._as_steps(), two._as_steps()
        return Covariance(one.matrix + two.matrix, one.summed)

    def scaled(self, factors: FloatArray) -> "Covariance":
        """That of the values times ``factors`` ``(n,)``."""
        before = 1.0 if self.factors is None else self.factors
        return Covariance(self.matrix, self.summed, np.asarray(before * factors, dtype=float))

    def chosen(self, rows: IntArray) -> "Covariance":
        """That of some of the values, in rising rows."""
        factors = None if self.factors is None else self.factors[rows]
        if not self.summed:
            return Covariance(sparse.csr_array(self.matrix)[rows][:, rows], factors=factors)
        n, ends = self.matrix.shape[0], np.asarray(rows, dtype=np.int64)
        step = np.searchsorted(ends, np.arange(n))  # the chosen value that a step leads to
        within = step < len(ends)
        entries = (np.ones(int(within.sum())), (step[within], np.flatnonzero(within)))
        sums = sparse.csr_array(entries, shape=(len(ends), n))
        return Covariance(sums @ self.matrix @ sums.T, summed=True, factors=factors)

    @property
    def variances(self) -> FloatArray:
        """Variance ``(n,)`` of each value."""
        return self._variances() * (1.0 if self.factors is None else self.factors**2)

    def _variances(self) -> FloatArray:
        if not self.summed:
            return np.asarray(self.matrix.diagonal(), dtype=float)
        entries = _Entries.of(self.matrix)
        later = np.maximum(entries.rows, entries.columns)  # a pair is in every sum from then on
        return np.cumsum(np.bincount(later, weights=entries.values, minlength=entries.count))

    def toarray(self) -> FloatArray:
        """The covariance of the values, in full."""
        full = self.matrix.toarray()
        if self.summed:
            full = np.cumsum(np.cumsum(full, axis=0), axis=1)
        by = 1.0 if self.factors is None else np.outer(self.factors, self.factors)
        return np.asarray(full * by, dtype=float)

    def whitener(self) -> Whitener:
        """What makes the values independent; values that others determine are left out."""
        entries = _Entries.of(self.matrix).pruned()
        if entries.width > _WIDEST and not self.summed:
            steps = self._multiplied_out()._as_steps()
            if _Entries.of(steps.matrix).pruned().width < entries.width:
                return steps.whitener()
        sizes = entries.sizes
        if np.all(sizes > 0):
            lower = entries.triangle
            new = lower[0] ** 2 > _DETERMINED
        else:
            new = sizes > 0
        if not np.all(new):  # once more without those, on which what is left does not rest
            kept = np.flatnonzero(new)
            rest = self.chosen(kept).whitener()
            return replace(rest, kept=kept[rest.kept])
        n = entries.count
        factors = np.ones(n) if self.factors is None else self.factors
        return Whitener(np.arange(n), factors, self.summed, sizes, lower)

    def _multiplied_out(self) -> "Covariance":
        """The same without factors."""
        if self.factors is None:
            return self
        if self.summed:
            return Covariance(sparse.csr_array(self.toarray()))
        by = sparse.diags_array(self.factors)
        return Covariance(sparse.csr_array(by @ self.matrix @ by))

    def _as_steps(self) -> "Covariance":
        if self.summed:
            return self
        steps = _steps(self.matrix.shape[0])
        return Covariance(sparse.csr_array(steps @ self.matrix @ steps.T), summed=True)


def _steps(n: int) -> sparse.csr_array:
    """Matrix ``(n, n)`` of the first of n values and of the steps to the next."""
    return sparse.diags_array([np.ones(n), -np.ones(max(n - 1, 0))], offsets=[0, -1], format="csr")


def _pruned(matrix: sparse.csr_array) -> sparse.csr_array:
    """The matrix without what is mere round-off."""
    if matrix.nnz:
        matrix.data[np.abs(matrix.data) < _ROUND_OFF * np.abs(matrix.data).max()] = 0.0
        matrix.eliminate_zeros()
    return matrix


@dataclass(frozen=True)
class _Entries:
    """The entries of a sparse matrix ``(count, count)``, one for each place that has any.

    They are taken from its own arrays: for the short columns of a film, making another sparse
    matrix of it takes longer than all computing.
    """

    count: int
    rows: IntArray
    columns: IntArray
    values: FloatArray

    @classmethod
    def of(cls, matrix: sparse.csr_array) -> "_Entries":
        matrix, count = matrix.tocsr(), matrix.shape[0]  # products of diagonals are kept otherwise
        rows = np.repeat(np.arange(count), np.diff(matrix.indptr))
        return cls(count, rows, matrix.indices, matrix.data)

    def pruned(self) -> "_Entries":
        """Without what is mere round-off."""
        sizes = np.abs(self.values)
        says = sizes >= _ROUND_OFF * sizes.max(initial=0.0)
        says &= self.values != 0
        return _Entries(self.count, self.rows[says], self.columns[says], self.values[says])

    @property
    def width(self) -> int:
        """How many diagonals beside the main one are not empty."""
        return int((self.rows - self.columns).max(initial=0))

    @property
    def sizes(self) -> FloatArray:
        """Standard deviations ``(count,)``, of a covariance."""
        own = self.rows == self.columns
        variances = np.bincount(self.rows[own], weights=self.values[own], minlength=self.count)
        return np.sqrt(np.maximum(variances, 0.0))

    @property
    def triangle(self) -> FloatArray:
        """Bands ``(w + 1, count)`` of Cholesky's lower triangle of the correlations."""
        sizes = self.sizes
        lower = np.zeros((self.width + 1, self.count))
        if not lower.size:
            return lower
        below = self.rows >= self.columns
        rows, columns = self.rows[below], self.columns[below]
        lower[rows - columns, columns] = self.values[below] / (sizes[rows] * sizes[columns])
        lower[0] += _NUDGE
        return np.asarray(linalg.cholesky_banded(lower, lower=True, check_finite=False))


def root(matrix: sparse.csr_array) -> sparse.csr_array:
    """Sparse L ``(n, n)`` with L Lᵀ the covariance, which is a band."""
    entries = _Entries.of(matrix)
    sizes, n = entries.sizes, entries.count
    if not np.all(sizes > 0):
        return sparse.csr_array((n, n))
    lower = entries.triangle
    offsets = -np.arange(len(lower))
    return sparse.diags_array(sizes) @ sparse.dia_array((lower, offsets), shape=(n, n)).tocsr()
