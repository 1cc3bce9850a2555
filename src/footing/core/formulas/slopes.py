"""How values depend on what they were computed from, to first order.

A source of uncertainty is a column (one value for each row) or something that all rows share, such
as a mass or a parameter of a curve. For each source there is a slope: an array ``(n,)`` where row i
depends on row i of the source (or on the shared value) only, else a sparse matrix ``(n, n)``.
"""

from collections.abc import Mapping
from typing import Any

import numpy as np
from scipy import sparse

from footing.core.arrays import FloatArray

Slope = Any  # an array (n,), or a sparse matrix (n, n)
Slopes = Mapping[str, Slope]


def is_finite(slope: Slope) -> bool:
    """Whether all of a slope are numbers."""
    return bool(np.isfinite(slope.data if sparse.issparse(slope) else slope).all())


def without_infinities(slope: Slope) -> Slope:
    """A slope that is 0 where it has no limit."""
    if not sparse.issparse(slope):
        return np.nan_to_num(slope, nan=0.0, posinf=0.0, neginf=0.0)
    cleaned = slope.copy()
    cleaned.data = np.nan_to_num(cleaned.data, nan=0.0, posinf=0.0, neginf=0.0)
    return cleaned


def scaled(slopes: Slopes, by: FloatArray | float) -> dict[str, Slope]:
    """The slopes of something that changes ``by`` times as much."""
    if not slopes:  # a number, as half of what stands in a formula is
        return {}
    return {source: _times(slope, by) for source, slope in slopes.items()}


def added(one: Slopes, other: Slopes) -> dict[str, Slope]:
    """The slopes of a sum."""
    found = dict(one)
    for source, slope in other.items():
        found[source] = _plus(found[source], slope) if source in found else slope
    return found


def through(weights: Any, slopes: Slopes, *, shared: frozenset[str]) -> dict[str, Slope]:
    """The slopes of ``weights @ values``; ``weights`` is sparse ``(n, n)``."""
    found: dict[str, Slope] = {}
    for source, slope in slopes.items():
        if source in shared:
            found[source] = weights @ _full(slope, weights.shape[1])
        elif sparse.issparse(slope):
            found[source] = weights @ slope
        else:
            found[source] = weights @ sparse.diags_array(_full(slope, weights.shape[1]))
    return found


def variance(slope: Slope, uncertainty: FloatArray | float, rows: int) -> FloatArray:
    """Variance ``(n,)`` that independent uncertainties of a source give."""
    if sparse.issparse(slope):
        squares = slope.multiply(slope)
        spread = np.broadcast_to(np.asarray(uncertainty, dtype=float) ** 2, (rows,))
        return np.asarray(squares @ spread, dtype=float).reshape(-1)
    return np.broadcast_to((np.asarray(slope) * uncertainty) ** 2, (rows,)).astype(float)


def _times(slope: Slope, by: FloatArray | float) -> Slope:
    if not sparse.issparse(slope):
        return slope * by
    if np.ndim(by) == 0:
        return slope * float(by)
    return sparse.diags_array(np.asarray(by)) @ slope


def _plus(one: Slope, other: Slope) -> Slope:
    if sparse.issparse(one) == sparse.issparse(other):
        return one + other
    matrix, diagonal = (one, other) if sparse.issparse(one) else (other, one)
    return matrix + sparse.diags_array(_full(diagonal, matrix.shape[0]))


def _full(slope: FloatArray | float, rows: int) -> FloatArray:
    return np.broadcast_to(np.asarray(slope, dtype=float), (rows,))
