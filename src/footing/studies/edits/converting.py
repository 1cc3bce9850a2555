"""Typed numbers of a column in another unit, with as many digits as they had."""

from dataclasses import replace

import numpy as np

from footing.core.dimensions import Unit, read_unit
from footing.core.errors import Refused
from footing.store import cells
from footing.store.rows import SheetColumn
from footing.studies.model.sheets import read_stated
from footing.studies.work import Work

_DIGITS_OF_UNCERTAINTY = 2


def convert_cells(work: Work, column: SheetColumn, unit: str) -> None:
    """Convert the cells of a typed column to another unit.

    Raises
    ------
    Refused : if the units are of different kinds.
    """
    old, new = read_unit(column.unit), read_unit(unit)
    if not old.parts or not new.parts:  # numbers without a unit get one, or lose it
        return
    if not old.converts_to(new):
        raise Refused(
            f"{old} cannot be converted to {new}; to keep the numbers as they are, take the tick "
            "away, so that the unit is only named.",
            field="unit",
        )
    texts = cells.texts(column.blocks, work.rows.sheet_of(column).rows)
    converted = [_converted(text, old, new) for text in texts]
    work.changes.update(replace(column, blocks=cells.put_column(converted)))


def converted_uncertainty(stated: str, old: str, new: str) -> str:
    """A stated uncertainty in another unit; a share stays, and a column is converted by itself."""
    found = read_stated(stated) if stated else None
    if found is None or found.share or found.symbol:
        return stated
    ratio = read_unit(old).factor / read_unit(new).factor
    return _significant(found.size * ratio, _DIGITS_OF_UNCERTAINTY)


def _converted(text: str, old: Unit, new: Unit) -> str:
    """A cell in another unit, with as many significant digits as it had."""
    value = cells.as_number(text)
    if not np.isfinite(value):
        return text
    digits = max(len(text.lower().partition("e")[0].replace(".", "").lstrip("-0")), 1)
    converted = float(new.from_base(old.to_base(value)))
    return f"{converted:.{digits}g}" if converted == 0 else _significant(converted, digits)


def _significant(value: float, digits: int) -> str:
    shown = f"{value:.{digits - 1}e}"
    exponent = int(shown.partition("e")[2])
    return f"{value:.{max(digits - 1 - exponent, 0)}f}" if -6 < exponent < 15 else shown
