"""What is known of a body: its look, outline and colour, its course, and what it stands out from.

Three witnesses are asked in each frame: how a place looks, whether something is there that is not
the still background, and whether the body can have come there. What each says is a logarithm of how
much likelier that is if the body is there than if it is not, so that they are added up.
"""

from copy import copy
from dataclasses import replace

import numpy as np

from footing.core.arrays import Image
from footing.core.following.candidate import ALONE, FORESEEN, Candidate, Grounds
from footing.core.following.look import Look, Sighting
from footing.core.following.outline import Outline
from footing.core.following.parts import Parts
from footing.core.following.patches import BEYOND, Point
from footing.core.following.pieces import Blob, blobs, share_moved
from footing.core.following.placing import HALF_RECOGNISED, RECOGNISED, mark_on, placed_by_outline
from footing.core.following.scene import Changed, Scene
from footing.core.following.tint import Tint
from footing.core.following.touching import is_on, piece_marked, rimmed, whole_ball

# what a look is worth, by how many deviations its score is below the usual one
_LOOK_WORST, _LOOK_BEST = -5.0, 2.4
_LOOK_FALLS = 0.9  # for each deviation beyond the first
_LOOK_FIRM = 0.06  # deviation of the score from which a look says less
_LOOK_SILENT = 0.35  # usual score at which a look says nothing, and
_LOOK_HEARD = 0.75  # from which it says all
_ALONE_BEST, _ALONE_WORST = 2.2, -2.0  # a piece that moved and is as large as the body, or is not
_NOTHING_MOVED = -5.0  # the background is there, though the body was seen before it
_SOMETHING_MOVED = 0.6
_TURNED = -1.5  # and may have turned, so that a look says no less
_ALONE_UNKNOWN = 1.5  # a piece that moved and may be as large as the body
_SMALLEST, _LARGEST = 0.5, 2.2  # times the size guessed
_PRESENT = 0.45  # share of the usual change that is still a change
_BOUNCED, _BOUNCED_FAR, _BOUNCED_LEAST = -2.5, 1.0, 3.0  # px
_LEAST_ERROR = 1.5  # px
_FIRST_ERROR = 0.5  # of the search, while no motion is known
_UNSEEN_FIRST, _UNSEEN_NEXT = -1.5, -0.7
_STANDS_OUT = 0.3  # share of its place, that must usually not be the background
_STILL_OUT = 0.6  # share of the most it stood out, that it does at least
_RESTS = 2.0  # px
_KNOWN_CHANGE = 1  # frames in which it must have been seen before the background
_SEEN = 1.5  # evidence from which a body is seen for sure
_ENOUGH = 1.5  # evidence from which nothing farther away is looked for
_BESIDE = 24  # px from where it was marked, where it is looked for first
_NARROWEST = 8  # px, half width of the search area
_WIDENS = 0.35  # of the speed
_BOUNCE = 2.3  # times the speed
_RIM_SHOWN, _RIM_SAYS = (0.65, 0.75, 0.9), (0.5, 1.6, 2.2)  # support of a rim, and its evidence
_GROWS, _LIMBED_TURN = 0.1, 0.2  # of the logarithm, and rad, by which a look may be distorted
_DISTORTED = 8.0  # evidence against it, for each unit more
_VAGUE, _VAGUEST, _EXACT = 0.7, 3.0, 3.0  # evidence, at most, and px
_AT_FIRST = 0.5  # evidence less while no motion is known
_LIKE_USUAL = 0.9  # share of the usual score, from which it is looked at where it was foreseen
_ANEW = -4.5  # evidence of a course that begins anew
_LOST = 2  # frames without it, after which it may
_FALLS = 0.6  # px/frame², by which what falls may have got faster
_FIRST_ROOM = 120  # px around the first mark, in which its outline is looked for
_ONE_THING = 1.0  # reaches, up to which what stands alone is the body and nothing with it
_SLOW = 1.5  # px/frame
_MOST = 5  # candidates
_VOUCHES = 1.0  # evidence of change from which new looks are learnt
_SAME = 3.0  # px
_VOTES, _VOTES_SAY = (0.25, 0.4, 0.55), (-1.0, 0.8, 2.4)  # share of a vote, and its evidence
_FIRM_VOTE = 1.4  # evidence from which a vote on the course spares the search


