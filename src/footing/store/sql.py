"""Statements that are asked for with every request, written out: making their text costs more than
the database takes for them.
"""

from collections.abc import Sequence
from typing import Any, TypeVar

from footing.store.database import database
from footing.store.mapping import field_names, table_name
from footing.store.rows import Row

SomeRow = TypeVar("SomeRow", bound=Row)
Values = Sequence[Any]


def columns(kind: type[Row], alias: str | None = None) -> str:
    """The columns of a table as a statement names them, in the order of the row's fields."""
    table = alias or table_name(kind)
    return ", ".join(f'{table}."{name}"' for name in field_names(kind))


def row_of(kind: type[SomeRow], values: Values) -> SomeRow:
    """A row of the values of its columns."""
    return kind(**dict(zip(field_names(kind), values, strict=True)))


def optional(kind: type[SomeRow], values: Values) -> SomeRow | None:
    """A row of an outer join: None where there is none."""
    return None if values[0] is None else row_of(kind, values)


def asked(statement: str, **named: object) -> list[tuple[Any, ...]]:
    """All rows that a statement gives."""
    return list(database.execute_sql(statement, named).fetchall())


def rows_of(kind: type[SomeRow], statement: str, **named: object) -> list[SomeRow]:
    """All rows of one kind that a statement gives."""
    return [row_of(kind, values) for values in asked(statement, **named)]
