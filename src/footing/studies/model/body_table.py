"""The table of a body: what its marks give, and what is computed from that."""

from collections.abc import Sequence
from functools import cached_property, partial

import numpy as np
from scipy import sparse

from footing.core import findings
from footing.core.arrays import IntArray
from footing.core.covariances import Covariance
from footing.core.dimensions import Unit, read_unit
from footing.core.formulas.computing import Computed, Known
from footing.core.formulas.notes import Note
from footing.core.ledgers.energy import EnergyKind
from footing.core.meaning import variable
from footing.core.measured import MeasuredSymbols
from footing.core.quantities import (
    QUANTITIES,
    TURNING,
    QuantityKey,
)
from footing.core.reading import Variable
from footing.core.units import read_number
from footing.store.rows import AnyColumn, Body, Mark
from footing.studies.model.columns import DataColumn, Owner, SharedMarks
from footing.studies.model.computed import Computing, Findings, Problem, Scope
from footing.studies.model.containing import is_readable
from footing.studies.model.energies import COLUMNS, BodyEnergies, EnergyColumn, resolved
from footing.studies.model.fit_effects import Ground
from footing.studies.model.grounds import Grounded
from footing.studies.model.motions import BodyMotion
from footing.studies.model.sheets import Digits, digits_of, key_of, order_in_time

_DIAMETER = "diameter"


