"""The first witness: how a body looks.

References are the patches around marks that were made by hand; an adapting patch is a running mean
in the coordinates of its reference, and finds the body however its looks change. Where the
reference itself still fits, it has the last word on the place, so that the marks cannot drift away
unnoticed.
"""

from copy import copy
from dataclasses import dataclass, replace

import numpy as np

from footing.core.arrays import FloatArray, Image
from footing.core.following.background import body_weights
from footing.core.following.laying import Laid, lay, seen
from footing.core.following.patches import BEYOND, Patch, Point, Pose
from footing.core.following.prediction import Course
from footing.core.following.scene import Changed
from footing.core.following.searching import peaks
from footing.core.following.streaks import Grey

_REACHES = (14, 17, 20, 24, 29, 35)  # px, tried one after the other
_GOOD_HOLD = 1.0
LEAST_HOLD = 0.3  # grey levels/px that a patch must have in every direction
_ADAPTS, _ADAPTS_FAST = 0.18, 0.5
_NOISE = 9.0  # grey levels squared, under which no pixel counts more
_SLIPS = 0.5  # px
_LEARNS = 0.2  # how fast the weights learn
_RIVAL = 0.7  # share of the best peak's height, from which another is a rival
_HEARD, _LAST_WORD = 0.75, 0.92  # scores from which the reference has a say, and all of it
_ROUNDS_THEN = 2  # from a place that is nearly right
_STEADY = 2.5  # px from the foreseen place, within which a search is spared
_SURE_SHARE = 0.95  # of the usual score
_HEARD_EVERY = 3  # frames, while all is as foreseen
_SHUTTERS = (0.0, 0.25, 0.5, 0.75, 1.0)  # shares of a frame's time
_SHORT = 3.0  # px; streaks that differ by less are alike
_KEEPS = 0.8  # of what was known about the shutter
_LEARNING, _SELDOM = 4, 6  # frames at first, and one in how many later, in which it is looked at
_FIRST_UNSTEADY, _LEAST_UNSTEADY = 0.06, 0.02  # deviation of the score
_REFERENCES = 3  # the latest, that are tried where the adapting patch fails
_ANCHOR = 0.1  # of its turn and growth, that a body loses in a frame where no reference is known
_AWAY = 4.0  # reaches from a reference, from which its place is free again


@dataclass(frozen=True)
class Sighting:
    """Where something in a frame looks like the body.

    score : weighted correlation with the patch that found it
    looks : the adapting patch as it lies there, if it does
    known : how far a reference was recognised there, 0 … 1
    """

    pose: Pose
    score: float
    looks: Laid | None
    known: float = 0.0

    @property
    def place(self) -> Point:
        """In pixels."""
        return self.pose.x, self.pose.y


@dataclass
class _Reference:
    """The patch of a mark that is believed, where it was, and how the body came there.

    velocity : px for each frame, None while it is unknown
    settled : whether it was found out what of it is background, or cannot be
    """

    patch: Patch
    at: Point
    velocity: FloatArray | None
    settled: bool = False


def fitting_reach(frame: Image, at: Point) -> int:
    """Half the side of a patch that holds firmly around a place: the smallest that does."""
    for reach in _REACHES:
        if Patch.around(frame, at, reach=reach).hold >= _GOOD_HOLD:
            return reach
    return _REACHES[-1]


