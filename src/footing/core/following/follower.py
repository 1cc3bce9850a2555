"""Following one body from frame to frame.

A follower holds references: the patches around marks that were made by hand, and one that adapts.
The adapting one is a running mean in the coordinates of its reference; it finds the body however
its looks change. Where the reference itself still fits, it has the last word on the place, so that
the marks cannot drift away unnoticed. In each frame the place is foreseen from the motion so far,
the area around it is searched, and the best places are laid exactly.
"""

from dataclasses import dataclass, replace

import numpy as np

from footing.core.arrays import FloatArray, Image
from footing.core.errors import Refused
from footing.core.following.background import moved_on
from footing.core.following.laying import Laid, lay, seen
from footing.core.following.patches import Patch, Point, Pose
from footing.core.following.prediction import Course
from footing.core.following.searching import peaks
from footing.core.following.streaks import Grey

STOP_LEVEL = 0.6
_LEAST_HOLD = 0.3  # grey levels/px that a patch must have in every direction
_REACHES = (14, 17, 20, 24, 29, 35)  # px, tried one after the other
_GOOD_HOLD = 1.0
_ADAPTS = 0.18
_NOISE = 9.0  # grey levels squared, under which no pixel counts more
_SLIPS = 0.5  # px
_LEARNS = 0.2  # how fast the weights learn
_ALIKE = 0.12  # how much better a place must be than its rival to be sure
_RIVAL = 0.7  # share of the best peak's height, from which another is a rival
_STRAY = 0.4  # most that being far from what was foreseen costs
_STRAY_WIDE = 0.15  # the same, where it may have bounced
_NARROWEST = 8  # px, half width of the search area
_WIDENS = 0.35  # of the speed
_HEARD, _LAST_WORD = 0.75, 0.92  # scores from which the reference has a say, and all of it
_ROUNDS_THEN = 2  # from a place that is nearly right
_STEADY = 2.5  # px from the foreseen place, within which a search is spared
_SURE_SHARE = 0.95  # of the usual score
_HEARD_EVERY = 3  # frames, while all is as foreseen
_QUARREL = 3.0  # px by which the two differ where the quality is halved
_USUAL = 0.9  # share of the usual score that is still as usual
_SHUTTERS = (0.0, 0.25, 0.5, 0.75, 1.0)  # shares of a frame's time
_SHORT = 3.0  # px; streaks that differ by less are alike
_KEEPS = 0.8  # of what was known about the shutter
_LEARNING, _SELDOM = 4, 6  # frames at first, and one in how many later, in which it is looked at
_SURELY, _AS_USUAL = 0.85, 0.85  # scores, and shares of the usual one
_AWAY = 4.0  # reaches from a reference, from which its place is free again
_RESTS = 1.0  # px
_BOUNCE = 2.3  # times the speed
_REFERENCES = 3  # the latest, that are tried where the adapting patch fails


@dataclass(frozen=True)
class Sighting:
    """Where a body was found in a frame, with a quality from 0 to 1.

    score : how well the patch fits; the quality also counts rivals and what is unusual
    looks : the adapting patch as it lies there, if it does
    """

    pose: Pose
    score: float
    quality: float
    looks: Laid | None

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
    course: Course
    velocity: FloatArray | None
    settled: bool = False


def fitting_reach(frame: Image, at: Point) -> int:
    """Half the side of a patch that holds firmly around a place: the smallest that does."""
    for reach in _REACHES:
        if Patch.around(frame, at, reach=reach).hold >= _GOOD_HOLD:
            return reach
    return _REACHES[-1]


