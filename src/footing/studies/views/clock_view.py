"""The clock as a screen shows it: where times come from, and what that does to everything."""

from footing.core.soundness import CaptureRate, NamedSlow, SlowMotionSign, UnevenFrames
from footing.studies.model.grounds import Grounded
from footing.studies.shapes.ground import ClockShape
from footing.words.checks import slow_motion

_DIFFERENT_RATE = 1.1
_UNEVEN = 2.5  # longest over shortest step, from which a stretch may be slow motion
_SLOW_NAMES = ("slowmo", "slow-mo", "slow_mo", "slomo", "slow motion", "240fps", "120fps")


def slow_motion_sign(ground: Grounded) -> SlowMotionSign | None:
    """By what a file looks like slow motion, or None."""
    index = ground.index
    if index.frames < 2:
        return None
    if index.capture_rate and index.capture_rate > _DIFFERENT_RATE * ground.playing_rate:
        return CaptureRate(index.capture_rate, ground.playing_rate)
    rhythm = index.cadence
    if rhythm.shortest_step > 0 and rhythm.longest_step > _UNEVEN * rhythm.shortest_step:
        return UnevenFrames()
    if any(name in ground.footage.name.lower() for name in _SLOW_NAMES):
        return NamedSlow()
    return None


def clock_view(ground: Grounded) -> ClockShape:
    """Where times come from, what the file suggests, and what follows."""
    row, index = ground.ground, ground.index
    sign = slow_motion_sign(ground)
    return {
        "kind": row.clock,
        "typed": row.clock_typed or "",
        "first": row.clock_first,
        "last": row.clock_last,
        "rate": f"{ground.playing_rate:.4g}" if index.frames > 1 else "",
        "step": _step_text(ground),
        "likely": slow_motion(sign) if sign else None,
        "offer": f"{index.capture_rate:g}" if index.capture_rate and sign else "",
        "offer_text": _consequence(ground.playing_rate / index.capture_rate)
        if index.capture_rate and sign
        else "",
        "consequence": _consequence(ground.clock.k) if row.clock != "file" else "",
        "uncertainty": f"{100 * ground.clock.relative:.2g} %" if ground.clock.relative else "",
    }


def _step_text(ground: Grounded) -> str:
    """How a number of frames becomes a time."""
    index = ground.index
    if index.frames < 2:
        return ""
    rate = f"{ground.playing_rate:.4g}"
    if index.cadence.variable:
        return f"The steps vary, so every frame has its own time; usually {rate} frames make 1 s."
    step = 1000 * index.cadence.duration / (index.frames - 1)
    return f"{rate} frames make 1 s of the file: from one to the next pass {step:.2f} ms."


def _consequence(k: float) -> str:
    """What a clock does to everything measured with it."""
    if abs(k - 1) < 1e-3:
        return "The clock runs as the file does."
    factor, word = (1 / k, "faster") if k < 1 else (k, "slower")
    speeds = f"{1 / k:.3g}"
    return (
        f"The motion was {factor:.3g} times {word} than the file plays: times are {k:.3g}, speeds "
        f"{speeds} and accelerations {1 / k**2:.3g} times those of the file."
    )
