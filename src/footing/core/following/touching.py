"""Telling a body's own piece from what touches it: by its rim, or by its colour.

A hand holds a ball, a leg touches it: what moved is then one piece, of which the body is a part.
"""

from collections.abc import Callable
from dataclasses import replace

import cv2
import numpy as np

from footing.core.arrays import FloatArray
from footing.core.following.opacity import laid_disc
from footing.core.following.outline import Outline
from footing.core.following.patches import Point, distance
from footing.core.following.pieces import Blob, blobs
from footing.core.following.rim import Disc, disc_at
from footing.core.following.scene import Changed
from footing.core.following.streaks import Grey
from footing.core.following.tint import Tint, ball_of, tint_of

_RADIUS_LEAST = 4.0  # px
_LARGER = 1.25  # times the body's area, from which a piece is more than the body
_MAY_BE_ROUND, _RIM_LEAST, _RIM_WITHIN = 0.6, 30.0, 0.6  # px² and px: pieces spread beyond rims
_SIZES = 4.5, 45.0, 1.12  # px, radii that are tried, from and to, and times the one before
_SURELY_ROUND, _SURELY_ROUND_SMALL = 0.75, 0.8  # support
_SMALL, _MIDDLE = 7.0, 0.25  # px, and share of the radius
_PLAIN_ROOM = 70  # px around the first mark, in which a plain thing must end
_MORE_THAN_TINT = 1.5  # times the area of its colour, that a disc may have
_SAME_RADIUS = 0.1  # of its logarithm
_AROUND = 0.8  # of the radius, around a place where a disc is looked for
_VERY_ROUND = 0.95  # of the disc around it: no patch is that round
_RING, _TOUCHED = 3, 0.15  # px around a piece, and share of it that must be the background
_AMID = 8  # px: more than the smeared colour of a ball that a hand holds
_A_DISC = 0.7  # of the disc around it, that a plain ball fills
_ALONE_RIM, _WHOLE = 0.86, (1.08, 2.0)  # support, and times the radius of a part of one colour
_WITHIN, _FILLED = 1.25, 0.75  # times its radius, within which that part lies; share of what moved
_INSIDE, _INSIDE_LEAST = 0.75, 3.0  # of its radius, and px: a mark that is on the piece itself
_ON_A_BODY, _LIMBED, _LARGE = 1.0, 0.95, 25.0  # of its radius; wholeness under which, px from which
_LAID_ALONE, _LAID_EXACT = 0.6, 0.5  # support of a disc laid by itself, and where a rim is
_KEEPS_ASSUMED = 3.0  # how firmly a radius is kept that cannot be measured where something touches
_AS_THE_RIM, _AS_THE_RIM_LEAST = 0.15, 1.0  # of the radius, and px: from a rim to the disc on it
_RIM_ON_A_BODY = 0.82  # support of a rim that is not a round part of a shirt


def piece_marked(
    changed: Changed, at: Point, shown: Callable[[int], list[Grey]]
) -> tuple[Blob | None, Tint | None]:
    """What of that which moved is the body that was marked, and its colour if that tells it apart.

    It is what is alone there; or it is known by its rim, or by its colour. ``shown`` gives the
    planes of the picture within so many pixels of the mark, each ``(side, side)``.
    """
    alone = _alone(changed, at)
    if alone is not None:
        alone = with_rim(alone, changed, None)
    if alone is not None and alone.disc is not None:
        return alone, None
    if alone is not None and alone.wholeness >= 1.0:
        disc = _disc_around(changed, at)
        return (alone if disc is None else Blob.round(disc)), None
    reach = changed.bright.shape[0] // 2
    planes = shown(reach)
    near = np.s_[reach - _PLAIN_ROOM : reach + _PLAIN_ROOM + 1]
    tint = tint_of([plane[near, near] for plane in planes], (_PLAIN_ROOM, _PLAIN_ROOM))
    disc = _disc_around(changed, at)
    if disc is not None and alone is not None and disc.support < _RIM_ON_A_BODY:
        disc = None
    plain = None
    if tint is not None and (tint.sure or disc is None):
        pieces = blobs(changed, radius=_RADIUS_LEAST, tinted=tint.mask(planes))
        plain = next((blob for blob in pieces if not blob.cut and is_on(at, blob)), None)
    on_a_shirt = plain is not None and _is_patch(plain, alone, changed)
    if plain is not None and not on_a_shirt and _is_plain_ball(plain, changed, disc):
        return plain, tint
    if disc is None and not on_a_shirt:
        ball = ball_of([plane[near, near] for plane in planes], (_PLAIN_ROOM, _PLAIN_ROOM))
        if ball is not None:
            return _held(ball[0], at), ball[1]
    return (alone if disc is None else Blob.round(disc)), None


