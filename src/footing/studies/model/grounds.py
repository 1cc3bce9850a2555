"""From stored pixels to lengths and times: the ground of one source, read from its rows."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property, lru_cache
from math import ceil, log10
from typing import Any

import numpy as np

from footing.core.arrays import FloatArray, IntArray
from footing.core.dimensions import Unit
from footing.core.errors import Refused
from footing.core.ground import Axes, Flattening, Scale, Square, combined_scale
from footing.core.ground import KnownLength as Line
from footing.core.plane import Plane, Point, fitted_plane, rectangle
from footing.core.steadying import Spot
from footing.core.timing import Clock, playing_rate, slow_motion, study_times, two_moments
from footing.core.units import LENGTH_UNITS, Typed, metres_in, read_number, to_si
from footing.media.index import MediaIndex
from footing.store.contents import stored_index, survey_of
from footing.store.database import connected
from footing.store.rows import Footage, Ground, KnownLength, Mark, PlanePoint, Surveyed
from footing.store.rows import Plane as PlaneRow
from footing.store.snapshot import StudyRows
from footing.studies.model.containing import is_readable
from footing.studies.model.kept import Kept
from footing.studies.model.kinds import FootageKind, kind_of

CORNERS = 4
_BASE = "m"


@dataclass(frozen=True, eq=False)
class Grounded:
    """A source with its ground, ready to turn marks into motion.

    Lengths are in `length_unit`: the unit of the study, a made-up unit, or pixels. ``survey`` is
    what looking through the file found.
    """

    footage: Footage
    ground: Ground
    index: MediaIndex
    survey: Surveyed | None
    known_lengths: tuple[KnownLength, ...]
    plane_row: PlaneRow | None
    plane_points: tuple[PlanePoint, ...]
    spots: tuple[Spot, ...]
    study_unit: str

    @property
    def time_decimals(self) -> int:
        """Decimal places that tell neighbouring frames apart."""
        step = self.index.cadence.shortest_step * self.clock.k
        return 3 if step <= 0 else min(max(ceil(-log10(step)) + 1, 3), 6)

    @property
    def kind(self) -> FootageKind:
        """What kind of footage it is, and what that has."""
        return kind_of(self.index)

    @cached_property
    def typed_lengths(self) -> tuple[KnownLength, ...]:
        """The known lengths whose length was typed."""
        typed = (row for row in self.known_lengths if row.typed is not None)
        return tuple(row for row in typed if is_readable(row.typed) and is_readable(row.nearer))

    @property
    def unusable(self) -> list[str]:
        """What was typed and stored, and cannot be used: limits may have come after it."""
        typed = [row.typed for row in self.known_lengths]
        typed += [row.nearer for row in self.known_lengths]
        typed += [self.ground.clock_typed, self.ground.camera_distance, self.ground.readout]
        return [text for text in typed if text and not is_readable(text)]

    @cached_property
    def made_up_unit(self) -> str | None:
        """The made-up unit in which the lengths were typed, if any."""
        rows = (self.plane_row,) if self.plane_row else self.typed_lengths
        return next((row.unit for row in rows if row.unit not in LENGTH_UNITS), None)

    @property
    def has_unit(self) -> bool:
        """Whether lengths are more than pixels."""
        return self.scale is not None or self.plane is not None

    @property
    def length_unit(self) -> str:
        """The unit of all lengths."""
        if not self.has_unit:
            return "px"
        return self.made_up_unit or self.study_unit

    @property
    def metres(self) -> float | None:
        """Metres in the unit of length, or None where it has none (pixels, made-up units)."""
        known = self.length_unit in LENGTH_UNITS
        return metres_in(self.length_unit) if known else None

    def length_power(self, unit: Unit) -> Fraction:
        """In which power the lengths of this ground enter a unit."""
        name = self.length_unit
        return unit.power_of("m" if name in LENGTH_UNITS else name)

    @cached_property
    def lengths(self) -> tuple[Line, ...]:
        """The typed known lengths in the unit of length."""
        distance = self.camera_distance
        found = []
        for row in self.typed_lengths:
            typed = self._converted(read_number(row.typed or "", field="length"), row.unit or _BASE)
            nearer = (
                self._converted(read_number(row.nearer, field="nearer"), _BASE).value
                if (row.nearer and self.made_up_unit is None)
                else 0.0
            )
            ends = (row.start_x, row.start_y), (row.end_x, row.end_y)
            found.append(Line(*ends, typed.value, typed.uncertainty, nearer, distance))
        return tuple(found)

    @property
    def camera_distance(self) -> float | None:
        """From the camera to the motion, in the unit of length; None where unknown."""
        typed = self.ground.camera_distance
        if typed is None or self.made_up_unit is not None or not is_readable(typed):
            return None
        return self._converted(read_number(typed, field="metres"), _BASE).value

    @cached_property
    def scale(self) -> Scale | None:
        """Length for each pixel, or None while no length was typed or the view is oblique."""
        if self.plane is not None:
            return None
        return combined_scale(self.lengths, pixel_uncertainty=self.ground.pixel_uncertainty)

    @cached_property
    def plane(self) -> Plane | None:
        """The oblique plane, or None while it is not complete or cannot be."""
        return None if self.plane_problem else self._plane_outcome[0]

    @property
    def plane_problem(self) -> str | None:
        """Why there is no oblique plane, if there is a rectangle."""
        return self._plane_outcome[1]

    @cached_property
    def _plane_outcome(self) -> tuple[Plane | None, str | None]:
        row = self.plane_row
        if row is None:
            return None, None
        if not row.across or not row.along:
            return None, "Type both sides of the rectangle."
        stored = (
            row.across,
            row.along,
            *(t for one in self.plane_points for t in (one.across, one.along)),
        )
        if not all(is_readable(text) for text in stored):
            return None, "A side or a place of the rectangle cannot be used; type it again."
        across, along = (
            self._converted(read_number(side, field="across"), row.unit)
            for side in (row.across, row.along)
        )
        places: list[Point] = list(rectangle(across.value, along.value))
        further: list[Point] = []
        pixels: list[Point] = [(one.x, one.y) for one in self.plane_points[:CORNERS]]
        for one in self.plane_points[CORNERS:]:
            if one.across is not None and one.along is not None:
                x, y = (
                    self._converted(read_number(text, field="across"), row.unit)
                    for text in (one.across, one.along)
                )
                places.append((x.value, y.value))
                further.append((x.uncertainty, y.uncertainty))
                pixels.append((one.x, one.y))
        try:
            fitted = fitted_plane(
                tuple(pixels),
                tuple(places),
                pixel_uncertainty=self.ground.pixel_uncertainty,
                side_uncertainties=(across.uncertainty, along.uncertainty),
                further_uncertainties=tuple(further),
            )
        except Refused as error:
            return None, str(error)
        return fitted, None

    @property
    def flattening(self) -> Flattening:
        """How the picture is laid out flat."""
        if self.plane is not None:
            return self.plane
        metre = self.scale.value if self.scale else 1.0
        return Square(metre, self.ground.quarter, self.ground.mirror)

    @property
    def axes(self) -> Axes:
        """Zero, turn and flips."""
        ground = self.ground
        return Axes((ground.zero_x, ground.zero_y), ground.angle, ground.flip_x, ground.flip_y)

    @property
    def height_zero(self) -> tuple[float, float]:
        """The zero of height: its own, or zero itself."""
        ground = self.ground
        if ground.height_x is None or ground.height_y is None:
            return (ground.zero_x, ground.zero_y)
        return (ground.height_x, ground.height_y)

    @property
    def middle(self) -> FloatArray:
        """The middle of the picture, ``(1, 2)`` pixels."""
        return np.array([[(self.index.width - 1) / 2, (self.index.height - 1) / 2]])

    def length_parts(self, at: FloatArray | None = None) -> list[tuple[str, float]]:
        """What makes lengths uncertain: names and relative standard uncertainties.

        ``at`` are the pixels around which it is asked for an oblique view.
        """
        if self.plane is not None:
            places = self.middle if at is None or len(at) == 0 else at
            return [("oblique view", self.plane.relative_uncertainty(places))]
        parts = [("scale", self.scale.relative)] if self.scale else []
        if (depth := self.depth_uncertainty) > 0:
            parts.append(("depth", depth))
        return parts

    @property
    def depth_uncertainty(self) -> float:
        """Relative uncertainty of the scale from how well the depth was typed."""
        if self.camera_distance is None:
            return 0.0
        parts = [
            self._converted(read_number(row.nearer, field="nearer"), _BASE).uncertainty
            / (self.camera_distance - known.nearer)
            for row, known in zip(self.typed_lengths, self.lengths, strict=True)
            if row.nearer
        ]
        return max(parts, default=0.0)

    @cached_property
    def clock(self) -> Clock:
        """How fast true time runs against the file's."""
        row = self.ground
        if row.clock_typed is None or not is_readable(row.clock_typed):
            return Clock()
        if row.clock == "capture" and self.index.frames > 1:
            capture = read_number(row.clock_typed, field="typed").value
            first, last = row.clock_first or 0, row.clock_last or self.index.frames - 1
            rate, relative = playing_rate(
                self.index.times, first=first, last=last, tick=self.index.tick
            )
            k = slow_motion(capture, rate)
            return Clock(k, relative, first=row.clock_first, last=row.clock_last)
        if row.clock == "moments":
            true = read_number(row.clock_typed, field="typed")
            moments = (row.clock_first or 0, row.clock_last or 0)
            k, relative = two_moments(true.value, true.uncertainty, self.index.times, *moments)
            return Clock(k, relative)
        return Clock()

    @property
    def playing_rate(self) -> float:
        """Frames for each second of the file, over the whole of it."""
        times = self.index.times
        return playing_rate(times, first=0, last=len(times) - 1, tick=self.index.tick)[0]

    @cached_property
    def times(self) -> FloatArray:
        """Study time of every frame."""
        return study_times(self.index.times, self.ground.zero_frame, self.clock)

    def counts(self, frame: int) -> bool:
        """Whether a mark in this frame counts."""
        return not self.kind.has_time or self.footage.first <= frame <= self.footage.last

    def readout_speed(self, frames: IntArray, pixels: FloatArray) -> float:
        """Mean speed along the rows that the camera reads one after the other, px/s."""
        if len(frames) < 2:
            return 0.0
        sideways = self.index.rotation in (90, 270)
        along = pixels[:, 0 if sideways else 1]
        apart = self.times[frames[-1]] - self.times[frames[0]]
        return float(np.abs(np.diff(along)).sum() / apart)

    @property
    def seconds_per_row(self) -> float | None:
        """Row readout τ, seconds for each pixel, or None where it was not typed."""
        if not self.ground.readout or not is_readable(self.ground.readout):
            return None
        sideways = self.index.rotation in (90, 270)
        rows = self.index.width if sideways else self.index.height
        return read_number(self.ground.readout, field="milliseconds").value / 1000 / rows

    def _converted(self, typed: Typed, unit: str) -> Typed:
        """A typed length in the unit of length; a made-up unit is its own."""
        if unit not in LENGTH_UNITS:
            return typed
        metre = to_si(typed, unit)
        shown = metres_in(self.study_unit)
        return Typed(metre.value / shown, metre.uncertainty / shown)


