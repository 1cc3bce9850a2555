"""What the witnesses say of a place where a body may be.

Three are asked: how the place looks, whether something is there that is not the still background,
and whether the body can have come there. What each says is a logarithm of how much likelier that is
if the body is there than if it is not, so that they are added up.
"""

from dataclasses import replace

import numpy as np

from footing.core.arrays import Image
from footing.core.following.candidate import ALONE, Candidate, Elsewhere
from footing.core.following.look import Sighting
from footing.core.following.patches import Point, distance
from footing.core.following.pieces import Blob
from footing.core.following.placing import (
    ALIKE,
    HALF_RECOGNISED,
    RECOGNISED,
    placed_by_outline,
)
from footing.core.following.scene import Changed
from footing.core.following.target import PRESENT, Target

# what a look is worth, by how many deviations its score is below the usual one
_LOOK_WORST, _LOOK_BEST = -5.0, 2.4
_LOOK_FALLS = 0.9  # for each deviation beyond the first
_LOOK_FIRM = 0.06  # deviation of the score from which a look says less
_LOOK_SILENT = 0.35  # usual score at which a look says nothing, and
_LOOK_HEARD = 0.75  # from which it says all
_ALONE_BEST, _ALONE_WORST = 2.2, -2.0  # a piece that moved and is as large as the body, or is not
_NOTHING_MOVED = -5.0  # the background is there, though the body was seen before it
SOMETHING_MOVED = 0.6
_TURNED = -1.5  # and may have turned, so that a look says no less
_ALONE_UNKNOWN = 1.5  # a piece that moved and may be as large as the body
_SMALLEST, _LARGEST = 0.5, 2.2  # times the size guessed
_BOUNCED, _BOUNCED_FAR, _BOUNCED_LEAST = -2.5, 1.0, 3.0  # px
_LEAST_ERROR = 1.5  # px
_FIRST_ERROR = 0.5  # of the search, while no motion is known
_STILL_OUT = 0.6  # share of the most it stood out, that it does at least
_RESTS = 2.0  # px
BOUNCE = 2.3  # times the speed
_RIM_SHOWN = (0.65, 0.75, 0.9)  # support of a rim,
_RIM_SAYS, _RIM_SAYS_KNOWN = (0.5, 1.6, 2.2), (1.3, 1.7, 2.2)  # its evidence; of known radius
_RIM_FIRM = 0.75  # support of one that says where the body is,
_RIM_SIZE = 0.08  # and of the logarithm of its radius, by which that may be another than usual
_GROWS, _LIMBED_TURN = 0.1, 0.2  # of the logarithm, and rad, by which a look may be distorted
_DISTORTED = 8.0  # evidence against it, for each unit more
_VAGUE, _VAGUEST, _EXACT = 0.7, 3.0, 3.0  # evidence, at most, and px
_AT_FIRST = 0.5  # evidence less while no motion is known
_ANEW = -4.5  # evidence of a course that begins anew
_LOST = 2  # frames without it, after which it may
_FALLS = 0.6  # px/frame², by which what falls may have got faster
_SAME = 3.0  # px
_LEAPS = 1.0  # evidence of motion, by which an outline is off the course on which a look is


