"""Starting values for the curves that have to be searched for, guessed from the points.

A curve that is nearly linear in its parameters once one or two of them are known is tried on a grid
of those, the others being solved for; the best one is the start.
"""

from collections.abc import Callable, Iterable
from typing import Any

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.curves import Curve
from footing.core.formulas.syntax import Call, Name, Operation, walk

_FREQUENCIES = 400
_STRONGEST = 24  # frequencies of a spectrum that are tried
_MOST_EVEN = 2**17  # points of the even grid of a spectrum
_DAMPINGS = (0.0, 0.3, 1.0, 2.0, 4.0)
_SPREADS = (0.05, 0.1, 0.2, 0.4)
_RATES = (-30.0, -10.0, -5.0, -3.0, -2.0, -1.0, -0.5, 0.5, 1.0, 2.0, 3.0, 5.0, 10.0, 30.0)
_OWN_FREQUENCIES = 12
_FEW_STARTS = 3
_OWN_STARTS = 8
_PLAIN_STARTS = (1.0, 0.1, 10.0, -1.0, 0.01, 100.0)

Columns = tuple[FloatArray, ...]


def starts(curve: Curve, x: FloatArray, y: FloatArray) -> list[FloatArray]:
    """Starting values ``(p,)`` worth trying, the best guess first."""
    guess = _GUESSES.get(curve.key)
    if guess is not None:
        made = guess(x, y)
        several = made if made and isinstance(made[0], list) else [made]
        return [np.asarray(one, dtype=float) for one in several]
    plain = [np.full(len(curve.names), value) for value in _PLAIN_STARTS]
    swinging = _swinging(curve)
    if not swinging:
        return [_with_linear_solved(curve, x, y, one) for one in plain] + plain
    return _own_swings(curve, x, y, swinging) + plain


def _swinging(curve: Curve) -> list[str]:
    """Parameters of an own formula that multiply its variable within a sine or cosine."""
    found: dict[str, None] = {}
    for node in walk(curve.formula.root):
        if isinstance(node, Call) and node.function in ("sin", "cos"):
            for part in walk(node.arguments[0]):
                if isinstance(part, Operation) and part.sign in ("*", "/"):
                    names = {one.symbol for one in walk(part) if isinstance(one, Name)}
                    if curve.variable in names:
                        found |= dict.fromkeys(name for name in names if name in curve.names)
    return list(found)


def _own_swings(
    curve: Curve, x: FloatArray, y: FloatArray, swinging: list[str]
) -> list[FloatArray]:
    """Starts at the frequencies that the points show best, the rest solved for where it is linear.

    Where several parameters make the frequency (2*pi*x/T, w*x), one after the other is tried with
    the others at 1; one that divides is tried with periods.
    """
    swings = _frequencies(x, y)
    left = _swings_solved(x, y, swings, np.ones_like(x))[1]
    strongest = swings[np.argsort(left)[:_OWN_FREQUENCIES]]
    found = []
    for name in swinging:
        place = curve.names.index(name)
        for value in (*strongest, *(2 * np.pi / strongest), *(strongest / (2 * np.pi))):
            for phase in (0.0, 0.5 * np.pi):
                start = np.full(len(curve.names), 1.0)
                for other, symbol in enumerate(curve.names):
                    if symbol not in swinging:
                        start[other] = phase
                start[place] = value
                found.append(_with_linear_solved(curve, x, y, start))
    rest = [_rest(curve, x, y, one) for one in found]
    order = np.argsort(rest)
    return [found[k] for k in order[:_OWN_STARTS] if np.isfinite(rest[k])]


def _rest(curve: Curve, x: FloatArray, y: FloatArray, values: FloatArray) -> float:
    with np.errstate(all="ignore"):
        left = float(np.sum((curve.values(x, values) - y) ** 2))
    return left if np.isfinite(left) else np.inf


def _with_linear_solved(
    curve: Curve, x: FloatArray, y: FloatArray, start: FloatArray
) -> FloatArray:
    """A start in which the parameters that the curve is linear in have their best values."""
    with np.errstate(all="ignore"):
        slopes = curve.slopes(x, start)[1]
        linear: list[int] = []
        for place in range(len(start)):
            moved = start.copy()
            moved[[*linear, place]] += 0.37
            there = curve.slopes(x, moved)[1]
            columns = [*linear, place]
            if np.allclose(there[:, columns], slopes[:, columns], rtol=1e-9, atol=0):
                linear.append(place)
        if not linear:
            return start
        at_zero = start.copy()
        at_zero[linear] = 0.0
        base = curve.values(x, at_zero)
    if not (np.isfinite(base).all() and np.isfinite(slopes[:, linear]).all()):
        return start
    found = at_zero
    found[linear] = np.linalg.lstsq(slopes[:, linear], y - base, rcond=None)[0]
    return found


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


def _swings_solved(
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


def _sine(x: FloatArray, y: FloatArray) -> list[float]:
    frequencies = _frequencies(x, y)
    factors, left = _swings_solved(x, y, frequencies, np.ones_like(x))
    best = int(np.argmin(left))
    amplitude, phase = _swing(factors[best, 0], factors[best, 1])
    return [amplitude, float(frequencies[best]), phase, float(factors[best, 2])]


def _damped_sine(x: FloatArray, y: FloatArray) -> list[list[float]]:
    """The best of each of some dampings."""
    frequencies = _frequencies(x, y)
    found = []
    for damping in _DAMPINGS:
        d = damping / _reach(x)
        factors, left = _swings_solved(x, y, frequencies, np.exp(-d * (x - x.min())))
        best = int(np.argmin(left))
        amplitude, phase = _swing(factors[best, 0], factors[best, 1])
        start = [amplitude * np.exp(d * x.min()), d, float(frequencies[best]), phase]
        found.append((float(left[best]), [*start, float(factors[best, 2])]))
    return [start for _, start in sorted(found)[:_FEW_STARTS]]


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


_GUESSES: dict[str, Callable[[FloatArray, FloatArray], Any]] = {
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
