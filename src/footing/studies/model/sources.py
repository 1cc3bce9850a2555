"""The sources of a study with all that follows from them, each computed once and when asked for."""

from functools import cached_property, partial

from footing.core.dimensions import Unit
from footing.core.errors import Refused
from footing.core.formulas.computing import Known
from footing.core.ledgers.energy import Spring
from footing.store.rows import (
    Body,
    BodyColumn,
    Finding,
    Fit,
    Footage,
    Graph,
    MotionModel,
    Passage,
    Sheet,
    SheetColumn,
)
from footing.store.snapshot import StudyRows
from footing.studies.model.body_table import BodyTable
from footing.studies.model.columns import DataColumn, DataTable
from footing.studies.model.computed import Findings, constants_of, quantities_of
from footing.studies.model.containing import contained
from footing.studies.model.energies import BodyEnergies, spring_of, unit_for
from footing.studies.model.fit_effects import Ground
from footing.studies.model.fits import FitResult, NotFitted, fit_result
from footing.studies.model.grounds import Grounded, grounded
from footing.studies.model.kept import Kept
from footing.studies.model.motions import BodyMotion, motions
from footing.studies.model.prediction import Prediction
from footing.studies.model.predictions import Predictions
from footing.studies.model.results import NoResult, Results
from footing.studies.model.sheets import SheetTable, key_of, table_of


class FootageSource:
    """A footage or a picture.

    Parameters
    ----------
    row, rows : its row, and all of the study's
    findings : results of the study that formulas may name
    """

    def __init__(self, row: Footage, rows: StudyRows, findings: Findings) -> None:
        self.row = row
        self.rows = rows
        self._findings = findings

    @cached_property
    def ground(self) -> Grounded:
        """Its ground."""
        return grounded(self.row, self.rows)

    @cached_property
    def quantities(self) -> dict[str, Known]:
        """The study's own quantities, which formulas of fits may name."""
        return quantities_of(self.rows)

    @cached_property
    def bodies(self) -> list[tuple[Body, BodyMotion]]:
        """Its bodies with their motion, background spots included."""
        moved = motions(self.ground, self.rows)
        return [(row, moved[row.id]) for row in self.rows.bodies_of(self.row)]

    @cached_property
    def columns(self) -> tuple[BodyColumn, ...]:
        """The columns that are computed for every body."""
        return self.rows.columns_of(self.row)

    @cached_property
    def every_table(self) -> dict[int, BodyTable]:
        """The table of each body."""
        constants = constants_of(self.rows)
        return {
            row.id: BodyTable(
                row,
                body,
                self.ground,
                columns=self.columns,
                constants=constants,
                asides=[mark for mark in self.rows.marks_of(row) if mark.aside],
                findings=self._findings,
                energies=BodyEnergies(row, body, self.ground, self.rows, lambda: self.energy_unit),
            )
            for row, body in self.bodies
        }

    @cached_property
    def energy_unit(self) -> Unit:
        """The unit in which the energies of its bodies are said."""
        return unit_for([table.energies.accounts for table in self.every_table.values()])

    def spring_of(self, row: Body) -> Spring | None:
        """The spring that a body is at, if it is at one."""
        return spring_of(row, self.ground, self.rows.energy_ledger_of(self.row))

    @property
    def tables(self) -> list[DataTable]:
        """The tables that graphs show: those of the bodies, not of background spots."""
        return [self.every_table[row.id] for row, _ in self.bodies if not row.background]

    @cached_property
    def passages(self) -> dict[int, Passage]:
        """Its passages by their key."""
        return {row.id: row for row in self.rows.passages_of(self.row)}

    @property
    def graphs(self) -> tuple[Graph, ...]:
        """Its stored graphs."""
        return self.rows.graphs_of(self.row)

    @cached_property
    def fits(self) -> list[FitResult]:
        """Its fits, in the order in which they were made."""
        fits = [fit for body, _ in self.bodies for fit in self.rows.fits_of(body)]
        return [self._fit(fit) for fit in sorted(fits, key=lambda fit: fit.id)]

    def _fit(self, row: Fit) -> FitResult:
        assert row.body_id is not None
        table = self.every_table[row.body_id]
        ground = self.ground_of(row.body_id)

        def make() -> FitResult:
            return contained(
                lambda: fit_result(row, table, self.passages, self.quantities, ground=ground),
                lambda reason: FitResult(row, table, None, None, NotFitted(reason)),
            )

        if not {row.x, row.y} <= set(table.measured_keys):  # a made column may rest on anything
            return make()
        passages, quantities = tuple(self.passages.values()), self.rows.quantities
        of = (row, table.row, table.body, self.ground, table.asides, passages, quantities)
        return _fits.get(row.id, of, make)

    @cached_property
    def predictions(self) -> Predictions:
        """The predicted motions over it."""
        return Predictions(self.rows, self)

    def ground_of(self, body_id: int) -> Ground:
        """What a fit of one of its bodies rests on."""
        return Ground(self.ground, next(motion for row, motion in self.bodies if row.id == body_id))


