"""Bodies that follow from others, and second spots."""

from typing import Annotated, Literal

from pydantic import Field

from footing.core.errors import Refused
from footing.store.rows import Body, Footage, Member
from footing.studies.edits.base import EditModel, Name
from footing.studies.edits.bodies import insert_body, insert_second_spot
from footing.studies.edits.marks import marked_body
from footing.studies.work import Work


class AddCentre(EditModel):
    """Add the centre of mass of some bodies as a body of its own."""

    kind: Literal["add_centre"] = "add_centre"
    footage: int
    bodies: Annotated[list[int], Field(max_length=50)]
    name: Name = "centre of mass"

    @property
    def label(self) -> str:
        """In the history."""
        return f"body “{self.name}”"

    def apply(self, work: Work) -> None:
        """Add it; each of its bodies needs a mass by the time it is computed."""
        if len(set(self.bodies)) < 2:
            raise Refused("Choose two bodies or more.", field="bodies")
        _derived(work, self.footage, self.name, "centre", self.bodies)


class AddRelative(EditModel):
    """Add the position of one body seen from another as a body of its own."""

    kind: Literal["add_relative"] = "add_relative"
    footage: int
    body: int
    other: int

    @property
    def label(self) -> str:
        """In the history."""
        return "position relative to another body"

    def apply(self, work: Work) -> None:
        """Add it."""
        if self.body == self.other:
            raise Refused("Choose two different bodies.", field="other")
        name = f"{work.row(Body, self.body).name} from {work.row(Body, self.other).name}"[:60]
        _derived(work, self.footage, name, "relative", [self.body, self.other])


class AddSecondSpot(EditModel):
    """Add a second spot of a body; the line between the two says how it turns."""

    kind: Literal["add_second_spot"] = "add_second_spot"
    body: int

    @property
    def label(self) -> str:
        """In the history."""
        return "a second spot"

    def apply(self, work: Work) -> None:
        """Add a body for it, with the same motion of its own."""
        body = marked_body(work, self.body)
        if body.second_of_id or body.background:
            raise Refused("Choose the body itself.", field="body")
        if work.rows.second_spots_of(body):
            raise Refused(f"{body.name} has a second spot already.", field="body")
        insert_second_spot(work, body)


def _derived(work: Work, footage: int, name: str, kind: str, bodies: list[int]) -> None:
    row = work.row(Footage, footage)
    members = [work.row(Body, body) for body in dict.fromkeys(bodies)]
    for member in members:
        if member.footage_id != row.id or member.kind != "marked" or member.background:
            raise Refused(f"{member.name} is not a marked body of this source.", field="bodies")
    made = insert_body(work, row, name, kind=kind)
    for place, member in enumerate(members):
        work.changes.insert(
            Member(body_id=made.id, other_id=member.id, study_id=work.study_id, place=place)
        )