class Look:
    """How one body looks, and where it was so far.

    trusting : whether what was learnt lately of its pixels is surely of this body

    Its parts are replaced and never changed, so that a copy is cheap: `copy.copy` gives one that
    can go another way.
    """

    def __init__(self, reach: int) -> None:
        self.reach = reach
        self.course = Course()
        self.usual = 0.9
        self.unsteady = _FIRST_UNSTEADY
        self.trusting = True
        self._references: tuple[_Reference, ...] = ()
        self._shutter = dict.fromkeys(_SHUTTERS, 0.0)
        self._tried = 0
        self._unheard = 0
        self._pose = Pose(0, 0)
        self._turning = 0.0

    def believe(self, frame: Image, at: Point, number: int, changed: Changed | None) -> None:
        """Take a mark that was made by hand: it is where the body is, and how it looks."""
        patch = Patch.around(frame, at, reach=self.reach)
        expected = (
            self.course.frames
            and np.hypot(*np.subtract(at, self.course.foreseen(number)[0])) <= self.reach
        )
        self.course = replace(self.course)
        self.course.add(number, at)
        if not expected:
            self.course.forget()
        velocity = self.course.velocity(number) if expected else None
        weights = None if changed is None else body_weights(patch, changed, there=True)
        if weights is not None:
            patch = replace(patch, weights=weights)
        reference = _Reference(patch, at, velocity, weights is not None)
        self._references = (*self._references, reference)[-_REFERENCES:]
        self._adapting = patch
        self._spread: Grey = np.full_like(patch.grey, _NOISE)
        self._pose = Pose(*at)
        self._turning = 0.0
        self.usual = 0.9
        self.unsteady = _FIRST_UNSTEADY

    @property
    def hold(self) -> float:
        """How firmly the latest reference can be placed, grey levels/px."""
        return self._references[-1].patch.hold

    @property
    def latest(self) -> tuple[int, int, int]:
        """Where the latest reference was, and how far around it its patch knows: x, y, reach."""
        x, y = self._references[-1].at
        return round(x), round(y), self.reach + BEYOND

    @property
    def unsettled(self) -> bool:
        """Whether its reference's background may be learnt now: the body has left its place."""
        reference = self._references[-1]
        away = np.hypot(*np.subtract(self.course.places[-1], reference.at))
        return not reference.settled and bool(away >= _AWAY * self.reach)

    def settle(self, changed: Changed) -> None:
        """Learn what of the latest reference is background, from what is in its place now."""
        reference = self._references[-1]
        weights = body_weights(reference.patch, changed, there=False)
        patch = reference.patch if weights is None else replace(reference.patch, weights=weights)
        settled = replace(reference, patch=patch, settled=True)
        self._references = (*self._references[:-1], settled)

    def backward(self, first: int) -> "Look":
        """The same, to be looked for backward from a frame on that it was found in lately."""
        new = copy(self)
        new.course = self.course.backward(first)
        new._turning = -self._turning
        return new

    def foreseen(self, number: int) -> Pose:
        """Where the body should be in a frame, and how it should lie there."""
        (x, y), _ = self.course.foreseen(number)
        return replace(self._pose, x=x, y=y, turn=self._pose.turn + self._turning)

    def straight(self, frame: Image, number: int) -> Sighting | None:
        """The body just where it was foreseen, looking as usual; this spares the search."""
        if self.course.speed is None or self.course.surprise > _STEADY:
            return None
        near = self.foreseen(number)
        laid = lay(self._adapting, frame, near, rounds=1)
        if laid is None or laid.score < _SURE_SHARE * self.usual or laid.score < _HEARD:
            return None
        if _apart(laid.pose, near) > _STEADY:
            return None
        self._unheard = (self._unheard + 1) % _HEARD_EVERY
        found = Sighting(laid.pose, laid.score, None, 1.0)
        return found if self._unheard else self.by_reference(frame, number, found)

    def sightings(self, frame: Image, number: int, radius: int) -> list[Sighting]:
        """Places around the foreseen one that look like the body, the most alike first."""
        near = self.foreseen(number)
        found = self._found(frame, self._adapting, near, radius)
        if not found or found[0].score < _LAST_WORD * self.usual:
            for reference in self._references:
                patch, streak = self._crossed(reference, number, near, self._best_shutter)
                upright = replace(near, size=1.0)
                for other in self._found(frame, patch, upright, radius, streak=streak):
                    if all(_apart(other.pose, one.pose) > 3 for one in found):
                        looks = seen(self._adapting, frame, other.pose)
                        found.append(replace(other, looks=looks))
        return sorted(found, key=lambda one: one.score, reverse=True)

    def at(self, frame: Image, number: int, place: Point) -> Sighting:
        """How much a place looks like the body, if it is there."""
        pose = replace(self.foreseen(number), x=place[0], y=place[1])
        looks = seen(self._adapting, frame, pose)
        return Sighting(pose, looks.score, looks)

    def upright_at(self, frame: Image, place: Point) -> Sighting:
        """The same for a body that is neither turned nor grown."""
        pose = Pose(*place)
        looks = seen(self._adapting, frame, pose)
        return Sighting(pose, looks.score, looks)

    def nearby(self, frame: Image, number: int, place: Point) -> Sighting | None:
        """Where near a place it looks most like the body."""
        pose = replace(self.foreseen(number), x=place[0], y=place[1])
        laid = lay(self._adapting, frame, pose)
        return None if laid is None else Sighting(laid.pose, laid.score, laid)

    def by_reference(self, frame: Image, number: int, found: Sighting) -> Sighting:
        """Place a sighting by the reference, as far as that still looks like the body."""
        reference = self._references[-1]
        if self._streaks_differ(reference, number):
            self._tried += 1
            if self._tried <= _LEARNING or self._tried % _SELDOM == 0:
                self._learn_shutter(frame, number, found.pose, reference)
        laid = self._laid(frame, number, found.pose, reference, self._best_shutter)
        if laid is None:
            return replace(found, looks=seen(self._adapting, frame, found.pose), known=0.0)
        share = float(np.clip((laid.score - _HEARD) / (_LAST_WORD - _HEARD), 0.0, 1.0))
        pose = _between(found.pose, laid.pose, share)
        score = max(found.score, laid.score)
        looks = seen(self._adapting, frame, pose)
        return replace(found, pose=pose, score=score, looks=looks, known=share)

    def take(self, sighting: Sighting, number: int, *, vouched: bool, pure: bool) -> None:
        """Believe a sighting: go on from there, and adapt.

        ``vouched`` says that another witness knows it is the body, however it looks; ``pure`` that
        nothing else is one piece with it, which would be learnt.
        """
        score = max(sighting.score, 0.0)
        off = abs(score - self.usual)
        self.unsteady = max(0.85 * self.unsteady + 0.15 * 1.25 * off, _LEAST_UNSTEADY)
        self.usual = 0.8 * self.usual + 0.2 * score
        self.go_on(sighting, number)
        self._adapt(sighting, vouched=vouched, pure=pure)

    def is_as_usual(self, sighting: Sighting) -> bool:
        """Whether it looks as it usually does there, so that nothing covers it."""
        return sighting.score >= _SURE_SHARE * self.usual

    def go_on(self, sighting: Sighting, number: int) -> None:
        """Go on from a sighting without learning how it looks there."""
        turned = sighting.pose.turn - self._pose.turn
        steps = max(abs(number - self.course.frames[-1]), 1)
        self._turning = 0.5 * self._turning + 0.5 * turned / steps
        pose = sighting.pose
        if sighting.known <= 0.0:
            pose = replace(pose, size=pose.size ** (1 - _ANCHOR), turn=pose.turn * (1 - _ANCHOR))
            self._turning *= 1 - _ANCHOR
        self._pose = pose
        self.course = replace(self.course)
        self.course.add(number, sighting.place)
        first = self._references[-1]
        if first.velocity is None and len(self.course.frames) > 1:
            first = replace(first, velocity=self.course.velocity(number))
            self._references = (*self._references[:-1], first)

    def _adapt(self, sighting: Sighting, *, vouched: bool, pure: bool) -> None:
        as_usual = self.is_as_usual(sighting)
        laid = sighting.looks
        if (
            laid is None or not pure or not (as_usual or vouched)
        ):  # what partly covers it is not learnt
            return
        known = laid.inside
        adapts = _ADAPTS if as_usual else _ADAPTS_FAST
        share = np.where(known, adapts, 0.0).astype(np.float32)
        grey = self._adapting.grey + share * (laid.seen - self._adapting.grey)
        learns = max(_LEARNS, 1 / (1 + len(self.course.frames)))
        learnt = (1 - learns) * self._spread + learns * laid.squares
        self._spread = np.where(known, learnt, self._spread).astype(np.float32)
        patch = self._references[-1].patch
        # at an edge, a small error of the place alone makes a difference
        excused = _NOISE + (_SLIPS * patch.steepness) ** 2
        trust = 1 / (1 + np.maximum(self._spread - excused, 0) / (2 * _NOISE))
        weights = (patch.weights * trust).astype(np.float32)
        self._adapting = Patch(grey.astype(np.float32), patch.spot, weights)

    def _found(
        self,
        frame: Image,
        patch: Patch,
        near: Pose,
        radius: int,
        *,
        streak: FloatArray | None = None,
    ) -> list[Sighting]:
        """The best places of a patch, and its rivals."""
        found: list[Sighting] = []
        best = 0.0
        for peak in peaks(frame, patch, near, radius=radius):
            best = max(best, peak.score)
            if peak.score < _RIVAL * best:
                break
            laid = lay(patch, frame, peak.pose, streak=streak)
            if laid is not None and all(_apart(laid.pose, one.pose) > 3 for one in found):
                found.append(Sighting(laid.pose, laid.score, laid))
        return found

    def _learn_shutter(self, frame: Image, number: int, pose: Pose, reference: _Reference) -> None:
        learnt = {}
        for shutter, known in self._shutter.items():
            tried = self._laid(frame, number, pose, reference, shutter)
            score = tried.score if tried else 0.0
            learnt[shutter] = _KEEPS * known + (1 - _KEEPS) * score
        self._shutter = learnt

    def _laid(
        self, frame: Image, number: int, pose: Pose, reference: _Reference, shutter: float
    ) -> Laid | None:
        patch, streak = self._crossed(reference, number, pose, shutter)
        trusted = self._adapting.weights if self.trusting else None
        return lay(patch, frame, pose, weights=trusted, streak=streak, rounds=_ROUNDS_THEN)

    def _crossed(
        self, reference: _Reference, number: int, pose: Pose, shutter: float
    ) -> tuple[Patch, FloatArray | None]:
        """A reference with the streak of this frame, and the streak of its own for the frame."""
        if shutter == 0.0 or not self._streaks_differ(reference, number):
            return reference.patch, None
        turned = np.linalg.inv(pose.matrix)
        here = shutter * turned @ self.course.velocity(number)
        return reference.patch.smeared(here), shutter * np.asarray(reference.velocity)

    def _streaks_differ(self, reference: _Reference, number: int) -> bool:
        if reference.velocity is None:
            return False
        change = np.abs(self.course.velocity(number)) - np.abs(reference.velocity)
        return bool(np.hypot(*change) > _SHORT / 0.5)

    @property
    def _best_shutter(self) -> float:
        return max(self._shutter, key=lambda share: self._shutter[share])


def _apart(one: Pose, other: Pose) -> float:
    return float(np.hypot(one.x - other.x, one.y - other.y))


def _between(one: Pose, other: Pose, share: float) -> Pose:
    """A pose on the way from one to the other."""
    values = (
        (1 - share) * a + share * b
        for a, b in zip(
            (one.x, one.y, one.size, one.turn),
            (other.x, other.y, other.size, other.turn),
            strict=True,
        )
    )
    return Pose(*values)
