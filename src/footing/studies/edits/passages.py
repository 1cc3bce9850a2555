"""Passages: named stretches of a footage."""

from typing import Annotated, Any, Literal

from pydantic import Field

from footing.core.errors import Refused
from footing.store.tables import Fit, Footage, Passage
from footing.studies.edits.base import EditModel, Name
from footing.studies.edits.graphs import remove_fit
from footing.studies.work import Work

Moment = Annotated[float, Field(multiple_of=0.5, allow_inf_nan=False)]


class AddPassage(EditModel):
    """Name a stretch of frames, both ends included; 41.5 lies between frames 41 and 42."""

    kind: Literal["add_passage"] = "add_passage"
    footage: int
    name: Name
    first: Moment
    last: Moment

    @property
    def label(self) -> str:
        """In the history."""
        return f"passage “{self.name}”"

    def apply(self, work: Work) -> None:
        """Add the passage."""
        footage = work.row(Footage, self.footage)
        _check(work, footage, self.first, self.last)
        work.changes.insert(
            Passage,
            study=work.study_id,
            footage=footage,
            name=work.unique_name(Passage, self.name, footage),
            first=self.first,
            last=self.last,
        )


class ChangePassage(EditModel):
    """Rename a passage or move its ends."""

    kind: Literal["change_passage"] = "change_passage"
    passage: int
    name: Name
    first: Moment
    last: Moment

    @property
    def label(self) -> str:
        """In the history."""
        return f"passage “{self.name}”"

    def apply(self, work: Work) -> None:
        """Change the passage."""
        passage = work.row(Passage, self.passage)
        _check(work, passage.footage, self.first, self.last)
        work.changes.update(passage, name=self.name, first=self.first, last=self.last)


class RemovePassage(EditModel):
    """Remove a passage with the fits over it."""

    kind: Literal["remove_passage"] = "remove_passage"
    passage: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a passage"

    def apply(self, work: Work) -> None:
        """Remove what rests on it first."""
        remove_passage(work, work.row(Passage, self.passage))


def remove_passage(work: Work, passage: Any) -> None:
    """Remove a passage's fits, then the passage."""
    for fit in work.rows(Fit, passage=passage):
        remove_fit(work, fit)
    work.changes.delete(passage)


def _check(work: Work, footage: Any, first: float, last: float) -> None:
    work.check_frame(footage, first, field="first")
    work.check_frame(footage, last, field="last")
    if first >= last:
        raise Refused(
            f"The passage would begin at frame {first:g} and end at {last:g}; the end must come "
            "later.",
            field="first",
        )
