"""The still background: what a place looks like when nothing passes it.

It is the median of frames that are spread over what was seen and what comes; the camera's own
motion between them is taken out first. A median of k frames shows the background wherever less than
half of them have something before it.
"""

from collections import deque
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field, replace
from enum import Enum, auto
from functools import cached_property

import cv2
import numpy as np

from footing.core.arrays import BoolArray, FloatArray, Image
from footing.core.following.camera import Camera, carried, shift, whole
from footing.core.following.light import Light, levels_of, light_between, light_of, sparse
from footing.core.following.patches import Point, smooth_area, square
from footing.core.following.pictures import Frame, Picture, as_picture
from footing.core.following.streaks import Grey

_PAST = 10  # frames of the past that are kept, spread over it
_RECENT = 45  # frames that can be gone back to
_ASKED = 7  # frames that are asked for a median
_LEAST = 5  # frames without which nothing is known
_SLIPS = 0.35  # px by which pictures may be laid wrongly over each other
_SLIPS_CARRIED = 0.8  # the same, where the camera moves
_LEAST_CHANGE = 6.0  # grey levels
_OUT_OF_NOISE = 4.5  # deviations
_DEVIATION = 1.48  # of a normal distribution, in median absolute deviations
# a place may be so many times noisier than the picture, and from so many to so many grey levels;
# what differs by more is no noise, but something that fills the place
_NOISIER, _LEAST_NOISE, _MOST_NOISE = 2.0, 4.0, 12.0
_EVERY = 5  # pixels, of which one is enough to know noise and light
_NO_COLOUR = 128
_LEAST_COLOUR = 6.0


@dataclass(frozen=True)
class Changed:
    """How an area of a frame differs from the still background.

    left, top : its corner in the frame
    here : its brightness ``(side, side)``, smoothed
    still : that of the background, in the light of the frame
    least : grey levels from which it is a change, of each pixel
    bright : how many times the least change the brightness of each pixel changed
    strength : the same for brightness and colour together; colour is coarser
    chroma : both kinds of it, here and of the background; none where it was not asked for
    """

    left: int
    top: int
    here: Grey
    still: Grey
    least: Grey
    bright: Grey
    strength: Grey
    chroma: tuple[tuple[Grey, Grey], ...] = ()

    def around(self, x: int, y: int, reach: int) -> "Changed":
        """The part of it that is within so many pixels of a place in the frame."""
        left, top = max(x - reach - self.left, 0), max(y - reach - self.top, 0)
        cut = np.s_[top : y + reach + 1 - self.top, left : x + reach + 1 - self.left]
        return Changed(
            self.left + left,
            self.top + top,
            self.here[cut].copy(),
            self.still[cut].copy(),
            self.least[cut].copy(),
            self.bright[cut].copy(),
            self.strength[cut].copy(),
            tuple((here[cut].copy(), still[cut].copy()) for here, still in self.chroma),
        )

    @property
    def has_colour(self) -> bool:
        """Whether colour says more than brightness alone."""
        return len(self.chroma) > 0

    @cached_property
    def mask(self) -> BoolArray:
        """Where something is that is not the background."""
        return np.asarray(self.strength > 1.0, dtype=bool)

    @cached_property
    def by_brightness(self) -> Grey:
        """By how much brightness differs, grey levels."""
        return self.bright * self.least

    @cached_property
    def by_colour(self) -> Grey:
        """By how much brightness and colour together differ, in the same measure."""
        return self.strength * self.least


@dataclass(frozen=True)
class Kept:
    """A frame, where its camera looked (from the first frame's pixels to its own), its light.

    noise : grey levels that what differs from the background at a place is taken for noise at most
    """

    number: int
    frame: Picture
    pose: FloatArray | None
    light: Light
    noise: float


def watched(frames: Iterable[Frame]) -> Iterator[Kept]:
    """Frames as a scene keeps them, in their order: camera and light beside those of the first."""
    camera = Camera()
    first: FloatArray | None = None
    before: Image | None = None
    for number, frame in frames:
        picture = as_picture(frame)
        levels = levels_of(picture.grey)
        first = levels if first is None else first
        light = light_of(first, levels)
        pose = camera.pose(picture.grey, light)
        now = sparse(picture.grey)
        noise = _MOST_NOISE if before is None or pose is not None else _most_noise(before, now)
        before = now
        yield Kept(number, picture, pose, light, noise)


def _most_noise(before: Image, now: Image) -> float:
    """The most noise of a place, by what differs between two pictures of a camera at rest."""
    noise = _DEVIATION / 2**0.5 * float(np.median(cv2.absdiff(before, now)))
    return min(max(_NOISIER * noise, _LEAST_NOISE), _MOST_NOISE)


