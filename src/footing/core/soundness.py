"""Soundness: the classic mistakes, found by a few plain numbers.

A check is *sound* or *shaky*, and holds the numbers that show it; what is said of them, and where
it can be put right, is the business of `footing.words` and of the views. A check that has nothing
to look at yet is None.
"""

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from math import degrees, sqrt
from typing import ClassVar

from footing.core.ground import UPWARDS, Scale

SHORT_LENGTH = 0.02  # relative uncertainty of the scale from which the known length is too short
SHORT_SHARE = 0.15  # of the picture's longer side, below which a drawn line is short
TILT = 1.0  # degrees that up may differ from the vertical axis
FREE_FALL = 9.81  # m/s²
_CLEAR = 5.0  # standard uncertainties from which an acceleration is one
_STRAIGHT_DOWN = 0.08  # of the vertical acceleration, up to which there is none sideways
_SLOWEST = 16
_NOTICEABLY = 1.2  # times too slow, from which a flight is doubted
_NEAR_WHOLE = 0.009  # relative distance from a whole number of times
_ACCELERATION_PER_SPEED = 3.0  # relative effect of the row readout on an acceleration


class Check(ABC):
    """One thing that was looked at, with the numbers that tell whether it is sound.

    key : stable name; number : the frame or row that it is about, if it is about one
    """

    key: ClassVar[str]
    number: int | None = None

    @property
    @abstractmethod
    def sound(self) -> bool:
        """Whether there is nothing to put right."""


@dataclass(frozen=True)
class ScaleKnown(Check):
    """Whether lengths have a unit at all."""

    key = "scale"
    known: bool

    @property
    def sound(self) -> bool:
        """Whether a length was typed."""
        return self.known


@dataclass(frozen=True)
class UnusableNumbers(Check):
    """Numbers, as they were typed, that are stored and cannot be computed with."""

    key = "unusable"
    typed: tuple[str, ...]

    @property
    def sound(self) -> bool:
        """Never: there is a check only where there are such numbers."""
        return False


@dataclass(frozen=True)
class LengthSize(Check):
    """Whether the known lengths are long enough, and typed with digits enough.

    scale : relative uncertainty of the scale; typing : that of the best typed length
    share : of the picture's longer side that the longest known length covers
    """

    key = "scale-size"
    scale: float
    typing: float
    share: float

    @property
    def sound(self) -> bool:
        """Whether the scale is known well enough, by a line that is long enough."""
        return self.scale <= SHORT_LENGTH and self.share >= SHORT_SHARE

    @property
    def by_digits(self) -> bool:
        """Whether the digits that were typed are the reason."""
        return self.scale > SHORT_LENGTH and self.typing > self.scale / 2


@dataclass(frozen=True)
class LengthsTogether(Check):
    """Whether several known lengths tell the same; ``worst`` is in uncertainties."""

    key = "scale-agrees"
    count: int
    worst: float
    agree: bool

    @property
    def sound(self) -> bool:
        """Whether none lies too far from the others."""
        return self.agree


@dataclass(frozen=True)
class Fall:
    """A vertical acceleration that was found, m/s², and what went on sideways meanwhile.

    uncertainty : of all kinds together
    sideways, sideways_uncertainty : acceleration across; None where it is not known
    flies : whether the body moved on sideways, so that its path is a parabola
    """

    acceleration: float
    uncertainty: float = 0.0
    sideways: float | None = None
    sideways_uncertainty: float = 0.0
    flies: bool = False


@dataclass(frozen=True)
class CaptureRate:
    """A file says that it was captured at another rate than it plays at, both in frames/s."""

    captured: float
    playing: float


@dataclass(frozen=True)
class UnevenFrames:
    """Frames come unevenly, as where a stretch is in slow motion or frames are missing."""


@dataclass(frozen=True)
class NamedSlow:
    """The name of the file speaks of slow motion."""


SlowMotionSign = CaptureRate | UnevenFrames | NamedSlow


@dataclass(frozen=True)
class ClockPlausible(Check):
    """Whether the clock may be that of slow motion.

    acceleration, slower : of a fall that seems so many times too slow, m/s²; 0 where none does
    sign : by what the file looks like slow motion, while the clock is the file's
    """

    key = "clock"
    acceleration: float = 0.0
    slower: float = 0.0
    sign: SlowMotionSign | None = None

    @property
    def sound(self) -> bool:
        """Whether nothing speaks against the clock."""
        return not self.slower and self.sign is None


@dataclass(frozen=True)
class UpLevel(Check):
    """Whether up lies along an axis; ``tilt`` is in degrees."""

    key = "up"
    tilt: float

    @property
    def sound(self) -> bool:
        """Whether it is near enough."""
        return abs(self.tilt) <= TILT


