"""A disc laid over a picture of it and one of the background, as the two mix at its edge.

A pixel at the edge of a body shows its colour with the share α that the body covers of it while
the shutter is open, and the background with the rest: I = α F + (1 - α) B. With B known, a disc of
known radius and streak says what α is at each place for each centre; along each radius the colour
F is what fits best, and the centre is what leaves the least of the picture unexplained, by
Gauss-Newton steps. Unlike a place where the difference has fallen by half, this holds where a
part of the body looks like what is behind it, and where it is smeared by its motion.
"""

from dataclasses import dataclass

import cv2
import numpy as np

from footing.core.arrays import FloatArray
from footing.core.following.patches import Point
from footing.core.following.rim import ON_THE_RIM, Disc, moved_circle
from footing.core.following.scene import Changed
from footing.core.following.streaks import Grey, Streak

_STEP, _APART = 0.5, 2.5  # px along a radius, and between radii
_LEAST_RADII = 16
_SOFT = 1.0  # per px: how fast a still edge falls, as pictures are smoothed here
_SMEARED = 1.0  # px, streaks up to which are none
_WITHIN, _BEYOND = 1.0, 1.5  # px inside where the edge begins, and outside where it ends
_BEGINS, _ENDS = 0.93, 0.05  # of the most that is covered
_ROOM = 3.5  # px beyond the smeared disc
_NOISE = np.float32(2.2)  # grey levels, of brightness and of chroma
_STRONGEST = 40.0  # inverse px, beyond which a radius counts no more
_STRAY = 2.5  # px, residual at which a radius counts half as much
_ROUNDS = 4
_STILL = 0.03  # px, a step after which it is laid
_MOVES = 2.0  # px in one round
_SIZES = 0.8, 1.25  # times the radius that was expected
_FARTHEST = 3.0  # px, that one radius or one streak may be off
_NOTHING = 1e-6
_NOISE_LEFT = 9.0  # noise squared, of all planes: what is left more than this is strange
_SHOWS = 3.0  # inverse px, from which a radius shows where the edge is
_STRAYS = 0.5, 1.0  # of the radius, and px, that the centre may be from where it was expected


@dataclass(frozen=True)
class _Edge:
    """How much of each place around a disc it covers, along its radii ``(places, radii)``.

    across, down : of each radius; x, y : of each place, px from the centre
    covered : α; falls : how fast it falls outward, and grows with the length of the streak, 1/px
    used : 1 at the edge, else 0
    """

    across: Grey
    down: Grey
    x: Grey
    y: Grey
    covered: Grey
    falls: Grey
    grows: Grey
    used: Grey


def laid_disc(
    changed: Changed,
    near: Point,
    radius: float,
    streak: FloatArray | None = None,
    *,
    keeps: float = 1.0,
) -> Disc | None:
    """The disc near a place, whose radius is known nearly; None if it leads far from there.

    ``near`` in px of the frame, ``radius`` in px; ``streak`` is how far it moves while the shutter
    is open, px. Its support is the share of radii that show its edge where it is laid; where it
    has a streak, that is measured as well.

    keeps : how firmly the radius is kept, in what one frame tells of it
    """
    streak = np.zeros(2) if streak is None else streak
    length = float(np.hypot(*streak))
    edge = _edge(radius, streak)
    here, still, corner = _around(changed, near, radius + length / 2)
    design = np.stack([edge.across, edge.down, np.ones_like(edge.across)], axis=1).astype(float)
    begins = np.subtract(near, corner)
    centre, size = begins, radius
    for _ in range(_ROUNDS):
        mixed = _mixed(edge, here, still, centre, np.float32(size - radius))
        certain = np.minimum(np.sqrt(mixed.information), _STRONGEST)
        moved, off = moved_circle(
            design, mixed.outside, certain, smaller=radius - size, keeps=keeps, stray=_STRAY
        )
        centre = centre + np.clip(moved[:2], -_MOVES, _MOVES)
        size = float(np.clip(size + moved[2], _SIZES[0] * radius, _SIZES[1] * radius))
        if np.abs(moved).max() < _STILL:
            break
    if float(np.hypot(*(centre - begins))) > _STRAYS[0] * radius + _STRAYS[1]:
        return None
    x, y = centre + corner
    support = float(((certain > _SHOWS) & (np.abs(off) < ON_THE_RIM)).mean())
    measured = None if length < _SMEARED else _measured(edge, mixed, off, length)
    return Disc((float(x), float(y)), size, support, assumed=True, streak=measured)


@dataclass(frozen=True)
class _Mixed:
    """What a picture shows along the radii of a disc that is laid somewhere.

    contrast : of the disc's colour with the background ``(places, radii, planes)``
    outward : what changes if the edge moves by a pixel outward, and colour with it
    unexplained : what is left of the picture, both of that shape
    most : how much of a colour is seen along each radius ``(radii, 1)``
    outside : px, by which the edge lies farther out ``(radii,)``
    information : how certainly, inverse variance, 1/px²
    """

    contrast: Grey
    outward: Grey
    unexplained: Grey
    most: Grey
    outside: FloatArray
    information: FloatArray


