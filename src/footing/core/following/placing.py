"""Which of outline and look places a mark, where something stands alone at the body's place."""

import numpy as np

from footing.core.following.look import Sighting
from footing.core.following.outline import Outline
from footing.core.following.patches import Point
from footing.core.following.pieces import Blob

RECOGNISED = 0.97  # of a reference, from which the look alone places the mark
ALIKE = 0.95  # of it, where it is recognised by its likeness alone, which is less exact
HALF_RECOGNISED = 0.5  # the same, where the outline is not that exact
_DRIFTED = 6.0  # frames without being recognised, after which a look has drifted
_WITH_ANOTHER = 0.3  # of the logarithm of the area, from which somebody else is with the body
_FIRM_RIM = 0.75  # support, from which a rim is more exact than a look,
_FIRM_SIZE = 0.06  # and of the logarithm of its radius, by which that may be another than usual
_RIM_EXACT = 0.6  # px, by which a look may differ from a rim, if nothing has rolled,
_RIM_TOUCHED = 0.8  # and from one that something touches, which moves it
_ROLLED_LEAST, _ROLLED = 0.8, 0.12  # px, and share of the radius: a pattern rolled that far
_ROLLED_TURN = 0.3  # rad
_BEYOND = 1.5  # px beyond the radius, where no look of its pattern can be
_LEFT = 0.4  # of the radius, beyond which a look is not at the middle, whatever it recognises
_A_BALL, _NEAR_ITS_MIDDLE = 0.86, 0.45  # support; share of its radius: its middle was meant
_ROUND = 0.7  # of the disc around it, that a round thing fills


def placed_by_outline(
    outline: Outline, blob: Blob, found: Sighting, unrecognised: int
) -> Point | None:
    """Where the outline says that the mark is; None where the look knows better.

    unrecognised : frames since the look recognised its reference
    """
    if blob.cut or outline.unlike(blob) > 3:
        return None
    if not (outline.rim.is_round or outline.confirmed or outline.is_as_first(blob)):
        return None
    exact = outline.by_shape(blob)
    if not outline.whole:
        # limbs cross what was marked; the body's mean outline has none
        if exact is None or found.known >= HALF_RECOGNISED or not outline.confirmed:
            return None
        if abs(float(np.log(blob.area / outline.area))) > _WITH_ANOTHER:
            return None
        spot = np.add(outline.mark_of(exact), outline.away)
        # a look that was not recognised for long has drifted
        share = 1.0 if outline.is_itself(blob) else min(unrecognised / _DRIFTED, 1.0)
        x, y = share * spot + (1 - share) * np.array(found.place)
        return (float(x), float(y))
    turn = 0.0 if outline.rolls else found.pose.turn * found.known
    mark = outline.mark_of(exact or blob.centre, turn)
    away = float(np.hypot(*np.subtract(found.place, mark)))
    if found.known >= HALF_RECOGNISED and away > outline.radius + _BEYOND:
        return None  # it was recognised beside that piece
    if outline.rolls or found.known < HALF_RECOGNISED:
        return mark
    disc = blob.disc
    if disc is not None and outline.shows_itself(disc, firm=_FIRM_RIM, size=_FIRM_SIZE):
        near = _RIM_TOUCHED if blob.part else _RIM_EXACT
        if outline.rigid:
            near = _ROLLED_LEAST + _ROLLED * outline.radius
        return None if found.known >= RECOGNISED and away <= near else mark
    if away <= _ROLLED_LEAST + _ROLLED * outline.radius:
        if found.known >= RECOGNISED or exact is None:
            return None
        x, y = found.known * np.array(found.place) + (1 - found.known) * np.array(mark)
        return float(x), float(y)
    # the look has left the spot, as a pattern that rolls does; or the outline is not itself, as
    # where something else is one piece with a ball, whose rim shows otherwise
    if not (outline.is_itself(blob) and outline.centred):
        return None
    if outline.rim.is_sure and disc is None and found.known >= RECOGNISED:
        return None
    x, y = np.subtract(found.place, mark)
    goes_on = away > _LEFT * outline.radius or outline.drifts((float(x), float(y)))
    return None if found.known >= RECOGNISED and not goes_on else mark


def mark_on(blob: Blob, sighting: Sighting, *, meant: bool) -> Point:
    """Where on a piece that is seen alone for the first time the mark is.

    The middle, if that was meant; or if it is round, and the look is near it, not sure, or has
    rolled on with it.
    """
    middle = blob.centre if blob.disc is None else blob.disc.centre
    if blob.disc is not None and blob.disc.support >= _A_BALL:
        away = float(np.hypot(*np.subtract(sighting.place, middle)))
        meant = meant or away <= _NEAR_ITS_MIDDLE * blob.disc.radius
    unsure = sighting.known < RECOGNISED or abs(sighting.pose.turn) > _ROLLED_TURN
    if meant or (unsure and blob.roundness >= _ROUND):
        return middle
    return sighting.place
