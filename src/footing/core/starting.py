"""Starting values for the curves that have to be searched for, guessed from the points.

Named curves have a guess of their own; those of own formulas are made here.
"""

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.curves import Curve
from footing.core.curves.guessing import frequencies, swings_solved
from footing.core.formulas.syntax import Call, Name, Operation, walk

_OWN_FREQUENCIES = 12
_OWN_STARTS = 8
_PLAIN_STARTS = (1.0, 0.1, 10.0, -1.0, 0.01, 100.0)


def starts(curve: Curve, x: FloatArray, y: FloatArray) -> list[FloatArray]:
    """Starting values ``(p,)`` worth trying, the best guess first."""
    if curve.guess is not None:
        return curve.guess(x, y)
    plain = [np.full(len(curve.names), value) for value in _PLAIN_STARTS]
    swinging = _swinging(curve)
    if not swinging:
        linear = [_linear_places(curve, x, one) for one in plain]  # undefined at some of them
        solved = (_with_linear_solved(curve, x, y, *one) for one in zip(plain, linear, strict=True))
        return [*solved, *plain]
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
    swings = frequencies(x, y)
    left = swings_solved(x, y, swings, np.ones_like(x))[1]
    strongest = swings[np.argsort(left)[:_OWN_FREQUENCIES]]
    begins = []
    for name in swinging:
        place = curve.names.index(name)
        for value in (*strongest, *(2 * np.pi / strongest), *(strongest / (2 * np.pi))):
            for phase in (0.0, 0.5 * np.pi):
                start = np.full(len(curve.names), 1.0)
                for other, symbol in enumerate(curve.names):
                    if symbol not in swinging:
                        start[other] = phase
                start[place] = value
                begins.append(start)
    linear = _linear_places(curve, x, begins[-1])
    found = [_with_linear_solved(curve, x, y, start, linear) for start in begins]
    rest = [_rest(curve, x, y, one) for one in found]
    order = np.argsort(rest)
    return [found[k] for k in order[:_OWN_STARTS] if np.isfinite(rest[k])]


def _rest(curve: Curve, x: FloatArray, y: FloatArray, values: FloatArray) -> float:
    with np.errstate(all="ignore"):
        left = float(np.sum((curve.values(x, values) - y) ** 2))
    return left if np.isfinite(left) else np.inf


def _linear_places(curve: Curve, x: FloatArray, start: FloatArray) -> list[int]:
    """Places of parameters that the curve is linear in, all of them together."""
    linear: list[int] = []
    with np.errstate(all="ignore"):
        slopes = curve.slopes(x, start)[1]
        for place in range(len(start)):
            columns = [*linear, place]
            moved = start.copy()
            moved[columns] += 0.37
            there = curve.slopes(x, moved)[1]
            if np.allclose(there[:, columns], slopes[:, columns], rtol=1e-9, atol=0):
                linear.append(place)
    return linear


def _with_linear_solved(
    curve: Curve, x: FloatArray, y: FloatArray, start: FloatArray, linear: list[int]
) -> FloatArray:
    """A start in which the parameters that the curve is linear in have their best values."""
    found = start.copy()
    found[linear] = 0.0
    with np.errstate(all="ignore"):
        base, slopes = curve.slopes(x, found)
    if not (linear and np.isfinite(base).all() and np.isfinite(slopes[:, linear]).all()):
        return start
    found[linear] = np.linalg.lstsq(slopes[:, linear], y - base, rcond=None)[0]
    return found
