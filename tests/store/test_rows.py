"""Rows in code are the tables of the database: the same fields, types, defaults and keys."""

import json
from dataclasses import MISSING, fields
from datetime import datetime
from types import NoneType, UnionType
from typing import Any, get_args, get_origin, get_type_hints

import peewee
import pytest
from playhouse.postgres_ext import ArrayField, BinaryJSONField, DateTimeTZField

from footing.store.mapping import KINDS
from footing.store.rows import Row

OF_FIELD = {
    peewee.TextField: str,
    peewee.CharField: str,
    peewee.IntegerField: int,
    peewee.BigIntegerField: int,
    peewee.AutoField: int,
    peewee.BigAutoField: int,
    peewee.DoubleField: float,
    peewee.BooleanField: bool,
    peewee.BlobField: bytes,
    DateTimeTZField: datetime,
}


def columns(kind: type[Row]) -> dict[str, Any]:
    meta: Any = KINDS[kind]._meta
    return {field.column_name: field for field in meta.sorted_fields}


def type_of(field: Any) -> Any:
    if isinstance(field, peewee.ForeignKeyField):
        return type_of(field.rel_field)
    return OF_FIELD.get(type(field))


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.__name__)
def test_a_row_has_the_columns_of_its_table(kind: type[Row]) -> None:
    hints = get_type_hints(kind)
    stored = columns(kind)
    assert [field.name for field in fields(kind)] == list(stored)
    for name, field in stored.items():
        hint = hints[name]
        optional = get_origin(hint) is UnionType and NoneType in get_args(hint)
        assert optional == field.null, name
        plain = next(part for part in (*get_args(hint), hint) if part is not NoneType)
        if isinstance(field, ArrayField):
            of = next(part for part in (*get_args(hint), hint) if get_origin(part) is list)
            inner = OF_FIELD[type(field._ArrayField__field)]
            assert get_args(of) == (inner,), name
        elif not isinstance(field, BinaryJSONField):
            assert (plain if optional else hint) is type_of(field), name


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.__name__)
def test_a_row_is_known_by_the_key_of_its_table(kind: type[Row]) -> None:
    meta: Any = KINDS[kind]._meta
    assert tuple(field.column_name for field in meta.get_primary_keys()) == kind.KEY


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.__name__)
def test_what_is_left_out_is_as_the_table_has_it(kind: type[Row]) -> None:
    stored = columns(kind)
    for field in fields(kind):
        column = stored[field.name]
        default = column.default() if callable(column.default) else column.default
        own = field.default if field.default_factory is MISSING else field.default_factory()
        if default is not None:
            assert json.dumps(own) == json.dumps(default), field.name
        elif own is not MISSING:
            assert own is None or isinstance(column, peewee.AutoField | peewee.BigAutoField)
