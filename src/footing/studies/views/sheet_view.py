"""A sheet as a screen shows it: its columns, how many rows it has, and what is wrong with it."""

from collections.abc import Sequence

from footing.core.dimensions import own_words
from footing.core.errors import FootingError
from footing.core.formulas.computing import Computed
from footing.core.formulas.parsing import parse
from footing.core.formulas.printing import equation, symbol_mathml
from footing.store.rows import AnyColumn, SheetColumn
from footing.store.snapshot import StudyRows
from footing.studies.model.body_table import BodyTable
from footing.studies.model.columns import DataTable
from footing.studies.model.computed import Problem
from footing.studies.model.kinds import sheet_kind
from footing.studies.model.sheets import SheetTable, key_of
from footing.studies.shapes.sources import SheetShape
from footing.studies.shapes.tables import ColumnShape, StudyQuantityShape
from footing.words.formulas import note_said


def sheet_view(table: SheetTable) -> SheetShape:
    """The sheet without its cells, which are asked for as they come into view."""
    sheet = table.sheet
    return {
        "id": sheet.id,
        "kind": sheet.kind,
        "of_footage": sheet_kind(sheet).of_footage,
        "name": sheet.name,
        "footage": sheet.footage_id,
        "rows": sheet.rows,
        "asides": {str(row): reason for row, reason in sorted(table.asides.items())},
    }


def column_views(columns: Sequence[AnyColumn], table: DataTable | None) -> list[ColumnShape]:
    """The columns that somebody made, with their formulas as in print and their problems."""
    return [_column_view(column, table) for column in columns]


def _column_view(column: AnyColumn, table: DataTable | None) -> ColumnShape:
    view: ColumnShape = {
        "id": column.id,
        "key": key_of(column),
        "name": column.name,
        "symbol": column.symbol,
        "shown_symbol": symbol_mathml(column.symbol),
        "unit": column.unit,
        "formula": column.formula,
        "highlighted": column.highlighted,
        "digits": column.digits,
        "digits_as": column.digits_as or "decimals",
        "uncertainty": (isinstance(column, SheetColumn) and column.uncertainty) or "",
        "scatter": column.scatter or "",
        "seed": column.seed or 0,
        "problem": None,
        "units_differ": False,
        "notes": [],
        "echo": None,
        "shown_unit": column.unit,
        "own_unit": own_words(column.unit),
    }
    if column.formula is None:
        if isinstance(table, SheetTable) and isinstance(column, SheetColumn):
            view["problem"] = table.problem(column)
        return view
    try:
        view["echo"] = equation(column.symbol, parse(column.formula))
    except FootingError as error:
        return view | {"problem": str(error)}
    found = table.computing.result(column.symbol) if isinstance(table, _COMPUTES) else None
    if isinstance(found, Problem):
        return view | {
            "problem": found.text,
            "span": found.span,
            "units_differ": found.of_units,
        }
    if isinstance(found, Computed):
        own = own_words(str(found.unit))
        view |= {
            "notes": [note_said(note) for note in found.notes],
            "shown_unit": str(found.unit),
            "own_unit": own,
        }
    return view


_COMPUTES = (SheetTable, BodyTable)


def quantity_views(rows: StudyRows) -> list[StudyQuantityShape]:
    """The quantities of the study that formulas can name."""
    return [
        {
            "id": row.id,
            "symbol": row.symbol,
            "shown_symbol": symbol_mathml(row.symbol),
            "name": row.name,
            "typed": row.typed,
            "unit": row.unit,
            "own_unit": own_words(row.unit),
        }
        for row in rows.quantities
    ]
