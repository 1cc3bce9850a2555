"""What edits have made in a study, as plain data: rows by table, and the cells of sheets."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Annotated

from pydantic import BeforeValidator, JsonValue, TypeAdapter, ValidationError

from footing.store import cells
from footing.store.mapping import CONTENT, table_name
from footing.store.rows import Answer, Row, SheetColumn, key_of_row
from footing.store.snapshot import StudyRows
from footing.studies.packing.archive import Opened
from footing.studies.received import checked

_MOST_ROWS = 1_000_000


def _not_too_many(tables: object) -> object:
    """Before each of them is looked at, which would hold up everybody else."""
    if isinstance(tables, dict):
        many = sum(len(rows) for rows in tables.values() if isinstance(rows, list))
        if many > _MOST_ROWS:
            raise ValueError("there are too many rows")
    return tables


Tables = Annotated[dict[str, list[dict[str, JsonValue]]], BeforeValidator(_not_too_many)]
Cells = dict[int, list[str]]  # of each column, by its key
# answers in words belong to the questions of a lab, and go by these
TYPES = {table_name(kind): (kind, TypeAdapter(kind)) for kind in CONTENT if kind is not Answer}


def rows_out(rows: StudyRows) -> Tables:
    """The rows of a study by table, each with its fields as `footing.store.rows` names them."""
    found: Tables = {}
    for table, (kind, adapter) in TYPES.items():
        plain = [adapter.dump_python(row, mode="json") for row in rows.all(kind)]
        if plain:
            found[table] = plain
    return found


def cells_out(rows: StudyRows) -> Cells:
    """The cells of typed columns, by the key of the column."""
    long = {sheet.id: sheet.rows for sheet in rows.sheets}
    return {
        column.id: cells.texts(column.blocks, long[column.sheet_id])
        for column in rows.all(SheetColumn)
        if column.blocks
    }


def rows_in(tables: Tables, texts: Mapping[int, Sequence[str]], archive: Opened) -> list[Row]:
    """Rows of a file, each checked; cells are stored.

    Raises
    ------
    Refused : if something cannot be a row, or a key is there twice.
    """
    if not set(tables) <= set(TYPES):
        raise archive.refusal()
    rows: list[Row] = []
    for table, (_, adapter) in TYPES.items():
        for plain in tables.get(table, ()):
            try:
                row = adapter.validate_python(checked(plain))
            except ValidationError as error:
                raise archive.refusal(f"something in {table} cannot be.") from error
            if isinstance(row, SheetColumn):
                lines = [" ".join(text.split()) for text in texts.get(row.id, ())]
                row = replace(row, blocks=cells.put_column(lines))
            rows.append(row)
    if len({(type(row), key_of_row(row)) for row in rows}) != len(rows):
        raise archive.refusal("a key is there twice.")
    return rows
