"""Velocity and acceleration from marks: derivatives of local polynomials.

At each mark a quadratic is fitted by least squares to the neighbouring marks, with their true
times, and its derivative at that time is taken (Savitzky and Golay, Analytical Chemistry 36, 1627,
1964, generalised to uneven spacing). Through three evenly spaced marks this is the central
difference. The result is linear in the positions, so the uncertainty carries over exactly.
"""

from dataclasses import dataclass
from itertools import pairwise
from threading import Lock

import numpy as np
from cachetools import LRUCache, cached
from scipy import sparse

from footing.core.arrays import BoolArray, FloatArray, IntArray, by_value
from footing.core.windows import Windows

VELOCITY_WINDOW = 3
ACCELERATION_WINDOW = 5
GAP_RATIO = 2.5
_ORDERS = (1, 2)
_REMEMBERED = 48  # differentiators
_NEIGHBOURS = 4  # marks of a third difference
_FAR_OUT = 3.0  # times the usual third difference, beyond which one is no scatter but an impact
_MEDIAN_SIZE = 1.1774  # of a vector whose components scatter by 1 (Rayleigh's distribution)
_SHARED = 0.43  # of third differences says something new, because neighbours share three marks


@dataclass(frozen=True)
class Differentiator:
    """Derivatives of order 1 or 2 at some of n marks, as weights on the n positions.

    index : (m,) which marks have a value
    windows : the weights of neighbouring marks, for each value
    at_end : (m,) true where the polynomial had to be evaluated off its centre
    """

    index: IntArray
    windows: Windows
    at_end: BoolArray

    def __call__(self, positions: FloatArray) -> FloatArray:
        """Derivatives ``(m,)`` of positions ``(n,)``."""
        return self.windows(positions)

    @property
    def weights(self) -> sparse.csr_array:
        """Sparse ``(m, n)``: ``weights @ positions`` are the derivatives."""
        return self.windows.matrix

    def uncertainty(self, position_uncertainty: float) -> FloatArray:
        """Standard uncertainties ``(m,)`` for independent positions of equal uncertainty."""
        return position_uncertainty * self.windows.gain


def gaps(times: FloatArray) -> IntArray:
    """Find the spacings that are gaps: k means between marks k and k + 1.

    A gap is a spacing more than 2.5 times both neighbouring spacings; the first and the last
    spacing have one neighbour only.
    """
    spacing = np.diff(times)
    if len(spacing) < 2:
        return np.empty(0, dtype=np.int64)
    before = np.concatenate([[0.0], spacing[:-1]])
    after = np.concatenate([spacing[1:], [0.0]])
    is_gap = (spacing > GAP_RATIO * before) & (spacing > GAP_RATIO * after)
    return np.asarray(np.flatnonzero(is_gap), dtype=np.int64)


def stretches(times: FloatArray, breaks: IntArray | None = None) -> list[tuple[int, int]]:
    """The stretches without gaps and breaks, each as its first mark and the one behind its last."""
    apart = {int(k) + 1 for k in gaps(times)} | {
        int(k) + 1 for k in ([] if breaks is None else breaks)
    }
    return list(pairwise([0, *sorted(apart), len(times)]))


def mark_scatter(
    times: FloatArray, positions: FloatArray, breaks: IntArray | None = None
) -> tuple[float, float]:
    """Variance of one coordinate of a mark, as the marks themselves show it, and how well.

    From the third differences of each four neighbouring marks ``(n, 2)``, in which a smooth motion
    cancels; those that are far out (an impact, a slip) are left out. Gives the variance and its
    degrees of freedom, 0 where there are too few marks.
    """
    scaled = _third_differences(times, positions, breaks).ravel()
    if not len(scaled):
        return 0.0, 0.0
    usual = 1.4826 * float(np.median(np.abs(scaled)))
    kept = scaled[np.abs(scaled) <= _FAR_OUT * usual]
    return float(np.mean(kept**2)) if len(kept) else 0.0, _SHARED * len(scaled)


