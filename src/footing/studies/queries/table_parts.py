"""Rows and columns of a table, as they are shown, or as numbers with all their digits."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from math import isfinite

from pydantic import JsonValue

from footing.core.errors import NotThere
from footing.core.findings import number
from footing.formats.headings import Heading
from footing.store import cells
from footing.studies.model.body_table import BodyTable
from footing.studies.model.sheets import SheetTable, key_of

Table = SheetTable | BodyTable
FRAME = "frame"
PIXELS = ("px", "py")  # a mark in the picture, steadied where the camera moved
_PIXEL_DECIMALS = 2
_ROWS_AT_ONCE = 5 * cells.BLOCK
_TIMES = "t"


@dataclass(frozen=True)
class Wanted:
    """Which part of a table.

    columns : by their keys, in this order (of a body ``frame``, ``px``, ``py``, too); all if empty
    first, last : rows from 1; every : each so manieth of them
    plain : for a program: keys above the columns, numbers with all their digits
    """

    columns: tuple[str, ...] = ()
    first: int | None = None
    last: int | None = None
    every: int = 1
    plain: bool = False

    def of(self, rows: Iterable[tuple[str, ...]]) -> Iterator[tuple[str, ...]]:
        """The rows that are wanted."""
        return islice(rows, max((self.first or 1) - 1, 0), self.last, self.every)


EVERYTHING = Wanted()


def chosen(
    table: Table, wanted: Wanted = EVERYTHING
) -> tuple[list[Heading], Iterator[tuple[str, ...]]]:
    """Headings and rows of a table, as they are shown.

    Raises
    ------
    NotThere : if none of the columns is there.
    """
    if isinstance(table, SheetTable):
        headings, rows = _of_sheet(table, wanted.columns)
    else:
        headings, rows = _of_body(table, wanted.columns)
    if not headings:
        raise NotThere("None of these columns is in the table any more.")
    return headings, wanted.of(rows)


def _of_sheet(
    table: SheetTable, wanted: Sequence[str]
) -> tuple[list[Heading], Iterator[tuple[str, ...]]]:
    there = {key_of(one): one for one in table.columns}
    has_times = table.times is not None
    keys = [key for key in wanted or table.keys if key in there or (key == _TIMES and has_times)]
    headings = []
    for key in keys:
        found = table.column(key)
        unit = str(found.variable.unit) if found else ""
        if key in there:
            headings.append(Heading(there[key].name, there[key].symbol, unit))
        else:
            headings.append(Heading("time", _TIMES, unit))

    def rows() -> Iterator[tuple[str, ...]]:
        for first in range(0, table.rows, _ROWS_AT_ONCE):
            last = min(first + _ROWS_AT_ONCE, table.rows)
            parts = [
                table.shown(there[key], first, last)
                if key in there
                else table.shown_times(first, last)
                for key in keys
            ]
            yield from zip(*parts, strict=True)

    return headings, rows()


def _of_body(
    table: BodyTable, wanted: Sequence[str]
) -> tuple[list[Heading], Iterator[tuple[str, ...]]]:
    headings: list[Heading] = []
    columns: list[list[str]] = []
    for key in wanted or (FRAME, *table.keys):
        if key == FRAME:
            headings.append(Heading("frame", FRAME, ""))
            columns.append([str(frame) for frame in table.numbers])
        elif key in PIXELS and _has_pixels(table):
            headings.append(_pixel_heading(key))
            places = table.body.pixels[:, PIXELS.index(key)].tolist()
            columns.append([number(value, _PIXEL_DECIMALS) for value in places])
        elif (column := table.column(key)) is not None:
            variable = column.variable
            headings.append(Heading(variable.name, variable.symbol, str(variable.unit)))
            columns.append(table.shown(key))
    return headings, zip(*columns, strict=True)


def _has_pixels(table: BodyTable) -> bool:
    """Whether a body was marked itself; a centre of mass was not."""
    return len(table.body.pixels) == len(table.numbers)


def _pixel_heading(key: str) -> Heading:
    way = "across" if key == PIXELS[0] else "down"
    return Heading(f"pixel {way}", key, "")


@dataclass(frozen=True)
class NumberColumn:
    """A column as numbers, by row of the table; None where it has no value."""

    key: str
    name: str
    symbol: str
    unit: str
    values: list[float | None]
    uncertainties: list[float | None]


def numbers(table: Table, wanted: Wanted) -> list[NumberColumn]:
    """The columns of a table that are wanted, with all their digits.

    Raises
    ------
    NotThere : if none of them is there.
    """
    count = len(table.numbers)
    places = list(wanted.of((str(row),) for row in range(count)))
    rows = [int(row) for (row,) in places]
    found = [
        column
        for key in wanted.columns or (FRAME, *table.keys)
        if (column := _numbers(table, key, count, rows)) is not None
    ]
    if not found:
        raise NotThere("None of these columns is in the table any more.")
    return found


def _numbers(table: Table, key: str, count: int, rows: Sequence[int]) -> NumberColumn | None:
    nothing: list[float | None] = [None] * len(rows)
    if isinstance(table, BodyTable) and key == FRAME:
        frames = table.numbers.tolist()
        return NumberColumn(key, "frame", FRAME, "", [frames[row] for row in rows], nothing)
    if isinstance(table, BodyTable) and key in PIXELS:
        if not _has_pixels(table):
            return None
        heading, places = _pixel_heading(key), table.body.pixels[:, PIXELS.index(key)].tolist()
        return NumberColumn(key, heading.name, key, "", [places[row] for row in rows], nothing)
    column = table.column(key)
    if column is None:
        return None
    values: list[float | None] = [None] * count
    errors: list[float | None] = [None] * count
    of = zip(
        column.rows.tolist(), column.values.tolist(), column.uncertainties.tolist(), strict=True
    )
    for row, value, error in of:
        values[row] = value if isfinite(value) else None
        errors[row] = error if isfinite(error) and error > 0 else None
    variable = column.variable
    return NumberColumn(
        key,
        variable.name,
        variable.symbol,
        str(variable.unit),
        [values[row] for row in rows],
        [errors[row] for row in rows],
    )


def plain_lines(table: Table, wanted: Wanted) -> Iterator[list[str]]:
    """Lines for a program: keys, then numbers with all their digits; empty where there is none."""
    found = numbers(table, wanted)
    yield [one.key for one in found]
    for row in zip(*(one.values for one in found), strict=True):
        yield ["" if value is None else repr(value) for value in row]


def as_data(table: Table, wanted: Wanted) -> dict[str, JsonValue]:
    """A table as JSON: columns with names, symbols, units, values and standard uncertainties."""
    return {
        "name": table.owner.name,
        "columns": [
            {
                "key": one.key,
                "name": one.name,
                "symbol": one.symbol,
                "unit": one.unit,
                "values": list(one.values),
                "uncertainties": list(one.uncertainties),
            }
            for one in numbers(table, wanted)
        ],
    }
