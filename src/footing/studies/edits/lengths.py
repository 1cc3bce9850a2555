"""Known lengths, and the unit in which lengths are shown."""

from dataclasses import replace
from math import hypot
from typing import Annotated, Literal

from pydantic import Field, model_validator

from footing.core.errors import Refused
from footing.core.ground import KnownLength as Line
from footing.core.ground import scale_of
from footing.core.units import (
    LENGTH_UNITS,
    LENGTHS,
    PIXELS,
    LengthUnit,
    check_made_up,
    read_number,
    read_positive,
)
from footing.store.rows import Footage, Ground, KnownLength, StudyUnit
from footing.studies.edits.base import EditModel, Pixel, Typed, unit_behind
from footing.studies.work import Work

_LEAST_PIXELS = 1.0


class Ends(EditModel):
    """The two ends of a line, in pixels."""

    start_x: Pixel
    start_y: Pixel
    end_x: Pixel
    end_y: Pixel

    def laid(self, line: KnownLength) -> KnownLength:
        """A known length with these ends."""
        return replace(
            line,
            start_x=self.start_x,
            start_y=self.start_y,
            end_x=self.end_x,
            end_y=self.end_y,
        )

    def check_apart(self) -> None:
        """Refuse ends that lie in one place."""
        if hypot(self.end_x - self.start_x, self.end_y - self.start_y) < _LEAST_PIXELS:
            raise Refused(
                "Both ends of the line lie in one place; drag from one end of the object to the "
                "other.",
                field="length",
            )


class AddKnownLength(Ends):
    """Draw a line on something of known length; how long it is, is typed next."""

    kind: Literal["add_known_length"] = "add_known_length"
    footage: int
    frame: int

    @property
    def label(self) -> str:
        """In the history."""
        return "known length"

    def apply(self, work: Work) -> None:
        """Add the line, without a length."""
        footage = work.row(Footage, self.footage)
        work.check_frame(footage, self.frame)
        self.check_apart()
        work.changes.insert(
            KnownLength(
                study_id=work.study_id,
                footage_id=footage.id,
                frame=self.frame,
                start_x=self.start_x,
                start_y=self.start_y,
                end_x=self.end_x,
                end_y=self.end_y,
            )
        )


class MoveKnownLength(Ends):
    """Move the ends of a known length."""

    kind: Literal["move_known_length"] = "move_known_length"
    known_length: int

    @property
    def label(self) -> str:
        """In the history."""
        return "moving the known length"

    def apply(self, work: Work) -> None:
        """Change the ends."""
        self.check_apart()
        work.changes.update(self.laid(work.row(KnownLength, self.known_length)))


class TypeKnownLength(EditModel):
    """Say how long a known length is, in a unit of length or in one made up ("sled")."""

    kind: Literal["type_known_length"] = "type_known_length"
    known_length: int
    length: Typed
    unit: Typed

    _unit_behind = model_validator(mode="before")(unit_behind("length", "unit", of=LENGTH_UNITS))

    @property
    def label(self) -> str:
        """In the history."""
        return f"known length of {self.length} {self.unit}"

    def apply(self, work: Work) -> None:
        """Keep what was typed, digit for digit: its last digit tells its uncertainty."""
        read_positive(self.length, field="length", what="A length", limits=LENGTHS)
        row = work.row(KnownLength, self.known_length)
        others = [
            other
            for other in work.rows.known_lengths_of(work.rows.footage_of(row))
            if other.id != row.id and other.typed is not None
        ]
        check_unit(self.unit, {other.unit or "" for other in others})
        work.changes.update(replace(row, typed=self.length, unit=self.unit))


class HideKnownLength(EditModel):
    """Hide a known length, or show it again. It counts as before."""

    kind: Literal["hide_known_length"] = "hide_known_length"
    known_length: int
    hidden: bool

    @property
    def label(self) -> str:
        """In the history."""
        return "hiding a known length" if self.hidden else "showing a known length"

    def apply(self, work: Work) -> None:
        """Change whether it is drawn."""
        work.changes.update(replace(work.row(KnownLength, self.known_length), hidden=self.hidden))