@dataclass(frozen=True)
class SpanChosen(Check):
    """Whether there is anything to see in the span.

    marks, outside : counting marks, and those outside the span; moving : None before a survey
    """

    key = "span"
    marks: int
    outside: int
    moving: bool | None

    @property
    def sound(self) -> bool:
        """Whether it holds marks, and something that moves."""
        return self.moving is not False and self.marks > 0


@dataclass(frozen=True)
class RepeatedFrames(Check):
    """How many frames show the same picture twice, which makes the motion stutter."""

    key = "repeated"
    count: int

    @property
    def sound(self) -> bool:
        """Whether there is none."""
        return self.count == 0


@dataclass(frozen=True)
class Readout(Check):
    """Whether the row readout matters more than the stated uncertainty, both relative."""

    key = "readout"
    effect: float
    stated: float

    @property
    def sound(self) -> bool:
        """Whether it matters less."""
        return self.effect <= self.stated


@dataclass(frozen=True)
class Depth(Check):
    """Whether a known length nearer or farther than the motion matters.

    effect : relative, on the scale; stated : its relative uncertainty
    """

    key = "depth"
    effect: float
    stated: float
    corrected: bool

    @property
    def sound(self) -> bool:
        """Whether it is corrected, or too small to matter."""
        return self.corrected or abs(self.effect) <= self.stated


def unusable(typed: Sequence[str]) -> UnusableNumbers | None:
    """Whether numbers are stored that cannot be computed with."""
    return UnusableNumbers(tuple(typed)) if typed else None


def length_size(
    scale: Scale, longest_px: float, picture_px: float, *, typing: float = 0.0
) -> LengthSize:
    """Compare the longest known length with the picture's longer side, both in pixels."""
    return LengthSize(scale.relative, typing, longest_px / picture_px)


def lengths_together(scale: Scale) -> LengthsTogether:
    """Compare the known lengths with each other."""
    worst = max(scale.apart, key=abs, default=0.0)
    return LengthsTogether(len(scale.apart), worst, agree=not scale.disagree)


def clock_plausible(
    *, sign: SlowMotionSign | None, clock_set: bool, falls: Sequence[Fall]
) -> ClockPlausible:
    """Whether falls, or the file, speak against the clock."""
    for fall in falls:
        slower = slower_by(fall)
        if slower:
            return ClockPlausible(fall.acceleration, slower)
    return ClockPlausible(sign=None if clock_set else sign)


def slower_by(fall: Fall) -> float | None:
    """How many times slower than it is a free fall seems, or None if it may be something else.

    A fall that plays k times slower has an acceleration k² times smaller. A body that flies on
    sideways falls freely, whatever k is. One that moves up and down only may be held by something;
    it is doubted where k is a whole number, as cameras have it, as nearly as it is known.
    """
    size = abs(fall.acceleration)
    if size <= _CLEAR * fall.uncertainty or size < FREE_FALL / _SLOWEST**2:
        return None
    if fall.sideways is not None:
        allowed = max(_CLEAR / 2 * fall.sideways_uncertainty, _STRAIGHT_DOWN * size)
        if abs(fall.sideways) > allowed:
            return None  # it is pulled sideways, too: on a slope, for example
    slower = sqrt(FREE_FALL / size)
    relative = fall.uncertainty / size / 2
    if fall.flies:
        return slower if slower > _NOTICEABLY and slower - 1 > 3 * slower * relative else None
    whole = round(slower)
    close = abs(slower / whole - 1) < _NEAR_WHOLE if whole else False
    return float(whole) if 2 <= whole <= _SLOWEST and close else None


def up_level(*, up: float, levelled: bool, angle: float) -> UpLevel | None:
    """Compare up with the axes, radians, once it was levelled; a turned picture tilts gravity."""
    if not levelled:
        return None
    return UpLevel(degrees((up - UPWARDS - angle + UPWARDS / 2) % UPWARDS - UPWARDS / 2))


def span_chosen(*, marks: int, outside: int, moving: bool | None) -> SpanChosen | None:
    """Whether there is anything to see in the span; None while nobody has looked or marked."""
    return SpanChosen(marks, outside, moving) if marks or outside or moving is False else None


def repeated_frames(count: int) -> RepeatedFrames | None:
    """Whether frames show the same picture twice."""
    return RepeatedFrames(count) if count else None


def readout_effect(speed_px: float, seconds_per_row: float) -> float:
    """Relative effect of the row readout on an acceleration: about 3 · v_px · τ.

    ``speed_px`` is the mean speed along the rows in px/s (docs/physics.md, Time).
    """
    return _ACCELERATION_PER_SPEED * speed_px * seconds_per_row
