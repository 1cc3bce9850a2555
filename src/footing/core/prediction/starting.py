"""From where the parameters of a motion are searched for.

What the marks of a leg show by a parabola, a circle or their direction is tried, and where nothing
shows it some usual sizes; the best of all that are tried together begins the search.
"""

from collections.abc import Mapping, Sequence
from itertools import islice, product

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.prediction.chain import Chain, Slot
from footing.core.prediction.parameters import START

_USUAL: dict[str, tuple[float, ...]] = {
    "drag_coefficient": (0.5, 1.2, 0.1),
    "friction": (0.1, 0.4),
    "contact_friction": (0.1, 0.4),
    "restitution": (0.7, 0.9, 0.4),
    "g": (9.81,),
    "density": (1.2, 1000.0),
    "volume": (1e-4, 1e-3),
    "mass": (0.1, 0.01, 1.0),
    "diameter": (0.1, 0.03),
}
_OF_AN_OWN_FORMULA = (1.0, 0.1, 10.0, -1.0)
_SWINGS = (0.25, 0.5, 0.75, 1.0, 1.5, 2.0, 3.0, 4.0, 6.0, 8.0, 12.0, 16.0)  # in the leg
_MOST = 300  # that are tried together


def starting_values(
    chain: Chain, slots: Sequence[Slot], times: FloatArray, positions: FloatArray
) -> list[tuple[float, ...]]:
    """Values of all slots to be tried, the likeliest first.

    times, positions : (n,), (n, 2) of the marks
    """
    shown = [_shown(chain, leg, times, positions) for leg in range(len(chain.legs))]
    each = []
    for slot in slots:
        given = chain.value(slot)
        leg = slot.leg if slot.leg is not None else _user(chain, slot)
        if given is not None and slot.name == "until":  # marks show no end by themselves
            each.append((given,))
            continue
        guessed = shown[leg].get(slot.name) or _USUAL.get(slot.name) or _OF_AN_OWN_FORMULA
        each.append((*(() if given is None else (given,)), *guessed))
    return list(islice(product(*each), _MOST))


def _user(chain: Chain, slot: Slot) -> int:
    """The first leg that uses what is common."""
    legs = (place for place, leg in enumerate(chain.legs) if slot.name in leg.names)
    return next(legs, 0)


def _shown(
    chain: Chain, leg: int, times: FloatArray, positions: FloatArray
) -> Mapping[str, tuple[float, ...]]:
    """What the marks of a leg show of its parameters."""
    first = chain.began if leg == 0 else chain.value(Slot(leg - 1, "until")) or chain.began
    last = chain.value(Slot(leg, "until")) or chain.ends
    inside = (times >= first) & (times <= last)
    t, at = times[inside] - first, positions[inside]
    if len(t) < 2:
        return {}
    degree = min(2, len(t) - 1)
    fits = [np.polynomial.Polynomial.fit(t, column, degree).convert().coef for column in at.T]
    full = np.array([np.pad(coefficients, (0, 3 - len(coefficients))) for coefficients in fits])
    found: dict[str, tuple[float, ...]] = {
        name: (float(value),) for name, value in zip(START, (*full[:, 0], *full[:, 1]), strict=True)
    }
    ax, ay = 2 * full[:, 2]
    found["ax"], found["ay"] = (float(ax),), (float(ay),)
    way = (
        at[-1] - at[0]
        if np.hypot(*(at[-1] - at[0])) > 0.1 * np.ptp(at)
        else at[len(t) // 2] - at[0]
    )
    angle = float(np.arctan2(way[1], way[0]))
    # a line goes both ways: it is counted from the right
    found["angle"] = ((angle + np.pi / 2) % np.pi - np.pi / 2,)
    centre, radius = _circle(at)
    middle = (at.max(axis=0) + at.min(axis=0)) / 2
    found["cx"] = (float(middle[0]), float(centre[0]))
    found["cy"] = (float(middle[1]), float(centre[1]))
    found["length"] = (radius,)
    span = max(float(t[-1]), 1e-9)
    turned = np.unwrap(np.arctan2(*(at - centre).T[::-1]))
    rate = float(turned[-1] - turned[0]) / span
    found["omega"] = (rate, *(2 * np.pi * swings / span for swings in _SWINGS))
    speed = float(np.hypot(*(at[-1] - at[0]))) / span or 1.0
    weight = (chain.value(Slot(None, "mass")) or 1.0) * 9.81
    found["b"] = (weight / speed, 0.3 * weight / speed, 3 * weight / speed)
    return found


def _circle(at: FloatArray) -> tuple[FloatArray, float]:
    """Centre and radius of a circle through points ``(n, 2)``.

    By I. Kåsa, A circle fitting procedure and its error analysis, IEEE Trans. Instrum. Meas. 25
    (1976) 8; the middle of the points where they lie on a line.
    """
    middle = at.mean(axis=0)
    arms = at - middle
    system = np.column_stack([2 * arms, np.ones(len(arms))])
    squares = np.sum(arms**2, axis=1)
    (a, b, c), *_ = np.linalg.lstsq(system, squares, rcond=1e-9)
    radius = float(np.sqrt(max(c + a**2 + b**2, 0.0)))
    return middle + np.array([a, b]), radius
