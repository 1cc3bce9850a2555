"""What moved: the pieces of an area that are not the still background, and a body's outline.

A thing that turns or rolls shows another pattern in each frame; its outline and centre stay.
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np

from footing.core.arrays import BoolArray, FloatArray, Image
from footing.core.following.laying import lay
from footing.core.following.patches import Patch, Point, Pose
from footing.core.following.scene import Changed
from footing.core.following.streaks import Grey

_LEAST_AREA = 7.0  # px², of a piece
_PLAIN = 0.5  # share of a piece that must have changed in brightness for its outline to count
_COARSER = 0.8  # by which colour widens a piece
_GAP = 0.35  # of a body's radius: parts of it that look like the background are bridged
_AT_MOST = 7  # px that are bridged
_LEARNS = 0.2
_FIRST_SPREAD = 0.25  # of the logarithm of an area
_LEAST_SPREAD = 0.18
_JITTERS = 0.7  # px: how exactly a centre is known at first
_DRIFTS = 0.2  # how fast the look's way from the centre is learnt
_ROLLS_LEAST, _ROLLS_SHARE, _ROLLS_NOISE = 0.6, 0.06, 1.2  # px, of the radius, of the jitter
_CLICKED, _CLICKED_SHARE = 0.3, 0.03  # px, and share of the radius: how exactly centres are clicked
_BESIDE = 0.3  # of the radius, from which a mark is surely no centre
_CUT_OFF = 0.5  # of the radius, by which a missing part moves a centre
_OPAQUE = 200  # grey levels in which a filled outline is painted
_ROOM, _RIM = 1.25, 3  # of the radius, and px: reach of the shape
_LAID = 0.88  # score from which a shape is laid rightly
_ASKEW = 0.35  # of the radius, that a shape may be from the middle of what moved
_LEARNT = 12  # frames from which the shape is known
_FIRST_LOOKS = 5  # measurements of the offset
_ROUND, _FULL = 0.42, 0.7  # shares of a disc, or of a rectangle, that a thing with a middle fills
_TOO_LARGE = 0.5  # of the logarithm of the area, by which it is another thing, or two
_LESS = 0.15  # of the logarithm of the area, by which a first outline is not whole
_TURNS = 0.15  # rad, from which a look may have rolled
_SLIPS, _SLIPS_SHARE = 1.0, 0.05  # px, and share of the radius, that one frame may say at most
_LIMBED, _LARGE = 1.15, 25.0  # wholeness under which, and px from which a body may have limbs
_LONG, _STAYS = 8, 0.03  # frames; share of the radius, within which a pattern stays on its spot
_GOES_ON = 0.2  # share of a way that must have been gone before
_ITSELF = 1.0  # deviations of the logarithm of the area,
_ITSELF_LEAST, _ITSELF_MOST = 0.06, 0.12  # and of it at least and at most
_LEAPS, _LEAPS_SHARE = (
    1.0,
    0.08,
)  # px, and share of the radius: more than a pattern rolls in a frame
_AGAIN = (3, 6, 12)  # frames after which the first is measured by the shape that was learnt


@dataclass(frozen=True)
class Blob:
    """A piece that moved.

    centre : px, of its filled outline
    area : px²; side : the longer side of its box, px
    cut : whether it goes on outside the area that was looked at
    plain : whether brightness alone shows it
    filled : its outline, filled ``(height, width)`` of the box
    fill : share of the smallest rectangle around it, however turned
    """

    centre: Point
    area: float
    side: float
    box: tuple[int, int, int, int]
    cut: bool
    plain: bool
    filled: Image
    fill: float

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
        return np.asarray(wide * np.uint8(_OPAQUE)), (float(left - reach), float(top - reach))

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
        plain = tinted is not None or float(bright.sum()) >= _PLAIN * area
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


@dataclass(frozen=True)
class Outline:
    """How large a body's outline is, its shape, and where from its centre the mark lies.

    area : px²; spread : of its logarithm
    offset : px, of the mark from the centre
    jitter : px, noise of the centre; away : px, mean way of the look's place from the mark's
    rolls : whether the look has left the spot that was marked, as the pattern of a ball does
    shape : the mean of the filled outlines so far, around the centre
    first : the first of them, and the mark in it
    seen : in how many frames it stood alone
    """

    area: float
    offset: Point
    shape: Patch
    first: tuple[Image, Point]
    spread: float = _FIRST_SPREAD
    jitter: float = _JITTERS
    away: Point = (0.0, 0.0)
    compared: int = 0
    last_away: Point | None = None
    rolls: bool = False
    measured: tuple[Point, ...] = ()
    side: float = 0.0
    wholeness: float = 1.0
    first_area: float = 0.0
    seen: int = 1

    @classmethod
    def begun(cls, blob: Blob, mark: Point) -> "Outline":
        """As it is seen for the first time, with the mark in that frame."""
        radius = float(np.sqrt(blob.area / np.pi))
        reach = round(_ROOM * radius) + _RIM
        picture, corner = blob.picture(reach)
        x, y = np.subtract(blob.centre, corner)
        shape = Patch.around(picture, (float(x), float(y)), reach=reach)
        x, y = np.subtract(mark, corner)
        x0, y0 = np.subtract(mark, blob.centre)
        measured = ((float(x0), float(y0)),)
        first = (picture, (float(x), float(y)))
        new = cls(
            blob.area,
            measured[0],
            shape,
            first,
            measured=measured,
            side=blob.side,
            wholeness=blob.wholeness,
            first_area=blob.area,
        )
        return new._with_offset()

    @property
    def radius(self) -> float:
        """Of a disc of the same area, px."""
        return float(np.sqrt(self.area / np.pi))

    def drifts(self, away: Point) -> bool:
        """Whether the look's way from the mark goes on as it did lately, as a pattern rolls."""
        along = float(np.dot(away, self.away))
        return along >= _GOES_ON * float(np.dot(away, away))

    @property
    def has_limbs(self) -> bool:
        """Whether it may be a large body with limbs, whose look needs more around the mark."""
        return self.wholeness < _LIMBED and self.radius > _LARGE

    @property
    def rigid(self) -> bool:
        """Whether the look has stayed on its spot for long."""
        away = float(np.hypot(*self.away))
        return self.compared >= _LONG and not self.rolls and away <= _STAYS * self.radius + 0.3

    @property
    def centred(self) -> bool:
        """Whether the mark is its centre, and not a spot on it."""
        return float(np.hypot(*self.offset)) <= _BESIDE * self.radius

    @property
    def whole(self) -> bool:
        """Whether it is one thing with a middle, and not a body with limbs."""
        return self.wholeness >= 1.0

    def centre_of(self, mark: Point) -> Point:
        """Where the centre is, if the mark is here."""
        return mark[0] - self.offset[0], mark[1] - self.offset[1]

    def mark_of(self, centre: Point, turn: float = 0.0) -> Point:
        """Where the mark is, if the centre is here and the body is turned."""
        c, s = float(np.cos(turn)), float(np.sin(turn))
        x, y = self.offset
        return centre[0] + c * x - s * y, centre[1] + s * x + c * y

    def unlike(self, blob: Blob) -> float:
        """By how many deviations a piece is smaller or larger than the body."""
        return float(abs(np.log(blob.area / self.area)) / max(self.spread, _LEAST_SPREAD))

    def is_itself(self, blob: Blob) -> bool:
        """Whether a piece is just as large as the body is, so that nothing else is with it."""
        off = abs(float(np.log(blob.area / self.area)))
        return off <= min(max(_ITSELF * self.spread, _ITSELF_LEAST), _ITSELF_MOST)

    def by_shape(self, blob: Blob) -> Point | None:
        """The centre of a piece, where it has the body's shape."""
        picture, corner = blob.picture(self.shape.reach)
        near = np.subtract(blob.centre, corner)
        return self._laid(picture, near, np.array(corner))

    def _laid(self, picture: Image, near: FloatArray, corner: FloatArray) -> Point | None:
        laid = lay(self.shape, picture, Pose(float(near[0]), float(near[1])))
        if laid is None or laid.score < _LAID:
            return None
        if np.hypot(laid.pose.x - near[0], laid.pose.y - near[1]) > _ASKEW * self.radius + 0.5:
            return None
        return float(laid.pose.x + corner[0]), float(laid.pose.y + corner[1])

    def may_be(self, blob: Blob) -> bool:
        """Whether a piece is as large as the body nearly, so that it may be learnt from."""
        return abs(float(np.log(blob.area / self.area))) <= _TOO_LARGE

    def learnt(self, blob: Blob, look: Point | None, turn: float) -> "Outline":
        """With one frame more.

        look : where the look places the mark, if it recognised its reference; turn in radians
        """
        rate = max(_LEARNS, 1 / (1 + self.seen))
        off = float(np.log(blob.area / self.area))
        spread = float(np.sqrt((1 - rate) * self.spread**2 + rate * off**2))
        new = replace(
            self,
            area=float(self.area * np.exp(rate * np.clip(off, -0.7, 0.7))),
            spread=spread,
            side=(1 - rate) * self.side + rate * blob.side,
            wholeness=(1 - rate) * self.wholeness + rate * blob.wholeness,
            seen=self.seen + 1,
        )
        centre = self.by_shape(blob)
        if self.seen < _LEARNT:
            new = replace(new, shape=self._mixed(blob, centre or blob.centre, rate))
        if new.seen in _AGAIN:
            new = new._measured_again()
        if look is None or not self.is_itself(blob):
            return replace(new._with_offset(), last_away=None)
        cut_off = abs(float(np.log(new.first_area / new.area))) > _LESS
        if cut_off and abs(turn) < _TURNS and len(new.measured) < _FIRST_LOOKS:
            x, y = np.subtract(look, centre or blob.centre)
            c, s = float(np.cos(turn)), float(np.sin(turn))
            back = (float(c * x + s * y), float(c * y - s * x))
            return replace(new, measured=(*new.measured, back))._with_offset()
        x, y = np.subtract(look, self.mark_of(centre or blob.centre, turn))
        return new._compared((float(x), float(y)))

    def _mixed(self, blob: Blob, centre: Point, rate: float) -> Patch:
        """The shape with one more; both are brought to the middle of their pixels first."""
        picture, corner = blob.picture(self.shape.reach)
        x, y = np.subtract(centre, corner)
        now = Patch.around(picture, (float(x), float(y)), reach=self.shape.reach)
        mixed = (1 - rate) * _centred(self.shape) + rate * _centred(now)
        return Patch(mixed.astype(np.float32), (0.0, 0.0), self.shape.weights)

    def _compared(self, away: Point) -> "Outline":
        """With what the look says of the mark's place: outlines are noisy, and patterns roll."""
        if self.last_away is None:
            return replace(self, last_away=away)
        step = float(np.hypot(*np.subtract(away, self.last_away)))
        if step > _LEAPS + _LEAPS_SHARE * self.radius:  # the outline is not itself here
            return replace(self, last_away=away)
        most = _SLIPS + _SLIPS_SHARE * self.radius
        x, y = np.array(self.away) + _DRIFTS * np.clip(np.subtract(away, self.away), -most, most)
        jitter = 0.85 * self.jitter + 0.15 * step / 2
        enough = _ROLLS_LEAST + _ROLLS_SHARE * self.radius + _ROLLS_NOISE * jitter
        rolls = self.rolls or (self.centred and float(np.hypot(x, y)) > enough)
        new_away = (float(x), float(y))
        new = replace(self, away=new_away, last_away=away, jitter=jitter, rolls=rolls)
        return replace(new, compared=self.compared + 1)

    def _measured_again(self) -> "Outline":
        """With the offset of the first mark measured by the shape that is known now."""
        picture, mark = self.first
        x, y = self.measured[0]
        laid = self._laid(picture, np.array((mark[0] - x, mark[1] - y)), np.zeros(2))
        if laid is None:
            return self
        x, y = np.subtract(mark, laid)
        return replace(self, measured=((float(x), float(y)), *self.measured[1:]))

    def _with_offset(self) -> "Outline":
        """What is believed of the first mark's offset: centres are meant, and clicked nearly.

        The mean of what was measured and of none, weighted by how exactly each is known.
        """
        radius = self.radius
        x, y = np.median(np.array(self.measured), axis=0)
        beside = max(float(np.hypot(x, y)) - _BESIDE * radius, 0.0)
        meant = (_CLICKED + _CLICKED_SHARE * radius) ** 2 + 4 * beside**2
        missing = 0.0
        if len(self.measured) < _FIRST_LOOKS:
            missing = abs(float(np.log(self.first_area / self.area)))
        noise = self.jitter**2 + (_CUT_OFF * radius * missing) ** 2
        share = meant / (meant + noise)
        return replace(self, offset=(float(share * x), float(share * y)))


def _centred(patch: Patch) -> Grey:
    """A patch with its spot in the middle of its middle pixel."""
    x, y = patch.spot
    if x == 0 and y == 0:
        return patch.grey
    side = patch.grey.shape[0]
    moved = np.array([[1, 0, x], [0, 1, y]])
    how = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    grey = cv2.warpAffine(
        patch.grey, moved, (side, side), flags=how, borderMode=cv2.BORDER_REPLICATE
    )
    return np.asarray(grey, dtype=np.float32)
