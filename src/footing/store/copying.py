"""Copying all rows of a study, each with a key of its own."""

from collections.abc import Iterator
from typing import Any

from peewee import AutoField, ForeignKeyField

from footing.store.tables import CONTENT, Study, Table

_AT_ONCE = 1000  # rows in a statement

Keys = dict[type[Table], dict[Any, Any]]  # by table, the new key of each old one


def copy_content(old: int, new: int) -> Keys:
    """Copy what edits have made in one study into another; references lead to the copies."""
    keys: Keys = {Study: {old: new}}
    for table in CONTENT:
        _copy(table, old, keys)
    return keys


def _copy(table: Any, study: int, keys: Keys) -> None:
    meta = table._meta
    known = keys.setdefault(table, {})
    numbered = isinstance(meta.primary_key, AutoField)
    later: list[tuple[str, Any, Any]] = []  # references within the table, once all are there
    waiting: list[dict[str, Any]] = []
    for row in table.select().where(table.study == study).order_by(*_key(meta)).dicts():
        fields = {}
        for field in meta.sorted_fields:
            value = row[field.name]
            if isinstance(field, ForeignKeyField) and value is not None:
                if field.rel_model is table:
                    later.append((field.name, row["id"], value))
                    value = None
                elif field.rel_model in keys:
                    value = keys[field.rel_model][value]
            fields[field.name] = value
        if numbered:
            number = fields.pop("id")
            known[number] = table.insert(**fields).execute()
            continue
        if isinstance(meta.primary_key, ForeignKeyField):
            known[row[meta.primary_key.name]] = fields[meta.primary_key.name]
        waiting.append(fields)
    for batch in _batches(waiting):
        table.insert_many(batch).execute()
    for name, number, other in later:
        table.update(**{name: known[other]}).where(table.id == known[number]).execute()


def _key(meta: Any) -> list[Any]:
    names = getattr(meta.primary_key, "field_names", None) or [meta.primary_key.name]
    return [meta.fields[name] for name in names]


def _batches(rows: list[dict[str, Any]]) -> Iterator[list[dict[str, Any]]]:
    for first in range(0, len(rows), _AT_ONCE):
        yield rows[first : first + _AT_ONCE]
