"""The colour of a plain thing, where it tells it apart from what is around it.

Light and shade on a plain thing change its brightness and, with it, its chroma; what chroma is of
brightness stays, so that this is compared.
"""

from dataclasses import dataclass, replace
from itertools import product

import cv2
import numpy as np

from footing.core.arrays import BoolArray, Image
from footing.core.following.rim import Disc, disc_in
from footing.core.following.streaks import Grey

_BEGINS = 2  # px around the mark that are surely the thing
_DARKER, _BRIGHTER = 0.4, 1.6  # times the mark's brightness, that the thing may be
_BRIGHTER_STILL = 10.0  # grey levels beyond that
_COLOURED = 10.0  # percent of the brightness, from which chroma is a colour
_ROOMS = (5.0, 8.0, 12.0, 16.0, 20.0)  # of these percents, that are tried for the thing
_SPREADS = (16.0, 30.0)  # grey levels by which the thing may differ from the mark's
_NEUTRAL = 128.0
_DIM = 20.0  # grey levels, that keep the colour of dark places from being noise
_RING = 6  # px around it
_APART = 0.75  # share of the ring that must not have its colour
_ROUND, _SURELY_ROUND = 0.75, 0.85  # share of the disc around it, that it must fill
_ROUNDEST = 0.08  # by which a later one must be rounder
_LEAST, _MOST = 60, 8000  # px²
_LARGE = 150  # px²
_MIDDLE, _NEAR = 5, 0.4  # px around the mark, and share of the radius: where a ball's middle is
_BALLS, _BALL = (7.0, 45.0), 0.75  # px, and support of its rim
_OPAQUE = 60.0  # grey levels
_WIDER, _GROWS = 1.5, 1.5  # times the room, and the area that a plain thing may have in it


