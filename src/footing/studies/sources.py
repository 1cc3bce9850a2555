"""The sources of a study with all that follows from them, each computed once and when asked for."""

from functools import cached_property, partial
from typing import Any

from footing.core.errors import Refused
from footing.core.fitting import NoFit
from footing.core.formulas.computing import Known
from footing.store import tables
from footing.studies.body_table import BodyTable
from footing.studies.columns import DataColumn, DataTable
from footing.studies.computed import Findings, constants_of, quantities_of
from footing.studies.containing import contained
from footing.studies.fit_effects import Ground
from footing.studies.fits import FitResult, fit_result
from footing.studies.grounds import Grounded, grounded
from footing.studies.motions import BodyMotion, Marked, marked, motions
from footing.studies.results import NoResult, Results
from footing.studies.sheets import SheetTable, columns_of, key_of, table_of


def sheets_of(study_id: int) -> list[Any]:
    """The sheets of a study that are sources of their own."""
    of_study = tables.Sheet.select().where(
        (tables.Sheet.study == study_id) & (tables.Sheet.kind != "bodies")
    )
    return list(of_study.order_by(tables.Sheet.id))


def eye_sheets(footage: int) -> list[Any]:
    """The sheets that are read by eye from a footage."""
    return [row for row in _rows(tables.Sheet, footage=footage) if row.kind == "eye"]


class Source:
    """What footages and sheets have in common: passages, graphs and fits."""

    def __init__(self, row: Any, findings: Findings | None = None) -> None:
        self.row = row
        self.findings = findings or {}

    @cached_property
    def quantities(self) -> Any:
        """The study's own quantities, which formulas of fits may name."""
        return quantities_of(self.row.study_id)

    def _passages(self, **where: Any) -> dict[int, Any]:
        return {row.id: row for row in _rows(tables.Passage, **where)}


class FootageSource(Source):
    """A footage or a picture."""

    @cached_property
    def ground(self) -> Grounded:
        """Its ground."""
        return grounded(self.row)

    @cached_property
    def known(self) -> Marked:
        """Its marks."""
        return marked(self.row)

    @cached_property
    def bodies(self) -> list[tuple[Any, BodyMotion]]:
        """Its bodies with their motion, background spots included."""
        rows = _rows(tables.Body, footage=self.row)
        moved = motions(self.ground, rows, self.known)
        return [(row, moved[row.id]) for row in rows]

    @cached_property
    def columns(self) -> list[Any]:
        """The columns that are computed for every body."""
        sheets = _rows(tables.Sheet, footage=self.row)
        return [
            column for sheet in sheets if sheet.kind == "bodies" for column in columns_of(sheet)
        ]

    @cached_property
    def every_table(self) -> dict[int, BodyTable]:
        """The table of each body."""
        constants = constants_of(self.row.study_id)
        return {
            row.id: BodyTable(
                row,
                body,
                self.ground,
                columns=self.columns,
                constants=constants,
                asides=[mark for mark in self.known.marks.get(row.id, []) if mark.aside],
                findings=self.findings,
            )
            for row, body in self.bodies
        }

    @property
    def tables(self) -> list[DataTable]:
        """The tables that graphs show: those of the bodies, not of background spots."""
        return [self.every_table[row.id] for row, _ in self.bodies if not row.background]

    @cached_property
    def passages(self) -> dict[int, Any]:
        """Its passages by their key."""
        return self._passages(footage=self.row)

    @cached_property
    def graph_rows(self) -> list[Any]:
        """Its stored graphs."""
        return _rows(tables.Graph, footage=self.row)

    @cached_property
    def fits(self) -> list[FitResult]:
        """Its fits."""
        keys = list(self.every_table)
        rows = tables.Fit.select().where(tables.Fit.body.in_(keys)).order_by(tables.Fit.id)
        return [self._fit(row) for row in rows]

    def _fit(self, row: Any) -> FitResult:
        table = self.every_table[row.body_id]
        ground = self.ground_of(row.body_id)
        return contained(
            lambda: fit_result(row, table, self.passages, self.quantities, ground=ground),
            lambda reason: FitResult(row, table, None, None, NoFit(reason)),
        )

    def ground_of(self, body_id: int) -> Ground:
        """What a fit of one of its bodies rests on."""
        return Ground(self.ground, next(motion for row, motion in self.bodies if row.id == body_id))


class SheetSource(Source):
    """A sheet."""

    @cached_property
    def table(self) -> SheetTable:
        """Its columns; the times of its frames where it was read by eye."""
        return table_of(self.row, self.findings)

    @cached_property
    def passages(self) -> dict[int, Any]:
        """Its passages by their key."""
        return self._passages(sheet=self.row)

    @cached_property
    def graph_rows(self) -> list[Any]:
        """Its stored graphs."""
        return _rows(tables.Graph, sheet=self.row)

    @cached_property
    def fits(self) -> list[FitResult]:
        """Its fits."""
        return [self._fit(row) for row in _rows(tables.Fit, sheet=self.row)]

    def _fit(self, row: Any) -> FitResult:
        return contained(
            lambda: fit_result(row, self.table, self.passages, self.quantities),
            lambda reason: FitResult(row, self.table, None, None, NoFit(reason)),
        )


class Sources:
    """The sources of a study; findings take from each what they rest on."""

    def __init__(self, study_id: int) -> None:
        self.study_id = study_id
        self._footages: dict[int, FootageSource] = {}
        self._sheets: dict[int, SheetSource] = {}

    def footage(self, row: Any) -> FootageSource:
        """A footage."""
        return self._footages.setdefault(row.id, FootageSource(row, self._named))

    def sheet(self, row: Any) -> SheetSource:
        """A sheet."""
        return self._sheets.setdefault(row.id, SheetSource(row, self._named))

    @cached_property
    def findings(self) -> list[Any]:
        """The stored findings."""
        return _rows(tables.Finding, study=self.study_id)

    @cached_property
    def results(self) -> Results:
        """The findings with their values."""
        return Results(self.findings, self._fit, self._column, quantities_of(self.study_id))

    @cached_property
    def _named(self) -> Findings:
        """The findings that formulas of columns may name, by their symbol."""
        named = (row for row in self.findings if row.symbol)
        return {row.symbol: partial(self._finding, row.id) for row in named}

    def _finding(self, key: int) -> Known:
        found = self.results[key]
        if isinstance(found, NoResult):
            raise Refused(f"The finding {found.row.name} has no value: {found.reason}")
        return Known(found.value.value, found.unit, found.value.uncertainty)

    def _column(self, row: Any) -> DataColumn | None:
        return self.sheet(row.sheet).table.column(key_of(row))

    def _fit(self, key: int) -> FitResult:
        row: Any = tables.Fit.get_by_id(key)
        source: FootageSource | SheetSource
        if row.sheet_id is not None:
            source = self.sheet(row.sheet)
        else:
            source = self.footage(row.body.footage)
        return next(fit for fit in source.fits if fit.row.id == key)


def _rows(table: Any, **where: Any) -> list[Any]:
    ((name, value),) = where.items()
    return list(table.select().where(getattr(table, name) == value).order_by(table.id))
