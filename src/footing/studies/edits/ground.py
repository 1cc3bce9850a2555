"""The ground: known lengths, zero, axes, clock."""

from math import hypot, radians
from typing import Annotated, Literal

from pydantic import Field

from footing.core.errors import Refused
from footing.core.units import LengthUnit, read_number, read_positive
from footing.store.tables import Footage, Ground, KnownLength
from footing.studies.edits.base import EditModel, Pixel, Typed
from footing.studies.work import Work

_LEAST_PIXELS = 1.0


class Ends(EditModel):
    """The two ends of a known length, in pixels."""

    start_x: Pixel
    start_y: Pixel
    end_x: Pixel
    end_y: Pixel

    @property
    def columns(self) -> dict[str, float]:
        """The four coordinates."""
        return {name: getattr(self, name) for name in Ends.model_fields}

    def check_apart(self) -> None:
        """Refuse ends that lie in one place."""
        if hypot(self.end_x - self.start_x, self.end_y - self.start_y) < _LEAST_PIXELS:
            raise Refused(
                "Both ends of the known length lie in one place; drag from one end of the "
                "object to the other.",
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
            KnownLength,
            study=work.study_id,
            footage=footage,
            frame=self.frame,
            typed=None,
            unit=None,
            **self.columns,
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
        work.changes.update(work.row(KnownLength, self.known_length), **self.columns)


class TypeKnownLength(EditModel):
    """Say how long a known length is."""

    kind: Literal["type_known_length"] = "type_known_length"
    known_length: int
    length: Typed
    unit: LengthUnit

    @property
    def label(self) -> str:
        """In the history."""
        return f"known length of {self.length} {self.unit}"

    def apply(self, work: Work) -> None:
        """Keep what was typed, digit for digit: its last digit tells its uncertainty."""
        read_positive(self.length, field="length", what="A length")
        work.changes.update(
            work.row(KnownLength, self.known_length), typed=self.length, unit=self.unit
        )


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


class SetZero(EditModel):
    """Place zero."""

    kind: Literal["set_zero"] = "set_zero"
    footage: int
    x: Pixel
    y: Pixel

    @property
    def label(self) -> str:
        """In the history."""
        return "zero"

    def apply(self, work: Work) -> None:
        """Move zero."""
        ground = work.row(Ground, self.footage)
        work.changes.update(ground, zero_x=self.x, zero_y=self.y, zero_placed=True)


class TurnAxes(EditModel):
    """Turn the axes (degrees, counter-clockwise as seen) and say which way is positive."""

    kind: Literal["turn_axes"] = "turn_axes"
    footage: int
    angle: Typed
    flip_x: bool
    flip_y: bool

    @property
    def label(self) -> str:
        """In the history."""
        return "axes"

    def apply(self, work: Work) -> None:
        """Turn and flip."""
        degrees = read_number(self.angle.rstrip("°"), field="angle").value
        if abs(degrees) > 360:
            raise Refused(f"An angle of {self.angle}° is more than a full turn.", field="angle")
        ground = work.row(Ground, self.footage)
        work.changes.update(ground, angle=radians(degrees), flip_x=self.flip_x, flip_y=self.flip_y)


class SetZeroFrame(EditModel):
    """Put t = 0 on a frame."""

    kind: Literal["set_zero_frame"] = "set_zero_frame"
    footage: int
    frame: int

    @property
    def label(self) -> str:
        """In the history."""
        return f"t = 0 at frame {self.frame}"

    def apply(self, work: Work) -> None:
        """Move the zero of time."""
        work.check_frame(work.row(Footage, self.footage), self.frame)
        work.changes.update(work.row(Ground, self.footage), zero_frame=self.frame)


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
        typed = read_positive(self.pixels, field="pixels", what="An uncertainty")
        if typed.value > 100:
            raise Refused("An uncertainty of more than 100 px cannot be.", field="pixels")
        work.changes.update(work.row(Ground, self.footage), pixel_uncertainty=typed.value)
