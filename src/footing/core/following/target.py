"""What is known of a body: its look, outline, colour, parts and course.

What the witnesses say of a place is in `weighing`, and where it may be in a frame in `proposing`.
"""

from copy import copy
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from footing.core.arrays import FloatArray, Image
from footing.core.following.candidate import Candidate, Grounds
from footing.core.following.likeness import Likeness
from footing.core.following.look import Look, Sighting
from footing.core.following.opacity import laid_disc
from footing.core.following.outline import Outline
from footing.core.following.parts import Parts
from footing.core.following.patches import BEYOND, Point, distance
from footing.core.following.pieces import Blob, share_moved
from footing.core.following.placing import HALF_RECOGNISED, RECOGNISED, mark_on
from footing.core.following.prediction import MEMORY
from footing.core.following.scene import Changed, Scene
from footing.core.following.streaks import Exposure
from footing.core.following.tint import Tint
from footing.core.following.touching import is_on, piece_marked

PRESENT = 0.45  # share of the usual change that is still a change
_STANDS_OUT = 0.3  # share of its place, that must usually not be the background
_KNOWN_CHANGE = 1  # frames in which it must have been seen before the background
_FIRST_ROOM = 120  # px around the first mark, in which its outline is looked for
_MIDDLE_OF_WHOLE = 0.3  # of the radius of a whole ball, within which its middle was marked
_ONE_THING = 1.0  # reaches, up to which what stands alone is the body and nothing with it
_SLOW = 1.5  # px/frame
_SURELY_LAID = 0.6  # support of a disc by which the first mark is measured again,
_REFINED = 0.3  # and share of its radius, by which that may differ from what was measured before
_KEPT, _KEPT_LEAST = 3.0, 24  # radii, and px, around the first mark, that are kept for it
_OF_A_BODY = 1.2  # of its longer side, around a spot on it: all of it
_ROUND, _ALL_ROUND = 0.8, 0.95  # support of a round thing, and of one that is a part of another
_NEARLY = 0.9  # px from its middle, within which a mark is of the middle nearly
_SETTLES, _SETTLED, _HELD = 6, 0.02, 0.25  # rounds, and px to which it is found, and rounded
_VOUCHES = 1.0  # evidence of change from which new looks are learnt
# radii around the mark that are sure to be the body; px at least, at most, and if none is known
_SURELY_BODY, _SMALLEST_DISC, _LARGEST_DISC, _UNKNOWN_DISC = 0.8, 5, 12, 10
_TURNED = 0.35  # rad, by which it no longer looks as it was marked


@dataclass(frozen=True)
class _FirstMark:
    """The mark that was made by hand, px, and what differed from the background around it.

    began : px from the middle of its outline, as it was first seen
    offset : px from the middle of the disc, if that was laid there
    """

    number: int
    at: Point
    changed: Changed
    began: Point
    offset: Point | None = None


