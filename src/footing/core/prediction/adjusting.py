"""Parameters of a motion that describe marks best: least squares in x and y alike.

The search is scipy's trust-region reflective method, which keeps parameters within their limits
(M. A. Branch, T. F. Coleman, Y. Li, SIAM J. Sci. Comput. 21 (1999) 1); slopes are central
differences of a batch that is integrated together. Standard errors are σ² (JᵀJ)⁻¹ with σ² from what
is left over.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import Enum, auto
from math import inf
from time import thread_time

import numpy as np

from footing.core.arrays import FloatArray, IntArray
from footing.core.prediction.chain import Chain, Slot
from footing.core.prediction.integrating import MotionStopped
from footing.core.prediction.parameters import parameter
from footing.core.prediction.starting import starting_values

_STEP = float(np.finfo(float).eps ** (1 / 3))
_SMALL = 1e-2  # below which the step does not shrink with the value
_TIGHT = 1e-11
_FAR = 1e6  # m: what is left over where there is no motion
_TOGETHER = 1e-7  # of the largest singular value, below which parameters cannot be told apart
_SHARE = 0.2  # of a direction, from which a parameter takes part in it
_MOST_TRIES, _TRIES_TOGETHER = 100, 10  # the second where nothing tells them apart at the start
_LONGEST = 6.0  # s of processor time that a search may take
_AT_LIMIT = 1e-9
_SAME = 1e-9


@dataclass(frozen=True)
class Track:
    """Marks: times (n,) in s, rising; positions (n, 2) in m."""

    times: FloatArray
    positions: FloatArray

    def between(self, first: float, last: float) -> IntArray:
        """The places of the marks of a stretch, both ends included."""
        inside = (self.times >= first - _SAME) & (self.times <= last + _SAME)
        return np.flatnonzero(inside)


class Why(Enum):
    """Why nothing could be adjusted."""

    TOO_FEW = auto()
    NOT_TOLD_APART = auto()
    NO_MOTION = auto()
    NO_END = auto()


@dataclass(frozen=True)
class NotAdjusted:
    """Nothing was found; slots : what cannot be told apart, or is wanted; marks : how many"""

    why: Why
    slots: tuple[Slot, ...]
    marks: int


@dataclass(frozen=True)
class Adjusted:
    """Parameters that were found.

    slots : p of them; values, covariance : (p,), (p, p)
    rows : (m,) places of the marks that were used
    gain : (p, m, 2) how they change with each coordinate of these marks
    scatter : m, of one coordinate about the motion; dof : degrees of freedom
    at_limit : those that stand at a limit, so that their standard error says little
    """

    slots: tuple[Slot, ...]
    values: FloatArray
    covariance: FloatArray
    rows: IntArray
    gain: FloatArray
    scatter: float
    dof: int
    converged: bool
    at_limit: frozenset[Slot]

    @property
    def by_slot(self) -> dict[Slot, FloatArray]:
        """The values, as `Chain.solve` takes them."""
        return {
            slot: np.array([value]) for slot, value in zip(self.slots, self.values, strict=True)
        }

    def standard_error(self, slot: Slot) -> float:
        """Of one of them."""
        place = self.slots.index(slot)
        return float(np.sqrt(self.covariance[place, place]))

    @property
    def correlations(self) -> FloatArray:
        """(p, p)"""
        sizes = np.sqrt(np.diag(self.covariance))
        return np.asarray(self.covariance / np.where(sizes > 0, sizes, 1.0) / sizes[:, None])


def adjust(chain: Chain, asked: Sequence[tuple[int, str]], track: Track) -> Adjusted | NotAdjusted:
    """Find parameters from the marks of the legs that ask for them.

    Parameters
    ----------
    asked : leg and name; what is common to several legs is found once, from the marks of all that
        ask. An end of a leg is found from its own marks and those of the next leg

    What the marks cannot settle is `NotAdjusted`, never made up.
    """
    slots = tuple(dict.fromkeys(chain.slot(leg, name) for leg, name in asked))
    rows = _rows(chain, asked, track)
    times, positions = track.times[rows], track.positions[rows]
    if 2 * len(rows) <= len(slots):
        return NotAdjusted(Why.TOO_FEW, slots, len(rows))
    search = _Search(chain, slots, times, positions)
    try:
        return _searched(search, rows)
    except _TakesTooLong:
        return NotAdjusted(Why.NO_END, slots, len(rows))


def _searched(search: "_Search", rows: IntArray) -> Adjusted | NotAdjusted:
    """Search from the best start."""
    from scipy import optimize  # takes long to load

    chain, slots = search.chain, search.slots
    begun = search.begin(starting_values(chain, slots, search.times, search.positions))
    if begun is None:
        return NotAdjusted(Why.NO_MOTION, slots, len(rows))
    low, high = search.limits(begun)
    inside = np.clip(begun, low + _AT_LIMIT * np.abs(low).clip(max=1.0), high)
    mixed = search.mixed(search.slopes(inside))
    solved = optimize.least_squares(
        search.residuals,
        inside,
        jac=search.slopes,
        bounds=(low, high),
        x_scale="jac",
        ftol=_TIGHT,
        xtol=_TIGHT,
        gtol=_TIGHT,
        max_nfev=_TRIES_TOGETHER if mixed else _MOST_TRIES,
    )
    if not np.all(np.isfinite(solved.x)) or float(np.max(np.abs(solved.fun))) >= _FAR:
        return NotAdjusted(Why.NO_END, slots, len(rows))
    slopes = search.slopes(solved.x)
    mixed = search.mixed(slopes) or (mixed if solved.status <= 0 else ())
    if mixed:
        return NotAdjusted(Why.NOT_TOLD_APART, mixed, len(rows))
    sizes, left, singular, right = _taken_apart(slopes)
    inverse = (right.T / singular) @ left.T / sizes[:, None]
    dof = 2 * len(rows) - len(slots)
    variance = float(solved.fun @ solved.fun) / dof
    limits = frozenset(
        slot
        for slot, value, least, most in zip(slots, solved.x, low, high, strict=True)
        if value - least < 1e-6 * max(abs(value), 1e-3) or most - value < 1e-9
    )
    return Adjusted(
        slots,
        solved.x,
        variance * inverse @ inverse.T,
        rows,
        inverse.reshape(len(slots), len(rows), 2),
        float(np.sqrt(variance)),
        dof,
        bool(solved.status > 0),
        limits,
    )


def _rows(chain: Chain, asked: Sequence[tuple[int, str]], track: Track) -> IntArray:
    """The marks of the legs that ask, and beyond an end that is looked for."""
    legs = {leg for leg, _ in asked}
    legs |= {leg + 1 for leg, name in asked if name == "until"}
    parts = [np.empty(0, dtype=np.int64)]
    for leg in sorted(legs & set(range(len(chain.legs)))):
        first = chain.began if leg == 0 else chain.value(Slot(leg - 1, "until"))
        last = chain.value(Slot(leg, "until"))
        assert first is not None
        assert last is not None
        parts.append(track.between(first, last))
    return np.unique(np.concatenate(parts))


def _taken_apart(slopes: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
    """The sizes ``(p,)`` of columns, and the singular value decomposition without them."""
    sizes = np.linalg.norm(slopes, axis=0)
    sizes = np.where(sizes > 0, sizes, 1.0)
    return sizes, *np.linalg.svd(slopes / sizes, full_matrices=False)


class _TakesTooLong(Exception):
    """A search that came to no end in its time."""


class _Search:
    """What is left over of marks, and its slopes, for values of some parameters."""

    def __init__(
        self, chain: Chain, slots: tuple[Slot, ...], times: FloatArray, positions: FloatArray
    ) -> None:
        self.chain = chain
        self.slots = slots
        self.times = times
        self.positions = positions
        self.until = thread_time() + _LONGEST

    def mixed(self, slopes: FloatArray) -> tuple[Slot, ...]:
        """The parameters that the marks cannot tell apart, by the slopes where they are."""
        _, _, singular, right = _taken_apart(slopes)
        if singular[-1] > _TOGETHER * singular[0]:
            return ()
        shares = np.abs(right[-1]) > _SHARE
        return tuple(slot for slot, takes in zip(self.slots, shares, strict=True) if takes)

    def begin(self, tries: list[tuple[float, ...]]) -> FloatArray | None:
        """The best of some values; None if none of them gives a motion."""
        tried = np.array(tries, dtype=float).reshape(len(tries), len(self.slots))
        try:
            left = self._left_over(tried)
        except MotionStopped:
            left = np.concatenate([self._one_left_over(values) for values in tried])
        costs = np.sum(left**2, axis=1)
        best = int(np.argmin(costs))
        return tried[best] if costs[best] < _FAR**2 else None

    def limits(self, begun: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Between which the values stay; ends of legs between the ends beside them."""
        low = np.array([parameter(slot.name).least for slot in self.slots])
        high = np.array([parameter(slot.name).most for slot in self.slots])
        ends = dict(zip(self.slots, begun, strict=True))
        for place, slot in enumerate(self.slots):
            if slot.name == "until" and slot.leg is not None:
                low[place] = self._end(slot.leg - 1, ends)
                high[place] = self._end(slot.leg + 1, ends)
        return low, np.maximum(high, low + _AT_LIMIT)

    def _end(self, leg: int, ends: Mapping[Slot, float]) -> float:
        """The end of a leg; of one that is looked for, too, half of the way to it."""
        if leg < 0:
            return self.chain.began
        if leg >= len(self.chain.legs):
            return inf
        slot = Slot(leg, "until")
        value = self.chain.value(slot)
        return ends.get(slot, self.chain.ends if value is None else value)

    def residuals(self, values: FloatArray) -> FloatArray:
        """(2 m,) of the marks, x and y in turn."""
        return self._one_left_over(values)[0]

    def _one_left_over(self, values: FloatArray) -> FloatArray:
        try:
            return self._left_over(values[None])
        except MotionStopped:
            return np.full((1, 2 * len(self.times)), _FAR)

    def slopes(self, values: FloatArray) -> FloatArray:
        """(2 m, p) of what is left over."""
        p = len(values)
        steps = _STEP * np.maximum(np.abs(values), _SMALL)
        moved = np.concatenate([values + np.diag(steps), values - np.diag(steps)])
        try:
            left = self._left_over(moved)
        except MotionStopped:
            left = np.concatenate([self._one_left_over(one) for one in moved])
        return np.asarray((left[:p] - left[p:]).T / (2 * steps))

    def _left_over(self, tried: FloatArray) -> FloatArray:
        if thread_time() > self.until:
            raise _TakesTooLong
        values = {slot: tried[:, place] for place, slot in enumerate(self.slots)}
        states, _ = self.chain.solve(values, len(tried)).at(self.times)
        left = states[..., :2] - self.positions
        return np.nan_to_num(left, nan=_FAR).reshape(len(tried), -1)
