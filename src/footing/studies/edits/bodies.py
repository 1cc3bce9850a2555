"""Bodies: what is tracked."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator

from footing.core.errors import Refused
from footing.core.units import (
    LENGTH_UNITS,
    LENGTHS,
    MASS_UNITS,
    MASSES,
    LengthUnit,
    MassUnit,
    read_positive,
)
from footing.store.rows import Body, EnergyLedger, Footage, Impact, MotionModel
from footing.studies.edits.base import EditModel, Name, Typed, unit_behind
from footing.studies.edits.fits import remove_fit
from footing.studies.edits.impacts import remove_impact
from footing.studies.edits.models import remove_model
from footing.studies.model.looks import LOOKS
from footing.studies.work import Work

_SPOTS = 2


class AddBody(EditModel):
    """Add an object to track; it gets the first colour and shape that is free.

    background : a fixed spot that says how the camera moved, taken away from all other bodies
    like : a body whose own motion (frames and stride) and spot it shares
    """

    kind: Literal["add_body"] = "add_body"
    footage: int
    name: Name
    background: bool = False
    like: int | None = None

    @property
    def label(self) -> str:
        """In the history."""
        return f"{'background spot' if self.background else 'body'} “{self.name}”"

    def apply(self, work: Work) -> None:
        """Add a body without marks."""
        footage = work.row(Footage, self.footage)
        if self.background:
            if not work.kind(footage).has_time:
                raise Refused("A picture does not move; a background spot is for footage.")
            if sum(body.background for body in work.rows.bodies_of(footage)) == _SPOTS:
                raise Refused("Two background spots say all that can be said; move one of them.")
        like = None if self.like is None else work.row(Body, self.like)
        insert_body(work, footage, self.name, like=like, background=self.background)


class ChangeBody(EditModel):
    """Name a body; say its mass, its size and which spot of it is marked (empty: unknown).

    look : number of its colour and shape; as before if not given
    """

    kind: Literal["change_body"] = "change_body"
    body: int
    name: Name
    mass: Typed = ""
    mass_unit: MassUnit = "kg"
    size: Typed = ""
    size_unit: LengthUnit = "cm"
    spot: Annotated[str, StringConstraints(strip_whitespace=True, max_length=80)] = ""
    look: Annotated[int, Field(ge=0, lt=len(LOOKS))] | None = None

    _mass = model_validator(mode="before")(unit_behind("mass", "mass_unit", of=MASS_UNITS))
    _size = model_validator(mode="before")(unit_behind("size", "size_unit", of=LENGTH_UNITS))

    @property
    def label(self) -> str:
        """In the history."""
        return f"body “{self.name}”"

    def apply(self, work: Work) -> None:
        """Keep the mass as it was typed."""
        if self.mass:
            read_positive(self.mass, field="mass", what="A mass", limits=MASSES)
        if self.size:
            read_positive(self.size, field="size", what="A size", limits=LENGTHS)
        body = work.row(Body, self.body)
        changed = replace(
            body,
            name=self.name,
            mass=self.mass or None,
            mass_unit=self.mass_unit if self.mass else None,
            size=self.size or None,
            size_unit=self.size_unit if self.size else None,
            spot=self.spot or None,
            look=body.look if self.look is None else self.look,
        )
        work.changes.update(changed)


class WeighBody(EditModel):
    """Say the mass of a body (empty: unknown), and nothing else about it."""

    kind: Literal["weigh_body"] = "weigh_body"
    body: int
    mass: Typed = ""
    mass_unit: MassUnit = "kg"

    _mass = model_validator(mode="before")(unit_behind("mass", "mass_unit", of=MASS_UNITS))

    @property
    def label(self) -> str:
        """In the history."""
        return "a mass"

    def apply(self, work: Work) -> None:
        """Keep the mass as it was typed."""
        if self.mass:
            read_positive(self.mass, field="mass", what="A mass", limits=MASSES)
        body = work.row(Body, self.body)
        # the unit stays, because many choose it before they type
        changed = replace(body, mass=self.mass or None, mass_unit=self.mass_unit)
        work.changes.update(changed)


class SetBodySpan(EditModel):
    """Say in which frames a body has its own motion, and by how many marking moves on.

    What is empty is as for the span of the footage.
    """

    kind: Literal["set_body_span"] = "set_body_span"
    body: int
    first: int | None = None
    last: int | None = None
    stride: Annotated[int, Field(ge=1, le=10_000)] | None = None

    @property
    def label(self) -> str:
        """In the history."""
        return "a body's own frames"

    def apply(self, work: Work) -> None:
        """Keep them."""
        body = work.row(Body, self.body)
        for name in ("first", "last"):
            frame = getattr(self, name)
            if frame is not None:
                work.check_frame(work.rows.footage_of(body), frame, field=name)
        if self.first is not None and self.last is not None and self.first >= self.last:
            raise Refused("The first frame must come before the last.", field="last")
        changed = replace(body, first=self.first, last=self.last, stride=self.stride)
        work.changes.update(changed)


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


def insert_body(
    work: Work,
    footage: Footage,
    name: str,
    *,
    like: Body | None = None,
    background: bool = False,
    kind: str = "marked",
) -> Body:
    """Add a body with the first colour and shape that is free.

    like : a body whose own motion and spot it shares
    """
    used = [body.look for body in work.rows.all(Body)]
    look = min(range(len(LOOKS)), key=lambda number: (used.count(number), number))
    made = Body(
        study_id=work.study_id,
        footage_id=footage.id,
        name=work.unique_body_name(name, footage),
        look=look,
        background=background,
        kind=kind,
    )
    if like is not None:
        made = replace(made, first=like.first, last=like.last, stride=like.stride, spot=like.spot)
    return work.changes.insert(made)


def insert_second_spot(work: Work, body: Body) -> None:
    """Add the second spot of a body, with its colour and its own motion."""
    footage = work.rows.footage_of(body)
    spot = Body(
        study_id=work.study_id,
        footage_id=footage.id,
        name=work.unique_body_name(f"{body.name[:50]}, 2nd spot", footage),
        look=body.look,
        second_of_id=body.id,
        first=body.first,
        last=body.last,
        stride=body.stride,
    )
    work.changes.insert(spot)


def remove_body(work: Work, body: Body) -> None:
    """Remove what rests on a body (fits, marks, impacts, bodies made from it), then it."""
    rows = work.rows
    for other in (*rows.made_from(body), *rows.second_spots_of(body)):
        remove_body(work, other)
    for fit in rows.fits_of(body):
        remove_fit(work, fit)
    for impact in rows.all(Impact):
        if impact.body_id == body.id:
            remove_impact(work, impact)
    for model in rows.all(MotionModel):
        if model.body_id == body.id:
            remove_model(work, model)
    for ledger in rows.all(EnergyLedger):
        if ledger.spring_body_id == body.id:
            work.changes.update(replace(ledger, spring_body_id=None, spring_constant=None))
    for row in (
        *rows.members_of(body),
        *rows.marks_of(body),
        *rows.hidden_of(body),
        *rows.doubts_of(body),
    ):
        work.changes.delete(row)
    work.changes.delete(body)
