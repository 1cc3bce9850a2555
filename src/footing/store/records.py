"""Rows that no edit makes: adding, finding and changing them one by one."""

from typing import Any, TypeVar

from footing.store.mapping import KINDS, field_names, for_insertion, names_in_history, values
from footing.store.rows import NEW, Key, Row, key_of_row

SomeRow = TypeVar("SomeRow", bound=Row)


def add(row: SomeRow) -> SomeRow:
    """Store a new row; give it as it is stored, with its key."""
    table: Any = KINDS[type(row)]
    without = ("id",) if key_of_row(row) == NEW else ()
    query = table.insert(**for_insertion(row, without=without)).returning(table)
    return as_row(type(row), next(iter(query.execute())))


def fetch(kind: type[SomeRow], key: Key, *, locked: bool = False) -> SomeRow | None:
    """A row by its key; nobody else changes it in this transaction if it is ``locked``."""
    table: Any = KINDS[kind]
    query = table.select().where(table._meta.primary_key == key)
    found = (query.for_update() if locked else query).first()
    return None if found is None else as_row(kind, found)


def change(before: SomeRow, after: SomeRow) -> SomeRow:
    """Store the fields in which a row differs from what it was; others may change the rest."""
    table: Any = KINDS[type(before)]
    names, old = names_in_history(type(before)), values(before)
    changed = {names[name]: value for name, value in values(after).items() if value != old[name]}
    if changed:
        here = table._meta.primary_key == key_of_row(before)
        table.update(**changed).where(here).execute()
    return after


def as_row(kind: type[SomeRow], found: Any) -> SomeRow:
    """A row as peewee found it."""
    names = names_in_history(kind)
    return kind(**{name: found.__data__[names[name]] for name in field_names(kind)})
