"""Bodies and their marks."""

from typing import Annotated, Any, Literal

from pydantic import Field

from footing.core.errors import Refused
from footing.core.units import MassUnit, read_positive
from footing.store.tables import Body, Fit, Footage, Mark
from footing.studies.edits.base import EditModel, Name, Pixel, Typed
from footing.studies.edits.graphs import remove_fit
from footing.studies.looks import LOOKS
from footing.studies.work import Work

_SPOTS = 2


class AddBody(EditModel):
    """Add an object to track; it gets the first colour and shape that is free.

    background : a fixed spot that says how the camera moved, taken away from all other bodies
    """

    kind: Literal["add_body"] = "add_body"
    footage: int
    name: Name
    background: bool = False

    @property
    def label(self) -> str:
        """In the history."""
        return f"{'background spot' if self.background else 'body'} “{self.name}”"

    def apply(self, work: Work) -> None:
        """Add a body without marks."""
        footage = work.row(Footage, self.footage)
        if self.background:
            if work.picture(footage).kind == "picture":
                raise Refused("A picture does not move; a background spot is for footage.")
            if len(work.rows(Body, footage=footage, background=True)) == _SPOTS:
                raise Refused("Two background spots say all that can be said; move one of them.")
        used = [body.look for body in work.rows(Body)]
        look = min(range(len(LOOKS)), key=lambda number: (used.count(number), number))
        name = work.unique_name(Body, self.name, footage)
        work.changes.insert(
            Body,
            study=work.study_id,
            footage=footage,
            name=name,
            look=look,
            mass=None,
            mass_unit=None,
            background=self.background,
        )


class ChangeBody(EditModel):
    """Name a body and say its mass (empty: unknown)."""

    kind: Literal["change_body"] = "change_body"
    body: int
    name: Name
    mass: Typed = ""
    mass_unit: MassUnit = "kg"

    @property
    def label(self) -> str:
        """In the history."""
        return f"body “{self.name}”"

    def apply(self, work: Work) -> None:
        """Keep the mass as it was typed."""
        if self.mass:
            read_positive(self.mass, field="mass", what="A mass")
        work.changes.update(
            work.row(Body, self.body),
            name=self.name,
            mass=self.mass or None,
            mass_unit=self.mass_unit if self.mass else None,
        )


class RemoveBody(EditModel):
    """Remove a body with its marks and fits."""

    kind: Literal["remove_body"] = "remove_body"
    body: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a body"

    def apply(self, work: Work) -> None:
        """Remove what rests on it first."""
        remove_body(work, work.row(Body, self.body))


class PlaceMark(EditModel):
    """Say where a body is in a frame; a mark that is there already moves."""

    kind: Literal["place_mark"] = "place_mark"
    body: int
    frame: int
    x: Pixel
    y: Pixel

    @property
    def label(self) -> str:
        """In the history."""
        return f"mark in frame {self.frame}"

    def apply(self, work: Work) -> None:
        """Add or move the mark."""
        body = work.row(Body, self.body)
        work.check_point(body.footage, self.frame)
        work.check_inside(body.footage, self.x, self.y)
        present = _mark(work, self.body, self.frame)
        if present is None:
            work.changes.insert(
                Mark, body=body, frame=self.frame, study=work.study_id, x=self.x, y=self.y
            )
        else:
            work.changes.update(present, x=self.x, y=self.y)


class PlaceMarks(EditModel):
    """Say where a body is in many frames at once, as following does; marks that are there stay."""

    kind: Literal["place_marks"] = "place_marks"
    body: int
    marks: Annotated[list[tuple[int, Pixel, Pixel]], Field(min_length=1, max_length=100_000)]

    @property
    def label(self) -> str:
        """In the history."""
        return f"{len(self.marks)} followed marks"

    def apply(self, work: Work) -> None:
        """Add the marks of frames that have none."""
        body = work.row(Body, self.body)
        present = {mark.frame for mark in work.rows(Mark, body=body)}
        for frame, x, y in self.marks:
            if frame not in present:
                work.check_point(body.footage, frame)
                work.check_inside(body.footage, x, y)
                work.changes.insert(Mark, body=body, frame=frame, study=work.study_id, x=x, y=y)


class RemoveMark(EditModel):
    """Remove the mark of a body in a frame."""

    kind: Literal["remove_mark"] = "remove_mark"
    body: int
    frame: int

    @property
    def label(self) -> str:
        """In the history."""
        return f"removing the mark in frame {self.frame}"

    def apply(self, work: Work) -> None:
        """Remove it."""
        present = _mark(work, work.row(Body, self.body).id, self.frame)
        if present is None:
            raise Refused(f"There is no mark in frame {self.frame}.", field="mark")
        work.changes.delete(present)


def remove_body(work: Work, body: Any) -> None:
    """Remove a body's fits and marks, then the body."""
    for fit in work.rows(Fit, body=body):
        remove_fit(work, fit)
    for mark in work.rows(Mark, body=body):
        work.changes.delete(mark)
    work.changes.delete(body)


def _mark(work: Work, body: int, frame: int) -> Any:
    found = work.rows(Mark, body=body, frame=frame)
    return found[0] if found else None
