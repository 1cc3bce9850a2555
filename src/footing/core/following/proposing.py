"""Where a body may be in a frame: what looks like it, what moved, and where its parts have it."""

from dataclasses import replace

import numpy as np

from footing.core.arrays import Image
from footing.core.following.candidate import FORESEEN, Candidate
from footing.core.following.look import Sighting
from footing.core.following.patches import Point, distance
from footing.core.following.pieces import Blob, blobs
from footing.core.following.scene import Changed
from footing.core.following.target import Target
from footing.core.following.touching import rimmed, whole_ball
from footing.core.following.weighing import (
    BOUNCE,
    SOMETHING_MOVED,
    as_foreseen,
    change_at,
    is_undistorted,
    moves,
    piece_at,
    weighed,
)

_UNSEEN_FIRST, _UNSEEN_NEXT = -1.5, -0.7
_SEEN = 1.5  # evidence from which a body is seen for sure
_ENOUGH = 1.5  # evidence from which nothing farther away is looked for
_BESIDE = 24  # px from where it was marked, where it is looked for first
_NARROWEST = 8  # px, half width of the search area
_WIDENS = 0.35  # of the speed
_LIKE_USUAL = 0.9  # share of the usual score, from which it is looked at where it was foreseen
_MOST = 5  # candidates
_SAME = 3.0  # px
_VOTES, _VOTES_SAY = (0.25, 0.4, 0.55), (-1.0, 0.8, 2.4)  # share of a vote, and its evidence
_AS_LIKELY = 1.44  # evidence of all, with which it is where it was foreseen


def candidates(target: Target, frame: Image, number: int) -> list[Candidate]:
    """Where it may be in a frame, the likeliest first; the last is that it is not seen."""
    carried = target.scene.moved(target.look.course.places[-1])
    if carried != (0.0, 0.0):
        target.look.course = target.look.course.carried(carried)
    voted = _by_parts(target, frame, number)
    if voted is not None and _is_firm(voted):
        return [voted]
    straight = None if voted is not None else _straight(target, frame, number)
    if straight is not None:
        return [straight]
    if target.look.course.speed is None and not target.chosen:
        # it has hardly gone far; what is surely it spares the wide search
        beside = _around(target, frame, number, min(_BESIDE, target.search))
        if beside and beside[0].evidence >= _ENOUGH and beside[0].change >= SOMETHING_MOVED:
            return beside
    found = _around(target, frame, number, _radius(target, number, wide=target.unseen > 0))
    if target.unseen == 0 and (not found or found[0].evidence < _ENOUGH):
        wider = _around(target, frame, number, _radius(target, number, wide=True))
        found += [one for one in wider if all(_apart(one, other) > _SAME for other in found)]
        found.sort(key=lambda one: one.evidence, reverse=True)
    if voted is not None:
        found = [one for one in found if _apart(one, voted) > _SAME]
        found = sorted([voted, *found], key=lambda one: one.evidence, reverse=True)
    found = found[:_MOST]
    if not found or found[0].evidence < _SEEN:
        found.append(_not_seen(target))
    return found


def _is_firm(voted: Candidate) -> bool:
    """Whether parts place it so firmly, before more than the background, that nothing else is."""
    return voted.by_firm_vote and voted.motion >= -FORESEEN and voted.change >= 0


def _straight(target: Target, frame: Image, number: int) -> Candidate | None:
    if target.unseen:
        return None
    found = target.look.straight(frame, number)
    if found is None or found.known < 1.0:
        return None
    before = target.latest
    if found.looks is None and before is not None and before.change >= 0 and target.is_rigid:
        # all is as foreseen, and what moved was looked at a frame or two ago
        return as_foreseen(target, found, before.change)
    x, y = (round(value) for value in found.place)
    side = 0.0 if target.outline is None else target.outline.side
    room = round(max(2.5 * target.size, target.look.reach, side)) + 8
    blob = None if before is None else before.blob
    colour = target.outline is not None and (blob is None or not blob.plain)
    changed = target.scene.changed(x, y, room, colour=colour)
    pieces = _pieces(target, changed, x, y, room, found.place, number)
    candidate = weighed(target, frame, number, found, changed, pieces, target.search)
    return candidate if candidate.evidence >= _AS_LIKELY else None


def _by_parts(target: Target, frame: Image, number: int) -> Candidate | None:
    """Where the parts of a body with limbs say that the spot is; None where they do not."""
    if target.parts is None:
        return None
    (x, y), error = target.look.course.foreseen(number)
    wide = target.unseen > 0 or not np.isfinite(error)
    radius = target.search if wide else min(target.search, round(_NARROWEST + 2.5 * error))
    changed = target.scene.changed(round(x), round(y), target.parts.room + radius + 1)
    if changed is None:
        return None
    vote = target.parts.voted(changed, (x, y), radius)
    if vote is None or vote.share < _VOTES[0]:
        return None
    room = changed.strength.shape[0] // 2
    pieces = _pieces(target, changed, round(x), round(y), room, vote.place, number)
    blob = piece_at(target, vote.place, pieces)
    sighting = target.look.upright_at(frame, vote.place)
    exact = target.look.by_reference(frame, number, sighting)
    by_look = exact.place if is_undistorted(exact, vote.place) else None
    known = float(np.interp(vote.share, _VOTES, (0.0, 0.5, 1.0)))
    found = exact if by_look is not None else replace(sighting, known=known)
    return Candidate(
        found,
        look=float(np.interp(vote.share, _VOTES, _VOTES_SAY)),
        change=change_at(target, changed, found.place, blob),
        motion=moves(target, number, found.place, radius),
        blob=blob,
        by_look=by_look,
        share=target.share_of(changed, found.place),
        vote=vote,
    )


