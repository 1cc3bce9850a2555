"""Soundness: the classic mistakes, found and explained.

Each check looks at a few plain numbers and says *sound* or *shaky*, with the reason. A check that
has nothing to look at yet says nothing.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import degrees, sqrt

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

GROUND, MARK, SOURCES, GRAPH = "ground", "mark", "sources", "graph"


@dataclass(frozen=True)
class Check:
    """One entry of the list.

    key : stable name; step : where it can be put right
    title : what was looked at; reason : one sentence
    number : the frame or row that it is about, if it is about one
    """

    key: str
    sound: bool
    title: str
    reason: str
    step: str
    number: int | None = None


def scale_missing(*, grounded: bool) -> Check:
    """Whether lengths have a unit at all."""
    reason = "Lengths have a unit." if grounded else "Everything is in pixels: no length was typed."
    return Check("scale", grounded, "Known length", reason, GROUND)


def unusable(typed: Sequence[str]) -> Check | None:
    """Whether numbers are stored that cannot be computed with."""
    if not typed:
        return None
    named = ", ".join(typed)
    text = f"{named} cannot be computed with and is left out; type it again."
    return Check("unusable", False, "Typed numbers", text, GROUND)


def scale_short(
    scale: Scale, longest_px: float, picture_px: float, *, by_typing: float = 0.0
) -> Check:
    """Whether the known lengths are long enough, and typed with digits enough.

    ``by_typing`` is the relative uncertainty of the best typed length.
    """
    title = "Size of the known length"
    percent = f"{100 * scale.relative:.2g} %"
    if scale.relative > SHORT_LENGTH and by_typing > scale.relative / 2:
        return Check(
            "scale-size",
            False,
            title,
            f"The scale is known to {percent} only, because of the digits that were typed; type "
            "the known length with another digit, such as 0.800, if it was measured so well.",
            GROUND,
        )
    short = scale.relative > SHORT_LENGTH or longest_px < SHORT_SHARE * picture_px
    if not short:
        return Check("scale-size", True, title, f"The scale is known to {percent}.", GROUND)
    share = f"{100 * longest_px / picture_px:.0f} %"
    return Check(
        "scale-size",
        False,
        title,
        f"The known length covers {share} of the picture, so the scale is known to {percent} only; "
        "use a longer object.",
        GROUND,
    )


def scale_agrees(scale: Scale) -> Check:
    """Whether several known lengths tell the same."""
    worst = max(scale.apart, key=abs, default=0.0)
    if not scale.disagree:
        text = f"The {len(scale.apart)} known lengths agree."
        return Check("scale-agrees", True, "Known lengths together", text, GROUND)
    text = (
        f"One known length lies {abs(worst):.1f} uncertainties from the others: an end is "
        "misplaced, or they are not equally far from the camera."
    )
    return Check("scale-agrees", False, "Known lengths together", text, GROUND)


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


def clock_plausible(
    *, slow_motion_likely: str | None, clock_set: bool, falls: Sequence[Fall]
) -> Check:
    """Whether the clock may be that of slow motion.

    Parameters
    ----------
    slow_motion_likely : why the file looks like slow motion, or None
    """
    title = "Clock"
    for fall in falls:
        slower = slower_by(fall)
        if slower:
            times = f"{slower:.1f}".removesuffix(".0")
            return Check(
                "clock",
                False,
                title,
                f"A vertical acceleration of {abs(fall.acceleration):.2g} m/s² is free fall "
                f"{times} times too slow: was this filmed in slow motion?",
                GROUND,
            )
    if slow_motion_likely and not clock_set:
        return Check("clock", False, title, slow_motion_likely, GROUND)
    return Check("clock", True, title, "Nothing speaks against the clock.", GROUND)


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


def up_level(*, up: float, levelled: bool, angle: float) -> Check | None:
    """Whether up lies along an axis, once it was levelled; a turned picture tilts gravity."""
    if not levelled:
        return None
    tilt = degrees((up - UPWARDS - angle + UPWARDS / 2) % UPWARDS - UPWARDS / 2)
    text = f"The axes are {abs(tilt):.1f}° off the level line."
    if abs(tilt) <= TILT:
        return Check("up", True, "Up", text, GROUND)
    return Check(
        "up", False, "Up", text + " If gravity should act along one axis only, turn them.", GROUND
    )


def something_in_span(*, marks: int, outside: int, moving: bool | None) -> Check | None:
    """Whether there is anything to see in the span."""
    title = "Span"
    if moving is False:
        text = "Nothing moves in the span; look whether the right frames were chosen."
        return Check("span", False, title, text, SOURCES)
    if outside and not marks:
        return Check("span", False, title, f"All {outside} marks lie outside the span.", SOURCES)
    return Check("span", True, title, "The span holds the motion.", SOURCES) if marks else None


def repeated_frames(count: int) -> Check | None:
    """Whether frames show the same picture twice, which makes the motion stutter."""
    if not count:
        return None
    what = "A frame repeats" if count == 1 else f"{count} frames repeat"
    text = f"{what} the picture before; leave their marks out, or speeds will jump."
    return Check("repeated", False, "Repeated frames", text, SOURCES)


def readout_effect(speed_px: float, seconds_per_row: float) -> float:
    """Relative effect of the row readout on an acceleration: about 3 · v_px · τ.

    ``speed_px`` is the mean speed along the rows in px/s (docs/physics.md, Time).
    """
    return _ACCELERATION_PER_SPEED * speed_px * seconds_per_row


def readout(effect: float, stated: float) -> Check:
    """Whether the row readout matters more than the stated relative uncertainty."""
    text = f"The row readout may change an acceleration by {100 * effect:.1g} %"
    if effect <= stated:
        reason = text + ", less than its uncertainty."
        return Check("readout", True, "Row readout", reason, GROUND)
    reason = text + f", more than the stated {100 * stated:.1g} %."
    return Check("readout", False, "Row readout", reason, GROUND)


def depth(effect: float, stated: float, *, corrected: bool) -> Check:
    """Whether a known length nearer or farther than the motion matters."""
    title = "Depth of the known length"
    percent = f"{100 * abs(effect):.1g} %"
    if corrected:
        reason = f"The scale is corrected by {percent} for the depth of the known length."
        return Check("depth", True, title, reason, GROUND)
    sound = abs(effect) <= stated
    reason = f"Its depth changes the scale by {percent}; say how far away the camera was."
    return Check("depth", sound, title, reason, GROUND)