class Follower:
    """Follows one body.

    Parameters
    ----------
    frame : grey, ``(height, width)``, with the body at ``at`` (pixels), as frame ``number``
    reach : pixels of the patch on each side of its middle; chosen by what is there if not given
    search : pixels around the foreseen place that are searched at most

    Raises
    ------
    Refused : if there is nothing at this place that could be told from its surroundings.
    """

    def __init__(
        self,
        frame: Image,
        at: Point,
        number: int,
        *,
        reach: int | None = None,
        search: int | None = None,
    ) -> None:
        self.reach = reach or fitting_reach(frame, at)
        self.search = search or max(round(0.06 * max(frame.shape)), 40)
        self._is_chosen = search is not None
        self.course = Course()
        self._references: list[_Reference] = []
        self._shutter = dict.fromkeys(_SHUTTERS, 0.0)
        self._tried = 0
        self._unheard = 0
        self.believe(frame, at, number)

    def believe(self, frame: Image, at: Point, number: int) -> None:
        """Take a mark that was made by hand: it is where the body is, and how it looks."""
        patch = Patch.around(frame, at, reach=self.reach)
        if patch.hold < _LEAST_HOLD:
            raise Refused(
                f"There is nothing to hold on to at ({at[0]:.0f}, {at[1]:.0f}); choose a spot with "
                "an edge or a pattern, or a larger patch.",
                field="mark",
            )
        expected = (
            self.course.frames
            and np.hypot(*np.subtract(at, self.course.foreseen(number)[0])) <= self.reach
        )
        self.course.add(number, at)
        if not expected:
            self.course.forget()
        velocity = self.course.velocity(number) if expected else None
        self._references.append(_Reference(patch, at, replace(self.course), velocity))
        self._adapting = patch
        self._spread: Grey = np.full_like(patch.grey, _NOISE)
        self._pose = Pose(*at)
        self._turning = 0.0
        self._usual = 0.9
        self._sure = (self._pose, replace(self.course), 0.0)

    @property
    def at_rest(self) -> bool:
        """Whether the body is still where its latest reference was."""
        return _apart(self._pose, Pose(*self._references[-1].at)) < _RESTS

    @property
    def settled(self) -> bool:
        """Whether it is known what of the latest reference is background, or cannot be known."""
        return self._references[-1].settled

    def guess(self, later: Image) -> None:
        """Guess from a later frame what of the latest reference is background.

        The body may still be near; but what has not changed at all in its place is no body.
        """
        reference = self._references[-1]
        weights = moved_on(reference.patch, later, reference.at)
        if weights is not None:
            reference.patch = replace(reference.patch, weights=weights)
            self._adapting = reference.patch

    def settle(self, frame: Image) -> bool:
        """Find out what of the latest reference is background, once the body is away from there.

        What looks the same in its place then as before was background. True if that is known now.
        """
        reference = self._references[-1]
        if _apart(self._pose, Pose(*reference.at)) < _AWAY * self.reach:
            return False
        reference.settled = True
        weights = moved_on(reference.patch, frame, reference.at)
        if weights is None:
            return False
        reference.patch = replace(reference.patch, weights=weights)
        return True

    def go_back(self) -> None:
        """Go back to the latest reference, to go on from there with what is known now."""
        reference = self._references[-1]
        self._adapting = reference.patch
        self._spread = np.full_like(reference.patch.grey, _NOISE)
        self._pose, self._turning = Pose(*reference.at), 0.0
        self.course = replace(reference.course)
        self._sure = (self._pose, replace(self.course), 0.0)
        reference.velocity = None

    def is_back(self, sighting: Sighting) -> bool:
        """Whether a body that was not found before is surely what was sighted."""
        return sighting.score >= min(_SURELY, _AS_USUAL * self._usual)

    def foreseen(self, number: int) -> tuple[Pose, int]:
        """Where the body should be in a frame, and how many pixels around it are searched."""
        (x, y), error = self.course.foreseen(number)
        speed = self.course.speed
        radius = self.search
        if speed is not None:
            radius = min(self.search, round(_NARROWEST + 2.5 * error + _WIDENS * speed))
        return replace(self._pose, x=x, y=y, turn=self._pose.turn + self._turning), radius

    @property
    def _widest(self) -> int:
        """How far is searched at most: as far as was chosen, or as a bounce could throw it."""
        if self._is_chosen:
            return self.search
        thrown = round(_BOUNCE * (self.course.speed or 0.0))
        return max(self.search, min(thrown, 3 * self.search))

    def look(self, frame: Image, number: int, *, wide: bool = False) -> Sighting | None:
        """Look for the body in a frame; None where nothing like it is near the foreseen place.

        Nothing is learnt from it until it is taken. ``wide`` searches as far as is allowed.
        """
        near, radius = self.foreseen(number)
        if wide:
            radius = self._widest
        elif (straight := self._straight(frame, near)) is not None:
            self._unheard = (self._unheard + 1) % _HEARD_EVERY
            return straight if self._unheard else self._with_last_word(frame, number, straight)
        stray = _STRAY_WIDE if wide else _STRAY
        found = self._best(frame, self._adapting, near, radius, stray=stray)
        if found is not None and found.quality >= STOP_LEVEL:
            return self._with_last_word(frame, number, found)
        for reference in self._references[-_REFERENCES:]:
            patch, streak = self._crossed(reference, number, near, self._best_shutter)
            other = self._best(frame, patch, replace(near, size=1.0), radius, streak=streak)
            if other is not None and (found is None or other.quality > found.quality):
                found = replace(other, looks=seen(self._adapting, frame, other.pose))
        return found

    def take(self, sighting: Sighting, number: int) -> None:
        """Believe a sighting: go on from there, and adapt."""
        turned = sighting.pose.turn - self._pose.turn
        steps = max(abs(number - self.course.frames[-1]), 1)
        self._usual = 0.8 * self._usual + 0.2 * sighting.score
        self._turning = 0.5 * self._turning + 0.5 * turned / steps
        as_usual = sighting.score >= _SURE_SHARE * self._usual
        if as_usual:
            self._sure = (sighting.pose, replace(self.course), self._turning)
            self._sure[1].add(number, sighting.place)
        self._pose = sighting.pose
        self.course.add(number, sighting.place)
        first = self._references[-1]
        if first.velocity is None:
            first.velocity = self.course.velocity(number)
        laid = sighting.looks
        if laid is None or not as_usual:  # what partly covers it is not learnt
            return
        known = laid.inside
        share = np.where(known, _ADAPTS, 0.0).astype(np.float32)
        grey = self._adapting.grey + share * (laid.seen - self._adapting.grey)
        learns = max(_LEARNS, 1 / (1 + len(self.course.frames)))
        learnt = (1 - learns) * self._spread + learns * laid.squares
        self._spread = np.where(known, learnt, self._spread).astype(np.float32)
        patch = first.patch
        # at an edge, a small error of the place alone makes a difference
        excused = _NOISE + (_SLIPS * patch.steepness) ** 2
        trust = 1 / (1 + np.maximum(self._spread - excused, 0) / (2 * _NOISE))
        weights = (patch.weights * trust).astype(np.float32)
        self._adapting = Patch(grey.astype(np.float32), patch.spot, weights)

    def fall_back(self) -> None:
        """Forget the latest sightings that were unlike the usual: it was about to be hidden."""
        pose, course, self._turning = self._sure
        self._pose, self.course = pose, replace(course)

    def _straight(self, frame: Image, near: Pose) -> Sighting | None:
        """The body just where it was foreseen, looking as usual; this spares the search."""
        if self.course.speed is None or self.course.surprise > _STEADY:
            return None
        laid = lay(self._adapting, frame, near, rounds=1)
        if laid is None or laid.score < _SURE_SHARE * self._usual:
            return None
        if _apart(laid.pose, near) > _STEADY:
            return None
        return Sighting(laid.pose, laid.score, laid.score, None)

    def _best(
        self,
        frame: Image,
        patch: Patch,
        near: Pose,
        radius: int,
        *,
        streak: FloatArray | None = None,
        stray: float = _STRAY,
    ) -> Sighting | None:
        """The best place of a patch, and how sure it is beside its rivals."""
        allowance = 0.3 * radius + 2.0
        valued: list[tuple[float, Laid]] = []
        best = 0.0
        for peak in peaks(frame, patch, near, radius=radius):
            best = max(best, peak.score)
            if peak.score < _RIVAL * best:
                break
            laid = lay(patch, frame, peak.pose, streak=streak)
            if laid is None:
                continue
            cost = min(stray, 0.25 * (_apart(laid.pose, near) / allowance) ** 2)
            if all(_apart(laid.pose, other.pose) > 3 for _, other in valued):
                valued.append((laid.score - cost, laid))
        if not valued:
            return None
        valued.sort(key=lambda one: one[0], reverse=True)
        value, laid = valued[0]
        sure = 1.0
        if len(valued) > 1:
            sure = float(np.clip((value - valued[1][0]) / _ALIKE, 0.0, 1.0))
        score = max(laid.score, 0.0)
        quality = score * (0.5 + 0.5 * sure) * min(1.0, score / (_USUAL * self._usual))
        return Sighting(laid.pose, score, quality, laid)

    def _with_last_word(self, frame: Image, number: int, found: Sighting) -> Sighting:
        """Place a sighting by the reference, as far as that still looks like the body."""
        reference = self._references[-1]
        if self._streaks_differ(reference, number):
            self._tried += 1
            if self._tried <= _LEARNING or self._tried % _SELDOM == 0:
                self._learn_shutter(frame, number, found.pose, reference)
        laid = self._by_reference(frame, number, found.pose, reference, self._best_shutter)
        if laid is None:
            return replace(found, looks=seen(self._adapting, frame, found.pose))
        share = float(np.clip((laid.score - _HEARD) / (_LAST_WORD - _HEARD), 0.0, 1.0))
        quarrel = _apart(laid.pose, found.pose) / _QUARREL
        quality = share * laid.score + (1 - share) * found.quality / (1 + (share * quarrel) ** 2)
        pose = _between(found.pose, laid.pose, share)
        return replace(found, pose=pose, quality=quality, looks=seen(self._adapting, frame, pose))

    def _learn_shutter(self, frame: Image, number: int, pose: Pose, reference: _Reference) -> None:
        for shutter, known in self._shutter.items():
            tried = self._by_reference(frame, number, pose, reference, shutter)
            score = tried.score if tried else 0.0
            self._shutter[shutter] = _KEEPS * known + (1 - _KEEPS) * score

    def _by_reference(
        self, frame: Image, number: int, pose: Pose, reference: _Reference, shutter: float
    ) -> Laid | None:
        patch, streak = self._crossed(reference, number, pose, shutter)
        trusted = self._adapting.weights
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
