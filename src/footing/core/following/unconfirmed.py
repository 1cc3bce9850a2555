"""Jumps that no later frame confirms: marks that lie beside the course of those around them."""

from collections.abc import Mapping, Sequence
from statistics import median

from footing.core.following.patches import Point, distance

_BETWEEN = {-2: -1 / 6, -1: 2 / 3, 1: 2 / 3, 2: -1 / 6}  # of a cubic through the four around
_BETWEEN_TWO = {-1: 0.5, 1: 0.5}
_CARRIED_ON = ({-1: 3.0, -2: -3.0, -3: 1.0}, {1: 3.0, 2: -3.0, 3: 1.0})  # parabolas of one side
_OFF = 0.7  # of the error that is allowed, from which a mark is beside a course
_MENDED = 0.75  # of how far all beside it are off, that is left at most by another place
_TIMES, _TIMES_CARRIED_ON = 3.0, 7.0  # what others are off, which courses of one side are more
_SCATTER_LEAST, _SCATTER_UNKNOWN = 0.2, 1.0  # px
_AROUND, _APART, _FOR_A_SCATTER = 7, 2, 4  # frames, those whose courses this mark bends, and marks

REACH = _AROUND + 3  # frames on either side that tell of a mark, or of how others scatter


def is_unconfirmed(places: Mapping[int, Point], frame: int, allowed: float) -> bool:
    """Whether a mark is beside the course from before to after it, and beside that of each side.

    A body that bounces is on the course of one side. Nothing is said where a frame beside has no
    mark.

    Parameters
    ----------
    places : of marks by frame, px, this among them
    allowed : by how much a mark may be off, px
    """
    off = _off_between(places, frame)
    if off is None or off <= _OFF * allowed:
        return False
    others = [
        other
        for near in range(frame - _AROUND, frame + _AROUND + 1)
        if abs(near - frame) > _APART and (other := _off_between(places, near)) is not None
    ]
    scatter = median(others) if len(others) >= _FOR_A_SCATTER else _SCATTER_UNKNOWN
    scatter = max(scatter, _SCATTER_LEAST)
    if off <= _TIMES * scatter:
        return False
    least = max(_OFF * allowed, _TIMES_CARRIED_ON * scatter)
    one_sided = [_off(places, frame, course) for course in _CARRIED_ON]
    return all(off is None or off > least for off in one_sided)


def beside(frame: int) -> range:
    """The frames whose marks a mark bends the courses of, with its own."""
    return range(frame - _APART, frame + _APART + 1)


def is_farthest_off(places: Mapping[int, Point], frame: int) -> bool:
    """Whether no mark beside one is farther from the course around it."""
    own = _off_between(places, frame) or 0.0
    return all((_off_between(places, near) or 0.0) <= own for near in beside(frame))


def confirmed_of(
    others: Mapping[int, Sequence[Point]],
    places: Mapping[int, Point],
    frame: int,
    allowed: float,
) -> tuple[int, int] | None:
    """Which other place of one mark makes a course of those beside a frame; None if none does.

    others : other places by frame, px

    Returns
    -------
    The mark's frame, and which of its other places it is.
    """
    bends: dict[tuple[int, int], float] = {}
    for at, there in others.items():
        for which, place in enumerate(there):
            mended = {**places, at: place}
            if not any(is_unconfirmed(mended, near, allowed) for near in beside(frame)):
                bends[at, which] = _bend(mended, frame)
    best = min(bends, key=lambda one: bends[one], default=None)
    most = _MENDED * _bend(places, frame)
    return best if best is not None and bends[best] <= most else None


def _bend(places: Mapping[int, Point], frame: int) -> float:
    """How far the marks beside a frame are from their courses, px."""
    return sum(_off_between(places, near) or 0.0 for near in beside(frame))


def _off_between(places: Mapping[int, Point], frame: int) -> float | None:
    """How far a mark is from the course between those around it, px; None if that is not known."""
    off = _off(places, frame, _BETWEEN)
    return _off(places, frame, _BETWEEN_TWO) if off is None else off


def _off(places: Mapping[int, Point], frame: int, course: Mapping[int, float]) -> float | None:
    """How far a mark is from a sum of the places around it, with their weights, px."""
    if frame not in places or any(frame + step not in places for step in course):
        return None
    x = sum(weight * places[frame + step][0] for step, weight in course.items())
    y = sum(weight * places[frame + step][1] for step, weight in course.items())
    return distance(places[frame], (x, y))
