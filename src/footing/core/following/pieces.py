"""What moved: the pieces of an area that are not the still background."""

from dataclasses import dataclass, replace

import cv2
import numpy as np

from footing.core.arrays import BoolArray, Image
from footing.core.following.patches import Point
from footing.core.following.rim import Disc
from footing.core.following.scene import Changed

_LEAST_AREA = 7.0  # px², of a piece
# shares of a piece, and of its inner part where it is large, px², that must have changed in
# brightness for that to be its outline
_PLAIN, _PLAIN_INSIDE, _LARGE = 0.5, 0.9, 300.0
_COARSER = 0.8  # by which colour widens a piece
_GAP = 0.35  # of a body's radius: parts of it that look like the background are bridged
_AT_MOST = 7  # px that are bridged
OPAQUE = 200  # grey levels in which a filled outline is painted
_ROUND, _FULL = 0.42, 0.7  # shares of a disc, or of a rectangle, that a thing with a middle fills


@dataclass(frozen=True)
class Blob:
    """A piece that moved.

    centre : px, of its filled outline, or of its rim
    area : px²; side : the longer side of its box, px
    cut : whether it goes on outside the area that was looked at
    plain : whether brightness alone shows all of it
    filled : its outline, filled ``(height, width)`` of the box
    fill : share of the smallest rectangle around it, however turned
    disc : its rim, where it is round
    part : whether it is only the round part of a larger piece
    free : whether it is the whole body, where colour told only a part of it from what carried it
    """

    centre: Point
    area: float
    side: float
    box: tuple[int, int, int, int]
    cut: bool
    plain: bool
    filled: Image
    fill: float
    disc: Disc | None = None
    part: bool = False
    free: bool = False

    @classmethod
    def round(cls, disc: Disc) -> "Blob":
        """A disc that is seen within a larger piece."""
        x, y = disc.centre
        reach = round(disc.radius) + 1
        left, top, side = round(x) - reach, round(y) - reach, 2 * reach + 1
        filled = np.zeros((side, side), dtype=np.uint8)
        cv2.circle(filled, (reach, reach), round(disc.radius), 1, thickness=cv2.FILLED)
        return cls(
            centre=disc.centre,
            area=float(np.pi * disc.radius**2),
            side=2 * disc.radius,
            box=(left, top, side, side),
            cut=False,
            plain=True,
            filled=filled,
            fill=np.pi / 4,
            disc=disc,
            part=True,
        )

    def rimmed(self, disc: Disc) -> "Blob":
        """The same, with its centre as its rim says."""
        return replace(self, centre=disc.centre, disc=disc)

    @property
    def wholeness(self) -> float:
        """From 1 on it is one thing with a middle, and not a body with limbs."""
        return float(max(self.roundness / _ROUND, self.fill / _FULL))

    @property
    def roundness(self) -> float:
        """Share of the disc around it that it fills."""
        return float(self.area / (np.pi * (self.side / 2) ** 2))

    def picture(self, reach: int) -> tuple[Image, Point]:
        """Its filled outline with room around it, and where that begins in the frame."""
        left, top, _, _ = self.box
        wide = cv2.copyMakeBorder(
            self.filled, reach, reach, reach, reach, cv2.BORDER_CONSTANT, value=0
        )
        return np.asarray(wide * np.uint8(OPAQUE)), (float(left - reach), float(top - reach))

    def holds(self, place: Point, *, beyond: float) -> bool:
        """Whether a place is in its box, or as near to it as ``beyond`` px."""
        left, top, width, height = self.box
        x, y = place
        return bool(
            left - beyond <= x <= left + width + beyond
            and top - beyond <= y <= top + height + beyond
        )


