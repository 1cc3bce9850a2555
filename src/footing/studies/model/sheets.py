"""Sheets: their columns as numbers and as they are shown."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property, partial
from math import ceil, floor, isfinite, log10
from typing import Any

import numpy as np

from footing.core import findings
from footing.core.arrays import FloatArray, IntArray
from footing.core.dimensions import METRE, NUMBER, SECOND, Unit, read_unit
from footing.core.errors import Refused
from footing.core.formulas.computing import Computed, Known
from footing.core.reading import Variable
from footing.core.units import read_positive
from footing.store import cells
from footing.store.rows import AnyColumn, Footage, Sheet, SheetColumn
from footing.store.snapshot import StudyRows
from footing.studies.model.columns import DataColumn, Owner
from footing.studies.model.computed import Computing, Findings, Problem, Scope, constants_of
from footing.studies.model.grounds import grounded
from footing.studies.model.kinds import sheet_kind

_LAST_DIGIT_SHARE = 0.3  # as of a typed length: u in units of the last digit
_NAMED = 5  # cells that are named one by one
_TIME_DECIMALS = 3
_TIME = Variable("time", "t", SECOND)


def key_of(column: AnyColumn) -> str:
    """The key of a column that somebody made: ``c12``."""
    return f"c{column.id}"


def keys_of(sheet: Sheet, columns: Sequence[SheetColumn]) -> tuple[str, ...]:
    """The columns of a sheet; what is read by eye has the time of its frames, too."""
    return (*sheet_kind(sheet).first, *(key_of(column) for column in columns))


def order_in_time(unit: Unit) -> int | None:
    """How many times a position was differentiated by time, as a unit tells; None for others."""
    for order in range(3):
        if unit.dimension == (METRE / SECOND**order).dimension:
            return order
    return None


@dataclass(frozen=True)
class Stated:
    """An uncertainty that was stated for a column: its size or share, or who holds it."""

    size: float = 0.0
    share: bool = False
    symbol: str = ""


def read_stated(text: str) -> Stated:
    """Read the uncertainty of a column: ``0.2``, ``2 %``, or a symbol of another column.

    Raises
    ------
    Refused : for a number that cannot be one.
    """
    if text[:1].isalpha():
        return Stated(symbol=text)
    share = text.endswith("%")
    number = text.removesuffix("%").strip()
    size = read_positive(number, field="uncertainty", what="An uncertainty").value
    return Stated(size / 100 if share else size, share)


class SheetTable:
    """A typed sheet with what is computed from it.

    Parameters
    ----------
    sheet, rows : its row, and all of the study's
    times : of a sheet read by eye, the time of each frame of its footage
    """

    def __init__(
        self,
        sheet: Sheet,
        rows: StudyRows,
        *,
        times: FloatArray | None = None,
        findings: Findings | None = None,
    ) -> None:
        self.sheet = sheet
        self._of_study = rows
        self._findings = findings or {}
        self.columns = rows.columns_of(sheet)
        self.times = times
        self.asides = {row.row: row.reason for row in rows.asides_of(sheet)}

    @property
    def owner(self) -> Owner:
        """The sheet."""
        return Owner("sheet", self.sheet.id, self.sheet.name, 0)

    @property
    def rows(self) -> int:
        """How many rows it has."""
        return int(self.sheet.rows)

    @cached_property
    def numbers(self) -> IntArray:
        """Rows count from 1."""
        return np.arange(1, self.rows + 1)

    @property
    def keys(self) -> tuple[str, ...]:
        """Its columns."""
        return keys_of(self.sheet, self.columns)

    @property
    def named(self) -> list[tuple[str, str, str]]:
        """Key, name and symbol of each column."""
        first = [("t", _TIME.name, _TIME.symbol)] if self.times is not None else []
        return first + [(key_of(one), one.name, one.symbol) for one in self.columns]

    @cached_property
    def counting(self) -> Any:
        """(rows,) whether each row counts."""
        counts = np.ones(self.rows, dtype=bool)
        counts[[row - 1 for row in self.asides if 1 <= row <= self.rows]] = False
        return counts

    def by_key(self, key: str) -> SheetColumn | None:
        """The stored column of a key, or None."""
        return next((column for column in self.columns if key_of(column) == key), None)

    def typed(self, column: SheetColumn) -> FloatArray:
        """The numbers of a typed column ``(rows,)``, rows set aside included."""
        return cells.numbers(column.blocks, self.rows)

    def uncertainty(self, column: SheetColumn) -> float | FloatArray:
        """Of each value of a typed column: as stated, or from the last digit of its cells.

        Stated is a number, a share such as ``2 %``, or the symbol of a column that holds them.
        """
        if column.uncertainty:
            stated = read_stated(column.uncertainty)
            if stated.symbol:
                held = self._holding(column, stated.symbol)
                if held is None:
                    return 0.0
                size = _unit_of(held).factor / _unit_of(column).factor
                return np.abs(np.nan_to_num(self.typed(held))) * size
            if stated.share:
                return stated.size * np.abs(np.nan_to_num(self.typed(column)))
            return stated.size
        decimals = self.decimals_typed(column)
        return _LAST_DIGIT_SHARE * 10.0**-decimals if decimals is not None else 0.0

    def _holding(self, column: SheetColumn, symbol: str) -> SheetColumn | None:
        """The column that holds uncertainties of another; None where none of that kind is there."""
        held = next((one for one in self.columns if one.symbol == symbol), None)
        if held is None or not _unit_of(held).converts_to(_unit_of(column)):
            return None
        return held

    def problem(self, column: SheetColumn) -> str | None:
        """What cannot be used of a typed column: cells that are no numbers, uncertainties."""
        symbol = read_stated(column.uncertainty).symbol if column.uncertainty else ""
        if column.formula is None and symbol and self._holding(column, symbol) is None:
            return f"The column {symbol} does not hold uncertainties in a unit of this one."
        return self._wrong_cells(column)

    def decimals_typed(self, column: SheetColumn) -> int | None:
        """Most decimals that were typed in a column; None where no number was."""
        some = cells.texts_between(column.blocks, 0, min(self.rows, cells.BLOCK))
        numbers = [text for text in some if np.isfinite(cells.as_number(text))]
        return max((_decimals(text) for text in numbers), default=None)

    @cached_property
    def computing(self) -> Computing:
        """The computed columns; rows set aside take no part."""
        return self._computing(self.counting)

    @cached_property
    def _computing_all(self) -> Computing:
        return self._computing(np.ones(self.rows, dtype=bool))

    def _computing(self, counting: Any) -> Computing:
        known = {"row": Known(self.numbers.astype(float))} | constants_of(self._of_study)
        if self.times is not None:
            known["t"] = Known(self._frame_times(), SECOND)
        typed = {
            column.symbol: partial(self._known, column, counting)
            for column in self.columns
            if column.formula is None
        }
        named = {symbol: find for symbol, find in self._findings.items() if symbol not in known}
        return Computing(Scope(known, named | typed), self.columns, rows=self.rows)

    def _known(self, column: SheetColumn, counting: Any) -> Known:
        """A typed column as formulas take it: rows that do not count have no value."""
        values = np.where(counting, self.typed(column), np.nan)
        return Known(values, _unit_of(column), self.uncertainty(column))

    def _frame_times(self) -> FloatArray:
        """The time of each row's frame; NaN where its frame is none."""
        assert self.times is not None
        frames = self.typed(self.columns[0]) if self.columns else np.empty(0)
        good = np.isfinite(frames) & (frames >= 0) & (frames < len(self.times))
        found = np.full(self.rows, np.nan)
        found[good] = self.times[frames[good].astype(int)]
        return found

    def result(self, column: SheetColumn) -> Computed | Problem | None:
        """What a computed column comes to; None for a typed one."""
        return None if column.formula is None else self.computing.result(column.symbol)

    def column(self, key: str) -> DataColumn | None:
        """A column where it counts and is defined."""
        if key == "t" and self.times is not None:
            return self._data(key, _TIME, self._frame_times(), np.zeros(self.rows))
        column = self.by_key(key)
        if column is None:
            return None
        result = self.result(column)
        if isinstance(result, Problem):
            nothing = np.full(self.rows, np.nan)
            return self._data(key, self.variable(column, read_unit("")), nothing, nothing)
        if isinstance(result, Computed):
            variable = self.variable(column, result.unit)
            made = self._data(key, variable, result.values, result.uncertainties)
            common = self.computing.common(result, result.unit)
            return replace(
                made,
                shared={of: by[made.rows] for of, by in common.items()},
                stated=any(one.uncertainty and one.symbol in result.slopes for one in self.columns),
            )
        errors = np.broadcast_to(self.uncertainty(column), (self.rows,))
        typed = self._data(key, self.variable(column, _unit_of(column)), self.typed(column), errors)
        return replace(typed, stated=bool(column.uncertainty))

    def variable(self, column: SheetColumn, unit: Unit) -> Variable:
        """A column as it stands on an axis."""
        return Variable(column.name, column.symbol, unit, order_in_time(unit))

    @property
    def hit_before(self) -> IntArray:
        """Nothing hits in a sheet."""
        return np.empty(0, dtype=np.int64)

    def asides_between(self, x: str, y: str) -> list[tuple[int, float, float]]:
        """Row, x and y of the rows set aside that have both values."""
        of_x, of_y = self.by_key(x), self.by_key(y)
        if not self.asides or of_x is None or of_y is None:
            return []
        across, up = self._all_values(of_x), self._all_values(of_y)
        return [
            (row, float(across[row - 1]), float(up[row - 1]))
            for row in self.asides
            if row <= self.rows and np.isfinite(across[row - 1]) and np.isfinite(up[row - 1])
        ]

    def _all_values(self, column: SheetColumn) -> FloatArray:
        """A column with the values that the rows set aside would have."""
        if column.formula is None:
            return self.typed(column)
        found = self._computing_all.result(column.symbol)
        return found.values if isinstance(found, Computed) else np.full(self.rows, np.nan)

    def _data(
        self, key: str, variable: Variable, values: FloatArray, errors: FloatArray
    ) -> DataColumn:
        rows = np.flatnonzero(np.isfinite(values) & self.counting)
        return DataColumn(
            key, variable, rows, values[rows], errors[rows], np.zeros(len(rows), dtype=bool)
        )

    def shown(self, column: SheetColumn, first: int, last: int) -> list[str]:
        """The cells of a column from row ``first`` up to ``last``, counted from 0, as shown."""
        last = min(last, self.rows)
        result = self.result(column)
        if isinstance(result, Problem):
            return [""] * max(last - first, 0)
        if isinstance(result, Computed):
            digits = digits_of(column, result.values, result.uncertainties)
            return [printed(value, digits) for value in result.values[first:last]]
        typed = cells.texts_between(column.blocks, first, last)
        if column.digits is None:
            return typed
        digits = (column.digits, column.digits_as or "decimals")
        return [
            printed(number, digits) if np.isfinite(number := cells.as_number(text)) else text
            for text in typed
        ]

    def shown_times(self, first: int, last: int) -> list[str]:
        """The time of each row of a sheet read by eye, in seconds; empty where there is none."""
        times = self._frame_times()[first : min(last, self.rows)].tolist()
        return [findings.number(time, _TIME_DECIMALS) if isfinite(time) else "" for time in times]

    def _wrong_cells(self, column: SheetColumn) -> str | None:
        """Names the cells of a typed column that are no numbers."""
        if column.formula is not None:
            return None
        wrong = cells.wrong(column.blocks)
        if not wrong:
            return None
        named = ", ".join(f"“{text}” in row {row + 1}" for row, text in wrong[:_NAMED])
        more = f" and {len(wrong) - _NAMED} more" if len(wrong) > _NAMED else ""
        are = "is no number and is" if len(wrong) == 1 else "are no numbers and are"
        return f"{named}{more} {are} left out."


