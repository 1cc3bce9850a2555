"""What was told as a mark and is asked about after all, or told elsewhere."""

from collections.abc import Sequence
from dataclasses import replace

from footing.core.following.camera import carried
from footing.core.following.grading import UNSURE, allowed_error
from footing.core.following.hypothesis import Hypothesis
from footing.core.following.leg import Ended, Leg, Step
from footing.core.following.patches import Point
from footing.core.following.telling import BACK_FROM, EVERY, tell
from footing.core.following.unconfirmed import (
    REACH,
    beside,
    confirmed_of,
    is_farthest_off,
    is_unconfirmed,
)

_CONFIRMED_AFTER = EVERY + BACK_FROM + 3  # frames: by then it has been gone back over it


def doubted(leg: Leg, best: Hypothesis) -> list[Step | Ended]:
    """What was told from where on it is not known to be the body, told again as a question."""
    told: list[Step | Ended] = []
    for step in list(leg.told.values()):
        if step.sure and not best.is_believed(step.frame):
            told += tell(leg, _as_question(step))
    return told


def unconfirmed(
    leg: Leg, number: int, told: Sequence[Step | Ended], *, ended: bool = False
) -> list[Step | Ended]:
    """Marks that those around them would have elsewhere, told again.

    There, if a witness had one of them there; as a question otherwise.

    told : what was told in this frame; ended : whether it is the last
    """
    stride = leg.stride if number >= leg.start.frame else -leg.stride
    latest = number if ended else number - stride * _CONFIRMED_AFTER
    frames = set(range(number - stride * _CONFIRMED_AFTER, latest + stride, stride))
    frames |= {step.frame for step in told if (latest - step.frame) * stride >= 0}
    allowed = allowed_error(leg.accounts[0].target.size)
    again: list[Step | Ended] = []
    while frames:
        frame = frames.pop()
        step = leg.told.get(frame)
        if step is None or not step.sure:
            continue
        places = _around(leg, frame, stride)
        if not (is_unconfirmed(places, 0, allowed) and is_farthest_off(places, 0)):
            continue
        near = {k: frame + k * stride for k in beside(0) if k in places}
        others = {
            k: [_steady(leg, other, one.place, frame) for one in leg.elsewhere.get(other, [])]
            for k, other in near.items()
        }
        mended = confirmed_of(others, places, 0, allowed)
        if mended is None:
            again += tell(leg, _as_question(step))
        else:
            at, which = near[mended[0]], mended[1]
            there = leg.elsewhere[at].pop(which)  # so that it is not asked of again
            moved = replace(leg.told[at], place=there.place, by_outline=there.by_outline)
            again += tell(leg, moved)
        around = range(frame - REACH * stride, frame + (REACH + 1) * stride, stride)
        frames |= {other for other in around if (latest - other) * stride >= 0}
    return again


def _around(leg: Leg, frame: int, stride: int) -> dict[int, Point]:
    """The places of the marks that tell of a frame, by hand and told, as if in that frame.

    By how many frames later they are, of those that are followed.
    """
    by_hand = leg.marked | leg.held_at
    places: dict[int, Point] = {}
    for k in range(-REACH, REACH + 1):
        near = frame + k * stride
        step = leg.told.get(near)
        place = by_hand.get(near, step.place if step is not None and step.sure else None)
        if place is not None:
            places[k] = _steady(leg, near, place, frame)
    return places


def _steady(leg: Leg, number: int, place: Point, frame: int) -> Point:
    """A place of one frame as it would be in another, without the camera's motion."""
    dx, dy = carried(leg.poses.get(number), leg.poses.get(frame), place)
    return place[0] + dx, place[1] + dy


def _as_question(step: Step) -> Step:
    return replace(step, quality=min(step.quality, UNSURE), sure=False)
