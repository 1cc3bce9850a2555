"""Bodies: what is tracked."""

from typing import Any, Literal

from footing.core.errors import Refused
from footing.core.units import MassUnit, read_positive
from footing.store.tables import Body, Fit, Footage, Mark
from footing.studies.edits.base import EditModel, Name, Typed
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


def remove_body(work: Work, body: Any) -> None:
    """Remove a body's fits and marks, then the body."""
    for fit in work.rows(Fit, body=body):
        remove_fit(work, fit)
    for mark in work.rows(Mark, body=body):
        work.changes.delete(mark)
    work.changes.delete(body)