def _mixed(edge: _Edge, here: Grey, still: Grey, centre: FloatArray, grown: np.float32) -> _Mixed:
    """The disc laid with its centre at a place, px of the area, and grown by some pixels."""
    x = edge.x + (np.float32(centre[0]) + grown * edge.across)
    y = edge.y + (np.float32(centre[1]) + grown * edge.down)
    seen, behind = (
        cv2.remap(planes, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).reshape(
            *x.shape, -1
        )
        for planes in (here, still)
    )
    covered, used = edge.covered[..., None], edge.used[..., None]
    heard = used * covered
    most = np.maximum((heard * covered).sum(axis=0), 1e-3)
    own = seen - behind + covered * behind
    colour = (heard * own).sum(axis=0) / most
    contrast = colour - behind
    outward = _beside_colour(contrast * edge.falls[..., None], covered, heard, most)
    unexplained = own - covered * colour
    information = (used * outward * outward).sum(axis=(0, 2)).astype(float)
    slope = (used * outward * unexplained).sum(axis=(0, 2))
    outside = np.clip(slope / np.maximum(information, _NOTHING), -_FARTHEST, _FARTHEST)
    return _Mixed(contrast, outward, unexplained, most, outside, information)


def _beside_colour(changes: Grey, covered: Grey, heard: Grey, most: Grey) -> Grey:
    """What of a change along each radius another colour of the disc does not explain as well."""
    return np.asarray(changes - covered * ((heard * changes).sum(axis=0) / most))


def _measured(edge: _Edge, mixed: _Mixed, off: FloatArray, length: float) -> Streak:
    """How long the streak is, from what is left of the picture where the disc lies.

    off : px, residuals of the radii; length : px, as it was assumed
    """
    covered, used = edge.covered[..., None], edge.used[..., None]
    heard = used * covered
    information = np.maximum(mixed.information, _NOTHING)
    left = mixed.unexplained - mixed.outward * mixed.outside.astype(np.float32)[:, None]
    longer = _beside_colour(mixed.contrast * edge.grows[..., None], covered, heard, mixed.most)
    alike = (used * mixed.outward * longer).sum(axis=(0, 2)) / information
    longer = longer - mixed.outward * alike.astype(np.float32)[:, None]
    strange = (used * left * left).sum(axis=(0, 2)) / np.maximum(used.sum(axis=(0, 2)), 1)
    trusted = 1 / (1 + (off / _STRAY) ** 2) ** 2 / (1 + strange / _NOISE_LEFT)
    certainty = float((trusted * (used * longer * longer).sum(axis=(0, 2))).sum())
    more = float((trusted * (used * longer * left).sum(axis=(0, 2))).sum())
    more = float(np.clip(more / max(certainty, _NOTHING), -_FARTHEST, _FARTHEST))
    return Streak(length + more, certainty)


def _around(changed: Changed, near: Point, reach: float) -> tuple[Grey, Grey, FloatArray]:
    """The picture and the background around a place ``(height, width, planes)``, and its corner.

    In units of noise.
    """
    room = round(reach + _STRAYS[0] * reach + _ROOM + _MOVES)
    height, width = changed.here.shape
    x, y = round(near[0]) - changed.left, round(near[1]) - changed.top
    left, top = max(min(x - room, width - 1), 0), max(min(y - room, height - 1), 0)
    cut = np.s_[top : max(y + room + 1, top + 1), left : max(x + room + 1, left + 1)]
    here, still = (
        np.asarray(np.dstack([plane[cut] for plane in planes]) / _NOISE, dtype=np.float32)
        for planes in zip((changed.here, changed.still), *changed.chroma, strict=True)
    )
    return here, still, np.array([left + changed.left, top + changed.top], dtype=float)


def _edge(radius: float, streak: FloatArray) -> _Edge:
    """The edge of a disc that moves along a streak, the mean of its places on the way."""
    length = float(np.hypot(*streak))
    count = max(int(2 * np.pi * radius / _APART), _LEAST_RADII)
    angles = np.arange(count) * (2 * np.pi / count)
    away = np.arange(0, radius + length / 2 + _ROOM, _STEP)
    across, down = np.cos(angles), np.sin(angles)
    x, y = np.outer(away, across), np.outer(away, down)
    if length < _SMEARED:
        covered = np.repeat(_soft(radius - away)[:, None], count, axis=1)
        grows = np.zeros_like(covered)
    else:
        u, v = streak / length
        along = x * u + y * v
        aside = (away**2)[:, None] - along**2
        steps = max(int(np.ceil(length)), 1)
        covered, grows = np.zeros_like(x), np.zeros_like(x)
        for way in (np.arange(steps) + 0.5) / steps - 0.5:
            ahead = along - length * way
            off = np.sqrt(np.maximum(ahead**2 + aside, 0.01))
            soft = _soft(radius - off)
            covered += soft
            grows += way * soft * (1 - soft) * ahead / off
        covered /= steps
        grows *= 2 * _SOFT / steps
    begins = away[np.argmax(covered < _BEGINS * covered.max(axis=0), axis=0)]
    ends = away[len(away) - 1 - np.argmax(covered[::-1] > _ENDS, axis=0)]
    used = (away[:, None] >= begins - _WITHIN) & (away[:, None] <= ends + _BEYOND)
    somewhere = np.flatnonzero(used.any(axis=1))
    rows = np.s_[somewhere[0] : somewhere[-1] + 1]
    falls = -np.gradient(covered, _STEP, axis=0)
    parts = (x[rows], y[rows], covered[rows], falls[rows], grows[rows], used[rows])
    return _Edge(*(part.astype(np.float32) for part in (across, down, *parts)))


def _soft(inside: FloatArray) -> FloatArray:
    """How much is covered of a place that lies so far inside a still edge, px."""
    return np.asarray(0.5 * (1 + np.tanh(_SOFT * inside)))