def plane_scatter(
    times: FloatArray, positions: FloatArray, breaks: IntArray | None = None
) -> tuple[float, float]:
    """The same by the sizes of the differences, and so the same whichever way the axes lie."""
    sizes = np.hypot(*_third_differences(times, positions, breaks).T)
    if not len(sizes):
        return 0.0, 0.0
    usual = float(np.median(sizes)) / _MEDIAN_SIZE
    kept = sizes[sizes <= _FAR_OUT * usual]
    return float(np.mean(kept**2)) / 2 if len(kept) else 0.0, _SHARED * 2 * len(sizes)


def _third_differences(
    times: FloatArray, positions: FloatArray, breaks: IntArray | None
) -> FloatArray:
    """Third differences ``(k, c)`` of positions ``(n, c)``, which scatter as much as these."""
    found = []
    for first, last in stretches(times, breaks):
        starts = np.arange(first, last - _NEIGHBOURS + 1)
        members = starts[:, None] + np.arange(_NEIGHBOURS)
        offsets = times[members] - times[members].mean(axis=1, keepdims=True)
        apart = offsets[:, :, None] - offsets[:, None, :] + np.eye(_NEIGHBOURS)
        weights = 1 / np.prod(apart, axis=2)  # of a divided difference
        weights /= np.linalg.norm(weights, axis=1, keepdims=True)
        found.append(np.einsum("kj,kjc->kc", weights, positions[members]))
    return np.concatenate(found) if found else np.empty((0, positions.shape[1]))


def differentiator(
    times: FloatArray, *, order: int, window: int, breaks: IntArray | None = None
) -> Differentiator:
    """Make the derivative of the given order (1 or 2) at rising ``times`` of shape ``(n,)``.

    ``window`` is an odd number of marks; in a stretch with fewer marks it is the largest odd number
    that fits. A stretch between gaps with fewer than 3 marks has no values. A break k lies between
    marks k and k + 1, and counts as a gap.

    Raises
    ------
    ValueError : for another order, which a quadratic does not give.
    """
    if order not in _ORDERS:
        raise ValueError(f"A local quadratic has no derivative of order {order}; it has 1 and 2.")
    return _differentiator(times, order, window, breaks)


@cached(LRUCache(_REMEMBERED), key=by_value, lock=Lock())
def _differentiator(
    times: FloatArray, order: int, window: int, breaks: IntArray | None
) -> Differentiator:
    """Kept, because a mark that moves stays at its time."""
    parts: list[Windows] = []
    index: list[IntArray] = []
    at_end: list[BoolArray] = []
    for first, last in stretches(times, breaks):
        count = last - first
        width = min(window, count if count % 2 else count - 1)
        if width < 3:
            continue
        here = np.arange(first, last)
        starts = np.clip(here - width // 2, first, last - width)
        members = starts[:, None] + np.arange(width)
        weights = _quadratic_weights(times[members] - times[here][:, None], order)
        parts.append(Windows(starts, weights, len(times)))
        at_end.append(here - starts != width // 2)
        index.append(here)
    if not index:
        nothing = np.empty(0, dtype=np.int64)
        return Differentiator(nothing, Windows.none(len(times)), np.empty(0, dtype=bool))
    windows = Windows.stacked(parts, len(times))
    return Differentiator(np.concatenate(index), windows, np.concatenate(at_end))


def _quadratic_weights(offsets: FloatArray, order: int) -> FloatArray:
    """Weights ``(m, w)`` of the derivative at offset 0 of quadratics over ``(m, w)`` offsets."""
    unit = np.abs(offsets).max(axis=1, keepdims=True)  # keeps the powers near 1
    u = offsets / unit
    square = u * u
    powers = (np.ones_like(u), u, square, square * u, square * square)
    s0, s1, s2, s3, s4 = (np.sum(power, axis=1, keepdims=True) for power in powers)
    # one row of the inverse of the normal equations, by cofactors: thousands of windows at once
    determinant = s0 * (s2 * s4 - s3**2) - s1 * (s1 * s4 - s2 * s3) + s2 * (s1 * s3 - s2**2)
    if order == 1:
        weights = (s2 * s3 - s1 * s4) + (s0 * s4 - s2**2) * u + (s1 * s2 - s0 * s3) * square
    else:
        weights = 2 * ((s1 * s3 - s2**2) + (s1 * s2 - s0 * s3) * u + (s0 * s2 - s1**2) * square)
    return np.asarray(weights / determinant / unit**order, dtype=float)
