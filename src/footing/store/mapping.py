"""Which table holds the rows of which kind, and what their fields are called in the history."""

from collections.abc import Sequence
from dataclasses import fields
from typing import Any, TypeVar

from peewee import ForeignKeyField

from footing.store import rows, tables
from footing.store.rows import Row

SomeRow = TypeVar("SomeRow", bound=Row)

KINDS: dict[type[Row], type[tables.Table]] = {
    getattr(rows, table.__name__): table for table in tables.ALL
}
_KIND_OF = {table: kind for kind, table in KINDS.items()}
_BY_NAME = {tables.table_name(table): kind for kind, table in KINDS.items()}
CONTENT: tuple[type[Row], ...] = tuple(_KIND_OF[table] for table in tables.CONTENT)


def _columns(kind: type[Row]) -> list[Any]:
    meta: Any = KINDS[kind]._meta
    return list(meta.sorted_fields)


_NAMES = {kind: {one.column_name: one.name for one in _columns(kind)} for kind in KINDS}
_FIELDS = {kind: tuple(one.name for one in fields(kind)) for kind in KINDS}
_REFERENCES = {
    kind: {
        one.column_name: _KIND_OF[one.rel_model]
        for one in _columns(kind)
        if isinstance(one, ForeignKeyField) and _KIND_OF[one.rel_model] in CONTENT
    }
    for kind in KINDS
}


def kind_named(table: str) -> type[Row]:
    """The kind of the rows of a table, by the table's name. KeyError for one that is no more."""
    return _BY_NAME[table]


def table_name(kind: type[Row]) -> str:
    """The name of the table that holds rows of a kind."""
    return tables.table_name(KINDS[kind])


def names_in_history(kind: type[Row]) -> dict[str, str]:
    """By field of a row, its name in the history: ``footage`` for ``footage_id``."""
    return _NAMES[kind]


def references(kind: type[Row]) -> dict[str, type[Row]]:
    """By field, the kind of content row that it refers to."""
    return _REFERENCES[kind]


def field_names(kind: type[Row]) -> tuple[str, ...]:
    """The fields of a row, in their order."""
    return _FIELDS[kind]


def values(row: Row) -> dict[str, Any]:
    """The fields of a row by name; nothing in them is copied."""
    return {name: getattr(row, name) for name in _FIELDS[type(row)]}


def for_insertion(row: Row, *, without: Sequence[str] = ()) -> dict[str, Any]:
    """The columns of a row as peewee takes them."""
    names = _NAMES[type(row)]
    return {names[field]: value for field, value in values(row).items() if field not in without}
