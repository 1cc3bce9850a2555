"""The report: which blocks it has, in which order, with which words."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from footing.core.errors import Refused
from footing.store.rows import Finding, ReportBlock
from footing.studies.edits.base import EditModel
from footing.studies.report_keys import BlockKind, keys_of
from footing.studies.report_layout import first_report
from footing.studies.work import Work

MOST_BLOCKS = 200
_NARROWEST = 1e-6  # between the places of two blocks
Words = Annotated[str, StringConstraints(max_length=20_000)]
Caption = Annotated[str, StringConstraints(strip_whitespace=True, max_length=400)]
RowNumber = Annotated[int, Field(ge=0)]
ColumnKey = Annotated[str, StringConstraints(max_length=12, pattern=r"[a-z]{1,8}\d*")]
Drawn = Literal["ground", "path", "marks", "results", "large"]


class Showing(EditModel):
    """What can be said of a block.

    columns, first, last : of a table: which columns, and from which row to which, counted from 1
    every : of a table or a strobe picture, each so manieth row or mark
    shows : over a frame the ground, the path of each body, its marks; on a graph the results
    """

    words: Words = ""
    caption: Caption = ""
    columns: Annotated[list[ColumnKey], Field(max_length=60, default_factory=list)]
    first: RowNumber | None = None
    last: RowNumber | None = None
    shows: Annotated[list[Drawn], Field(max_length=5, default_factory=list)]
    every: Annotated[int, Field(ge=1, le=1000)] = 1

    def said(self, block: ReportBlock) -> ReportBlock:
        """A block with what is said here."""
        if self.first is not None and self.last is not None and self.last < self.first:
            raise Refused("The last row comes before the first one.", field="last")
        return replace(
            block,
            words=self.words,
            caption=self.caption,
            columns=self.columns,
            first=self.first,
            last=self.last,
            shows=list(self.shows),
            every=self.every,
        )


class AddBlock(Showing):
    """Put something of the study, or words, into the report.

    block, about : what it shows; see docs/reports.md
    after : the block below which it goes; 0 for the top, at the end if there is none
    """

    kind: Literal["add_block"] = "add_block"
    block: BlockKind
    about: Annotated[str, StringConstraints(max_length=200)] = ""
    after: int | None = None

    @property
    def label(self) -> str:
        """In the history."""
        return f"{self.block} in the report"

    def apply(self, work: Work) -> None:
        """Add the block."""
        keys_of(self.block, self.about)
        if len(work.rows.report) >= MOST_BLOCKS:
            raise Refused(f"A report has {MOST_BLOCKS} blocks at most.")
        place = _place_after(work, self.after)
        plain = ReportBlock(
            study_id=work.study_id, place=place, kind=self.block.value, about=self.about
        )
        work.changes.insert(self.said(plain))


class ChangeBlock(Showing):
    """Change the words, the caption, or what of its thing a block shows."""

    kind: Literal["change_block"] = "change_block"
    block: int

    @property
    def label(self) -> str:
        """In the history."""
        return "a block of the report"

    def apply(self, work: Work) -> None:
        """Change the block."""
        work.changes.update(self.said(work.row(ReportBlock, self.block)))


class MoveBlock(EditModel):
    """Move a block below another one; 0 for the top."""

    kind: Literal["move_block"] = "move_block"
    block: int
    after: int

    @property
    def label(self) -> str:
        """In the history."""
        return "moving a block of the report"

    def apply(self, work: Work) -> None:
        """Give the block a place between two others."""
        block = work.row(ReportBlock, self.block)
        if self.after != block.id:
            place = _place_after(work, self.after, moved=block.id)
            work.changes.update(replace(work.row(ReportBlock, block.id), place=place))


class RemoveBlock(EditModel):
    """Take a block out of the report; what it shows stays in the study."""

    kind: Literal["remove_block"] = "remove_block"
    block: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a block of the report"

    def apply(self, work: Work) -> None:
        """Remove it."""
        work.changes.delete(work.row(ReportBlock, self.block))


class LayOutReport(EditModel):
    """Begin the report with what the study has; only where there is none yet."""

    kind: Literal["lay_out_report"] = "lay_out_report"

    @property
    def label(self) -> str:
        """In the history."""
        return "laying out the report"

    def apply(self, work: Work) -> None:
        """Add its blocks."""
        if work.rows.report:
            raise Refused("The report has blocks already; remove them first to begin anew.")
        for block in first_report(work.rows):
            work.changes.insert(block)


def rename_in_report(work: Work, before: Finding, name: str) -> None:
    """Let the words of the report name a finding as it is called now."""
    if before.name == name:
        return
    for block in work.rows.report:
        words = block.words.replace(f"{{{before.name}}}", f"{{{name}}}")
        if words != block.words:
            work.changes.update(replace(block, words=words))


def _place_after(work: Work, after: int | None, *, moved: int | None = None) -> float:
    """A place between a block and the next one that is not moved itself."""
    others = [row for row in work.rows.report if row.id != moved]
    if after is None:
        return others[-1].place + 1 if others else 1.0
    above = others.index(work.row(ReportBlock, after)) if after else -1
    places = [row.place for row in others]
    low = places[above] if above >= 0 else (places[0] - 2 if places else 0.0)
    high = places[above + 1] if above + 1 < len(places) else low + 2
    if high - low < _NARROWEST:
        _spread(work)
        return _place_after(work, after, moved=moved)
    return (low + high) / 2


def _spread(work: Work) -> None:
    """Give all blocks places that are whole numbers, in the order that they have."""
    for place, block in enumerate(work.rows.report, 1):
        work.changes.update(replace(block, place=float(place)))
