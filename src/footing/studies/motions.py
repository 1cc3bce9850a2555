"""The motion of each body: its marks on their ground."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from footing.core.arrays import FloatArray, IntArray
from footing.core.ground import heights
from footing.core.motion import Motion
from footing.core.steadying import seen_in, steadied
from footing.store import tables
from footing.studies.grounds import Grounded


@dataclass(frozen=True)
class BodyMotion:
    """The counting frames of a body, its marks there in pixels (steadied), and its motion."""

    frames: IntArray
    pixels: FloatArray
    motion: Motion


def body_motion(ground: Grounded, marks: list[Any]) -> BodyMotion:
    """Motion of a body from its marks (rising frames); those outside the span do not count.

    Where background spots are marked, frames in which one of them is not do not count either.
    """
    counting = [mark for mark in marks if ground.counts(mark.frame)]
    frames = np.array([mark.frame for mark in counting], dtype=np.int64)
    pixels = np.array([(mark.x, mark.y) for mark in counting], dtype=float).reshape(-1, 2)
    if ground.spots:
        kept = np.isin(frames, seen_in(ground.spots, frames))
        frames, pixels = frames[kept], pixels[kept]
        pixels = steadied(pixels, frames, ground.spots, reference=reference_frame(ground))
    flattening = ground.flattening
    times = np.arange(1.0, len(frames) + 1) if ground.is_picture else ground.times[frames]
    motion = Motion(
        times,
        ground.axes.to_world(pixels, flattening),
        heights=heights(pixels, flattening, up=ground.ground.up, zero=ground.height_zero),
        position_uncertainty=flattening.per_pixel(pixels) * ground.ground.pixel_uncertainty
        if len(pixels)
        else 0.0,
    )
    return BodyMotion(frames, pixels, motion)


def reference_frame(ground: Grounded) -> int:
    """The frame to which an unsteady picture is moved back: the first with all spots."""
    common = seen_in(ground.spots, ground.spots[0].frames)
    return int(common[0]) if len(common) else int(ground.spots[0].frames[0])


def marks_by_body(footage: Any) -> dict[int, list[Any]]:
    """All marks on a source, for each body in rising frames."""
    found: dict[int, list[Any]] = {}
    rows = (
        tables.Mark.select()
        .join(tables.Body)
        .where(tables.Body.footage == footage)
        .order_by(tables.Mark.frame)
    )
    for mark in rows:
        found.setdefault(mark.body_id, []).append(mark)
    return found