class SetDepth(EditModel):
    """Say by how many metres a known length lies nearer than the motion (negative: farther)."""

    kind: Literal["set_depth"] = "set_depth"
    known_length: int
    nearer: Typed

    @property
    def label(self) -> str:
        """In the history."""
        return "depth of a known length"

    def apply(self, work: Work) -> None:
        """Keep what was typed; nothing means in the plane of the motion."""
        row = work.row(KnownLength, self.known_length)
        if self.nearer:
            nearer = read_number(self.nearer, field="nearer").value
            camera = work.row(Ground, row.footage_id).camera_distance
            _check_before_camera(nearer, camera)
        work.changes.update(replace(row, nearer=self.nearer or None))


class SetCameraDistance(EditModel):
    """Say how many metres the camera was away from the motion."""

    kind: Literal["set_camera_distance"] = "set_camera_distance"
    footage: int
    metres: Typed

    @property
    def label(self) -> str:
        """In the history."""
        return "distance of the camera"

    def apply(self, work: Work) -> None:
        """Keep what was typed; nothing means unknown."""
        ground = work.row(Ground, self.footage)
        if self.metres:
            read_positive(self.metres, field="metres", what="A distance", limits=LENGTHS)
            for row in work.rows.known_lengths_of(work.rows.footage_of(ground)):
                if row.nearer:
                    _check_before_camera(read_number(row.nearer, field="nearer").value, self.metres)
        work.changes.update(replace(ground, camera_distance=self.metres or None))


class RemoveKnownLength(EditModel):
    """Remove a known length."""

    kind: Literal["remove_known_length"] = "remove_known_length"
    known_length: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing the known length"

    def apply(self, work: Work) -> None:
        """Remove the line."""
        work.changes.delete(work.row(KnownLength, self.known_length))


class SetPixelUncertainty(EditModel):
    """Say how well one coordinate of a point can be placed, in pixels."""

    kind: Literal["set_pixel_uncertainty"] = "set_pixel_uncertainty"
    footage: int
    pixels: Annotated[Typed, Field(description="a positive number, at most 100")]

    @property
    def label(self) -> str:
        """In the history."""
        return f"placing to ± {self.pixels} px"

    def apply(self, work: Work) -> None:
        """Keep the uncertainty."""
        typed = read_positive(self.pixels, field="pixels", what="An uncertainty", limits=PIXELS)
        work.changes.update(replace(work.row(Ground, self.footage), pixel_uncertainty=typed.value))


class SetUnit(EditModel):
    """Choose the unit in which the study shows lengths, velocities and accelerations."""

    kind: Literal["set_unit"] = "set_unit"
    length: LengthUnit

    @property
    def label(self) -> str:
        """In the history."""
        return f"lengths in {self.length}"

    def apply(self, work: Work) -> None:
        """Keep the unit with the study."""
        unit = StudyUnit(study_id=work.study_id, length=self.length)
        if work.rows.unit is None:
            work.changes.insert(unit)
        else:
            work.changes.update(unit)


def check_unit(unit: str, others: set[str]) -> None:
    """Refuse a unit that does not go with those of the other lengths of a source."""
    if unit not in LENGTH_UNITS:
        check_made_up(unit, field="unit")
    clash = next(
        (one for one in others if one != unit and not {one, unit} <= set(LENGTH_UNITS)), None
    )
    if clash is not None:
        raise Refused(
            f"Another length here is in {clash}, which cannot be compared with {unit}; use the "
            "same unit for both.",
            field="unit",
        )


def _check_before_camera(nearer: float, camera: str | None) -> None:
    if camera:
        distance = read_number(camera, field="metres").value
        scale_of(Line((0.0, 0.0), (100.0, 0.0), 1.0, 0.0, nearer, distance))
