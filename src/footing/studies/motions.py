"""From stored pixels to the motion of each body: ground and clock joined with the marks."""

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from footing.core.arrays import FloatArray, IntArray
from footing.core.ground import Axes, KnownLength, Scale, combined_scale
from footing.core.motion import Motion
from footing.core.timing import study_times
from footing.core.units import Typed, read_number, to_si
from footing.media.index import VideoIndex
from footing.store import tables


@dataclass(frozen=True)
class Grounded:
    """A footage with its ground, ready to turn marks into motion."""

    footage: Any
    ground: Any
    index: VideoIndex
    known_lengths: tuple[Any, ...]

    @cached_property
    def scale(self) -> Scale | None:
        """Metres for each pixel, or None while no length was typed."""
        known = []
        for row in self.known_lengths:
            if row.typed is not None:
                typed = typed_length(row)
                known.append(
                    KnownLength(
                        (row.start_x, row.start_y),
                        (row.end_x, row.end_y),
                        typed.value,
                        typed.uncertainty,
                    )
                )
        return combined_scale(known, pixel_uncertainty=self.ground.pixel_uncertainty)

    @property
    def length_unit(self) -> str:
        """The unit of all lengths: metre, or pixel before a length is typed."""
        return "m" if self.scale else "px"

    @cached_property
    def times(self) -> FloatArray:
        """Study time of every frame."""
        return study_times(self.index.times, self.ground.zero_frame)

    @property
    def axes(self) -> Axes:
        """Zero, turn and flips."""
        ground = self.ground
        return Axes((ground.zero_x, ground.zero_y), ground.angle, ground.flip_x, ground.flip_y)

    def counts(self, frame: int) -> bool:
        """Whether a mark in this frame counts."""
        return bool(self.footage.first <= frame <= self.footage.last)

    def motion(self, marks: list[Any]) -> "BodyMotion":
        """Motion of a body from its marks (rising frames); those outside the span do not count."""
        counting = [mark for mark in marks if self.counts(mark.frame)]
        frames = np.array([mark.frame for mark in counting], dtype=np.int64)
        pixels = np.array([(mark.x, mark.y) for mark in counting], dtype=float).reshape(-1, 2)
        metres = self.scale.value if self.scale else 1.0
        return BodyMotion(
            frames,
            Motion(
                self.times[frames],
                self.axes.to_world(pixels, scale=metres),
                position_uncertainty=metres * self.ground.pixel_uncertainty,
            ),
        )


@dataclass(frozen=True)
class BodyMotion:
    """The counting frames of a body and its motion there."""

    frames: IntArray
    motion: Motion


def typed_length(row: Any) -> Typed:
    """The typed length of a known length, in metres."""
    return to_si(read_number(row.typed, field="length"), row.unit)


def video_index(media: Any) -> VideoIndex:
    """The index of an uploaded video as it is stored."""
    stored = dict(media.index)
    for name in ("pts", "keys", "notes"):
        stored[name] = tuple(stored[name])
    return VideoIndex(**stored)


def grounded(study_id: int) -> Grounded | None:
    """The footage of a study with its ground, or None while it has none."""
    footage: Any = tables.Footage.get_or_none(tables.Footage.study == study_id)
    if footage is None:
        return None
    lengths = tables.KnownLength.select().where(tables.KnownLength.footage == footage)
    return Grounded(
        footage,
        tables.Ground.get_by_id(footage.id),
        video_index(footage.media),
        tuple(lengths.order_by(tables.KnownLength.id)),
    )


def marks_by_body(study_id: int) -> dict[int, list[Any]]:
    """All marks of a study, for each body in rising frames."""
    found: dict[int, list[Any]] = {}
    rows = tables.Mark.select().where(tables.Mark.study == study_id).order_by(tables.Mark.frame)
    for mark in rows:
        found.setdefault(mark.body_id, []).append(mark)
    return found