def weighed(
    target: Target,
    frame: Image,
    number: int,
    sighting: Sighting,
    changed: Changed | None,
    pieces: list[Blob],
    radius: int,
) -> Candidate:
    """What the witnesses say of a place, and the place made exact."""
    blob = piece_at(target, sighting.place, pieces)
    refined = sighting
    if sighting.known < 1.0 or sighting.looks is not None:
        refined = target.look.by_reference(frame, number, sighting)
    alike = target.alike(refined) if refined.known < RECOGNISED else None
    if alike is not None:
        upright = target.look.upright_at(frame, alike)
        score = max(upright.score, refined.score)
        refined = replace(upright, score=score, known=max(ALIKE, refined.known))
    by_look = refined.place if refined.known >= RECOGNISED else None
    outlined = None
    if blob is not None and target.outline is not None and alike is None:
        outlined = placed_by_outline(target.outline, blob, refined, target.unrecognised)
    if outlined is not None and _leaps(target, number, refined, outlined, radius):
        outlined = None
    elsewhere = _other_place(target, blob, refined, outlined)
    if outlined is not None:
        exact = target.look.at(frame, number, outlined)
        # a pattern rolls away from the middle, but what looks like it beyond the body is elsewhere
        on_it = distance(outlined, sighting.place) <= target.size
        score = max(exact.score, sighting.score) if on_it else exact.score
        refined = replace(exact, score=score, known=refined.known)
    share = None if changed is None else target.share_of(changed, refined.place)
    change = change_at(target, changed, refined.place, blob)
    motion = moves(target, number, refined.place, radius)
    anew = motion < _ANEW and _may_begin_anew(target, number, refined.place, blob)
    look = _looks(target, refined.score) - _distorted(target, refined)
    limbed = target.outline is not None and not target.outline.whole
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
        by_rim=outlined is not None and _shows_rim(target, blob),
        elsewhere=elsewhere,
    )


def _other_place(
    target: Target, blob: Blob | None, look: Sighting, outlined: Point | None
) -> Elsewhere | None:
    """Where the one of look and outline has the body that does not place it."""
    if outlined is not None:
        return Elsewhere(look.place, by_outline=False)
    outline = target.outline
    if outline is None or blob is None or blob.cut or not outline.may_be(blob):
        return None
    return Elsewhere(outline.mark_of(outline.by_shape(blob) or blob.centre), by_outline=True)


def _leaps(target: Target, number: int, look: Sighting, outlined: Point, radius: int) -> bool:
    """Whether the outline leaps off the course of a body, whose look was recognised on it.

    As it does where a codec leaves some of the body behind. What the outline never confirmed may
    be a pattern that rolls, and its course as well.
    """
    outline = target.outline
    if outline is None or not outline.confirmed or look.known < RECOGNISED:
        return False
    on_course = moves(target, number, look.place, radius)
    return on_course - moves(target, number, outlined, radius) >= _LEAPS


def _shows_rim(target: Target, blob: Blob | None) -> bool:
    """Whether a piece has the body's own rim, whose middle is the mark."""
    if target.outline is None or blob is None or blob.disc is None:
        return False
    return target.outline.shows_itself(blob.disc, firm=_RIM_FIRM, size=_RIM_SIZE)


def _may_begin_anew(target: Target, number: int, place: Point, blob: Blob | None) -> bool:
    """Whether what stands alone there may be the body that was lost on another course."""
    if target.unseen < _LOST or blob is None or blob.cut or blob.wholeness < 1.0:
        return False
    if target.outline is not None and not target.outline.may_be(blob):
        return False
    course = target.look.course
    count = abs(number - course.frames[-1])
    most = BOUNCE * (course.speed or 0.0) * count + _FALLS * count**2 + target.size
    return float(np.hypot(*np.subtract(place, course.places[-1]))) <= most


def _looks(target: Target, score: float) -> float:
    usual, deviation = target.look.usual, target.look.unsteady
    heard = float(np.clip((usual - _LOOK_SILENT) / (_LOOK_HEARD - _LOOK_SILENT), 0, 1))
    heard *= min(1.0, _LOOK_FIRM / deviation)
    behind = max((usual - score) / deviation - 1.0, 0.0)
    return heard * max(_LOOK_BEST - _LOOK_FALLS * behind, _LOOK_WORST)