class SheetSource:
    """A sheet; see `FootageSource`."""

    def __init__(self, row: Sheet, rows: StudyRows, findings: Findings) -> None:
        self.row = row
        self.rows = rows
        self._findings = findings

    @cached_property
    def table(self) -> SheetTable:
        """Its columns; the times of its frames where it was read by eye."""
        return table_of(self.row, self.rows, self._findings)

    @cached_property
    def quantities(self) -> dict[str, Known]:
        """The study's own quantities, which formulas of fits may name."""
        return quantities_of(self.rows)

    @cached_property
    def passages(self) -> dict[int, Passage]:
        """Its passages by their key."""
        return {row.id: row for row in self.rows.passages_of(self.row)}

    @property
    def graphs(self) -> tuple[Graph, ...]:
        """Its stored graphs."""
        return self.rows.graphs_of(self.row)

    @cached_property
    def fits(self) -> list[FitResult]:
        """Its fits."""
        return [self._fit(row) for row in self.rows.fits_of(self.row)]

    def _fit(self, row: Fit) -> FitResult:
        return contained(
            lambda: fit_result(row, self.table, self.passages, self.quantities),
            lambda reason: FitResult(row, self.table, None, None, NotFitted(reason)),
        )


_fits: Kept[FitResult] = Kept(200)
Source = FootageSource | SheetSource


class Sources:
    """The sources of a study; findings take from each what they rest on."""

    def __init__(self, rows: StudyRows) -> None:
        self.rows = rows
        self._footages: dict[int, FootageSource] = {}
        self._sheets: dict[int, SheetSource] = {}

    def footage(self, row: Footage) -> FootageSource:
        """A footage."""
        if row.id not in self._footages:
            self._footages[row.id] = FootageSource(row, self.rows, self._named)
        return self._footages[row.id]

    def sheet(self, row: Sheet) -> SheetSource:
        """A sheet."""
        if row.id not in self._sheets:
            self._sheets[row.id] = SheetSource(row, self.rows, self._named)
        return self._sheets[row.id]

    def source_of(self, fit: Fit) -> Source:
        """The source that a fit belongs to."""
        if fit.sheet_id is not None:
            return self.sheet(self.rows.find(Sheet, fit.sheet_id))
        return self.footage(self.rows.footage_of(self.rows.find(Body, fit.body_id or 0)))

    def table(self, owner: Body | Sheet) -> BodyTable | SheetTable:
        """The table of a body or of a sheet."""
        if isinstance(owner, Sheet):
            return self.sheet(owner).table
        return self.footage(self.rows.footage_of(owner)).every_table[owner.id]

    @property
    def findings(self) -> tuple[Finding, ...]:
        """The stored findings."""
        return self.rows.findings

    @cached_property
    def results(self) -> Results:
        """The findings with their values."""
        return Results(
            self.findings, self._fit, self._column, self._model, quantities_of(self.rows)
        )

    @cached_property
    def predictions(self) -> Predictions:
        """The predicted motions that need no footage."""
        return Predictions(self.rows, None)

    @cached_property
    def _named(self) -> Findings:
        """The findings that formulas of columns may name, by their symbol."""
        return {row.symbol: partial(self._finding, row.id) for row in self.findings if row.symbol}

    def _finding(self, key: int) -> Known:
        found = self.results[key]
        if isinstance(found, NoResult):
            raise Refused(f"The finding {found.row.name} has no value: {found.reason}")
        return Known(found.value.value, found.unit, found.value.uncertainty)

    def _column(self, key: int) -> DataColumn | None:
        row = self.rows.find(SheetColumn, key)
        return self.sheet(self.rows.sheet_of(row)).table.column(key_of(row))

    def _model(self, key: int) -> Prediction:
        row = self.rows.find(MotionModel, key)
        if row.footage_id is None:
            return self.predictions.of(key)
        return self.footage(self.rows.find(Footage, row.footage_id)).predictions.of(key)

    def _fit(self, key: int) -> FitResult:
        source = self.source_of(self.rows.find(Fit, key))
        return next(fit for fit in source.fits if fit.row.id == key)
