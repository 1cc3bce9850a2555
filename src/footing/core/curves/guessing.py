"""Guessing starting values from points: what the named curves share.

A curve that is nearly linear in its parameters once one or two of them are known is tried on a grid
of those, the others being solved for; the best one is the start.
"""

from collections.abc import Callable, Iterable

import numpy as np

from footing.core.arrays import FloatArray

_FREQUENCIES = 400
_STRONGEST = 24  # frequencies of a spectrum that are tried
_MOST_EVEN = 2**17  # points of the even grid of a spectrum
_RATES = (-30.0, -10.0, -5.0, -3.0, -2.0, -1.0, -0.5, 0.5, 1.0, 2.0, 3.0, 5.0, 10.0, 30.0)

Columns = tuple[FloatArray, ...]


def reach(x: FloatArray) -> float:
    """From the smallest x to the largest; 1 where there is only one."""
    return float(np.ptp(x)) or 1.0


def _solved(y: FloatArray, columns: Columns) -> tuple[FloatArray, float]:
    """Factors of the columns that come nearest to y, and the sum of squares that remains."""
    design = np.stack(np.broadcast_arrays(*columns), axis=1)
    if not np.isfinite(design).all():
        return np.full(len(columns), np.nan), np.inf
    factors = np.linalg.lstsq(design, y, rcond=None)[0]
    return factors, float(np.sum((y - design @ factors) ** 2))


def best_on_grid(
    y: FloatArray, grid: Iterable[tuple[float, ...]], columns: Callable[..., Columns]
) -> tuple[tuple[float, ...], FloatArray]:
    """The point of a grid at which the rest, solved for, comes nearest."""
    tried = ((point, *_solved(y, columns(*point))) for point in grid)
    point, factors, _ = min(tried, key=lambda one: one[2])
    return point, factors


def rates(x: FloatArray) -> list[tuple[float]]:
    """Rates of growth worth trying, in 1/x."""
    return [(rate / reach(x),) for rate in _RATES]


def growing(x: FloatArray) -> Callable[[float], FloatArray]:
    """e^(kx), counted from the middle so that it stays a number; the rest is in its factor."""
    return lambda k: np.exp(k * (x - x.mean()))


def frequencies(x: FloatArray, y: FloatArray) -> FloatArray:
    """From half a swing in all up to half a swing between neighbouring points.

    Of a long series only the slowest ones and the strongest in its spectrum, which is taken from
    the points put on an even grid.
    """
    steps = np.diff(np.unique(x))
    fastest = np.pi / float(np.median(steps)) if len(steps) else 1.0
    slowest = np.pi / reach(x)
    count = int(4 * fastest / slowest) + 2
    if count <= _FREQUENCIES:
        return np.linspace(slowest, max(fastest, slowest), count)
    even = np.linspace(x.min(), x.max(), min(count // 4, _MOST_EVEN))
    order = np.argsort(x)
    level = np.interp(even, x[order], y[order])
    spectrum = np.abs(np.fft.rfft(level - level.mean(), 4 * len(even)))
    strongest = np.argsort(spectrum)[-_STRONGEST:]
    resolved = 2 * np.pi * strongest / (4 * len(even) * (even[1] - even[0]))
    slow = slowest * np.arange(1, 9) / 2
    return np.unique(np.concatenate([slow, resolved[resolved >= slowest / 2]]))


def swing(sine: float, cosine: float) -> tuple[float, float]:
    """Amplitude and phase of a sine and a cosine together."""
    return float(np.hypot(sine, cosine)), float(np.arctan2(cosine, sine))


def swings_solved(
    x: FloatArray, y: FloatArray, frequencies: FloatArray, falls: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Of each frequency the best factors ``(f, 3)`` of sine, cosine (both falling) and 1, and what
    remains ``(f,)`` of the sum of squares; by normal equations, all at once.
    """
    angles = np.outer(frequencies, x)
    columns = np.stack([falls * np.sin(angles), falls * np.cos(angles), np.ones_like(angles)], 1)
    level = y - y.mean()
    normal = columns @ columns.transpose(0, 2, 1)
    normal += 1e-12 * np.trace(normal, axis1=1, axis2=2)[:, None, None] * np.eye(3)
    sides = columns @ level
    factors = np.linalg.solve(normal, sides[..., None])[..., 0]
    left = float(level @ level) - np.sum(factors * sides, axis=1)
    factors[:, 2] += y.mean()
    return factors, left