def table_of(sheet: Sheet, rows: StudyRows, findings: Findings | None = None) -> SheetTable:
    """The table of a sheet, with the times of its frames where it was read by eye.

    ``findings`` are the results of the study that its formulas may name.
    """
    footage = None if sheet.footage_id is None else rows.get(Footage, sheet.footage_id)
    times = None if footage is None else grounded(footage, rows).times
    return SheetTable(sheet, rows, times=times, findings=findings)


Digits = tuple[int, str]


def digits_of(column: AnyColumn, values: FloatArray, uncertainties: FloatArray) -> Digits:
    """How many digits a computed column shows: as chosen, or as the data have."""
    if column.digits is not None:
        return (column.digits, column.digits_as or "decimals")
    good = values[np.isfinite(values)]
    errors = uncertainties[np.isfinite(values)]
    known = errors[errors > 0]
    if len(known):
        return (min(max(ceil(-log10(float(np.median(known)))), 0), 12), "decimals")
    sizes = np.abs(good[good != 0])
    typical = float(np.median(sizes)) if len(sizes) else 1.0
    return (min(max(3 - floor(log10(typical)), 0), 12), "decimals")


def printed(value: float, digits: Digits) -> str:
    """A number with its digits; an empty text where there is none."""
    if not np.isfinite(value):
        return ""
    count, how = digits
    if how == "significant":
        return findings.significant(float(value), count)
    return findings.number(float(value), count)


def _unit_of(column: SheetColumn) -> Unit:
    """The unit of a typed column; a number where it says nothing that is known."""
    try:
        return read_unit(column.unit)
    except Refused:
        return NUMBER


def _decimals(text: str) -> int:
    mantissa, _, exponent = text.lower().partition("e")
    places = len(mantissa.partition(".")[2])
    return places - int(exponent or 0)
