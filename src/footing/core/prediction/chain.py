"""Legs one after the other, as a journey is: each goes on from where the last one ended."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from footing.core.arrays import FloatArray, IntArray
from footing.core.prediction.integrating import Motion, MotionStopped
from footing.core.prediction.laws import Begin, Law
from footing.core.prediction.parameters import AT_BORDERS, START, parameter

_SAME = 1e-9  # s, by which a moment may miss a border and still be meant
_LEAST = 1e-9  # s, that a leg lasts


@dataclass(frozen=True)
class Slot:
    """A parameter and whose it is: of a leg, counted from 0, or common to all (None)."""

    leg: int | None
    name: str


@dataclass(frozen=True)
class Leg:
    """A stretch of a motion under one law.

    until : s, when it ends; None for the last, which ends with the chain
    own : parameters that it gives itself. Of x, y, vx, vy those with which it begins anew; the
        others come from the end of the leg before
    normal : of an impact with which it begins, the direction out of what is hit; None if nothing
        hits. Its ``restitution`` and ``contact_friction`` are own parameters
    """

    law: Law
    until: float | None = None
    own: Mapping[str, float] = field(default_factory=dict)
    normal: tuple[float, float] | None = None

    @property
    def names(self) -> tuple[str, ...]:
        """The parameters of its law, those of its impact, and with what it begins anew."""
        anew = tuple(name for name in START if name in self.own)
        hit = ("restitution", "contact_friction") if self.normal is not None else ()
        return (*anew, *hit, *self.law.needs, *self.law.may)


@dataclass(frozen=True)
class Solved:
    """A batch of k motions.

    borders : (k, legs + 1) s, the start, the ends of the legs
    """

    borders: FloatArray
    motions: tuple[Motion, ...]

    def at(self, times: FloatArray) -> tuple[FloatArray, IntArray]:
        """States ``(k, n, 4)`` and legs ``(k, n)`` at times ``(n,)``.

        At a border the leg that ends there counts. Outside of the chain the state is NaN, the
        leg −1.
        """
        k, n = len(self.borders), len(times)
        states, legs = np.full((k, n, 4), np.nan), np.full((k, n), -1)
        for place, motion in enumerate(self.motions):
            first, last = self.borders[:, place, None], self.borders[:, place + 1, None]
            begins = times >= first - _SAME if place == 0 else times > first + _SAME
            inside = begins & (times <= last + _SAME)
            columns = np.flatnonzero(inside.any(axis=0))
            if not len(columns):
                continue
            after = np.clip(times[columns] - first, 0.0, last - first)
            found = motion(after)
            there = inside[:, columns]
            states[:, columns] = np.where(there[..., None], found, states[:, columns])
            legs[:, columns] = np.where(there, place, legs[:, columns])
        return states, legs


@dataclass(frozen=True)
class Chain:
    """Legs with what they have in common.

    began, ends : s; common : parameters by name; up : unit vector against gravity
    """

    legs: tuple[Leg, ...]
    common: Mapping[str, float]
    began: float
    ends: float
    up: tuple[float, float] = (0.0, 1.0)

    def slot(self, leg: int, name: str) -> Slot:
        """Whose a parameter is that a leg uses."""
        own = name in START or name in AT_BORDERS or name in self.legs[leg].own
        return Slot(leg, name) if own or not parameter(name).common else Slot(None, name)

    def value(self, slot: Slot) -> float | None:
        """What a parameter is given as; None if it is not."""
        if slot.leg is None:
            return self.common.get(slot.name)
        if slot.name == "until":
            return self._until(slot.leg)
        return self.legs[slot.leg].own.get(slot.name)

    def _until(self, leg: int) -> float:
        until = self.legs[leg].until
        return self.ends if until is None else until

    def missing(self, found: Sequence[Slot] = ()) -> list[Slot]:
        """The parameters that have no value, besides those that will be found."""
        wanted = [self.slot(place, name) for place, leg in enumerate(self.legs)
                  for name in leg.law.needs]  # fmt: skip
        wanted += [Slot(0, name) for name in self.legs[0].law.starts]
        wanted += [
            Slot(place, "restitution")
            for place, leg in enumerate(self.legs)
            if leg.normal is not None
        ]
        return [
            one for one in dict.fromkeys(wanted) if self.value(one) is None and one not in found
        ]

    def solve(self, values: Mapping[Slot, FloatArray] | None = None, k: int = 1) -> Solved:
        """Solve it for a batch of values ``(k,)`` each; the others are as given.

        Raises
        ------
        MotionStopped : with the leg and the time at which it stopped.
        """
        tried = values or {}
        borders = [np.full(k, self.began)]
        motions: list[Motion] = []
        state = np.zeros((k, 4))
        for place, leg in enumerate(self.legs):
            given = {name: self._batch(place, name, tried, k) for name in leg.names}
            known = {name: value for name, value in given.items() if value is not None}
            state = _begun(leg, state, known, tried, place, k)
            until = self._batch(place, "until", tried, k)
            assert until is not None
            until = np.maximum(until, borders[-1] + _LEAST)
            lasts = float(np.max(until - borders[-1]))
            begin = Begin(state, borders[-1], lasts, known, np.array(self.up))
            try:
                motion = leg.law.motion(begin)
                state = motion((until - borders[-1])[:, None])[:, 0]
            except MotionStopped as stopped:
                stopped.leg = place
                stopped.time = float(borders[-1][0]) + stopped.after
                raise
            motions.append(motion)
            borders.append(until)
        return Solved(np.stack(borders, axis=1), tuple(motions))

    def _batch(
        self, leg: int, name: str, tried: Mapping[Slot, FloatArray], k: int
    ) -> FloatArray | None:
        slot = self.slot(leg, name)
        if slot in tried:
            return tried[slot]
        value = self.value(slot)
        return None if value is None else np.full(k, value)


def _begun(
    leg: Leg,
    state: FloatArray,
    known: Mapping[str, FloatArray],
    tried: Mapping[Slot, FloatArray],
    place: int,
    k: int,
) -> FloatArray:
    """With what a leg begins: what it begins anew, and the rest from before, after its impact."""
    begun = state.copy()
    for axis, name in enumerate(START):
        anew = tried.get(Slot(place, name), known.get(name))
        if anew is not None:
            begun[:, axis] = anew
    if leg.normal is None:
        return begun
    nothing = np.zeros(k)
    restitution = known.get("restitution", np.ones(k))
    friction = known.get("contact_friction", nothing)
    return np.concatenate(
        [begun[:, :2], rebound(begun[:, 2:], np.array(leg.normal), restitution, friction)], axis=1
    )


def rebound(
    velocity: FloatArray, normal: FloatArray, restitution: FloatArray, friction: FloatArray
) -> FloatArray:
    """Velocities ``(k, 2)`` after an impact, of a body that does not turn.

    Along the normal it is turned round and lessened by the restitution; across it Coulomb's
    friction takes μ times the change along the normal, up to all of it.
    """
    out = normal / np.hypot(*normal)
    along = velocity @ out
    across = velocity - along[:, None] * out
    fast = np.hypot(*across.T)
    change = (1 + restitution) * np.abs(along)
    kept = np.maximum(1 - friction * change / np.where(fast > 0, fast, 1.0), 0.0)
    return np.asarray(across * kept[:, None] - (restitution * along)[:, None] * out)
