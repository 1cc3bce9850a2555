"""Passages: named stretches of a footage or of the rows of a sheet."""

from typing import Annotated, Any, Literal

from pydantic import Field

from footing.core.errors import Refused
from footing.store.tables import Fit, Footage, Passage, Sheet
from footing.studies.edits.base import EditModel, Name
from footing.studies.edits.fits import remove_fit
from footing.studies.edits.graphs import OfSource
from footing.studies.work import Work

Moment = Annotated[float, Field(multiple_of=0.5, allow_inf_nan=False)]


class AddPassage(OfSource):
    """Name a stretch of frames, both ends included; 41.5 lies between frames 41 and 42.

    Of a sheet it is a stretch of rows, which count from 1.
    """

    kind: Literal["add_passage"] = "add_passage"
    name: Name
    first: Moment
    last: Moment

    @property
    def label(self) -> str:
        """In the history."""
        return f"passage “{self.name}”"

    def apply(self, work: Work) -> None:
        """Add the passage."""
        source = self.source(work)
        _check(work, source, self.first, self.last)
        work.changes.insert(
            Passage,
            study=work.study_id,
            footage=source.get("footage"),
            sheet=source.get("sheet"),
            name=work.unique_name(Passage, self.name, **source),
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
        source = {"footage": passage.footage} if passage.footage_id else {"sheet": passage.sheet}
        _check(work, source, self.first, self.last)
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
    """Remove the fits that go over a passage only, take it from the others, then remove it."""
    for fit in work.rows(Fit):
        if fit.passages == [passage.id]:
            remove_fit(work, fit)
        elif passage.id in fit.passages:
            left = [one for one in fit.passages if one != passage.id]
            work.changes.update(fit, passages=left)
    work.changes.delete(passage)


def _check(work: Work, source: dict[str, Any], first: float, last: float) -> None:
    if footage := source.get("footage"):
        assert isinstance(footage, Footage)
        what = "frame"
        work.check_frame(footage, first, field="first")
        work.check_frame(footage, last, field="last")
    else:
        what = "row"
        sheet = source["sheet"]
        assert isinstance(sheet, Sheet)
        for name, row in (("first", first), ("last", last)):
            if not 1 <= row <= sheet.rows:
                raise Refused(f"There is no row {row:g}; the last one is {sheet.rows}.", field=name)
    if first >= last:
        raise Refused(
            f"The passage would begin at {what} {first:g} and end at {last:g}; the end must come "
            "later.",
            field="first",
        )
