"""Passages: named stretches of a footage or of the rows of a sheet."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from footing.core.errors import Refused
from footing.store.rows import Fit, Footage, MomentumLedger, MotionLeg, Passage, Sheet
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
            Passage(
                study_id=work.study_id,
                footage_id=self.footage,
                sheet_id=self.sheet,
                name=work.unique_passage_name(self.name, source),
                first=self.first,
                last=self.last,
            )
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
        _check(work, work.rows.source_of(passage), self.first, self.last)
        changed = replace(passage, name=self.name, first=self.first, last=self.last)
        work.changes.update(changed)


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


def remove_passage(work: Work, passage: Passage) -> None:
    """Remove the fits over a passage only, take it from all else that names it, then remove it."""
    for fit in work.rows.all(Fit):
        if fit.passages == [passage.id]:
            remove_fit(work, fit)
        elif passage.id in fit.passages:
            left = [one for one in fit.passages if one != passage.id]
            work.changes.update(replace(fit, passages=left))
    for ledger in work.rows.all(MomentumLedger):
        before = None if ledger.before_id == passage.id else ledger.before_id
        after = None if ledger.after_id == passage.id else ledger.after_id
        work.changes.update(replace(ledger, before_id=before, after_id=after))
    for leg in work.rows.all(MotionLeg):
        if leg.passage_id == passage.id:
            work.changes.update(replace(leg, passage_id=None))
    work.changes.delete(passage)


def _check(work: Work, source: Footage | Sheet, first: float, last: float) -> None:
    if isinstance(source, Footage):
        what = "frame"
        work.check_frame(source, first, field="first")
        work.check_frame(source, last, field="last")
    else:
        what, rows = "row", source.rows
        for name, row in (("first", first), ("last", last)):
            if not 1 <= row <= rows:
                raise Refused(f"There is no row {row:g}; the last one is {rows}.", field=name)
    if first >= last:
        raise Refused(
            f"The passage would begin at {what} {first:g} and end at {last:g}; the end must come "
            "later.",
            field="first",
        )
