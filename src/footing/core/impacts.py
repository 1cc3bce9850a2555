"""Where something hits a body: its velocity changes at once between two of its marks.

The marks around each gap between two marks are described by a curve of the fourth degree, and by a
parabola that changes its slope somewhere in that gap, which has as many parameters. Where only the
second leaves over no more than the scatter of all marks allows (F test, with as many chances as
there are gaps), and the change is no small part of the speed, something hit there. The clearest is
taken first; what lies on either side of it is then looked at by itself.
"""

from dataclasses import dataclass

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray, IntArray
from footing.core.kinematics import plane_scatter, stretches

_AROUND = (5, 10)  # marks on each side: few see quick motions, many see through scatter
_SINGULAR = 1e-12
_FEWEST = 3  # on each side, at the ends
_PARAMETERS = 5
_SURE = 1e-4  # chance of naming anywhere in a film what is none
_EXPLAINED = 1e-3  # chance of as much scatter about the kinked curve, below which it is none
_SUDDEN = 0.25  # of the faster of both speeds
_LATE = 0.75  # of the gap, by which the moment may seem to miss its middle
_MOST = 6
_LEAST_SCATTER = 1e-4  # of how far the marks lie apart: films distort, and following errs smoothly


@dataclass(frozen=True)
class Hit:
    """Something hits after mark ``after``; ``change`` of the speed, in units of the positions."""

    after: int
    change: float


def hits(times: FloatArray, positions: FloatArray, breaks: IntArray | None = None) -> list[Hit]:
    """The impacts that marks show, in rising time; those at ``breaks`` are known and left out.

    times : (n,) rising; positions : (n, 2)
    breaks : k where something between marks k and k + 1 is known already
    """
    variance, dof = plane_scatter(times, positions, breaks)
    extent = float(np.ptp(positions, axis=0).max()) if len(positions) else 0.0
    variance = max(variance, (_LEAST_SCATTER * extent) ** 2)
    if not dof or not variance:
        return []
    found: list[Hit] = []
    waiting = stretches(times, breaks)
    while waiting and len(found) < _MOST:
        first, last = waiting.pop()
        hit = _clearest(times, positions, first, last, variance, dof)
        if hit is not None:
            found.append(hit)
            waiting += [(first, hit.after + 1), (hit.after + 1, last)]
    return sorted(found, key=lambda hit: hit.after)


def _clearest(
    times: FloatArray, positions: FloatArray, first: int, last: int, variance: float, dof: float
) -> Hit | None:
    """The clearest impact between some marks, if there is one."""
    gaps = np.arange(first + _FEWEST - 1, last - _FEWEST)
    found: list[tuple[float, Hit]] = []
    for around in _AROUND:
        if len(gaps) == 0 or last - first <= _PARAMETERS:
            break
        kinks = _kinks(times, positions, gaps, around, first, last)
        by_chance = special.fdtrc(2, max(dof, 2.0), kinks.gain / 2 / variance)
        left = special.fdtrc(kinks.dof, max(dof, 2.0), kinks.left / kinks.dof / variance)
        sure = (by_chance * len(times) < _SURE) & (left > _EXPLAINED)
        clear = (kinks.change > _SUDDEN * kinks.speed) & (kinks.misses < _LATE)
        for k in np.flatnonzero(sure & clear & (kinks.dof > 1)):
            found.append((float(kinks.gain[k]), Hit(int(gaps[k]), float(kinks.change[k]))))
    return max(found, key=lambda one: one[0])[1] if found else None


@dataclass(frozen=True)
class _Kinks:
    """A change of slope in each of k gaps.

    gain : how much less it leaves over than a smooth curve; left : what it leaves over
    change, speed : of the velocity there; misses : the moment, in gaps from the middle of it
    """

    gain: FloatArray
    left: FloatArray
    dof: IntArray
    change: FloatArray
    speed: FloatArray
    misses: FloatArray


def _kinks(
    times: FloatArray, positions: FloatArray, gaps: IntArray, around: int, first: int, last: int
) -> _Kinks:
    """All gaps at once, each with up to so many marks on each side."""
    wanted = gaps[:, None] + np.arange(1 - around, around + 1)
    there = (wanted >= first) & (wanted < last)
    members = np.clip(wanted, first, last - 1)
    wide = times[gaps + 1] - times[gaps]
    t = np.where(there, times[members] - (times[gaps] + wide / 2)[:, None], 0.0)
    unit = np.abs(t).max(axis=1)
    u = t / unit[:, None]
    behind = u > 0
    values = positions[members] * there[:, :, None]
    ones = np.ones_like(u)
    kinked = np.stack([ones, u, u**2, behind, np.where(behind, u, 0.0)], axis=2)
    smooth = np.stack([u**power for power in range(_PARAMETERS)], axis=2)
    factors, left = _fitted(kinked * there[:, :, None], values)
    _, plain = _fitted(smooth * there[:, :, None], values)
    change, before = factors[:, 4] / unit[:, None], factors[:, 1] / unit[:, None]
    size = np.hypot(*change.T)
    # a slope that changes a little later makes a step back: step = −change · lateness
    late = -np.sum(factors[:, 3] * change, axis=1) / np.where(size > 0, size, 1.0) ** 2
    across = factors[:, 3] + change * late[:, None]
    speed = np.maximum(np.hypot(*before.T), np.hypot(*(before + change).T))
    return _Kinks(
        plain - left,
        left + np.sum(across**2, axis=1),
        2 * (there.sum(axis=1) - _PARAMETERS) + 1,
        size,
        speed,
        np.abs(late) / wide,
    )


def _fitted(design: FloatArray, values: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Least squares of k designs ``(k, i, p)``: factors ``(k, p, 2)`` and what is left ``(k,)``."""
    across, triangles = np.linalg.qr(design)
    shares = across.transpose(0, 2, 1) @ values
    left = np.sum((values - across @ shares) ** 2, axis=(1, 2))
    solvable = np.abs(np.diagonal(triangles, axis1=1, axis2=2)).min(axis=1) > _SINGULAR
    triangles = np.where(solvable[:, None, None], triangles, np.eye(design.shape[2]))
    return np.linalg.solve(triangles, shares), left