class _When(Enum):
    """Which frames are asked how a place looks without the body."""

    ALWAYS = auto()
    BEFORE = auto()
    AFTER = auto()


_Question = tuple[_When, int, int, int, bool]  # x, y and reach in px, with colour


@dataclass
class Scene:
    """Frames of the past and of those that come, and the camera's motion between them."""

    _past: list[Kept] = field(default_factory=list)
    _recent: deque[Kept] = field(default_factory=lambda: deque(maxlen=_RECENT))
    _ahead: deque[Kept] = field(default_factory=deque)
    _stride: int = 1
    _seen: int = 0
    _now: Kept | None = None
    # what several accounts of a body ask in one frame, mostly at the same place
    _known: dict[_Question, Changed | None] = field(default_factory=dict, init=False)

    def comes(self, frame: Kept) -> None:
        """Take a frame that lies ahead; in their order."""
        self._ahead.append(frame)
        self._known.clear()

    def next(self) -> tuple[int, Picture] | None:
        """Go to the next frame; None if there is none."""
        if self._now is not None:
            if self._seen % self._stride == 0:
                self._past.append(self._now)
            self._seen += 1
            self._recent.append(self._now)
            if len(self._past) > _PAST:
                self._past = self._past[::2]
                self._stride *= 2
        self._now = self._ahead.popleft() if self._ahead else None
        self._known.clear()
        return None if self._now is None else (self._now.number, self._now.frame)

    def back(self, number: int) -> tuple["Scene", Picture] | None:
        """The same scene at one of the latest frames, and that frame; None if it is not kept.

        The frame before it is then the one that came after it, as whoever goes back sees them.
        """
        after = self._now
        for kept in reversed(self._recent):
            if kept.number == number:
                before = deque([] if after is None else [after])
                return replace(self, _now=kept, _recent=before), kept.frame
            after = kept
        return None

    @property
    def pose(self) -> FloatArray | None:
        """How the camera stands in the present frame; None as in the first (see `camera`)."""
        return None if self._now is None else self._now.pose

    def moved(self, at: Point) -> Point:
        """How far the camera has moved a place of the frame before, in the present one; px."""
        before = self._recent[-1] if self._recent else None
        return _carried(before, self._now, at)

    def moved_back(self, number: int, at: Point) -> Point:
        """How far a place of the present frame is moved in one of the latest frames; px."""
        there = next((kept for kept in self._recent if kept.number == number), None)
        return _carried(self._now, there, at)

    def shown(self, x: int, y: int, reach: int) -> list[Grey]:
        """The planes of the present frame around a place ``(side, side)``, smoothed.

        Brightness as in the light of the first frame, and chroma if it is known.
        """
        assert self._now is not None
        left, top, side = x - reach, y - reach, 2 * reach + 1
        frame, back = self._now.frame, self._now.light.inverse
        grey = smooth_area(frame.grey, left, top, side)
        planes = [np.asarray(np.float32(back.gain) * grey + np.float32(back.offset), np.float32)]
        for plane in frame.chroma or ():
            half = smooth_area(plane, left // 2, top // 2, (side + 1) // 2 + 1)
            planes.append(_doubled(half, side, left % 2, top % 2))
        return planes

    def changed(self, x: int, y: int, reach: int, *, colour: bool = True) -> Changed | None:
        """How the present frame differs from the background around a place; None if unknown."""
        return self._changed_beside(_When.ALWAYS, x, y, reach, colour=colour)

    def changed_once(self, x: int, y: int, reach: int) -> list[Changed]:
        """The same beside what was there before alone, and beside what comes alone.

        What rests for long is background itself; one of the two shows that it came, or went.
        """
        both = (
            self._changed_beside(when, x, y, reach, colour=True)
            for when in (_When.BEFORE, _When.AFTER)
        )
        return [changed for changed in both if changed is not None]

    def _changed_beside(
        self, when: _When, x: int, y: int, reach: int, *, colour: bool
    ) -> Changed | None:
        question = when, x, y, reach, colour
        if question not in self._known:
            past = [] if when == _When.AFTER else self._past
            coming = [] if when == _When.BEFORE else self._ahead
            asked = self._asked([*past, *coming])
            self._known[question] = self._changed(asked, x, y, reach, colour=colour)
        return self._known[question]

    def _changed(
        self, asked: list[Kept], x: int, y: int, reach: int, *, colour: bool
    ) -> Changed | None:
        if self._now is None or len(asked) < _LEAST:
            return None
        left, top, side = x - reach, y - reach, 2 * reach + 1
        now = self._now
        still = smooth_area(_still(asked, now, 0, left, top, side), 0, 0, side)
        here = smooth_area(now.frame.grey, left, top, side)
        light = light_between(still, here)
        lit = np.float32(light.gain) * still + np.float32(light.offset)
        slips = _SLIPS_CARRIED if now.pose is not None else _SLIPS
        off, least = _judged(here, lit, _LEAST_CHANGE, slips, now.noise)
        bright = np.asarray(np.abs(off) / least, dtype=np.float32)
        strength = bright
        chroma = []
        if colour and now.frame.chroma is not None:
            half = (side + 1) // 2 + 1
            squared = bright * bright
            for plane in (1, 2):
                corner = (left // 2, top // 2)
                its = smooth_area(_still(asked, now, plane, *corner, half), 0, 0, half)
                mine = smooth_area(now.frame.chroma[plane - 1], *corner, half)
                off, its_least = _judged(mine, its, _LEAST_COLOUR, slips, now.noise)
                squared += _doubled(off / its_least, side, left % 2, top % 2) ** 2
                whole_now = _doubled(mine, side, left % 2, top % 2)
                whole_still = _doubled(its, side, left % 2, top % 2)
                chroma.append((whole_now, whole_still))
            strength = np.asarray(np.sqrt(squared), dtype=np.float32)
        lit = np.asarray(lit, dtype=np.float32)
        return Changed(left, top, here, lit, least, bright, strength, tuple(chroma))

    def _asked(self, every: list[Kept]) -> list[Kept]:
        if len(every) <= _ASKED:
            return every[: len(every) - (len(every) + 1) % 2] if every else []
        places = np.linspace(0, len(every) - 1, _ASKED).round().astype(int)
        return [every[k] for k in places]


def _still(asked: list[Kept], now: Kept, plane: int, left: int, top: int, side: int) -> Image:
    """A square of the still background in one plane, in the present frame's place and light."""
    areas = []
    for kept in asked:
        area = _area(kept, now, plane, left, top, side)
        light = now.light.after(kept.light.inverse)
        if not light.slight:
            offset = light.offset if plane == 0 else _NO_COLOUR * (1 - light.gain)
            area = np.asarray(cv2.convertScaleAbs(area, alpha=light.gain, beta=offset))
        areas.append(area)
    return _median(areas)


def _area(kept: Kept, now: Kept, plane: int, left: int, top: int, side: int) -> Image:
    """A square of the present frame, as another frame shows it."""
    if plane == 0 or kept.frame.chroma is None:
        picture, scale = kept.frame.grey, 1.0
    else:
        picture, scale = kept.frame.chroma[plane - 1], 0.5
    moved = shift(kept.pose, now.pose, scale, left + side / 2, top + side / 2, side)
    if moved is not None:
        left, top = left + moved[0], top + moved[1]
        return square(picture, left, top, side)
    its, mine = (whole(pose, scale) for pose in (kept.pose, now.pose))
    matrix = its @ np.linalg.inv(mine) @ np.array([[1, 0, left], [0, 1, top], [0, 0, 1.0]])
    how = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return np.asarray(
        cv2.warpAffine(
            picture, matrix[:2], (side, side), flags=how, borderMode=cv2.BORDER_REPLICATE
        )
    )


def _judged(
    here: Grey, still: Grey, smallest: float, slips: float, most: float
) -> tuple[Grey, Grey]:
    """By how much an area differs from the background, and what is a change, of each pixel.

    most : grey levels of noise that there is at most
    """
    off = here - still
    noise = min(_DEVIATION * float(np.median(np.abs(off[::_EVERY, ::_EVERY]))), most)
    rows, columns = np.gradient(still)
    least = np.maximum(_OUT_OF_NOISE * noise, smallest) + slips * np.hypot(rows, columns)
    return off, np.asarray(least, dtype=np.float32)


def _doubled(half: Grey, side: int, odd_left: int, odd_top: int) -> Grey:
    """A chroma area at the size of the brightness, from its first pixel on."""
    doubled = cv2.resize(half, None, fx=2, fy=2, interpolation=cv2.INTER_LINEAR)
    return np.asarray(doubled[odd_top : odd_top + side, odd_left : odd_left + side])


def _median(areas: list[Image]) -> Image:
    """The median of an odd number of pictures, by exchanging neighbours until it is known."""
    rows = [np.ascontiguousarray(area) for area in areas]
    for last in range(len(rows) - 1, len(rows) // 2 - 1, -1):
        for k in range(last):
            low = cv2.min(rows[k], rows[k + 1])
            rows[k + 1] = np.asarray(cv2.max(rows[k], rows[k + 1]))
            rows[k] = np.asarray(low)
    return rows[len(rows) // 2]


def _carried(before: Kept | None, now: Kept | None, at: Point) -> Point:
    """How far the camera moved a place between two frames, px."""
    if before is None or now is None:
        return 0.0, 0.0
    return carried(before.pose, now.pose, at)
