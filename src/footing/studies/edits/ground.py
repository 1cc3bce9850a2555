"""Zero, axes, up and the zero of height."""

from dataclasses import replace
from math import radians
from typing import Literal

from footing.core.errors import Refused
from footing.core.ground import UPWARDS, axes_along, direction_of_line, up_from_line
from footing.core.units import read_number
from footing.store.rows import Body, Footage, Ground, Mark
from footing.studies.edits.base import EditModel, Pixel, Typed
from footing.studies.edits.lengths import Ends
from footing.studies.model.grounds import grounded
from footing.studies.work import Work


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
        work.changes.update(replace(ground, zero_x=self.x, zero_y=self.y, zero_placed=True))


class SetZeroOnMark(EditModel):
    """Place zero where a body was in a frame, such as where it was released."""

    kind: Literal["set_zero_on_mark"] = "set_zero_on_mark"
    body: int
    frame: int

    @property
    def label(self) -> str:
        """In the history."""
        return f"zero on the mark in frame {self.frame}"

    def apply(self, work: Work) -> None:
        """Move zero to the mark's place. It stays there if the mark moves later."""
        body = work.row(Body, self.body)
        mark = work.rows.get(Mark, (body.id, self.frame))
        if mark is None:
            raise Refused(f"{body.name} has no mark in frame {self.frame}.", field="frame")
        ground = work.row(Ground, body.footage_id)
        work.changes.update(replace(ground, zero_x=mark.x, zero_y=mark.y, zero_placed=True))


class SetVelocityWindow(EditModel):
    """Say through how many marks a velocity is taken: more smooth it, and blur what is quick."""

    kind: Literal["set_velocity_window"] = "set_velocity_window"
    footage: int
    marks: Literal[3, 5, 7, 9]

    @property
    def label(self) -> str:
        """In the history."""
        return f"velocities through {self.marks} marks"

    def apply(self, work: Work) -> None:
        """Keep it with the ground."""
        work.changes.update(replace(work.row(Ground, self.footage), velocity_window=self.marks))


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
        work.changes.update(
            replace(ground, angle=radians(degrees), flip_x=self.flip_x, flip_y=self.flip_y)
        )


class AlignAxes(Ends):
    """Turn the axes so that x lies along a drawn line, such as a slope."""

    kind: Literal["align_axes"] = "align_axes"
    footage: int

    @property
    def label(self) -> str:
        """In the history."""
        return "axes along a line"

    def apply(self, work: Work) -> None:
        """Turn by the smaller angle; which way is positive does not change."""
        self.check_apart()
        direction = _direction(self, work, work.row(Footage, self.footage))
        work.changes.update(replace(work.row(Ground, self.footage), angle=axes_along(direction)))


class LevelUp(Ends):
    """Say which way is up by a line along something known to be level or plumb."""

    kind: Literal["level_up"] = "level_up"
    footage: int

    @property
    def label(self) -> str:
        """In the history."""
        return "which way is up"

    def apply(self, work: Work) -> None:
        """Set up; the axes stay as they are."""
        self.check_apart()
        up, levelled = up_from_line(_direction(self, work, work.row(Footage, self.footage)))
        work.changes.update(replace(work.row(Ground, self.footage), up=up, levelled=levelled))


class ResetUp(EditModel):
    """Let up be up in the picture as seen."""

    kind: Literal["reset_up"] = "reset_up"
    footage: int

    @property
    def label(self) -> str:
        """In the history."""
        return "up as in the picture"

    def apply(self, work: Work) -> None:
        """Forget the level line."""
        work.changes.update(replace(work.row(Ground, self.footage), up=UPWARDS, levelled=None))


class SetHeightZero(EditModel):
    """Place the zero of height on its own; without a place it is where zero is."""

    kind: Literal["set_height_zero"] = "set_height_zero"
    footage: int
    x: Pixel | None = None
    y: Pixel | None = None

    @property
    def label(self) -> str:
        """In the history."""
        return "zero of height"

    def apply(self, work: Work) -> None:
        """Move the zero of height."""
        if (self.x is None) != (self.y is None):
            raise Refused("A place needs both x and y.", field="x")
        work.changes.update(
            replace(work.row(Ground, self.footage), height_x=self.x, height_y=self.y)
        )


def _direction(line: Ends, work: Work, footage: Footage) -> float:
    start, end = (line.start_x, line.start_y), (line.end_x, line.end_y)
    return direction_of_line(start, end, grounded(footage, work.rows).flattening)
