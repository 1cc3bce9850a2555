"""The soundness checks in words: what was looked at, and the reason in one sentence."""

from dataclasses import dataclass
from functools import singledispatch

from footing.core.findings import significant
from footing.core.fit_soundness import (
    AxisLimits,
    ErringTogether,
    ImpactInside,
    Outliers,
    Pattern,
    PointsEnough,
    ThroughZero,
    UnitsTogether,
)
from footing.core.soundness import (
    CaptureRate,
    Check,
    ClockPlausible,
    Depth,
    LengthSize,
    LengthsTogether,
    NamedSlow,
    Readout,
    RepeatedFrames,
    ScaleKnown,
    SlowMotionSign,
    SpanChosen,
    UnevenFrames,
    UnusableNumbers,
    UpLevel,
)


@dataclass(frozen=True)
class Said:
    """What was looked at, and what came of it."""

    title: str
    reason: str


@singledispatch
def said_of(check: Check) -> Said:
    """A check in words."""
    raise NotImplementedError(type(check))


@said_of.register
def _(check: ScaleKnown) -> Said:
    pixels = "Everything is in pixels: no length was typed."
    return Said("Known length", "Lengths have a unit." if check.known else pixels)


@said_of.register
def _(check: UnusableNumbers) -> Said:
    named = ", ".join(check.typed)
    return Said("Typed numbers", f"{named} cannot be computed with and is left out; type it again.")


@said_of.register
def _(check: LengthSize) -> Said:
    title = "Size of the known length"
    percent = f"{significant(100 * check.scale, 2)} %"
    if check.by_digits:
        return Said(
            title,
            f"The scale is known to {percent} only, because of the digits that were typed; type "
            "the known length with another digit, such as 0.800, if it was measured so well.",
        )
    if check.sound:
        return Said(title, f"The scale is known to {percent}.")
    return Said(
        title,
        f"The known length covers {100 * check.share:.0f} % of the picture, so the scale is known "
        f"to {percent} only; use a longer object.",
    )


@said_of.register
def _(check: LengthsTogether) -> Said:
    if check.sound:
        return Said("Known lengths together", f"The {check.count} known lengths agree.")
    return Said(
        "Known lengths together",
        f"One known length lies {abs(check.worst):.1f} uncertainties from the others: an end is "
        "misplaced, or they are not equally far from the camera.",
    )


def slow_motion(sign: SlowMotionSign) -> str:
    """Why a file looks like slow motion."""
    match sign:
        case CaptureRate():
            return (
                f"The file says that it was captured at {sign.captured:g} frames/s; it plays at "
                f"{sign.playing:.4g}."
            )
        case UnevenFrames():
            return (
                "The frames come unevenly; a stretch of this file may be slow motion, or frames "
                "may be missing."
            )
        case NamedSlow():
            return "The name of the file speaks of slow motion."


@said_of.register
def _(check: ClockPlausible) -> Said:
    if check.slower:
        times = f"{check.slower:.1f}".removesuffix(".0")
        return Said(
            "Clock",
            f"A vertical acceleration of {abs(check.acceleration):.2g} m/s² is free fall {times} "
            "times too slow: was this filmed in slow motion?",
        )
    if check.sign is not None:
        return Said("Clock", slow_motion(check.sign))
    return Said("Clock", "Nothing speaks against the clock.")


@said_of.register
def _(check: UpLevel) -> Said:
    text = f"The axes are {abs(check.tilt):.1f}° off the level line."
    if not check.sound:
        text += " If gravity should act along one axis only, turn them."
    return Said("Up", text)


@said_of.register
def _(check: SpanChosen) -> Said:
    if check.sound:
        return Said("Span", "The span holds the motion.")
    if check.moving is False:
        return Said("Span", "Nothing moves in the span; look whether the right frames were chosen.")
    return Said("Span", f"All {check.outside} marks lie outside the span.")


@said_of.register
def _(check: RepeatedFrames) -> Said:
    what = "A frame repeats" if check.count == 1 else f"{check.count} frames repeat"
    return Said(
        "Repeated frames",
        f"{what} the picture before; leave their marks out, or speeds will jump.",
    )


@said_of.register
def _(check: Readout) -> Said:
    text = f"The row readout may change an acceleration by {significant(100 * check.effect, 1)} %"
    if check.sound:
        return Said("Row readout", f"{text}, less than its uncertainty.")
    return Said(
        "Row readout", f"{text}, more than the stated {significant(100 * check.stated, 1)} %."
    )


@said_of.register
def _(check: Depth) -> Said:
    percent = f"{significant(100 * abs(check.effect), 1)} %"
    return Said(
        "Depth of the known length",
        f"The scale is corrected by {percent} for the depth of the known length."
        if check.corrected
        else f"Its depth changes the scale by {percent}; say how far away the camera was.",
    )


@said_of.register
def _(check: PointsEnough) -> Said:
    curve = check.curve
    points = f"{check.n} points for a {curve.title} with {len(curve.names)} parameters"
    if check.sound:
        return Said("Number of points", f"{points}.")
    return Said("Number of points", f"Only {points}: take more, or a simpler curve.")


@said_of.register
def _(check: Pattern) -> Said:
    return Said(
        "Pattern of the residuals",
        "The residuals scatter without a pattern."
        if check.sound
        else f"The residuals of the {check.curve.title} come in long runs: it misses something. "
        "Try another curve or a shorter passage.",
    )


@said_of.register
def _(check: ErringTogether) -> Said:
    return Said(
        "Marks that err together",
        "Neighbouring marks err independently."
        if check.sound
        else "Neighbouring marks err to the same side, as where a hand lags behind or drifts; the "
        f"uncertainties are {check.factor:.1f} times as large therefore. Mark the same spot anew, "
        "or look whether the curve fits.",
    )


@said_of.register
def _(check: Outliers) -> Said:
    if check.sound:
        return Said("Outliers", "No point lies too far from its curve.")
    many = f"{check.count} points lie" if check.count > 1 else "One point lies"
    return Said(
        "Outliers",
        f"{many} too far from the {check.curve.title}; the worst is {check.worst:.1f} standard "
        "errors off. Look at it, and set it aside only with a reason.",
    )


@said_of.register
def _(check: ImpactInside) -> Said:
    return Said(
        "Impact in a fit",
        "No fit crosses a bounce or an impact."
        if check.sound
        else "A fit crosses a moment at which the velocity changes at once: a bounce or an impact. "
        "Fit a passage before it, and another after it.",
    )


@said_of.register
def _(check: ThroughZero) -> Said:
    return Said(
        "Intercept",
        "The intercept is zero, as it should be."
        if check.sound
        else "Of a motion that begins at rest, where d and t are zero, this line goes through "
        f"zero; it passes zero {check.apart:.1f} standard errors away. Was something left out, or "
        "measured from another place or moment?",
    )


@said_of.register
def _(check: AxisLimits) -> Said:
    points = "point lies" if check.hidden == 1 else "points lie"
    return Said(
        "Limits of the axes",
        f"{check.hidden} {points} outside the typed limits of the graph; let the limits follow.",
    )


@said_of.register
def _(check: UnitsTogether) -> Said:
    names = [
        *(f"the series of “{title}”" for title in check.graphs),
        *(f"{name} ({problem})" for name, problem in check.columns),
    ]
    return Said("Units", f"Units do not go together: {'; '.join(names)}.")
