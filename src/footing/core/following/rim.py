"""The rim of a round thing: where its edge against the still background lies, to parts of a pixel.

Along each radius, what differs from the background falls from the level just inside the rim to
none; where it has fallen by half is the rim. A circle is laid through these places by weighted
least squares, made robust by weights that fall with the residual. A threshold on the difference
would set the rim farther out on a side that stands out strongly, and so move the centre.
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np

from footing.core.arrays import FloatArray
from footing.core.following.patches import Point
from footing.core.following.scene import Changed
from footing.core.following.streaks import Grey, Streak

_INNER, _OUTER, _STEP = 1.5, 3.0, 0.5  # px along a radius, in which the rim is looked for
_LEVEL = 1.15  # times the mean just inside: what a whole pixel of the thing differs by
_SPARSE = 50  # rows that are enough to know noise by
_APART = 1.5  # px between radii
_LEAST_RADII = 16
_OUT_OF_NOISE = 2.5  # deviations
_STRONGEST = 60.0  # grey levels, beyond which a radius counts no more
_STRAY = 1.2  # px, residual at which a radius counts half as much
_KEEPS_SIZE, _KEEPS_KNOWN = 0.2, 20.0  # how firmly a radius is kept, and one that is known,
_LOOSE = 0.1  # and of the radius, its deviation
_ROUNDS, _WEIGHINGS = 5, 3
_MOVES = 2.0  # px in one round
_LEAST_FIRM = 1e-6 * np.eye(3)  # so that it moves somewhere, whatever is seen
_SIZES = 0.8, 1.25  # times the radius that was expected
ON_THE_RIM = 1.0  # px, residual with which a radius shows the rim
_LEAST_LEVEL = 6.0  # grey levels, from which a radius shows a rim
_STRAYS = 0.5, 1.0  # of the radius, and px, that the centre may be from where it was expected

_HOPELESS = 0.35  # support after two rounds, that comes to nothing

SUPPORTED = 0.65  # share of the radii that must show a rim, for it to be one
_WELL, _BY_COLOUR = 0.75, 0.85  # the same, from which colour is not asked; and by colour
_KNOWN = 0.6  # the same, where its radius is known


@dataclass(frozen=True)
class Disc:
    """A circle through a rim: its centre and radius, px, and the share of radii that show it.

    ``assumed`` says that the radius was known before, and not measured on this rim; ``streak`` is
    how far it moved while the shutter was open, if that was measured.

    A round thing on a still background has a support of 0.8 to 1, also where it touches something
    else that moved; what is laid beside it, or over something else, has one below 0.6 mostly.
    """

    centre: Point
    radius: float
    support: float
    assumed: bool = False
    streak: Streak | None = None


def disc_at(changed: Changed, near: Point, radius: float, *, known: bool = False) -> Disc | None:
    """The disc near a place, whose radius is known nearly; None if there is none.

    ``near`` in px of the frame, ``radius`` in px; the centre must be within half a radius and 1 px
    of ``near``. Brightness is more exact; where it shows no rim or hardly one, colour may.

    known : whether the radius was measured, so that half a rim is enough to tell the centre
    """
    by_brightness = _in_frame(changed, changed.by_brightness, near, radius, known=known)
    if by_brightness is not None and by_brightness.support >= _WELL:
        return by_brightness
    by_colour = None
    if changed.has_colour:
        by_colour = _in_frame(changed, changed.by_colour, near, radius, known=known)
    if by_colour is not None and by_colour.support >= _BY_COLOUR:
        return by_colour
    enough = _KNOWN if known else SUPPORTED
    shown = by_brightness is not None and by_brightness.support >= enough
    return by_brightness if shown else None


def _in_frame(
    changed: Changed, differs: Grey, near: Point, radius: float, *, known: bool
) -> Disc | None:
    place = near[0] - changed.left, near[1] - changed.top
    disc = disc_in(differs, place, radius, known=known)
    if disc is None:
        return None
    x, y = disc.centre
    return replace(disc, centre=(x + changed.left, y + changed.top))


def disc_in(differs: Grey, near: Point, radius: float, *, known: bool = False) -> Disc | None:
    """The disc near a place of an area ``(height, width)`` that is brighter than what is around it.

    ``near`` and its centre in px of the area; ``known`` as in `disc_at`.
    """
    keeps = _KEEPS_KNOWN if known else _KEEPS_SIZE
    every = max(differs.shape[0] // _SPARSE, 1)
    noise = 1.48 * float(np.median(differs[::every, ::every]))
    count = max(int(2 * np.pi * radius / _APART), _LEAST_RADII)
    angles = np.arange(count) * (2 * np.pi / count)
    across, down = np.cos(angles), np.sin(angles)
    design = np.stack([across, down, np.ones(count)], axis=1)
    offsets = np.arange(-_INNER, _OUTER + 0.01, _STEP)
    begins = np.asarray(near, dtype=float)
    centre: FloatArray = begins
    size = radius
    support = 0.0
    for round_ in range(_ROUNDS):
        profiles = _profiles(differs, centre, size + offsets, across, down)
        level = np.maximum(_LEVEL * profiles[:2].mean(axis=0), 1e-3)
        share = np.minimum.accumulate(np.clip(profiles / level, 0, 1), axis=0)
        edge = _STEP * share.sum(axis=0) - _STEP / 2 - _INNER
        heard = np.clip(level - _OUT_OF_NOISE * noise, 0, _STRONGEST)
        ends = edge < _OUTER - 1.2 * _STEP
        if known and round_:
            heard = heard * ends  # where it does not end, something else touches it
        firm = keeps / (_LOOSE * radius) ** 2
        moved, off = moved_circle(design, edge, heard, smaller=radius - size, keeps=firm)
        centre = np.asarray(centre + np.clip(moved[:2], -_MOVES, _MOVES), dtype=float)
        size = min(max(size + float(moved[2]), _SIZES[0] * radius), _SIZES[1] * radius)
        shown = level > max(_OUT_OF_NOISE * noise, _LEAST_LEVEL)
        support = float((shown & ends & (np.abs(off) < ON_THE_RIM)).mean())
        if round_ and support < _HOPELESS:
            return None
    strays = float(np.hypot(*(centre - begins)))
    if strays > _STRAYS[0] * radius + _STRAYS[1]:
        return None
    x, y = centre
    return Disc((float(x), float(y)), size, support, known)


def _profiles(
    differs: Grey, centre: FloatArray, radii: FloatArray, across: FloatArray, down: FloatArray
) -> Grey:
    """What is seen along each radius ``(places, radii)``."""
    x = (centre[0] + np.outer(radii, across)).astype(np.float32)
    y = (centre[1] + np.outer(radii, down)).astype(np.float32)
    seen = cv2.remap(differs, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT)
    return np.asarray(seen, dtype=np.float32)


def moved_circle(
    design: FloatArray,
    edge: FloatArray,
    heard: FloatArray,
    *,
    smaller: float,
    keeps: float,
    stray: float = _STRAY,
) -> tuple[FloatArray, FloatArray]:
    """How a circle must move and grow (x, y, radius), and the residual of each of its radii, px.

    design : of each radius, its direction and 1 ``(radii, 3)``
    edge : px, by which the edge lies farther out on each; heard : how much each counts
    smaller : px, by which it is smaller than it should be; keeps : how firmly it should, of all
        radii together; stray : px, residual at which a radius counts half as much
    """
    weights = heard
    moved = np.zeros(3)
    off = edge
    for _ in range(_WEIGHINGS):
        squared = weights**2
        normal = design.T @ (design * squared[:, None])
        right = design.T @ (edge * squared)
        firm = keeps * float(squared.sum())
        normal[2, 2] += firm
        right[2] += firm * smaller
        moved = np.asarray(np.linalg.solve(normal + _LEAST_FIRM, right), dtype=float)
        off = edge - design @ moved
        weights = heard / (1 + (off / stray) ** 2)
    return moved, off