def _around(target: Target, frame: Image, number: int, radius: int) -> list[Candidate]:
    near = target.look.foreseen(number)
    side = 0.0 if target.outline is None else target.outline.side
    room = radius + round(max(2 * target.size, side)) + 4
    at = round(near.x), round(near.y)
    sightings = target.look.sightings(frame, number, radius)
    if all(np.hypot(*np.subtract(one.place, (near.x, near.y))) > _SAME for one in sightings):
        foreseen = target.look.nearby(frame, number, (near.x, near.y))
        if foreseen is not None and foreseen.score >= _LIKE_USUAL * target.look.usual:
            sightings.append(foreseen)
    alike = target.alike(target.look.upright_at(frame, (near.x, near.y)))
    if alike is not None:
        sightings.append(target.look.upright_at(frame, alike))
    found = _before(target, target.scene.changed(*at, room), frame, number, sightings, radius, room)
    limbed = target.outline is not None and not target.outline.whole
    weak = all(one.evidence < _ENOUGH for one in found)
    if target.knows_background and not limbed and weak:
        # what has come to rest is background itself, but not beside what was there before
        for once in target.scene.changed_once(*at, room):
            found += _before(target, once, frame, number, sightings, radius, room)
    found.sort(key=lambda one: one.evidence, reverse=True)
    apart: list[Candidate] = []
    for one in found:
        if all(_apart(one, other) > _SAME for other in apart):
            apart.append(one)
    return apart


def _before(
    target: Target,
    changed: Changed | None,
    frame: Image,
    number: int,
    sightings: list[Sighting],
    radius: int,
    room: int,
) -> list[Candidate]:
    """Where it may be, beside one background: what looks like it, and what moved."""
    near = target.look.foreseen(number)
    pieces = _pieces(target, changed, round(near.x), round(near.y), room, (near.x, near.y), number)
    found = [
        weighed(target, frame, number, sighting, changed, pieces, radius) for sighting in sightings
    ]
    for blob in pieces:
        outline = target.outline
        freed = outline is not None and outline.is_left_by(blob)
        if outline is None:
            place, most = blob.centre, np.inf
            if blob.side > 4 * target.look.reach:
                continue
        elif freed:
            # what has come free is where it is, and not where some look has it within that
            place, most = blob.centre, _SAME
        else:
            # a look that was recognised beyond the body has not asked about this piece
            place, most = outline.mark_of(blob.centre), target.size
            if outline.unlike(blob) > 6:
                continue
        if np.hypot(place[0] - near.x, place[1] - near.y) > radius + target.size:
            continue
        if any(one.blob is blob and not _off(one, place, most) for one in found):
            continue
        sighting = target.look.at(frame, number, place)
        found.append(weighed(target, frame, number, sighting, changed, pieces, radius))
    return found


def _pieces(
    target: Target, changed: Changed | None, x: int, y: int, room: int, near: Point, number: int
) -> list[Blob]:
    """What moved in an area: what has its colour, if that tells it apart."""
    if changed is None:
        return []
    streak = target.streak(number)
    if target.tint is not None:
        tinted = target.tint.mask(target.scene.shown(x, y, room))
        own = blobs(changed, radius=target.size, tinted=tinted)
        whole = whole_ball(changed, own, near, target.size)
        if whole is not None:
            return [whole]
        if own:
            return rimmed(own, changed, target.outline, near, streak)
    return rimmed(blobs(changed, radius=target.size), changed, target.outline, near, streak)


def _not_seen(target: Target) -> Candidate:
    return Candidate(None, look=_UNSEEN_FIRST if target.unseen == 0 else _UNSEEN_NEXT)


def _radius(target: Target, number: int, *, wide: bool) -> int:
    """How far from the foreseen place it is looked for."""
    course = target.look.course
    speed = course.speed
    if speed is None:
        return target.search
    _, error = course.foreseen(number)
    near = min(target.search, round(_NARROWEST + 2.5 * error + _WIDENS * speed))
    if not wide:
        return near
    if target.chosen:
        return target.search
    return max(target.search, min(round(BOUNCE * speed), 3 * target.search))


def _off(one: Candidate, place: Point, most: float) -> bool:
    return one.sighting is None or distance(one.sighting.place, place) > most


def _apart(one: Candidate, other: Candidate) -> float:
    if one.sighting is None or other.sighting is None:
        return float("inf")
    return distance(one.sighting.place, other.sighting.place)