@lru_cache(maxsize=128)
def media_index(content: str) -> MediaIndex:
    """The index of an uploaded file, by its content; kept, because it never changes."""
    with connected():
        stored: dict[str, Any] = dict(stored_index(content))
    for name in ("pts", "keys", "notes"):
        stored[name] = tuple(stored[name])
    return MediaIndex(**stored)


def grounded(footage: Footage, rows: StudyRows) -> Grounded:
    """A source with its ground; the same one as before where nothing about it changed."""
    plane = rows.plane_of(footage)
    ground, survey = rows.ground_of(footage), survey_of(footage.content)
    lengths = rows.known_lengths_of(footage)
    points = rows.plane_points_of(footage) if plane else ()
    still = [rows.marks_of(body) for body in rows.bodies_of(footage) if body.background]
    unit = rows.unit or _BASE

    def make() -> Grounded:
        index = media_index(footage.content)
        spots = _spots(still)
        return Grounded(footage, ground, index, survey, lengths, plane, points, spots, unit)

    of = (footage, ground, survey, lengths, plane, points, still, unit)
    return _grounds.get(footage.id, of, make)


_grounds: Kept[Grounded] = Kept(200)


def _spots(marked: Sequence[Sequence[Mark]]) -> tuple[Spot, ...]:
    """The background spots that are marked in more than one frame; at most two are used."""
    found = []
    for marks in marked:
        if len(marks) > 1:
            frames = np.array([mark.frame for mark in marks], dtype=np.int64)
            found.append(Spot(frames, np.array([(mark.x, mark.y) for mark in marks])))
    return tuple(found[:2])
