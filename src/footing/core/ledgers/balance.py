"""What an energy is at the ends of a stretch of time, what changed, and what that would take."""

from dataclasses import dataclass
from math import inf

import numpy as np

from footing.core.arrays import IntArray
from footing.core.effects import Effects, Noise
from footing.core.ledgers.amounts import Account, Amount
from footing.core.ledgers.energy import Bearings
from footing.core.motion import Motion

_AGREES = 2.0  # uncertainties


@dataclass(frozen=True)
class Change:
    """An energy at the first and at the last mark of a stretch, J.

    relative : the change as a share of the start; None where that is 0 within its uncertainty
    """

    start: Amount
    end: Amount
    change: Amount
    relative: Amount | None

    @property
    def is_seen(self) -> bool:
        """Whether it changed by more than the uncertainty explains."""
        return abs(self.change.value) > _AGREES * self.change.uncertainty


@dataclass(frozen=True)
class Missing:
    """What a loss would take: a mean force along the path (N), and a mean power (W)."""

    force: Amount | None
    power: Amount


def change_of(account: Account, first: int, last: int) -> Change | None:
    """Between the first and the last mark with a value in some frames, both included."""
    rows = np.flatnonzero((account.frames >= first) & (account.frames <= last))
    if len(rows) < 2:
        return None
    start, end = account.amount(int(rows[0])), account.amount(int(rows[-1]))
    change = end.minus(start)
    known = abs(start.value) > _AGREES * start.uncertainty
    return Change(start, end, change, change.over(start) if known else None)


def missing(change: Change, path: Amount | None, seconds: float) -> Missing:
    """What takes the change away: friction along a path of this length, in so much time."""
    lost = change.change.times(-1.0)
    moved = path is not None and path.value > _AGREES * path.uncertainty
    force = lost.over(path) if moved and path is not None else None
    return Missing(force, lost.times(1 / seconds))


def path_between(
    motion: Motion, frames: IntArray, key: str, bearings: Bearings, first: int, last: int
) -> Amount | None:
    """How far a body went between its first and its last mark in some frames, m."""
    column = motion.column("s")
    inside = np.flatnonzero((frames[column.index] >= first) & (frames[column.index] <= last))
    if len(inside) < 2:
        return None
    start, end = int(inside[0]), int(inside[-1])
    metre = bearings.metre
    value = float(column.values[end] - column.values[start]) * metre
    rows = {}
    for of, part in motion.errors("s").items():
        step = part[[end]] - part[[start]]
        size = motion.plane_scatter * metre
        rows[f"{key}:{of}"] = np.asarray(step.toarray(), dtype=float).reshape(-1) * size
    shared = bearings.common.of(value, lengths=1, times=0)
    slow = _across(motion, start, end) * metre**2 - sum(float(one @ one) for one in rows.values())
    noise = {Noise("marks", "marks", inf): rows}
    return Amount(value, Effects(shared, noise), max(slow, 0.0))


def _across(motion: Motion, start: int, end: int) -> float:
    """Variance of a way between two marks, with what errors across it do in second order."""
    whole = motion.covariance("s")
    assert whole is not None
    shared = whole.chosen(np.array([start, end])).toarray() * motion.plane_scatter**2
    return float(shared[0, 0] + shared[1, 1] - 2 * shared[0, 1])
