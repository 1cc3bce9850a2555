"""One account of where a body went, and what speaks for it so far."""

from copy import copy
from statistics import median

import numpy as np

from footing.core.arrays import Image
from footing.core.following.candidate import ALONE, FORESEEN, Candidate, Known
from footing.core.following.look import Sighting
from footing.core.following.patches import Point
from footing.core.following.placing import RECOGNISED
from footing.core.following.proposing import candidates
from footing.core.following.review import strays
from footing.core.following.target import Target

_FOR_A_PARABOLA, _BENT = 6, 0.5  # frames, and px for each frame that a parabola goes back
_MEETS_LEAST, _MEETS = 4.0, 0.6  # px, and share of the radius: ways that meet
_LOST = 2  # frames without it, after which it may
_LEAPS = -2.8  # evidence of motion, under which one frame without it is enough
_SLOW = 1.5  # px/frame, under which what was lost may rest where it is found
_KNOWN_AT_REST = 1.3  # evidence of look, with which it may stop
_HISTORY = 45  # frames
_LATELY = 24  # frames
_AROUND, _FOR_A_SCATTER = 8, 3  # frames
_STRAYS, _STRAYS_SHARE = 1.5, 0.04  # px, and share of the radius, by which a way strays


class Hypothesis:
    """One account: what it takes the body for, where that was, and its evidence so far.

    found : what was found since it was last agreed on
    gap : the first and the last frame of those lately in which it was not seen
    since : frames in which it was seen after that
    left, left_speed : where it was seen last before, px, and px/frame there, or before it halted
    history : what was found lately
    covered : whether there was nothing but the still background where it should have been
    shares : whether another body is followed on the same thing, and more like it
    unproven : the frame from which it is not known to be the same, after it was found elsewhere
        or halted, and where that was, px
    contested : the frame from which on another account was as likely, which saw it elsewhere
    """

    def __init__(self, target: Target) -> None:
        self.target = target
        self.score = 0.0
        self.found: tuple[Known, ...] = ()
        self.gap: tuple[int, int] | None = None
        self.since = 0
        self.left: Point | None = None
        self.left_speed = 0.0
        self.unproven: tuple[int, Point] | None = None
        self.contested: int | None = None
        self.shares = False
        self.covered = False
        self.history: tuple[Known, ...] = ()

    @property
    def unseen(self) -> int:
        """Frames since it was seen last."""
        return self.target.unseen

    @property
    def at(self) -> Point:
        """Where it was seen last, px."""
        return self.target.look.course.places[-1]

    @property
    def usual(self) -> float:
        """How much it looks like itself usually: a score."""
        return self.target.look.usual

    def foreseen(self, number: int) -> Point:
        """Where it should be in a frame, px."""
        return self.target.look.course.foreseen(number)[0]

    @property
    def proven(self) -> bool:
        """Whether it is known to be the same."""
        return self.unproven is None

    def is_believed(self, number: int) -> bool:
        """Whether what it sees in a frame is known to be the body, and no other like it."""
        doubts = [] if self.contested is None else [self.contested]
        if self.unproven is not None:
            doubts.append(self.unproven[0])
        last = self.target.look.course.frames[-1]
        return all((number - since) * (1 if last >= since else -1) < 0 for since in doubts)

    def contest(self, since: int) -> None:
        """Doubt what it saw from a frame on, and where it was not seen just before that."""
        if self.contested is not None:
            return
        last = self.history[-1].frame
        for known in reversed(self.history):
            if abs(last - known.frame) <= abs(last - since):
                continue
            if known.place is not None:
                break
            since = known.frame
        self.contested = since

    def scatter(self, number: int) -> float | None:
        """How far places around a frame are from where their course led, px: the median of them.

        It is large where a film is so compressed that the picture jumps, or where what is followed
        is hardly told from its background. None if it is not known.
        """
        if not self.history:
            return None
        # each frame has one place at most, so that none before these is near
        first = len(self.history) - 1 - abs(self.history[-1].frame - number) - _AROUND
        around = [
            known.grounds.innovation
            for known in self.history[max(first, 0) :]
            if abs(known.frame - number) <= _AROUND and known.grounds.innovation is not None
        ]
        return median(around) if len(around) >= _FOR_A_SCATTER else None

    def believe(self, frame: Image, at: Point, number: int) -> Point:
        """Take a mark that was made by hand; return what is followed for it."""
        self.target = copy(self.target)
        self.target.look = copy(self.target.look)
        held = self.target.believe(frame, at, number)
        # a hand knows that it is the same, whatever was in doubt before
        self.gap, self.since, self.unproven, self.contested = None, 0, None, None
        self.found, self.score = (), 0.0
        return held

    def candidates(self, frame: Image, number: int) -> list[Candidate]:
        """Where it may be in a frame, the likeliest first; the last is that it is not seen."""
        return candidates(self.target, frame, number)

    def child(self, number: int, chosen: Candidate) -> "Hypothesis":
        """This account, gone on with one candidate."""
        before = self.target
        new = copy(self)
        new.target = before.after(number, chosen)
        new.score += chosen.evidence
        new.found = (*self.found, Known(number, chosen, before.grounds(number, chosen)))
        new.history = (*self.history, new.found[-1])[-_HISTORY:]
        if chosen.sighting is None:
            if self.gap is None:
                new.left = self.at
                new.left_speed = before.look.course.speed or 0.0
                new.covered = before.is_covered(number)
            new.gap = (number if self.gap is None else self.gap[0], number)
            new.since = 0
            return new
        new.since += 1
        leaps = chosen.motion < _LEAPS
        if chosen.anew:
            new.target.look.course.forget()
        lost = before.unseen >= _LOST or (before.unseen and leaps)
        if chosen.anew or (lost and not chosen.agreed):
            new.unproven = (number, chosen.sighting.place)
        halt = new.target.look.course.halt
        if new.proven and halt is not None and chosen.look < _KNOWN_AT_REST:
            # a still thing that it passed; what a codec left of it there stands out, too
            new.unproven = (halt.since, chosen.sighting.place)
            new.left_speed = halt.speed
        if new.unproven is not None and new._is_recognised(chosen, chosen.sighting):
            new.unproven = None
        new.target.look.trusting = new.proven
        return new

    def _is_recognised(self, chosen: Candidate, sighting: Sighting) -> bool:
        """Whether it is known again by its first look, and is not a still thing like it."""
        if sighting.known < RECOGNISED or chosen.look < ALONE:
            return False
        assert self.unproven is not None
        moved = float(np.hypot(*np.subtract(sighting.place, self.unproven[1])))
        moves_again = moved >= self.target.size or self.left_speed < _SLOW
        return chosen.motion >= -FORESEEN and moves_again

    def filled(self) -> list[Known]:
        """The frames of its gap, gone through backward from where it was found again.

        Nothing, unless that way comes to where it was seen before.
        """
        assert self.gap is not None
        first, last = self.gap
        way = 1 if self.target.look.course.frames[-1] > last else -1
        account = self._gone_back(last + way, first)
        (x, y), error = account.target.look.course.foreseen(first - way)
        if self.left is None:
            return []
        away = float(np.hypot(x - self.left[0], y - self.left[1]))
        enough = max(_MEETS_LEAST, _MEETS * self.target.size, min(error, self.target.size))
        return [known for known in account.found if known.place] if away <= enough else []

    def seen_backward(self, last: int, first: int) -> tuple[Known, ...]:
        """What it is found to be, going back from a frame in which it was seen to another."""
        return self._gone_back(last, first).found

    def _gone_back(self, last: int, first: int) -> "Hypothesis":
        """The account that goes back from a frame of its course, down to another."""
        way = 1 if last >= first else -1
        account = copy(self)
        account.target = self.target.backward(last)
        account.gap, account.found = None, ()
        for number in range(last - way, first - way, -way):
            before = self.target.scene.back(number)
            if before is None:
                continue
            account.target.scene, picture = before
            candidates = account.candidates(picture.grey, number)
            account = account.child(number, max(candidates, key=lambda one: one.evidence))
        return account

    @property
    def goes_on(self) -> bool:
        """Whether it went on lately as it moved before: on one parabola, as nearly as it is seen.

        Of two that look alike and meet, each is likelier to go on than to turn round.
        """
        most = max(_STRAYS, _STRAYS_SHARE * self.target.size)
        return strays(self.history[-_LATELY:]) <= most

    @property
    def came_from_there(self) -> bool:
        """Whether its course since it was seen again, carried back, comes to where it was left.

        What flies keeps its acceleration, so that a parabola tells.
        """
        if self.gap is None or self.left is None:
            return False
        first, last = self.gap
        way = 1 if last >= first else -1
        since = [k for k in self.history[-self.since :] if k.candidate.blob is not None]
        if len(since) < _FOR_A_PARABOLA:
            return False
        frames = np.array([known.frame for known in since]) - (first - way)
        places = np.array([known.place for known in since])
        back = np.polyfit(frames, places, 2)[-1]
        enough = max(2 * self.target.size, _MEETS_LEAST) + _BENT * (abs(last - first) + 1)
        return float(np.hypot(*(back - self.left))) <= enough