def blobs(changed: Changed, *, radius: float, tinted: BoolArray | None = None) -> list[Blob]:
    """The pieces of an area that moved, the larger first.

    radius : px, of the body that is looked for; gaps up to a third of it are bridged
    tinted : where the body's colour is, if that tells it apart
    """
    mask = (changed.mask if tinted is None else changed.mask & tinted).astype(np.uint8)
    gap = min(round(_GAP * radius), _AT_MOST)
    if gap:
        shape = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * gap + 1, 2 * gap + 1))
        mask = np.asarray(cv2.morphologyEx(mask, cv2.MORPH_CLOSE, shape), dtype=np.uint8)
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    whole = mask.shape[0]
    found = []
    for contour in contours:
        left, top, width, height = cv2.boundingRect(contour)
        if width * height < _LEAST_AREA:
            continue
        filled = np.zeros((height, width), dtype=np.uint8)
        cv2.drawContours(filled, [contour - (left, top)], -1, 1, thickness=cv2.FILLED)
        area = float(filled.sum())
        if area < _LEAST_AREA:
            continue
        # colour is coarser than brightness, so it says only that there is something
        bright = _bright_part(changed, filled, left, top, gap)
        plain = tinted is not None or _shows_all(bright, filled)
        bright = filled if tinted is not None else bright
        moments = cv2.moments(bright if plain else filled, binaryImage=True)
        x, y = moments["m10"] / moments["m00"] + left, moments["m01"] / moments["m00"] + top
        cut = left == 0 or top == 0 or left + width == whole or top + height == whole
        box = (changed.left + left, changed.top + top, width, height)
        centre = (x + changed.left, y + changed.top)
        size = float(moments["m00"]) if plain else _COARSER * area
        (_, (wide, long), _) = cv2.minAreaRect(contour)
        fill = area / max((wide + 1) * (long + 1), 1.0)
        found.append(
            Blob(
                centre,
                size,
                float(max(width, height)),
                box,
                cut,
                plain,
                bright if plain else filled,
                fill,
            )
        )
    return sorted(found, key=lambda blob: blob.area, reverse=True)


def _bright_part(changed: Changed, filled: Image, left: int, top: int, gap: int) -> Image:
    """What of a piece changed in brightness, its largest part, filled."""
    height, width = filled.shape
    bright = changed.bright[top : top + height, left : left + width] > 1.0
    part = (bright & (filled > 0)).astype(np.uint8)
    if gap:
        shape = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * gap + 1, 2 * gap + 1))
        padded = cv2.copyMakeBorder(part, gap, gap, gap, gap, cv2.BORDER_CONSTANT)
        closed = cv2.morphologyEx(padded, cv2.MORPH_CLOSE, shape)
        part = np.ascontiguousarray(closed[gap : gap + height, gap : gap + width])
    contours, _ = cv2.findContours(part, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    whole = np.zeros_like(part)
    if contours:
        largest = max(contours, key=cv2.contourArea)
        cv2.drawContours(whole, [largest], -1, 1, thickness=cv2.FILLED)
    return whole


def _shows_all(bright: Image, filled: Image) -> bool:
    """Whether what changed in brightness is all of a piece, and the rest is smeared colour.

    Of a small piece most may be smeared; a large one is as bright as the wall where it is missing.
    """
    shown, area = float(bright.sum()), float(filled.sum())
    if shown < _PLAIN * area or area < _LARGE:
        return shown >= _PLAIN * area
    inside = cv2.erode(filled, np.ones((3, 3), np.uint8), borderValue=0)
    return shown >= _PLAIN_INSIDE * float(inside.sum())


def share_moved(changed: Changed, at: Point, *, reach: int) -> float:
    """Share of a disc around a place that is not the background."""
    x, y = round(at[0]) - changed.left, round(at[1]) - changed.top
    mask = changed.mask
    rows = slice(max(y - reach, 0), y + reach + 1)
    columns = slice(max(x - reach, 0), x + reach + 1)
    part: BoolArray = mask[rows, columns]
    if part.size == 0:
        return 0.0
    down, across = np.ogrid[: part.shape[0], : part.shape[1]]
    inside = (down + rows.start - y) ** 2 + (across + columns.start - x) ** 2 <= reach**2
    return float(part[inside].mean()) if inside.any() else 0.0
