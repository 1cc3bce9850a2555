"""The colour of a plain thing, where it tells it apart from what is around it."""

from dataclasses import dataclass

import cv2
import numpy as np

from footing.core.arrays import BoolArray, Image
from footing.core.following.streaks import Grey

_BEGINS = 2  # px around the mark that are surely the thing
_SPREADS = 10.0  # grey levels by which its brightness may differ from the mark's
_COLOURS = 6.0  # the same of its chroma
_ROOM = 1.6  # times, of what it differs by, that it may differ later
_RING = 6  # px around it
_APART = 0.75  # share of the ring that must not have its colour
_LEAST, _MOST = 40, 8000  # px²


@dataclass(frozen=True)
class Tint:
    """Mean of each plane, and by how much a pixel of the thing may differ from it."""

    means: tuple[float, ...]
    rooms: tuple[float, ...]

    def mask(self, planes: list[Grey]) -> BoolArray:
        """Where an area has this colour."""
        alike = np.ones(planes[0].shape, dtype=bool)
        for plane, mean, room in zip(planes, self.means, self.rooms, strict=True):
            alike &= np.abs(plane - mean) <= room
        return alike


def tint_of(planes: list[Grey], at: tuple[int, int]) -> tuple[Tint, Image] | None:
    """The colour of the plain thing at a place of an area, and the thing; None if there is none."""
    x, y = at
    around = np.s_[y - _BEGINS : y + _BEGINS + 1, x - _BEGINS : x + _BEGINS + 1]
    begin = Tint(
        tuple(float(np.median(plane[around])) for plane in planes),
        (_SPREADS, *(_COLOURS for _ in planes[1:])),
    )
    count, labels = cv2.connectedComponents(begin.mask(planes).astype(np.uint8))
    label = int(labels[y, x])
    thing = (labels == label).astype(np.uint8)
    area = int(thing.sum())
    if label == 0 or not _LEAST <= area <= _MOST or count < 2:
        return None
    rim = np.concatenate([thing[0], thing[-1], thing[:, 0], thing[:, -1]])
    if rim.any():
        return None
    inside = thing > 0
    tint = Tint(
        tuple(float(plane[inside].mean()) for plane in planes),
        tuple(
            _ROOM * max(float(3 * plane[inside].std()), least)
            for plane, least in zip(planes, begin.rooms, strict=True)
        ),
    )
    wide = cv2.dilate(thing, np.ones((2 * _RING + 1, 2 * _RING + 1), np.uint8))
    near = cv2.dilate(thing, np.ones((5, 5), np.uint8))
    ring = (wide > 0) & (near == 0)
    return (tint, thing) if float(tint.mask(planes)[ring].mean()) <= 1 - _APART else None
