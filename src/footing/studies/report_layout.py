"""The report as it is first laid out: what the study has; the sentences are left to who writes.

The order is that of a laboratory report: what was asked, the set-up, data, graph, result, what it
is compared with, and where its uncertainty comes from.
"""

from collections.abc import Iterator

from footing.store import labs
from footing.store.rows import Body, Footage, ReportBlock, Sheet
from footing.store.snapshot import StudyRows
from footing.studies.report_keys import BlockKind

_ROWS = 12  # of a table of data, at most
_STROBE = 12  # bodies in a strobe picture
_COLUMNS = ("t", "x", "y")


def first_report(rows: StudyRows) -> list[ReportBlock]:
    """The blocks of a first report, in order."""
    return [
        ReportBlock(
            study_id=rows.study_id,
            place=float(place),
            kind=block.kind,
            about=block.about,
            words=block.words,
            caption=block.caption,
            columns=block.columns,
            shows=block.shows,
            every=block.every,
        )
        for place, block in enumerate(_Layout(rows).blocks(), 1)
    ]


class _Layout:
    """What goes into the report of a study."""

    def __init__(self, rows: StudyRows) -> None:
        self.rows = rows
        self.lab = labs.task_of_study(rows.study_id)
        self.marked = [body for one in rows.footages for body in self._marked_on(one)]

    def blocks(self) -> Iterator[ReportBlock]:
        """All blocks, in order."""
        yield self._block(BlockKind.TITLE)
        yield self._heading("What was asked")
        yield self._block(BlockKind.QUESTION) if self.lab else self._text("The question.")
        yield self._heading("Set-up")
        yield self._text("What moves, what was measured beside it, and how it was filmed.")
        yield from self._set_up()
        yield self._heading("Data")
        yield from self._data()
        yield self._heading("Graph")
        yield from self._graphs()
        yield self._text("What the graph shows, and why this curve.")
        yield self._heading("Result")
        yield from self._results()
        yield self._text("The result in a sentence; {name} puts a finding in.")
        yield from self._comparisons()
        yield self._heading("Where the uncertainty comes from")
        if self.rows.findings:
            yield self._block(BlockKind.BUDGETS)
        yield self._text("Which source matters most, and what would make it smaller.")
        if self.lab and self.lab.questions:
            yield self._heading("Questions")
            for question in self.lab.questions:
                yield self._block(BlockKind.ANSWER, str(question.id))

    def _set_up(self) -> Iterator[ReportBlock]:
        for footage in self.rows.footages[:1]:
            bodies = self._marked_on(footage)
            marks = self.rows.marks_of(bodies[0]) if bodies else ()
            frame = marks[len(marks) // 2].frame if marks else footage.first
            about = f"{footage.id}/{frame}"
            yield self._block(BlockKind.FRAME, about, shows=["ground", "path"])
        for body in self.marked[:1]:
            every = max(1, -(-len(self.rows.marks_of(body)) // _STROBE))
            yield self._block(BlockKind.STROBE, str(body.id), every=every)

    def _data(self) -> Iterator[ReportBlock]:
        for body in self.marked[:2]:
            every = max(1, -(-len(self.rows.marks_of(body)) // _ROWS))
            columns = list(_COLUMNS)
            yield self._block(BlockKind.TABLE, f"b{body.id}", columns=columns, every=every)
        for sheet in self.rows.sheets:
            every = max(1, -(-sheet.rows // _ROWS))
            yield self._block(BlockKind.TABLE, f"s{sheet.id}", every=every)

    def _graphs(self) -> Iterator[ReportBlock]:
        for key, source in self._sources():
            places = [row.place for row in self.rows.graphs_of(source)] or [0]
            for place in places[:2]:
                yield self._block(BlockKind.GRAPH, f"{key}/{place}", shows=["results"])
            owners = self._marked_on(source) if isinstance(source, Footage) else [source]
            fits = [fit for owner in owners for fit in self.rows.fits_of(owner)]
            for fit in fits[:3]:
                yield self._block(BlockKind.FIT, str(fit.id))
            if len({(fit.body_id, fit.x, fit.y) for fit in fits}) < len(fits):
                yield self._block(BlockKind.CHOICE, key)

    def _results(self) -> Iterator[ReportBlock]:
        findings = self.rows.findings
        if findings:
            yield self._block(BlockKind.FINDINGS)
            source = next((key for key, _ in self._sources()), "0")
            about = f"{source}/finding/{findings[0].id}"
            yield self._block(BlockKind.WORKING, about)

    def _comparisons(self) -> Iterator[ReportBlock]:
        for footage in self.rows.footages:
            if self.rows.energy_ledger_of(footage) is not None:
                yield self._block(BlockKind.ENERGIES, str(footage.id))
                yield self._block(BlockKind.ACCOUNTS, str(footage.id))
            for impact in self.rows.impacts_on(footage):
                yield self._block(BlockKind.MOMENTA, str(impact.id))
        over: tuple[Footage | None, ...] = (None, *self.rows.footages)
        for one in over:
            for model in self.rows.models_on(one):
                yield self._block(BlockKind.MODEL, str(model.id))

    def _sources(self) -> Iterator[tuple[str, Footage | Sheet]]:
        """What has something to be drawn, and how it is named."""
        for footage in self.rows.footages:
            if self._marked_on(footage):
                yield str(footage.id), footage
        for sheet in self.rows.sheets:
            if len(self.rows.columns_of(sheet)) > 1:
                yield f"s{sheet.id}", sheet

    def _marked_on(self, footage: Footage) -> list[Body]:
        bodies = self.rows.bodies_of(footage)
        return [one for one in bodies if not one.background and len(self.rows.marks_of(one)) > 2]

    def _heading(self, words: str) -> ReportBlock:
        return self._block(BlockKind.HEADING, words=words)

    def _text(self, wanted: str) -> ReportBlock:
        """An empty text; its caption says what belongs there."""
        return self._block(BlockKind.TEXT, caption=wanted)

    def _block(
        self,
        kind: BlockKind,
        about: str = "",
        *,
        words: str = "",
        caption: str = "",
        columns: list[str] | None = None,
        shows: list[str] | None = None,
        every: int = 1,
    ) -> ReportBlock:
        return ReportBlock(
            study_id=self.rows.study_id,
            place=0.0,
            kind=kind.value,
            about=about,
            words=words,
            caption=caption,
            columns=columns or [],
            shows=shows or [],
            every=every,
        )