def _distorted(target: Target, sighting: Sighting) -> float:
    """Evidence against a look that fits only grown, shrunk or turned as the body is not."""
    outline = target.outline
    if outline is None or sighting.known >= HALF_RECOGNISED:
        return 0.0
    grown = 0.5 * float(np.log(outline.area / outline.first_area))
    size = float(np.log(sighting.pose.size))
    off = max(size - max(grown, 0.0), min(grown, 0.0) - size) - _GROWS
    turn = sighting.pose.turn
    beyond = max(turn - max(target.turned, 0.0), min(target.turned, 0.0) - turn)
    turned = 0.0 if outline.whole else beyond - _LIMBED_TURN
    return _DISTORTED * (max(off, 0.0) + max(turned, 0.0))


def change_at(target: Target, changed: Changed | None, place: Point, blob: Blob | None) -> float:
    """Evidence that something is at a place that is not the still background, and is the body.

    blob : what moved there, if it stands alone
    """
    if changed is None:
        return 0.0
    if target.outline is not None and blob is not None and not blob.cut:
        off = target.outline.unlike(blob)
        if target.outline.is_left_by(blob):
            return _ALONE_UNKNOWN if distance(place, blob.centre) <= _SAME else 0.0
        own = _ALONE_WORST + (_ALONE_BEST - _ALONE_WORST) * float(np.exp(-((off / 3) ** 2)))
        if target.outline.carries:
            own = min(own, SOMETHING_MOVED)
        if blob.disc is not None and target.outline.rim.is_round:
            says = _RIM_SAYS_KNOWN if blob.disc.assumed else _RIM_SAYS
            by_rim = float(np.interp(blob.disc.support, _RIM_SHOWN, says))
            own = by_rim if blob.part else max(own, by_rim)
        away = np.hypot(*np.subtract(target.outline.mark_of(blob.centre), place))
        if away <= max(target.size, 2.0):
            return max(own, -0.5)
    if target.outline is None and blob is not None and not blob.cut:
        diameter = 2 * target.size
        if _SMALLEST * diameter <= blob.side <= _LARGEST * diameter:
            return _ALONE_UNKNOWN
    if not target.knows_background:
        return 0.0
    usual = max(target.usual_change, _STILL_OUT * target.stood_out)
    share = target.share_of(changed, place) / usual
    if share >= PRESENT:
        return SOMETHING_MOVED
    if target.rests_at is not None and distance(place, target.rests_at) < _RESTS:
        return 0.0
    x, y = (round(value) for value in place)
    for once in target.scene.changed_once(x, y, 2 * target.look.reach):
        if target.share_of(once, place) / usual >= PRESENT:
            return 0.0
    return _NOTHING_MOVED * (1 - share / PRESENT)


def moves(target: Target, number: int, place: Point, radius: int) -> float:
    """Evidence that the body can have come to a place, that is looked for within a radius, px."""
    course = target.look.course
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


def piece_at(target: Target, place: Point, pieces: list[Blob]) -> Blob | None:
    """What moved at a place, the nearest of several."""
    centre = place if target.outline is None else target.outline.centre_of(place)
    beyond = 0.3 * target.size
    near = [blob for blob in pieces if blob.holds(centre, beyond=beyond)]
    return min(near, key=lambda blob: np.hypot(*np.subtract(blob.centre, centre)), default=None)


def as_foreseen(target: Target, sighting: Sighting, change: float) -> Candidate:
    """The body where its course leads, looking as usual; what moved is as it was lately."""
    return Candidate(sighting, _looks(target, sighting.score), change, -_vague(_LEAST_ERROR))


def is_undistorted(exact: Sighting, voted: Point) -> bool:
    """Whether a look was recognised where the parts have the spot, as they have it."""
    grown, turned = abs(float(np.log(exact.pose.size))), abs(exact.pose.turn)
    straight = grown <= _GROWS and turned <= _LIMBED_TURN
    return exact.known >= RECOGNISED and straight and distance(exact.place, voted) <= _SAME


def _vague(deviation: float) -> float:
    """How much less a course says that does not know well where to look."""
    return min(_VAGUE * float(np.log1p((deviation / _EXACT) ** 2)), _VAGUEST)