class BodyTable:
    """A body's measured columns, and those of its footage that are computed for every body.

    Parameters
    ----------
    row, body : the body and its motion
    columns : the computed columns of its footage
    constants : what formulas can name besides
    asides : its marks that are set aside
    findings : results of the study that formulas may name
    energies : of the body
    """

    def __init__(
        self,
        row: Body,
        body: BodyMotion,
        ground: Grounded,
        *,
        columns: Sequence[AnyColumn],
        constants: dict[str, Known],
        asides: Sequence[Mark],
        findings: Findings | None = None,
        energies: BodyEnergies,
    ) -> None:
        self.row = row
        self.body = body
        self.ground = ground
        self.columns = columns
        self._constants = constants
        self._findings = findings or {}
        self.energies = energies
        self.asides = asides
        self._made: dict[str, DataColumn | None] = {}

    @property
    def owner(self) -> Owner:
        """The body."""
        return Owner("body", self.row.id, self.row.name, self.row.look)

    @property
    def numbers(self) -> IntArray:
        """The frames of its counting marks."""
        return self.body.frames

    @property
    def hit_before(self) -> IntArray:
        """The rows that come after an impact."""
        return self.body.motion.impacts + 1

    @property
    def measured_keys(self) -> tuple[str, ...]:
        """What its marks give; angles where a second spot shows them."""
        keys = self.ground.kind.columns
        return keys if self.body.motion.turning else tuple(k for k in keys if k not in TURNING)

    @property
    def energy_keys(self) -> tuple[str, ...]:
        """The columns of its energies."""
        return tuple(key for key, column in COLUMNS.items() if column.kind in self.energies.kinds)

    @property
    def keys(self) -> tuple[str, ...]:
        """Measured columns, energies, then computed ones."""
        made = (key_of(column) for column in self.columns)
        return (*self.measured_keys, *self.energy_keys, *made)

    def column(self, key: str) -> DataColumn | None:
        """A column where it is defined."""
        if key not in self._made:
            self._made[key] = self._column(key)
        return self._made[key]

    def _column(self, key: str) -> DataColumn | None:
        if key in self.measured_keys:
            return self._measured(key)
        if key in COLUMNS:
            return self._energy(COLUMNS[key])
        stored = next((column for column in self.columns if key_of(column) == key), None)
        if stored is None:
            return None
        found = self.computing.result(stored.symbol)
        if isinstance(found, Problem):
            none = np.empty(0)
            rows = np.empty(0, dtype=np.int64)
            empty = Variable(stored.name, stored.symbol, read_unit(""))
            return DataColumn(key, empty, rows, none, none, np.empty(0, dtype=bool))
        rows = np.flatnonzero(np.isfinite(found.values))
        unit = found.unit
        return DataColumn(
            key,
            Variable(stored.name, stored.symbol, unit, order_in_time(unit)),
            rows,
            found.values[rows],
            found.uncertainties[rows],
            np.zeros(len(rows), dtype=bool),
            self._covariance(found, rows),
            shared={of: by[rows] for of, by in self.computing.common(found, unit).items()},
            by_marks=partial(self._symbols.by_marks, found),
        )

    @cached_property
    def computing(self) -> Computing:
        """The computed columns: from marks, mass and diameter of the body, and the study's own."""
        own = dict(self._constants)
        if self.row.mass and is_readable(self.row.mass):
            mass = read_number(self.row.mass, field="mass")
            own["m"] = Known(mass.value, read_unit(self.row.mass_unit or "kg"), mass.uncertainty)
        if self.row.size and is_readable(self.row.size):
            size = read_number(self.row.size, field="size")
            own[_DIAMETER] = Known(
                size.value, read_unit(self.row.size_unit or "cm"), size.uncertainty
            )
        named = {symbol: find for symbol, find in self._findings.items() if symbol not in own}
        measured = {symbol: partial(self._symbols.__getitem__, symbol) for symbol in self._symbols}
        return Computing(
            Scope(own, named | measured),
            self.columns,
            rows=len(self.body.frames),
            breaks=self.body.motion.impacts,
        )

    @cached_property
    def _symbols(self) -> MeasuredSymbols:
        return MeasuredSymbols(self.body.motion, self.measured_keys, length=self.ground.length_unit)

    def notes(self, key: str) -> tuple[Note, ...]:
        """What a reader of a computed column should know."""
        stored = next((column for column in self.columns if key_of(column) == key), None)
        found = None if stored is None else self.computing.result(stored.symbol)
        return found.notes if isinstance(found, Computed) else ()

    def unit(self, key: str) -> Unit:
        """The unit of a measured column."""
        return QUANTITIES[key].dimension.in_units(self.ground.length_unit)

    def shown(self, key: str) -> list[str]:
        """A column as a table shows it, with the digits that were chosen or as the data have."""
        column = self.column(key)
        cells = [""] * len(self.body.frames)
        if column is None:
            return cells
        stored = next((one for one in self.columns if key_of(one) == key), None)
        if stored is None:
            count, how = self._digits(column)
        else:
            count, how = digits_of(stored, column.values, column.uncertainties)
        if how == "significant":
            texts = [findings.significant(value, count) for value in column.values.tolist()]
        else:
            texts = findings.numbers(column.values, count)
        if len(texts) == len(cells):
            return texts
        for row, text in zip(column.rows.tolist(), texts, strict=True):
            cells[row] = text
        return cells

    def _digits(self, column: DataColumn) -> Digits:
        chosen = self.ground.footage.digits.get(column.key)
        if chosen:
            count, how = chosen
            return (int(count), str(how))
        if column.key == "t":
            return (self.ground.time_decimals, "decimals")
        return (findings.column_decimals(column.values, column.uncertainties), "decimals")

    def asides_between(self, x: str, y: str) -> list[tuple[int, float, float]]:
        """Marks that are set aside, where they lie on the ground and in time."""
        if not self.asides or not {x, y} <= {"t", "x", "y"}:
            return []
        pixels = np.array([(mark.x, mark.y) for mark in self.asides], dtype=float)
        world = self.ground.axes.to_world(pixels, self.ground.flattening)
        frames = [mark.frame for mark in self.asides]
        values = {"x": world[:, 0], "y": world[:, 1]}
        if self.ground.kind.has_time:
            values["t"] = self.ground.times[frames]
        if not {x, y} <= values.keys():
            return []
        return list(zip(frames, values[x].tolist(), values[y].tolist(), strict=True))

    def _measured(self, key: str) -> DataColumn:
        quantity = QUANTITIES[key]
        column = self.body.motion.column(quantity.key)
        return DataColumn(
            key,
            variable(quantity, length_unit=self.ground.length_unit),
            column.index,
            column.values,
            column.uncertainties,
            column.at_end,
            self._shared_marks(quantity.key),
            hollow=quantity.component in ("y", "h"),
            shared=self._symbols.in_common(key),
            by_marks=lambda: self._symbols.by_marks(self._symbols[key]),
        )

    def _energy(self, column: EnergyColumn) -> DataColumn | None:
        account = self.energies.accounts.get(column.kind)
        if account is None:
            return None
        rows = np.searchsorted(self.body.frames, account.frames)
        whole = resolved(account, Ground(self.ground, self.body))
        unit = self.energies.unit
        size = unit.factor
        velocity = self.body.motion.column("vx")
        ends = np.isin(rows, velocity.index[velocity.at_end])
        n, owner = len(self.body.frames), self.owner.key

        def by_marks() -> dict[str, sparse.csr_array]:
            at = sparse.csr_array(
                (np.ones(len(rows)), (rows, np.arange(len(rows)))), shape=(n, len(rows))
            )
            parts = account.by_marks.items()
            return {
                of.removeprefix(f"{owner}:"): sparse.csr_array(at @ part) / size
                for of, part in parts
            }

        def covariance(places: IntArray) -> Covariance:
            stacked = sparse.hstack(list(account.by_marks.values()), format="csr")
            return Covariance.of_slopes(stacked[places])

        return DataColumn(
            column.key,
            Variable(column.name, column.symbol + column.subscript, unit),
            rows,
            account.values / size,
            whole.uncertainties / size,
            ends,
            covariance,
            hollow=column.kind == EnergyKind.POTENTIAL,
            shared={source.name: change / size for source, change in account.common.items()},
            by_marks=by_marks,
        )

    def _shared_marks(self, key: QuantityKey) -> SharedMarks | None:
        quantity = QUANTITIES[key]
        shares = quantity.order > 0 or quantity.since_start or quantity.component == "path"
        if not shares:
            return None

        def of(places: IntArray) -> Covariance:  # costs something, and only fits ask for it
            whole = self.body.motion.covariance(key)
            assert whole is not None
            return whole.chosen(places)

        return of

    def _covariance(self, found: Computed, rows: IntArray) -> SharedMarks | None:
        """How computed values share marks: Σ S Sᵀ u² over the coordinates that they rest on.

        None where each value rests on a mark of its own.
        """
        slopes = self._symbols.shared(found)
        if slopes is None:
            return None

        def of(places: IntArray) -> Covariance:
            return Covariance.of_slopes(slopes[rows[places]])

        return of
