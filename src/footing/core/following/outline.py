"""A body's outline: how large it is, its shape, and where from its centre the mark lies.

A thing that turns or rolls shows another pattern in each frame; its outline and centre stay.
"""

from dataclasses import dataclass, field, replace

import cv2
import numpy as np

from footing.core.arrays import FloatArray, Image
from footing.core.following.laying import lay
from footing.core.following.patches import Patch, Point, Pose
from footing.core.following.pieces import Blob
from footing.core.following.rim import Disc
from footing.core.following.roundness import Roundness
from footing.core.following.streaks import Grey

_LEARNS = 0.2
_FIRST_SPREAD = 0.25  # of the logarithm of an area
_LEAST_SPREAD = 0.18
_JITTERS = 0.7  # px: how exactly a centre is known at first
_DRIFTS = 0.2  # how fast the look's way from the centre is learnt
_ROLLS_LEAST, _ROLLS_SHARE, _ROLLS_NOISE = 0.6, 0.06, 1.2  # px, of the radius, of the jitter
_CLICKED, _CLICKED_SHARE = 0.25, 0.043  # px at least, of the radius: a click's exactness
_BESIDE = 0.3  # of the radius, from which a mark is surely no centre
_MIDDLE = 0.28  # of the radius, within which a first mark is of the centre
_CUT_OFF = 0.5  # of the radius, by which a missing part moves a centre
_ROOM, _RIM = 1.25, 3  # of the radius, and px: reach of the shape
_LAID = 0.88  # score from which a shape is laid rightly
_ASKEW = 0.35  # of the radius, that a shape may be from the middle of what moved
_LEARNT = 12  # frames from which the shape is known
_FIRST_LOOKS = 5  # measurements of the offset
_TOO_LARGE = 0.5  # of the logarithm of the area, by which it is another thing, or two
_AS_USUAL = 0.2  # the same, after that: less than one body hides of another as they part
_LESS = 0.15  # of the logarithm of the area, by which a first outline is not whole
_TURNS = 0.15  # rad, from which a look may have rolled
_SLIPS, _SLIPS_SHARE = 1.0, 0.05  # px, and share of the radius, that one frame may say at most
_LIMBED, _LARGE = 1.15, 25.0  # wholeness under which, and px from which a body may have limbs
_RATHER_LARGE = 20.0  # px, where too little of it may stand out yet
_COMPACT = 1.4  # wholeness from which nothing of a body can be hidden beside its middle
_AS_FIRST = 0.25  # of the logarithm of the area
_CAME_FREE = 0.1, 0.7  # shares of the area, that what comes free may have
_CONFIRMED = 2  # frames
_LONG = 8  # frames
_STAYS, _STAYS_LEAST = 0.02, 0.15  # of the radius, and px: where a pattern stays on its spot
_GOES_ON = 0.2  # share of a way that must have been gone before
_ITSELF = 1.0  # deviations of the logarithm of the area,
_ITSELF_LEAST, _ITSELF_MOST = 0.06, 0.12  # and of it at least and at most
_LEAPS, _LEAPS_SHARE = (
    1.0,
    0.08,
)  # px, and share of the radius: more than a pattern rolls in a frame
_AGAIN = (3, 6, 12)  # frames after which the first is measured by what was learnt


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
    rim : what the rims tell that were seen so far
    within : whether it was seen only as the round part of something larger so far
    joined : whether it was one piece with another body lately, and not itself since
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
    rim: Roundness = field(default_factory=Roundness)
    within: bool = False
    joined: bool = False

    @classmethod
    def begun(cls, blob: Blob, mark: Point) -> "Outline":
        """As it is seen for the first time, with the mark in that frame."""
        radius = float(np.sqrt(blob.area / np.pi))
        reach = round(_ROOM * radius) + _RIM
        picture, corner = blob.picture(reach)
        centre = blob.centre if blob.disc is None else blob.disc.centre
        x, y = np.subtract(centre, corner)
        shape = Patch.around(picture, (float(x), float(y)), reach=reach)
        x, y = np.subtract(mark, corner)
        x0, y0 = np.subtract(mark, centre)
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
            rim=Roundness.begun(blob.disc),
            within=blob.part,
        )
        return new._with_offset()

    @property
    def may_be_round(self) -> bool:
        """Whether its rim is to be looked at."""
        return self.rim.may_be_round or self.is_new

    @property
    def radius(self) -> float:
        """Of a disc of the same area, px."""
        return float(np.sqrt(self.area / np.pi))

    def drifts(self, away: Point) -> bool:
        """Whether the look's way from the mark goes on as it did lately, as a pattern rolls."""
        along = float(np.dot(away, self.away))
        return along >= _GOES_ON * float(np.dot(away, away))

    @property
    def is_new(self) -> bool:
        """Whether it is still being learnt what the body is."""
        return self.seen < _LEARNT

    @property
    def has_limbs(self) -> bool:
        """Whether it may be a large body with limbs, whose look needs more around the mark."""
        return self.wholeness < _LIMBED and self.radius > _LARGE

    @property
    def may_have_limbs(self) -> bool:
        """The same, if more of it may be seen later."""
        return self.wholeness < _LIMBED and self.radius > _RATHER_LARGE

    @property
    def rigid(self) -> bool:
        """Whether the look has stayed on its spot for long."""
        away = float(np.hypot(*self.away))
        stays = away <= _STAYS * self.radius + _STAYS_LEAST
        return self.compared >= _LONG and not self.rolls and stays

    @property
    def centred(self) -> bool:
        """Whether the mark is its centre, and not a spot on it."""
        return float(np.hypot(*self.offset)) <= _BESIDE * self.radius

    @property
    def in_the_middle(self) -> bool:
        """Whether the first mark was so near its centre that nothing else can have been meant."""
        return self.centred and float(np.hypot(*self.measured[0])) <= _MIDDLE * self.radius

    @property
    def carries(self) -> bool:
        """Whether it may be of something that carries the body, as a hand does."""
        return self.whole and not self.centred

    def is_left_by(self, blob: Blob) -> bool:
        """Whether a piece may be the body that has come free of what carried it."""
        if blob.free:
            return True
        least, most = (share * self.area for share in _CAME_FREE)
        return self.carries and not blob.cut and blob.wholeness >= 1.0 and least < blob.area < most

    @property
    def whole(self) -> bool:
        """Whether it is one thing with a middle, and not a body with limbs."""
        return self.wholeness >= 1.0

    @property
    def confirmed(self) -> bool:
        """Whether the look has said the same of the mark's place."""
        return self.compared >= _CONFIRMED and float(np.hypot(*self.away)) < _BESIDE * self.radius

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

    def shows_itself(self, disc: Disc, *, firm: float, size: float) -> bool:
        """Whether a rim is surely its own, so that its middle is where that is.

        firm : support that the rim must have; size : of the logarithm of its radius, by which
        that may be another than usual
        """
        radius = self.rim.radius
        if radius is None or not (self.rim.is_sure and self.in_the_middle):
            return False
        return disc.support >= firm and abs(float(np.log(disc.radius / radius))) <= size

    def by_shape(self, blob: Blob) -> Point | None:
        """The centre of a piece, where it has the body's shape."""
        if blob.disc is not None and self.rim.is_sure:
            return blob.disc.centre
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

    def doubted(self) -> "Outline | None":
        """After a frame that did not show its rim; None if that never was one."""
        rim = self.rim.after_none()
        return None if rim is None else replace(self, rim=rim)

    def is_as_first(self, blob: Blob) -> bool:
        """Whether a piece shows as much of the body as the first did, that was marked."""
        if self.wholeness >= _COMPACT:
            return True
        return abs(float(np.log(blob.area / self.first_area))) <= _AS_FIRST

    def may_be(self, blob: Blob) -> bool:
        """Whether a piece is as large as the body nearly, so that it may be learnt from."""
        most = _AS_USUAL if self.joined else _TOO_LARGE
        return abs(float(np.log(blob.area / self.area))) <= most

    def beside_another(self, blob: Blob) -> "Outline":
        """After a frame in which its piece is not as large as the body is.

        As two bodies part, their common piece shrinks little by little to one of them, so that it
        would be learnt. What has limbs is hardly known by its shape; what is one thing is.
        """
        return replace(self, joined=self.joined or (not self.whole and blob.area > self.area))

    @property
    def measures_first(self) -> bool:
        """Whether the offset of the first mark is measured again with the next frame."""
        return self.seen + 1 in _AGAIN

    def learnt(
        self, blob: Blob, look: Point | None, turn: float, *, first: Point | None = None
    ) -> "Outline":
        """With one frame more.

        look : where the look places the mark, if it recognised its reference; turn in radians
        first : the offset of the first mark, px, if it was measured again by its disc
        """
        if blob.part and blob.disc is not None:
            return replace(self, rim=self.rim.after_part(blob.disc))
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
            within=False,
            joined=False,
            rim=self.rim.after(blob.disc, rate),
        )
        centre = self.by_shape(blob)
        if self.is_new:
            new = replace(new, shape=self._mixed(blob, centre or blob.centre, rate))
        if new.seen in _AGAIN:
            new = new._measured_again() if first is None else new._measured_as(first)
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
        rate = _DRIFTS if self.whole else max(_DRIFTS, 1 / (1 + self.compared))
        x, y = np.array(self.away) + rate * np.clip(np.subtract(away, self.away), -most, most)
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
        return self._measured_as((float(x), float(y)))

    def _measured_as(self, offset: Point) -> "Outline":
        return replace(self, measured=(offset, *self.measured[1:]))

    def _with_offset(self) -> "Outline":
        x, y = np.median(np.array(self.measured), axis=0)
        return replace(self, offset=self._believed((float(x), float(y))))

    def beside(self, way: Point) -> Point:
        """What is believed of a way from what was marked first to a mark, px."""
        first = np.median(np.array(self.measured), axis=0)
        here, there = (self._believed((float(x), float(y))) for x, y in (first, first + way))
        return there[0] - here[0], there[1] - here[1]

    def _believed(self, offset: Point) -> Point:
        """What is believed of an offset that was measured: centres are meant, and clicked nearly.

        The mean of what was measured and of none, weighted by how exactly each is known.
        """
        radius = self.radius
        x, y = offset
        beside = max(float(np.hypot(x, y)) - _BESIDE * radius, 0.0)
        meant = max(_CLICKED, _CLICKED_SHARE * radius) ** 2 + 4 * beside**2
        missing = 0.0
        if len(self.measured) < _FIRST_LOOKS:
            missing = abs(float(np.log(self.first_area / self.area)))
        noise = self.jitter**2 + (_CUT_OFF * radius * missing) ** 2
        share = meant / (meant + noise)
        return float(share * x), float(share * y)


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