class Target:
    """What is known of one body; it is copied and gone on with for each account of its way.

    unseen : frames since it was seen last
    unrecognised : frames since a look recognised its reference
    latest : what was chosen last
    middle_meant : whether the middle of a round part of something larger was marked
    usual_change : share of its place that is usually not the background, and `stood_out` the most
    rests_at : where it was seen to come to rest; None while it moves
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
        self.latest: Candidate | None = None

    def believe(self, frame: Image, at: Point, number: int) -> None:
        """Take a mark that was made by hand."""
        reach = self.look.reach
        changed = self.scene.changed(round(at[0]), round(at[1]), 3 * reach + _FIRST_ROOM)
        exact = self.scene.changed(*_around(at, reach))
        self.look.believe(frame, at, number, exact)
        self.unseen, self.unrecognised, self.latest = 0, 0, None
        self.look.trusting = True
        self.tint, self.outline, self.middle_meant = None, None, False
        self.parts = None
        self.usual_change = 0.0 if changed is None else self._share(changed, at)
        self.changes_seen = int(self.usual_change > _PRESENT)
        self.stood_out = self.usual_change
        self.rests_at = None
        if changed is None:
            return
        x, y = (round(value) for value in at)
        alone, self.tint = piece_marked(changed, at, lambda room: self.scene.shown(x, y, room))
        if alone is not None:
            self.outline = Outline.begun(alone, at)
            apart = self.outline.within or self.tint is not None
            self.middle_meant = apart and self.outline.centred
            if self.outline.has_limbs:
                self.parts = Parts.begun(changed, alone, at, self.outline.radius)

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

    def candidates(self, frame: Image, number: int) -> list[Candidate]:
        """Where it may be in a frame, the likeliest first; the last is that it is not seen."""
        carried = self.scene.moved(self.look.course.places[-1])
        if carried != (0.0, 0.0):
            self.look.course = self.look.course.carried(carried)
        voted = self._by_parts(frame, number)
        if voted is not None and voted.look >= _FIRM_VOTE and voted.motion >= -FORESEEN:
            return [voted]
        straight = None if voted is not None else self._straight(frame, number)
        if straight is not None:
            return [straight]
        if self.look.course.speed is None and not self.chosen:
            # it has hardly gone far; what is surely it spares the wide search
            beside = self._around(frame, number, min(_BESIDE, self.search))
            if beside and beside[0].evidence >= _ENOUGH and beside[0].change >= _SOMETHING_MOVED:
                return beside
        found = self._around(frame, number, self._radius(number, wide=self.unseen > 0))
        if self.unseen == 0 and (not found or found[0].evidence < _ENOUGH):
            wider = self._around(frame, number, self._radius(number, wide=True))
            found += [one for one in wider if all(_apart(one, other) > _SAME for other in found)]
            found.sort(key=lambda one: one.evidence, reverse=True)
        if voted is not None:
            found = [one for one in found if _apart(one, voted) > _SAME]
            found = sorted([voted, *found], key=lambda one: one.evidence, reverse=True)
        found = found[:_MOST]
        if not found or found[0].evidence < _SEEN:
            found.append(self._not_seen())
        return found

    def after(self, number: int, chosen: Candidate) -> "Target":
        """With a candidate that is believed to be the body in a frame."""
        new = copy(self)
        new.look = copy(self.look)
        new.unrecognised = self._unrecognised_after(chosen)
        if chosen.sighting is None:
            new.unseen += 1
        else:
            new._learn(number, chosen, chosen.sighting)
        return new

    def grounds(self, chosen: Candidate) -> Grounds:
        """What a candidate of the present frame rests on, besides its evidence."""
        outline, blob, sighting = self.outline, chosen.blob, chosen.sighting
        beside = None
        alone = outline is not None and blob is not None and not blob.cut and outline.may_be(blob)
        if alone and sighting is not None:
            assert outline is not None
            assert blob is not None
            beside = _between(outline.mark_of(blob.centre), sighting.place)
        return Grounds(
            unrecognised=self._unrecognised_after(chosen),
            beside=beside,
            radius=self.size,
            outlined=outline is not None,
            carried=outline is not None and (outline.carries or outline.within),
        )

    def _unrecognised_after(self, chosen: Candidate) -> int:
        sighting = chosen.sighting
        recognised = sighting is not None and sighting.known >= RECOGNISED
        return 0 if recognised else self.unrecognised + 1

    def is_covered(self, number: int) -> bool:
        """Whether it was seen before the background so far, and only that is there now."""
        if self.usual_change < _PRESENT:
            return False
        x, y = self.look.course.foreseen(number)[0]
        changed = self.scene.changed(round(x), round(y), 2 * self.look.reach)
        return changed is not None and self._share(changed, (x, y)) < _PRESENT * self.usual_change

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

    def _learn(self, number: int, chosen: Candidate, sighting: Sighting) -> None:
        self.unseen = 0
        blob, outline = chosen.blob, self.outline
        # what is one piece with another may show that one
        mixed = outline is not None and blob is not None and not outline.may_be(blob)
        pure = not mixed or sighting.known >= HALF_RECOGNISED
        if chosen.vote is not None and self.parts is not None:
            self._learn_parts(self.parts.learnt(chosen.vote), chosen, sighting.place)
        if chosen.vote is not None and not self.look.is_as_usual(sighting):
            self.look.go_on(sighting, number)  # a limb lies over the spot
        else:
            self.look.take(sighting, number, vouched=chosen.change >= _VOUCHES, pure=pure)
        if chosen.share is not None:
            self.usual_change = 0.8 * self.usual_change + 0.2 * chosen.share
            self.changes_seen += int(chosen.share > _PRESENT)
            self.stood_out = max(self.stood_out, self.usual_change)
            here = chosen.share >= _PRESENT * max(self.stood_out, _STANDS_OUT)
            # only what was seen to come, or will be seen to go, is neither for nor against it
            rests = not here and chosen.change == 0 and self._knows_background
            self.rests_at = sighting.place if rests else None
        no_rim = blob is None or blob.disc is None
        if outline is not None and outline.within and no_rim:
            self.outline = outline.doubted()
        elif blob is not None and not blob.cut:
            slow = (self.look.course.speed or 0.0) < _SLOW
            look = None if slow else chosen.by_look  # only what moves can roll
            if self._begins_with(blob, sighting.place):
                mark = mark_on(blob, sighting, meant=self.middle_meant)
                self.outline = Outline.begun(blob, mark)
                self.tint = None if blob.free else self.tint
            elif outline is not None and outline.may_be(blob):
                turn = sighting.pose.turn if look is not None else 0.0
                self.outline = outline.learnt(blob, look, turn)
        self.latest = chosen
        if self.look.unsettled:
            free = self.scene.changed(*self.look.latest)
            if free is not None:
                self.look.settle(free)

    def _learn_parts(self, parts: Parts, chosen: Candidate, spot: Point) -> None:
        blob, outline = chosen.blob, self.outline
        sure = chosen.look >= _FIRM_VOTE or chosen.by_look is not None
        if parts.worn and sure and blob is not None and outline is not None:
            x, y = (round(value) for value in spot)
            changed = self.scene.changed(x, y, parts.room)
            if changed is not None and not blob.cut and outline.is_itself(blob):
                parts = parts.renewed(changed, blob, spot)
        self.parts = parts

    def _begins_with(self, blob: Blob, place: Point) -> bool:
        """Whether a piece is the body, seen alone for the first time."""
        if self.outline is not None:
            return self.outline.is_left_by(blob)
        small = blob.area <= np.pi * (_ONE_THING * self.look.reach) ** 2
        return small and is_on(place, blob)

    def _straight(self, frame: Image, number: int) -> Candidate | None:
        if self.unseen:
            return None
        found = self.look.straight(frame, number)
        if found is None or found.known < 1.0:
            return None
        before = self.latest
        if found.looks is None and before is not None and before.change >= 0 and self._is_rigid:
            # all is as foreseen, and what moved was looked at a frame or two ago
            change = before.change
            return Candidate(found, self._looks(found.score), change, -_vague(_LEAST_ERROR))
        x, y = (round(value) for value in found.place)
        side = 0.0 if self.outline is None else self.outline.side
        room = round(max(2.5 * self.size, self.look.reach, side)) + 8
        blob = None if before is None else before.blob
        colour = self.outline is not None and (blob is None or not blob.plain)
        changed = self.scene.changed(x, y, room, colour=colour)
        pieces = self._pieces(changed, x, y, room, found.place)
        candidate = self._weighed(frame, number, found, changed, pieces, self.search)
        return candidate if candidate.evidence >= 0.6 * _LOOK_BEST else None

    def _by_parts(self, frame: Image, number: int) -> Candidate | None:
        """Where the parts of a body with limbs say that the spot is; None where they do not."""
        if self.parts is None:
            return None
        (x, y), error = self.look.course.foreseen(number)
        wide = self.unseen > 0 or not np.isfinite(error)
        radius = self.search if wide else min(self.search, round(_NARROWEST + 2.5 * error))
        changed = self.scene.changed(round(x), round(y), self.parts.room + radius + 1)
        if changed is None:
            return None
        vote = self.parts.voted(changed, (x, y), radius)
        if vote is None or vote.share < _VOTES[0]:
            return None
        room = changed.strength.shape[0] // 2
        pieces = self._pieces(changed, round(x), round(y), room, vote.place)
        blob = self._blob_at(vote.place, pieces)
        sighting = self.look.upright_at(frame, vote.place)
        exact = self.look.by_reference(frame, number, sighting)
        by_look = exact.place if self._is_undistorted(exact, vote.place) else None
        known = float(np.interp(vote.share, _VOTES, (0.0, 0.5, 1.0)))
        found = exact if by_look is not None else replace(sighting, known=known)
        return Candidate(
            found,
            look=float(np.interp(vote.share, _VOTES, _VOTES_SAY)),
            change=self._change(changed, found.place, blob),
            motion=self._moves(number, found.place, radius),
            blob=blob,
            by_look=by_look,
            share=self._share(changed, found.place),
            vote=vote,
        )

    def _is_undistorted(self, exact: Sighting, voted: Point) -> bool:
        """Whether a look was recognised where the parts have the spot, as they have it."""
        grown, turned = abs(float(np.log(exact.pose.size))), abs(exact.pose.turn)
        straight = grown <= _GROWS and turned <= _LIMBED_TURN
        return exact.known >= RECOGNISED and straight and _between(exact.place, voted) <= _SAME

    def _around(self, frame: Image, number: int, radius: int) -> list[Candidate]:
        near = self.look.foreseen(number)
        side = 0.0 if self.outline is None else self.outline.side
        room = radius + round(max(2 * self.size, side)) + 4
        at = round(near.x), round(near.y)
        sightings = self.look.sightings(frame, number, radius)
        if all(np.hypot(*np.subtract(one.place, (near.x, near.y))) > _SAME for one in sightings):
            foreseen = self.look.nearby(frame, number, (near.x, near.y))
            if foreseen is not None and foreseen.score >= _LIKE_USUAL * self.look.usual:
                sightings.append(foreseen)
        found = self._before(self.scene.changed(*at, room), frame, number, sightings, radius, room)
        limbed = self.outline is not None and not self.outline.whole
        weak = all(one.evidence < _ENOUGH for one in found)
        if self._knows_background and not limbed and weak:
            # what has come to rest is background itself, but not beside what was there before
            for once in self.scene.changed_once(*at, room):
                found += self._before(once, frame, number, sightings, radius, room)
        found.sort(key=lambda one: one.evidence, reverse=True)
        apart: list[Candidate] = []
        for one in found:
            if all(_apart(one, other) > _SAME for other in apart):
                apart.append(one)
        return apart

    def _before(
        self,
        changed: Changed | None,
        frame: Image,
        number: int,
        sightings: list[Sighting],
        radius: int,
        room: int,
    ) -> list[Candidate]:
        """Where it may be, beside one background: what looks like it, and what moved."""
        near = self.look.foreseen(number)
        pieces = self._pieces(changed, round(near.x), round(near.y), room, (near.x, near.y))
        found = [
            self._weighed(frame, number, sighting, changed, pieces, radius)
            for sighting in sightings
        ]
        for blob in pieces:
            outline = self.outline
            if outline is None:
                place = blob.centre
                if blob.side > 4 * self.look.reach:
                    continue
            elif outline.is_left_by(blob):
                place = blob.centre
            else:
                place = outline.mark_of(blob.centre)
                if outline.unlike(blob) > 6:
                    continue
            if np.hypot(place[0] - near.x, place[1] - near.y) > radius + self.size:
                continue
            if any(one.blob is blob for one in found):
                continue
            sighting = self.look.at(frame, number, place)
            found.append(self._weighed(frame, number, sighting, changed, pieces, radius))
        return found

    def _pieces(
        self, changed: Changed | None, x: int, y: int, room: int, near: Point
    ) -> list[Blob]:
        """What moved in an area: what has its colour, if that tells it apart."""
        if changed is None:
            return []
        if self.tint is not None:
            tinted = self.tint.mask(self.scene.shown(x, y, room))
            own = blobs(changed, radius=self.size, tinted=tinted)
            if own:
                whole = whole_ball(changed, own, near, self.size)
                return rimmed(own, changed, self.outline, near) if whole is None else [whole]
        return rimmed(blobs(changed, radius=self.size), changed, self.outline, near)

    def _weighed(
        self,
        frame: Image,
        number: int,
        sighting: Sighting,
        changed: Changed | None,
        pieces: list[Blob],
        radius: int,
    ) -> Candidate:
        """What the witnesses say of a place, and the place made exact."""
        blob = self._blob_at(sighting.place, pieces)
        refined = sighting
        if sighting.known < 1.0 or sighting.looks is not None:
            refined = self.look.by_reference(frame, number, sighting)
        by_look = refined.place if refined.known >= RECOGNISED else None
        outlined = None
        if blob is not None and self.outline is not None:
            outlined = placed_by_outline(self.outline, blob, refined, self.unrecognised)
        if outlined is not None:
            exact = self.look.at(frame, number, outlined)
            score = max(exact.score, sighting.score)
            refined = replace(exact, score=score, known=refined.known)
        share = None if changed is None else self._share(changed, refined.place)
        change = self._change(changed, refined.place, blob)
        motion = self._moves(number, refined.place, radius)
        anew = motion < _ANEW and self._may_begin_anew(number, refined.place, blob)
        look = self._looks(refined.score) - self._distorted(refined)
        limbed = self.outline is not None and not self.outline.whole
        if blob is not None and change >= ALONE and not limbed:
            look = max(look, _TURNED)
        return Candidate(
            refined,
            look,
            change,
            max(motion, _ANEW) if anew else motion,
            blob,
            by_look,
            anew,
            share,
            outlined is not None,
        )

    def _may_begin_anew(self, number: int, place: Point, blob: Blob | None) -> bool:
        """Whether what stands alone there may be the body that was lost on another course."""
        if self.unseen < _LOST or blob is None or blob.cut or blob.wholeness < 1.0:
            return False
        if self.outline is not None and not self.outline.may_be(blob):
            return False
        course = self.look.course
        count = abs(number - course.frames[-1])
        most = _BOUNCE * (course.speed or 0.0) * count + _FALLS * count**2 + self.size
        return float(np.hypot(*np.subtract(place, course.places[-1]))) <= most

    def _not_seen(self) -> Candidate:
        return Candidate(None, look=_UNSEEN_FIRST if self.unseen == 0 else _UNSEEN_NEXT)

    def _looks(self, score: float) -> float:
        usual, deviation = self.look.usual, self.look.unsteady
        heard = float(np.clip((usual - _LOOK_SILENT) / (_LOOK_HEARD - _LOOK_SILENT), 0, 1))
        heard *= min(1.0, _LOOK_FIRM / deviation)
        behind = max((usual - score) / deviation - 1.0, 0.0)
        return heard * max(_LOOK_BEST - _LOOK_FALLS * behind, _LOOK_WORST)

    def _distorted(self, sighting: Sighting) -> float:
        """Evidence against a look that fits only grown, shrunk or turned as the body is not."""
        outline = self.outline
        if outline is None or sighting.known >= HALF_RECOGNISED:
            return 0.0
        grown = 0.5 * float(np.log(outline.area / outline.first_area))
        size = float(np.log(sighting.pose.size))
        off = max(size - max(grown, 0.0), min(grown, 0.0) - size) - _GROWS
        turned = 0.0 if outline.whole else abs(sighting.pose.turn) - _LIMBED_TURN
        return _DISTORTED * (max(off, 0.0) + max(turned, 0.0))

    def _change(self, changed: Changed | None, place: Point, blob: Blob | None) -> float:
        if changed is None:
            return 0.0
        if self.outline is not None and blob is not None and not blob.cut:
            off = self.outline.unlike(blob)
            if self.outline.is_left_by(blob):
                return _ALONE_UNKNOWN if _between(place, blob.centre) <= _SAME else 0.0
            own = _ALONE_WORST + (_ALONE_BEST - _ALONE_WORST) * float(np.exp(-((off / 3) ** 2)))
            if self.outline.carries:
                own = min(own, _SOMETHING_MOVED)
            if blob.disc is not None and self.outline.is_disc:
                by_rim = float(np.interp(blob.disc.support, _RIM_SHOWN, _RIM_SAYS))
                own = by_rim if blob.part else max(own, by_rim)
            away = np.hypot(*np.subtract(self.outline.mark_of(blob.centre), place))
            if away <= max(self.size, 2.0):
                return max(own, -0.5)
        if self.outline is None and blob is not None and not blob.cut:
            diameter = 2 * self.size
            if _SMALLEST * diameter <= blob.side <= _LARGEST * diameter:
                return _ALONE_UNKNOWN
        if not self._knows_background:
            return 0.0
        usual = max(self.usual_change, _STILL_OUT * self.stood_out)
        share = self._share(changed, place) / usual
        if share >= _PRESENT:
            return _SOMETHING_MOVED
        if self.rests_at is not None and _between(place, self.rests_at) < _RESTS:
            return 0.0
        x, y = (round(value) for value in place)
        for once in self.scene.changed_once(x, y, 2 * self.look.reach):
            if self._share(once, place) / usual >= _PRESENT:
                return 0.0
        return _NOTHING_MOVED * (1 - share / _PRESENT)

    @property
    def _knows_background(self) -> bool:
        """Whether it stood out before the background, so that its absence tells something."""
        return self.changes_seen >= _KNOWN_CHANGE and self.stood_out >= _STANDS_OUT

    def _moves(self, number: int, place: Point, radius: int) -> float:
        course = self.look.course
        (x, y), error = course.foreseen(number)
        away = float(np.hypot(place[0] - x, place[1] - y))
        if not np.isfinite(error):
            return -0.5 * (away / (_FIRST_ERROR * radius)) ** 2 - _AT_FIRST
        speed = course.speed or 0.0
        deviation = max(error, _LEAST_ERROR)
        usual = -0.5 * (away / deviation) ** 2 - _vague(deviation)
        # what bounces may go elsewhere, but not farther than its speed lets it
        bounced = _BOUNCED - _BOUNCED_FAR * (away / (speed + _BOUNCED_LEAST)) ** 2
        return max(usual, bounced)

    def _share(self, changed: Changed, place: Point) -> float:
        centre = place if self.outline is None else self.outline.centre_of(place)
        return share_moved(changed, centre, reach=max(round(0.8 * self.size), 2))

    def _blob_at(self, place: Point, pieces: list[Blob]) -> Blob | None:
        centre = place if self.outline is None else self.outline.centre_of(place)
        beyond = 0.3 * self.size
        near = [blob for blob in pieces if blob.holds(centre, beyond=beyond)]
        return min(near, key=lambda blob: np.hypot(*np.subtract(blob.centre, centre)), default=None)

    @property
    def _is_rigid(self) -> bool:
        """Whether its pattern stays on it, as far as its outline tells."""
        outline = self.outline
        if outline is None:
            return True
        if not outline.whole:
            return outline.confirmed
        return outline.rigid or not outline.centred

    def _radius(self, number: int, *, wide: bool) -> int:
        """How far from the foreseen place it is looked for."""
        course = self.look.course
        speed = course.speed
        if speed is None:
            return self.search
        _, error = course.foreseen(number)
        near = min(self.search, round(_NARROWEST + 2.5 * error + _WIDENS * speed))
        if not wide:
            return near
        if self.chosen:
            return self.search
        return max(self.search, min(round(_BOUNCE * speed), 3 * self.search))


def _between(one: Point, other: Point) -> float:
    return float(np.hypot(one[0] - other[0], one[1] - other[1]))


def _vague(deviation: float) -> float:
    """How much less a course says that does not know well where to look."""
    return min(_VAGUE * float(np.log1p((deviation / _EXACT) ** 2)), _VAGUEST)


def _apart(one: Candidate, other: Candidate) -> float:
    if one.sighting is None or other.sighting is None:
        return float("inf")
    return _between(one.sighting.place, other.sighting.place)


def _around(at: Point, reach: int) -> tuple[int, int, int]:
    return round(at[0]), round(at[1]), reach + BEYOND