@dataclass(frozen=True)
class Tint:
    """A brightness, its chroma in percent of it, and by how much a pixel of the thing may differ.

    darker, brighter : grey levels between which the thing is
    means : percent, blue and red; none if chroma is not known
    room : percent
    sure : whether that shows a round thing surely
    """

    darker: float
    brighter: float
    means: tuple[float, ...]
    room: float
    sure: bool = False

    def mask(self, planes: list[Grey]) -> BoolArray:
        """Where an area has this colour."""
        grey = planes[0]
        alike: BoolArray = np.asarray((grey >= self.darker) & (grey <= self.brighter), dtype=bool)
        for share, mean in zip(_shares(planes), self.means, strict=True):
            alike = alike & np.asarray(np.abs(share - mean) <= self.room, dtype=bool)
        # threads of a like colour hang on it
        opened = cv2.morphologyEx(alike.astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
        return np.asarray(opened > 0, dtype=bool)


def tint_of(planes: list[Grey], at: tuple[int, int]) -> Tint | None:
    """The colour of the plain thing at a place of an area; None if there is none."""
    grey, means = _colour_at(planes, at)
    coloured = bool(means) and float(np.linalg.norm(means)) >= _COLOURED
    spans = [(grey - spread, grey + spread) for spread in _SPREADS]
    if coloured:
        spans.insert(0, (_DARKER * grey, _BRIGHTER * grey + _BRIGHTER_STILL))
    best: Tint | None = None
    roundest = _ROUND - _ROUNDEST
    for (darker, brighter), room in product(spans, _ROOMS):
        shaded = brighter - darker > 2 * max(_SPREADS)
        tint = Tint(darker, brighter, means, room)
        thing = _thing(tint.mask(planes), at)
        if thing is None:
            continue
        round_ = _roundness(thing)
        # what is lit and shaded shows whole only at a room at which it is still as round
        fuller = shaded and best is not None and round_ >= max(roundest - _ROUNDEST, _SURELY_ROUND)
        if round_ > roundest + _ROUNDEST or fuller:
            roundest = max(round_, roundest)
            best = replace(tint, sure=round_ >= _SURELY_ROUND)
    if best is None or not (coloured or best.sure) or not _ends(best, planes, at):
        return None
    return best


def ball_of(planes: list[Grey], at: tuple[int, int]) -> tuple[Disc, Tint] | None:
    """A ball of one colour at a place of an area, that goes over into something like it.

    A hand that holds it may have nearly its colour: then what has this colour is not round, but
    most of the ball's rim shows.
    """
    x, y = at
    grey, means = _colour_at(planes, at)
    if not means or float(np.linalg.norm(means)) < _COLOURED:
        return None
    best: tuple[Disc, Tint] | None = None
    for room in _ROOMS:
        tint = Tint(_DARKER * grey, _BRIGHTER * grey + _BRIGHTER_STILL, means, room)
        alike = tint.mask(planes).astype(np.uint8)
        depth = cv2.distanceTransform(alike, cv2.DIST_L2, 5)
        depth = depth[y - _MIDDLE : y + _MIDDLE + 1, x - _MIDDLE : x + _MIDDLE + 1]
        row, column = np.unravel_index(int(depth.argmax()), depth.shape)
        radius = float(depth[row, column])
        if not _BALLS[0] <= radius <= _BALLS[1]:
            continue
        near = (float(x - _MIDDLE + column), float(y - _MIDDLE + row))
        disc = disc_in(_OPAQUE * alike.astype(np.float32), near, radius)
        if disc is None or float(np.hypot(*np.subtract(disc.centre, at))) > _NEAR * disc.radius:
            continue
        if disc.support >= max(_BALL, best[0].support if best is not None else 0.0):
            best = disc, tint
    return best


def _colour_at(planes: list[Grey], at: tuple[int, int]) -> tuple[float, tuple[float, ...]]:
    """Brightness around a place, and its chroma in percent of it."""
    x, y = at
    around = np.s_[y - _BEGINS : y + _BEGINS + 1, x - _BEGINS : x + _BEGINS + 1]
    grey = float(np.median(planes[0][around]))
    return grey, tuple(float(np.median(share[around])) for share in _shares(planes))


def _ends(tint: Tint, planes: list[Grey], at: tuple[int, int]) -> bool:
    """Whether a colour ends at the edge of its thing, and does not change over into others.

    A large thing of one colour is one, even if something like it is beside it.
    """
    wider = replace(
        tint,
        darker=tint.darker - _BRIGHTER_STILL,
        brighter=tint.brighter + _BRIGHTER_STILL,
        room=_WIDER * tint.room,
    )
    thing, more = _thing(tint.mask(planes), at), _thing(wider.mask(planes), at)
    area = 0.0 if thing is None else float(thing.sum())
    return area >= _LARGE or (more is not None and float(more.sum()) <= _GROWS * area)


def _thing(alike: BoolArray, at: tuple[int, int]) -> Image | None:
    """What of a colour hangs together at a place, if it ends there and stands out."""
    count, labels = cv2.connectedComponents(alike.astype(np.uint8))
    label = int(labels[at[1], at[0]])
    thing = np.asarray(labels == label, dtype=np.uint8)
    if label == 0 or not _LEAST <= int(thing.sum()) <= _MOST or count < 2:
        return None
    rim = np.concatenate([thing[0], thing[-1], thing[:, 0], thing[:, -1]])
    if rim.any():
        return None
    wide = cv2.dilate(thing, np.ones((2 * _RING + 1, 2 * _RING + 1), np.uint8))
    near = cv2.dilate(thing, np.ones((5, 5), np.uint8))
    ring = (wide > 0) & (near == 0)
    return thing if float(alike[ring].mean()) <= 1 - _APART else None


def _roundness(thing: Image) -> float:
    """Share of the disc around it that it fills."""
    _, _, width, height = cv2.boundingRect(thing)
    return float(thing.sum()) / (np.pi * (max(width, height) / 2) ** 2)


def _shares(planes: list[Grey]) -> list[Grey]:
    """Chroma in percent of the brightness."""
    return [
        np.asarray(100 * (plane - _NEUTRAL) / (planes[0] + _DIM), dtype=np.float32)
        for plane in planes[1:]
    ]
