"""When the legs of a predicted motion begin and end: as typed, or by passages of a film."""

from collections.abc import Sequence
from dataclasses import dataclass

from footing.core.errors import Refused
from footing.core.timing import frame_position
from footing.core.units import read_number
from footing.store.rows import MotionLeg
from footing.studies.model.filmed import Filmed
from footing.studies.model.motions import BodyMotion

_SAME = 1e-9  # s, of two moments that are one


@dataclass(frozen=True)
class NoTimes:
    """Why there are none, and the key of the leg that it is about; 0 for all of them."""

    leg: int
    text: str


def typed_times(legs: Sequence[MotionLeg]) -> list[float] | NoTimes:
    """When the motion begins, and when each leg ends, in seconds, by how long each lasts."""
    borders = [0.0]
    for leg in legs:
        try:
            lasts = read_number(leg.lasts or "", field="lasts").value
        except Refused:
            lasts = 0.0
        if lasts <= 0:
            return NoTimes(leg.id, "Say how many seconds this leg lasts.")
        borders.append(borders[-1] + lasts)
    return borders


def filmed_times(
    legs: Sequence[MotionLeg], source: Filmed, motion: BodyMotion | None
) -> list[float] | NoTimes:
    """The same in seconds of a study, by the passages of the legs.

    motion : of the body that moves so, if there is one; a leg alone may last as long as its marks
    """
    whole = _whole(source, motion)
    if whole is None:
        return NoTimes(0, "There is no mark yet, and no passage; name one on the score.")
    stretches: list[tuple[float, float]] = []
    for leg in legs:
        stretch = _stretch(leg, source)
        if stretch is None and len(legs) > 1:
            return NoTimes(leg.id, "Choose a passage for this leg.")
        stretches.append(stretch or whole)
    borders = [stretches[0][0]]
    for place in range(1, len(stretches)):
        before, after = stretches[place - 1], stretches[place]
        leg, name = legs[place], _passage_name(legs[place], source)
        earlier = _passage_name(legs[place - 1], source)
        if after[0] < before[0]:
            return NoTimes(
                leg.id, f"“{name}” begins before “{earlier}” does; put the legs in their order."
            )
        if after[0] < before[1] - _SAME:
            return NoTimes(
                leg.id,
                f"“{name}” begins before “{earlier}” has ended; passages of legs may not overlap.",
            )
        borders.append((before[1] + after[0]) / 2)
    return [*borders, stretches[-1][1]]


def _passage_name(leg: MotionLeg, source: Filmed) -> str:
    passage = source.passages.get(leg.passage_id or 0)
    return passage.name if passage else "all marks"


def _stretch(leg: MotionLeg, source: Filmed) -> tuple[float, float] | None:
    passage = source.passages.get(leg.passage_id or 0)
    if passage is None:
        return None
    times = source.ground.times
    return frame_position(times, passage.first), frame_position(times, passage.last)


def _whole(source: Filmed, motion: BodyMotion | None) -> tuple[float, float] | None:
    """From the first mark to the last; of what has none, the span."""
    times = source.ground.times
    if motion is not None and len(motion.frames) > 1:
        return float(times[motion.frames[0]]), float(times[motion.frames[-1]])
    first, last = float(times[source.row.first]), float(times[source.row.last])
    return (first, last) if last > first else None
