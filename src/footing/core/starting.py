"""Starting values for the curves that have to be searched for, guessed from the points.

A curve that is nearly linear in its parameters once one or two of them are known is tried on a grid
of those, the others being solved for; the best one is the start.
"""

from collections.abc import Callable, Iterable

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.curves import Curve

_FREQUENCIES = 400
_STRONGEST = 24  # frequencies of a spectrum that are tried
_MOST_EVEN = 2**17  # points of the even grid of a spectrum
_DAMPINGS = (0.0, 0.3, 1.0, 2.0, 4.0)
_SPREADS = (0.05, 0.1, 0.2, 0.4)
_RATES = (-30.0, -10.0, -5.0, -3.0, -2.0, -1.0, -0.5, 0.5, 1.0, 2.0, 3.0, 5.0, 10.0, 30.0)
_PLAIN_STARTS = (1.0, 0.1, 10.0, -1.0, 0.01, 100.0)

Columns = tuple[FloatArray, ...]


def starts(curve: Curve, x: FloatArray, y: FloatArray) -> list[FloatArray]:
    """Starting values ``(p,)`` worth trying, the best guess first."""
    guess = _GUESSES.get(curve.key)
    if guess is not None:
        return [np.asarray(guess(x, y), dtype=float)]
    return [np.full(len(curve.names), value) for value in _PLAIN_STARTS]


def _reach(x: FloatArray) -> float:
    return float(np.ptp(x)) or 1.0


def _solved(y: FloatArray, columns: Columns) -> tuple[FloatArray, float]:
    """Factors of the columns that come nearest to y, and the sum of squares that remains."""
    design = np.stack(np.broadcast_arrays(*columns), axis=1)
    if not np.isfinite(design).all():
        return np.full(len(columns), np.nan), np.inf
    factors = np.linalg.lstsq(design, y, rcond=None)[0]
    return factors, float(np.sum((y - design @ factors) ** 2))


def _best(
    y: FloatArray, grid: Iterable[tuple[float, ...]], columns: Callable[..., Columns]
) -> tuple[tuple[float, ...], FloatArray]:
    """The point of a grid at which the rest, solved for, comes nearest."""
    tried = ((point, *_solved(y, columns(*point))) for point in grid)
    point, factors, _ = min(tried, key=lambda one: one[2])
    return point, factors


def _vertex(x: FloatArray, y: FloatArray) -> list[float]:
    a, b, c = np.polyfit(x, y, 2)
    top = -b / (2 * a) if a else float(x.mean())
    return [a, top, c - a * top**2]


def _power(x: FloatArray, y: FloatArray) -> list[float]:
    good = (x > 0) & (y != 0)
    if good.sum() < 2:
        return [1.0, 1.0]
    n, log_a = np.polyfit(np.log(x[good]), np.log(np.abs(y[good])), 1)
    return [float(np.sign(np.median(y[good])) or 1.0) * np.exp(log_a), n]


def _rates(x: FloatArray) -> list[tuple[float]]:
    return [(rate / _reach(x),) for rate in _RATES]


def _growing(x: FloatArray) -> Callable[[float], FloatArray]:
    """e^(kx), counted from the middle so that it stays a number; the rest is in its factor."""
    return lambda k: np.exp(k * (x - x.mean()))


def _exponential(x: FloatArray, y: FloatArray) -> list[float]:
    (k,), (a,) = _best(y, _rates(x), lambda k: (_growing(x)(k),))
    return [a * np.exp(-k * x.mean()), k]


def _exponential_level(x: FloatArray, y: FloatArray) -> list[float]:
    (k,), (a, c) = _best(y, _rates(x), lambda k: (_growing(x)(k), np.ones_like(x)))
    return [a * np.exp(-k * x.mean()), k, c]


def _logistic(x: FloatArray, y: FloatArray) -> list[float]:
    grid = [(k, x0) for (k,) in _rates(x) for x0 in np.linspace(x.min(), x.max(), 9)]
    (k, x0), (limit,) = _best(y, grid, lambda k, x0: (1 / (1 + np.exp(-k * (x - x0))),))
    return [limit, k, x0]


def _frequencies(x: FloatArray, y: FloatArray) -> FloatArray:
    """From half a swing in all up to half a swing between neighbouring points.

    Of a long series only the slowest ones and the strongest in its spectrum, which is taken from
    the points put on an even grid.
    """
    steps = np.diff(np.unique(x))
    fastest = np.pi / float(np.median(steps)) if len(steps) else 1.0
    slowest = np.pi / _reach(x)
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


def _swing(sine: float, cosine: float) -> tuple[float, float]:
    """Amplitude and phase of a sine and a cosine together."""
    return float(np.hypot(sine, cosine)), float(np.arctan2(cosine, sine))


def _sine(x: FloatArray, y: FloatArray) -> list[float]:
    (w,), (a, b, c) = _best(
        y,
        [(w,) for w in _frequencies(x, y)],
        lambda w: (np.sin(w * x), np.cos(w * x), np.ones_like(x)),
    )
    amplitude, phase = _swing(a, b)
    return [amplitude, w, phase, c]


def _damped_sine(x: FloatArray, y: FloatArray) -> list[float]:
    grid = [(d / _reach(x), w) for d in _DAMPINGS for w in _frequencies(x, y)]

    def columns(d: float, w: float) -> Columns:
        falls = np.exp(-d * x)
        return falls * np.sin(w * x), falls * np.cos(w * x), np.ones_like(x)

    (d, w), (a, b, c) = _best(y, grid, columns)
    amplitude, phase = _swing(a, b)
    return [amplitude, d, w, phase, c]


def _bell(x: FloatArray, y: FloatArray) -> list[float]:
    grid = [(x0, s * _reach(x)) for x0 in np.linspace(x.min(), x.max(), 21) for s in _SPREADS]
    (x0, s), (a, c) = _best(
        y, grid, lambda x0, s: (np.exp(-((x - x0) ** 2) / (2 * s**2)), np.ones_like(x))
    )
    return [a, x0, s, c]


def _chain(x: FloatArray, y: FloatArray) -> list[float]:
    """Near its lowest point a chain is the parabola (x − x₀)²/(2a)."""
    a, x0, lowest = _vertex(x, y)
    radius = 1 / (2 * a) if a else _reach(x)
    return [radius, x0, lowest - radius]


_GUESSES: dict[str, Callable[[FloatArray, FloatArray], list[float]]] = {
    "vertex": _vertex,
    "power": _power,
    "exponential": _exponential,
    "exponential_level": _exponential_level,
    "logistic": _logistic,
    "sine": _sine,
    "damped_sine": _damped_sine,
    "bell": _bell,
    "chain": _chain,
}