def _held(ball: Disc, at: Point) -> Blob:
    """A ball that was found in the area around a mark, as a piece of the frame."""
    x, y = (round(value) - _PLAIN_ROOM for value in at)
    return Blob.round(replace(ball, centre=(ball.centre[0] + x, ball.centre[1] + y)))


def _is_plain_ball(plain: Blob, changed: Changed, disc: Disc | None) -> bool:
    """Whether what has one colour is a ball, and not a patch on a ball or on a shirt.

    disc : the rim that was seen around the same place
    """
    radius = float(np.sqrt(plain.area / np.pi))
    if radius < _SMALL and not _is_beside_background(plain, changed):
        return False
    if plain.roundness >= _VERY_ROUND and radius >= _SMALL:
        return True
    covers = disc is None or disc.radius < np.sqrt(_MORE_THAN_TINT) * radius
    return plain.roundness >= _A_DISC and covers


def _is_patch(plain: Blob, alone: Blob | None, changed: Changed) -> bool:
    """Whether what has one colour is a patch on a body with limbs, that stands alone."""
    return alone is not None and _has_limbs(alone) and _is_amid(plain, changed)


def _is_amid(blob: Blob, changed: Changed) -> bool:
    """Whether a piece is a patch on something, far from the still background on all sides."""
    return blob.roundness < _VERY_ROUND and not _is_beside_background(blob, changed, ring=_AMID)


def _is_beside_background(blob: Blob, changed: Changed, *, ring: int = _RING) -> bool:
    """Whether something of the still background is within so many px of a piece."""
    left, top, width, height = blob.box
    x, y = left - changed.left - ring, top - changed.top - ring
    filled = cv2.copyMakeBorder(blob.filled, ring, ring, ring, ring, cv2.BORDER_CONSTANT)
    wide = cv2.dilate(filled, np.ones((2 * ring + 1, 2 * ring + 1), np.uint8))
    moved = changed.mask[max(y, 0) : y + height + 2 * ring, max(x, 0) : x + width + 2 * ring]
    if moved.shape != filled.shape:
        return True
    around = (wide > 0) & (filled == 0)
    return float(moved[around].mean()) < 1 - _TOUCHED


def rimmed(
    pieces: list[Blob],
    changed: Changed,
    outline: Outline | None,
    near: Point,
    streak: FloatArray | None = None,
) -> list[Blob]:
    """The pieces, with the rims of the round ones; a disc that touches others is told apart.

    streak : how far the body moves while the shutter is open, px, if that is known
    """
    if outline is not None and not outline.may_be_round:
        return pieces
    with_rims = [with_rim(blob, changed, outline, streak) for blob in pieces]
    if outline is None or outline.rim.radius is None or not outline.rim.is_round:
        return with_rims
    near = outline.centre_of(near)
    for blob in pieces:
        if blob.holds(near, beyond=outline.radius) and blob.area > _LARGER * outline.area:
            disc = _disc_within(changed, near, outline.rim.radius, known=outline.rim.radius_known)
            if disc is not None:
                disc = _laid_exactly(disc, changed, outline, streak)
                return [Blob.round(disc), *with_rims]
    return with_rims


def with_rim(
    blob: Blob, changed: Changed, outline: Outline | None, streak: FloatArray | None = None
) -> Blob:
    """A piece with its rim, if it has one."""
    if blob.cut or blob.area < _RIM_LEAST:
        return blob
    if outline is None or outline.rim.radius is None:
        radius = float(np.sqrt(blob.area / np.pi)) - _RIM_WITHIN
    elif outline.may_be(blob):
        radius = outline.rim.radius
    else:
        return blob
    disc = None
    if blob.roundness >= _MAY_BE_ROUND:
        disc = disc_at(changed, blob.centre, radius)
    if outline is not None and disc is not None:
        disc = _laid_exactly(disc, changed, outline, streak)
    elif outline is not None:
        disc = _known_disc(blob, changed, outline, streak)
    if disc is None:
        return blob
    exact = outline is None or outline.rim.radius is None or outline.rim.is_sure
    return blob.rimmed(disc) if exact else replace(blob, disc=disc)


def _known_disc(
    blob: Blob, changed: Changed, outline: Outline, streak: FloatArray | None
) -> Disc | None:
    """The body's disc over a piece that shows no rim, as where a part of it is like the wall."""
    if outline.rim.radius is None or not outline.rim.measured_often:
        return None
    laid = laid_disc(
        changed, blob.centre, outline.rim.radius, streak, keeps=outline.rim.keeps_radius
    )
    if laid is not None and laid.support >= _LAID_ALONE:
        return laid
    # what is laid must begin near the edge; half a rim is found from farther away
    return (
        disc_at(changed, blob.centre, outline.rim.radius, known=True)
        if outline.rim.radius_known
        else None
    )