class Target:
    """What is known of one body; it is copied and gone on with for each account of its way.

    unseen : frames since it was seen last
    unrecognised : frames since a look recognised its reference, and `turned` how it was turned
        then beside that, rad
    latest : what was chosen last
    middle_meant : whether the middle of a round part of something larger was marked
    usual_change : share of its place that is usually not the background, and `stood_out` the most
    rests_at : where it was seen to come to rest; None while it moves
    first : the mark that its outline began with; None if it began with one that was found
    likeness : how it looked at the latest mark by hand, in brightness and colour
    """

    def __init__(self, scene: Scene, reach: int, search: int, *, chosen: bool) -> None:
        self.scene = scene
        self.look = Look(reach)
        self.search = search
        self.chosen = chosen
        self.outline: Outline | None = None
        self.tint: Tint | None = None
        self.parts: Parts | None = None
        self.middle_meant = False
        self.usual_change = 0.0
        self.changes_seen = 0
        self.stood_out = 0.0
        self.rests_at: Point | None = None
        self.unseen = 0
        self.unrecognised = 0
        self.turned = 0.0
        self.latest: Candidate | None = None
        self.exposure = Exposure()
        self.first: _FirstMark | None = None
        self.likeness: Likeness | None = None

    def believe(self, frame: Image, marked: Point, number: int) -> Point:
        """Take a mark that was made by hand; return what is followed for it (see `_held`)."""
        at = self._held(marked)
        reach = self.look.reach
        changed = self.scene.changed(round(at[0]), round(at[1]), 3 * reach + _FIRST_ROOM)
        exact = self.scene.changed(*_around(at, reach))
        self.look.believe(frame, at, number, exact)
        self.unseen, self.unrecognised, self.turned, self.latest = 0, 0, 0.0, None
        self.look.trusting = True
        self.tint, self.outline, self.middle_meant = None, None, False
        self.first = None
        self.parts = None
        self.usual_change = 0.0 if changed is None else self.share_of(changed, at)
        self.changes_seen = int(self.usual_change > PRESENT)
        self.stood_out = self.usual_change
        self.rests_at = None
        x, y = (round(value) for value in at)
        self.likeness = self._likeness(at)
        if changed is None:
            return at
        alone, self.tint = piece_marked(changed, at, lambda room: self.scene.shown(x, y, room))
        if alone is not None:
            self.outline = Outline.begun(alone, at)
            self.likeness = self._likeness(at)
            around = changed.around(x, y, round(_KEPT * self.outline.radius) + _KEPT_LEAST)
            self.first = _FirstMark(number, at, around, self.outline.measured[0])
            apart = self.outline.within or self.tint is not None
            self.middle_meant = apart and self.outline.centred
            if self.outline.has_limbs:
                self.parts = Parts.begun(changed, alone, at, self.outline.radius)
            # as it will be looked for: of a small body, less of the place around it stands out
            self.usual_change = max(self.usual_change, self.share_of(changed, at))
            self.changes_seen = int(self.usual_change > PRESENT)
            self.stood_out = self.usual_change
        return at

    def _held(self, mark: Point) -> Point:
        """The middle of a round thing, if that is marked nearly; else the mark.

        So what becomes of the body does not depend on how exactly its middle was marked.
        """
        held = mark
        for _ in range(_SETTLES):
            x, y = (round(value) for value in held)
            changed = self.scene.changed(x, y, 3 * self.look.reach + _FIRST_ROOM)
            if changed is None:
                return mark
            alone, _ = piece_marked(changed, held, partial(self.scene.shown, x, y))
            disc = None if alone is None else alone.disc
            if alone is None or disc is None or distance(disc.centre, mark) > _NEARLY:
                return mark
            if disc.support < (_ALL_ROUND if alone.part else _ROUND):
                return mark  # it may be a spot on something
            settled = distance(disc.centre, held) < _SETTLED
            held = disc.centre
            if settled:
                break
        return round(held[0] / _HELD) * _HELD, round(held[1] / _HELD) * _HELD

    @property
    def holds(self) -> bool:
        """Whether there is anything to follow it by."""
        return self.outline is not None

    @property
    def stands_out(self) -> bool:
        """Whether it was seen before the still background."""
        return self.stood_out >= _STANDS_OUT

    @property
    def size(self) -> float:
        """Radius, px."""
        if self.outline is not None:
            return max(self.outline.radius, 2.0)
        return 0.6 * self.look.reach

    def after(self, number: int, chosen: Candidate) -> "Target":
        """With a candidate that is believed to be the body in a frame."""
        new = copy(self)
        new.look = copy(self.look)
        new.unrecognised = self._unrecognised_after(chosen)
        if chosen.sighting is None:
            new.unseen += 1
        else:
            if new.unrecognised == 0:
                new.turned = chosen.sighting.pose.turn
            new._learn(number, chosen, chosen.sighting)
        return new

    def grounds(self, number: int, chosen: Candidate) -> Grounds:
        """What a candidate in a frame rests on, besides its evidence."""
        outline, blob, sighting = self.outline, chosen.blob, chosen.sighting
        beside = None
        alone = outline is not None and blob is not None and not blob.cut and outline.may_be(blob)
        if alone and sighting is not None:
            assert outline is not None
            assert blob is not None
            beside = distance(outline.mark_of(blob.centre), sighting.place)
        return Grounds(
            unrecognised=self._unrecognised_after(chosen),
            beside=beside,
            radius=self.size,
            outlined=outline is not None,
            carried=outline is not None and (outline.carries or outline.within),
            innovation=None
            if sighting is None
            else self.look.course.innovation(number, sighting.place),
        )

    def _unrecognised_after(self, chosen: Candidate) -> int:
        sighting = chosen.sighting
        recognised = sighting is not None and sighting.known >= RECOGNISED
        return 0 if recognised else self.unrecognised + 1

    def is_covered(self, number: int) -> bool:
        """Whether it was seen before the background so far, and only that is there now."""
        if self.usual_change < PRESENT or self.look.course.speed is None:
            return False  # before it has moved, nobody knows where it should be
        x, y = self.look.course.foreseen(number)[0]
        changed = self.scene.changed(round(x), round(y), 2 * self.look.reach)
        return changed is not None and self.share_of(changed, (x, y)) < PRESENT * self.usual_change

    def backward(self, last: int) -> "Target":
        """The same, to be looked for backward from a frame on that it was found in lately."""
        new = copy(self)
        new.look = self.look.backward(last)
        # its places are told as in the present frame
        carried = self.scene.moved_back(last, new.look.course.places[-1])
        if carried != (0.0, 0.0):
            new.look.course = new.look.course.carried(carried)
        new.unseen = 0
        return new

    def alike(self, near: Sighting) -> Point | None:
        """Where near a place it looks just as it was marked; None where that tells nothing."""
        outline, likeness = self.outline, self.likeness
        if likeness is None or not likeness.speaks or abs(near.pose.turn) > _TURNED:
            return None
        if outline is not None:
            limbed = outline.may_have_limbs
            if limbed or outline.rolls or outline.rim.is_round:
                return None
        x, y = (round(value) for value in near.place)
        away = likeness.place(self.scene.shown(x, y, likeness.reach))
        return None if away is None else (x + away[0], y + away[1])

    def _likeness(self, at: Point) -> Likeness:
        """That of a mark in the present frame: of what is sure to be the body."""
        reach = _UNKNOWN_DISC
        if self.outline is not None:
            reach = round(_SURELY_BODY * self.outline.radius)
            reach = min(max(reach, _SMALLEST_DISC), _LARGEST_DISC)
        x, y = (round(value) for value in at)
        return Likeness.around(self.scene.shown(x, y, reach), (at[0] - x, at[1] - y))

    def _likeness_after(self, place: Point) -> Likeness | None:
        likeness = self.likeness
        if likeness is None or not likeness.learns:
            return likeness
        x, y = (round(value) for value in np.subtract(place, likeness.spot))
        return likeness.learnt(self.scene.shown(x, y, likeness.reach_learnt))

    def _learn(self, number: int, chosen: Candidate, sighting: Sighting) -> None:
        self.unseen = 0
        self.likeness = self._likeness_after(sighting.place)
        blob, outline = chosen.blob, self.outline
        # what is one piece with another may show that one
        mixed = outline is not None and blob is not None and not outline.may_be(blob)
        pure = not mixed or sighting.known >= HALF_RECOGNISED
        if self.parts is None and sighting.known >= RECOGNISED:
            self.parts = self._parts_found_later(chosen, sighting.place)
        if chosen.vote is not None and self.parts is not None:
            self._learn_parts(self.parts.learnt(chosen.vote), chosen, sighting.place)
        if chosen.vote is not None and not self.look.is_as_usual(sighting):
            self.look.go_on(sighting, number)  # a limb lies over the spot
        else:
            self.look.take(sighting, number, vouched=chosen.change >= _VOUCHES, pure=pure)
        if chosen.share is not None:
            self.usual_change = 0.8 * self.usual_change + 0.2 * chosen.share
            self.changes_seen += int(chosen.share > PRESENT)
            self.stood_out = max(self.stood_out, self.usual_change)
            here = chosen.share >= PRESENT * max(self.stood_out, _STANDS_OUT)
            # only what was seen to come, or will be seen to go, is neither for nor against it
            rests = not here and chosen.change == 0 and self.knows_background
            self.rests_at = sighting.place if rests else None
        disc = None if blob is None else blob.disc
        if disc is not None and disc.streak is not None:
            speed = float(np.hypot(*self.look.course.velocity(number)))
            self.exposure = self.exposure.after(disc.streak, speed)
        if outline is not None and outline.within and disc is None:
            self.outline = outline.doubted()
        elif blob is not None and not blob.cut:
            slow = (self.look.course.speed or 0.0) < _SLOW
            look = None if slow else chosen.by_look  # only what moves can roll
            if self._begins_with(blob, sighting.place):
                mark = mark_on(blob, sighting, meant=self.middle_meant)
                self.outline = Outline.begun(blob, mark)
                self.first = None
                self.tint = None if blob.free else self.tint
            elif outline is not None and outline.may_be(blob):
                turn = sighting.pose.turn if look is not None else 0.0
                first = self._first_offset(number, outline) if outline.measures_first else None
                self.outline = outline.learnt(blob, look, turn, first=first)
            elif outline is not None:
                self.outline = outline.beside_another(blob)
        self.latest = chosen
        if self.look.unsettled:
            free = self.scene.changed(*self.look.latest)
            if free is not None:
                self.look.settle(free)

    def _first_offset(self, number: int, outline: Outline) -> Point | None:
        """Where on the disc the first mark was, by the radius and the speed that are known now."""
        first = self.first
        if first is None:
            return None
        reached = abs(number - first.number) <= MEMORY  # its speed there is known
        if reached and outline.rim.radius is not None and outline.rim.is_sure:
            radius = outline.rim.radius
            near = first.at[0] - first.began[0], first.at[1] - first.began[1]
            disc = laid_disc(first.changed, near, radius, self.streak(first.number))
            # farther off it lies on what touches the body there, as on the hand that holds it
            if (
                disc is not None
                and disc.support >= _SURELY_LAID
                and distance(disc.centre, near) <= _REFINED * radius
            ):
                x, y = np.subtract(first.at, disc.centre)
                self.first = first = replace(first, offset=(float(x), float(y)))
        return first.offset

    def _learn_parts(self, parts: Parts, chosen: Candidate, spot: Point) -> None:
        blob, outline = chosen.blob, self.outline
        sure = chosen.by_firm_vote or chosen.by_look is not None
        if parts.worn and sure and blob is not None and outline is not None:
            x, y = (round(value) for value in spot)
            changed = self.scene.changed(x, y, parts.room)
            if changed is not None and not blob.cut and outline.is_itself(blob):
                parts = parts.renewed(changed, blob, spot)
        self.parts = parts

    def _parts_found_later(self, chosen: Candidate, spot: Point) -> Parts | None:
        """Those of a body with limbs of which too little stood out where it was marked."""
        blob, outline = chosen.blob, self.outline
        if blob is None or outline is None or not (outline.is_new and outline.has_limbs):
            return None
        told_apart = self.first is None or self.tint is not None or outline.within
        if told_apart or blob.cut or not outline.may_be(blob):
            return None
        x, y = (round(value) for value in spot)
        changed = self.scene.changed(x, y, round(_OF_A_BODY * max(outline.radius, outline.side)))
        return None if changed is None else Parts.begun(changed, blob, spot, outline.radius)

    def _begins_with(self, blob: Blob, place: Point) -> bool:
        """Whether a piece is the body, seen alone for the first time."""
        if blob.free and blob.disc is not None:
            # otherwise it lies on something round that is larger, as on a palm
            return distance(place, blob.centre) <= _MIDDLE_OF_WHOLE * blob.disc.radius
        if self.outline is not None:
            return self.outline.is_left_by(blob)
        small = blob.area <= np.pi * (_ONE_THING * self.look.reach) ** 2
        return small and is_on(place, blob)

    @property
    def knows_background(self) -> bool:
        """Whether it stood out before the background, so that its absence tells something."""
        return self.changes_seen >= _KNOWN_CHANGE and self.stood_out >= _STANDS_OUT

    def streak(self, number: int) -> FloatArray:
        """How far it moves in a frame while the shutter is open, px."""
        return self.exposure.share * self.look.course.velocity(number)

    def share_of(self, changed: Changed, place: Point) -> float:
        """Share of its place, if it is there, that is not the background."""
        centre = place if self.outline is None else self.outline.centre_of(place)
        return share_moved(changed, centre, reach=max(round(0.8 * self.size), 2))

    @property
    def is_rigid(self) -> bool:
        """Whether its pattern stays on it, as far as its outline tells."""
        outline = self.outline
        if outline is None:
            return True
        if not outline.whole:
            return outline.confirmed
        return outline.rigid or not outline.centred


def _around(at: Point, reach: int) -> tuple[int, int, int]:
    return round(at[0]), round(at[1]), reach + BEYOND
