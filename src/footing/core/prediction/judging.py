"""How well a prediction matches marks, where it stops to, and which of two does better."""

from dataclasses import dataclass
from math import sqrt

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray

_WINDOW = 5  # marks that are off together
_SURE = 0.01  # chance of naming a moment where there is none
_DIFFER = 2.576  # times the scatter, from which two differ by more than noise (p < 0.01)
_FEWEST = 6  # marks, below which nothing is said of two
_ONE_OFF = 3.0  # scatters, from which a single mark of a window is where it begins


def rms(residuals: FloatArray) -> float:
    """Root mean square of the distances ``(n, 2)`` between marks and prediction, in m."""
    return sqrt(float(np.mean(np.sum(residuals**2, axis=1))))


def stops_matching(
    residuals: FloatArray, variance: float, own: FloatArray | None = None
) -> int | None:
    """The place of the first mark from which residuals leave their noise; None if they do not.

    Parameters
    ----------
    residuals : (n, 2), in time
    variance : of one coordinate by scatter alone
    own : (n, 2) variances of the prediction itself, by what it begins from and rests on

    The mean of five neighbouring residuals scatters in each coordinate by σ²/5 and, all five alike,
    by the prediction's own variance; the sum of its squares over these follows χ² with two degrees
    of freedom if there is only noise. The first five that are too far off, with as many chances as
    there are windows, are named; within them the first that is off by itself or, if none is, the
    middle one.
    """
    n = len(residuals)
    w = min(_WINDOW, n)
    if n == 0 or variance <= 0:
        return None
    sums = np.cumsum(np.vstack([np.zeros(2), residuals]), axis=0)
    means = (sums[w:] - sums[:-w]) / w
    besides = np.zeros((n, 2)) if own is None else own
    far = np.sum(means**2 / (variance / w + besides[: n - w + 1]), axis=1)
    limit = float(special.chdtri(2, _SURE / len(means)))
    places = np.flatnonzero(far > limit)
    if not len(places):
        return None
    first = int(places[0])
    off = np.sum(residuals[first : first + w] ** 2, axis=1) > 2 * _ONE_OFF**2 * variance
    return first + (int(np.argmax(off)) if off.any() else w // 2)


@dataclass(frozen=True)
class Compared:
    """Two predictions on the same marks.

    z : by how many times its scatter the first leaves more over than the second
    """

    first: float
    second: float
    z: float

    @property
    def differ(self) -> bool:
        """Whether one is better by more than noise."""
        return abs(self.z) > _DIFFER


def compared(one: FloatArray, other: FloatArray, variance: float) -> Compared | None:
    """Compare residuals ``(n, 2)`` of two predictions; None for too few marks.

    variance : of one coordinate of a mark by scatter alone

    If the worse of them were true, the difference of their sums of squares would be −|d|², where d
    is how far they are apart, and scatter by 2 σ |d|; z is how many times that it is off (the test
    of J. Neyman and E. S. Pearson of one simple hypothesis against another, Phil. Trans. A 231
    (1933) 289).
    """
    if len(one) < _FEWEST or variance <= 0:
        return None
    apart = sqrt(float(np.sum((one - other) ** 2)))
    if apart == 0:
        return Compared(rms(one), rms(other), 0.0)
    more = abs(float(np.sum(one**2) - np.sum(other**2)))
    z = (more + apart**2) / (2 * sqrt(variance) * apart)
    worse = np.sum(one**2) > np.sum(other**2)
    return Compared(rms(one), rms(other), z if worse else -z)