def _laid_exactly(
    disc: Disc, changed: Changed, outline: Outline, streak: FloatArray | None
) -> Disc:
    """A disc that was found by its rim, laid as its edge and the background mix."""
    if outline.rim.radius is None or not outline.rim.is_round:
        return disc
    keeps = _KEEPS_ASSUMED if disc.assumed else outline.rim.keeps_radius
    laid = laid_disc(changed, disc.centre, outline.rim.radius, streak, keeps=keeps)
    if laid is None or laid.support < _LAID_EXACT:
        return disc
    if distance(laid.centre, disc.centre) > _AS_THE_RIM_LEAST + _AS_THE_RIM * disc.radius:
        return disc
    return replace(disc, centre=laid.centre, radius=laid.radius, streak=laid.streak)


def whole_ball(changed: Changed, own: list[Blob], near: Point, radius: float) -> Blob | None:
    """The ball that stands alone at a place, where its colour shows only a part of it.

    own : the pieces that have its colour, if any has; radius : px, of what had it so far
    """
    for blob in blobs(changed, radius=radius):
        if blob.cut or not blob.holds(near, beyond=radius):
            continue
        disc = with_rim(blob, changed, None).disc
        if disc is None or disc.support < _ALONE_RIM:
            continue
        larger = _WHOLE[0] < disc.radius / radius < _WHOLE[1]
        within = any(_lies_within(part, disc) for part in own)
        within = within or (not own and distance(near, disc.centre) <= disc.radius)
        if larger and within and np.pi * disc.radius**2 >= _FILLED * blob.area:
            return replace(blob.rimmed(disc), free=True)
    return None


def _lies_within(part: Blob, disc: Disc) -> bool:
    away = float(np.hypot(*np.subtract(disc.centre, part.centre)))
    return away + float(np.sqrt(part.area / np.pi)) <= _WITHIN * disc.radius


def is_on(mark: Point, blob: Blob) -> bool:
    """Whether a mark is well inside a piece, and not on something that hangs on it."""
    radius = float(np.sqrt(blob.area / np.pi))
    away = float(np.hypot(*np.subtract(mark, blob.centre)))
    return away <= max(_INSIDE * radius, _INSIDE_LEAST)


def _alone(changed: Changed, at: Point) -> Blob | None:
    """The piece that moved at a mark, if it ends within the area, and the mark is well inside."""
    for blob in blobs(changed, radius=_RADIUS_LEAST):
        if not blob.cut and (is_on(at, blob) or _is_on_a_body(at, blob)):
            return blob
    return None


def _is_on_a_body(mark: Point, blob: Blob) -> bool:
    """Whether a mark is on a large body with limbs, and not on what it holds away from itself."""
    radius = float(np.sqrt(blob.area / np.pi))
    away = float(np.hypot(*np.subtract(mark, blob.centre)))
    return _has_limbs(blob) and away <= _ON_A_BODY * radius


def _has_limbs(blob: Blob) -> bool:
    """Whether a piece is a large body with limbs."""
    return blob.wholeness < _LIMBED and float(np.sqrt(blob.area / np.pi)) > _LARGE


def _disc_around(changed: Changed, at: Point) -> Disc | None:
    """The disc whose middle was marked, though it may touch other things that moved."""
    sizes = _SIZES[0] * _SIZES[2] ** np.arange(np.log(_SIZES[1] / _SIZES[0]) / np.log(_SIZES[2]))
    discs = [disc_at(changed, at, float(size)) for size in sizes]
    middles = [
        disc
        for disc in discs
        if disc is not None
        and disc.support >= (_SURELY_ROUND if disc.radius >= _SMALL else _SURELY_ROUND_SMALL)
        and float(np.hypot(*np.subtract(disc.centre, at))) <= _MIDDLE * disc.radius + 1.0
    ]
    return max(middles, key=lambda disc: disc.support, default=None)


def _disc_within(changed: Changed, near: Point, radius: float, *, known: bool) -> Disc | None:
    """The disc near a place that shows its rim best, among other things that moved.

    known : whether its radius was measured before
    """
    if known and (disc := disc_at(changed, near, radius, known=True)) is not None:
        return disc
    starts = [near]
    starts += [
        (
            near[0] + _AROUND * radius * float(np.cos(a)),
            near[1] + _AROUND * radius * float(np.sin(a)),
        )
        for a in np.arange(6) * np.pi / 3
    ]
    discs = [disc_at(changed, start, radius) for start in starts]
    same = [
        disc for disc in discs if disc and abs(float(np.log(disc.radius / radius))) < _SAME_RADIUS
    ]
    return max(same, key=lambda disc: disc.support, default=None)
