"""Motions from accelerations, by an integrator with dense output.

DOP853 (E. Hairer, S. P. Nørsett, G. Wanner, Solving Ordinary Differential Equations I, 2nd ed.,
II.5), order 8 with an interpolation of order 7. A motion that explodes, that never comes to an end
or that has no value is stopped where that happens.
"""

from collections.abc import Callable
from enum import Enum, auto

import numpy as np

from footing.core.arrays import FloatArray

Slopes = Callable[[FloatArray, FloatArray], FloatArray]
Motion = Callable[[FloatArray], FloatArray]

_RELATIVE, _ABSOLUTE = 1e-11, 1e-13
_MOST_STEPS = 4000
_LEAST_STEP, _SETTLED = 1e-8, 20  # of the whole, and after how many steps, below which it hangs
_FARTHEST = 1e9  # m or m/s


class Stop(Enum):
    """Why a motion was stopped."""

    UNDEFINED = auto()
    EXPLODES = auto()
    NEVER_ENDS = auto()


class MotionStopped(Exception):
    """A motion that does not go on.

    after : s since its leg began; None where it never began
    leg, time : its place in the chain and in time, once these are known
    """

    def __init__(self, why: Stop, after: float) -> None:
        super().__init__(why.name)
        self.why = why
        self.after = after
        self.leg = 0
        self.time = after


def integrated(slopes: Slopes, start: FloatArray, lasts: float) -> Motion:
    """Solve dy/dτ = slopes(τ, y) from τ = 0 on.

    Parameters
    ----------
    slopes : takes τ and y ``(k, m)``, gives ``(k, m)``
    start : ``(k, m)``
    lasts : s, how far it is needed

    Returns
    -------
    a function of times ``(k, n)`` that gives ``(k, n, m)``

    Raises
    ------
    MotionStopped : if it explodes, never ends, or has no value.
    """
    from scipy import integrate  # takes long to load

    shape = start.shape

    def flat(after: float, y: FloatArray) -> FloatArray:
        found = slopes(np.asarray(after), y.reshape(shape))
        if not np.all(np.isfinite(found)):
            raise MotionStopped(Stop.UNDEFINED, float(after))
        return np.asarray(found, dtype=float).ravel()

    solver = integrate.DOP853(
        flat, 0.0, start.ravel(), max(lasts, 1e-9), rtol=_RELATIVE, atol=_ABSOLUTE
    )
    moments, pieces = [0.0], []
    while solver.status == "running":
        solver.step()
        hangs = len(moments) > _SETTLED and float(solver.step_size) < _LEAST_STEP * lasts
        if solver.status == "failed" or hangs or len(moments) > _MOST_STEPS:
            raise MotionStopped(Stop.NEVER_ENDS, float(solver.t))
        if np.max(np.abs(solver.y)) > _FARTHEST:
            raise MotionStopped(Stop.EXPLODES, float(solver.t))
        moments.append(float(solver.t))
        pieces.append(solver.dense_output())
    dense = integrate.OdeSolution(moments, pieces)

    def at(after: FloatArray) -> FloatArray:
        each = [
            dense(moments).reshape(*shape, -1)[k].T
            for k, moments in enumerate(np.clip(after, 0.0, solver.t))
        ]
        return np.stack(each)

    return at
