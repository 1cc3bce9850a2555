"""Videos and pictures, how they came in, and where a study uses them."""

from peewee import (
    BigIntegerField,
    BooleanField,
    CharField,
    ForeignKeyField,
    IntegerField,
    TextField,
)
from playhouse.postgres_ext import BinaryJSONField, DateTimeTZField

from footing.store.tables.base import NOW, Table
from footing.store.tables.people import Student, Study, Teacher


class Media(Table):
    """See `footing.store.rows.Media`."""

    content = CharField(primary_key=True)
    size = BigIntegerField()
    frames = IntegerField()
    width = IntegerField()
    height = IntegerField()
    index = BinaryJSONField(index=False)
    kind = TextField()
    survey = BinaryJSONField(index=False, null=True)


class PhoneLink(Table):
    """See `footing.store.rows.PhoneLink`."""

    study = ForeignKeyField(Study)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    expires = DateTimeTZField()
    revoked = BooleanField(default=False)


class Upload(Table):
    """See `footing.store.rows.Upload`."""

    id = CharField(primary_key=True)
    study = ForeignKeyField(Study)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    link = ForeignKeyField(PhoneLink, null=True)
    name = TextField()
    size = BigIntegerField()
    replaces = IntegerField(null=True)
    state = TextField(default="arriving")
    reason = TextField(null=True)
    made = IntegerField(null=True)
    started_at = DateTimeTZField(constraints=NOW)


class Footage(Table):
    """See `footing.store.rows.Footage`."""

    study = ForeignKeyField(Study)
    media = ForeignKeyField(Media, column_name="content", object_id_name="media_id")
    name = TextField()
    first = IntegerField()
    last = IntegerField()
    stride = IntegerField()
    digits = BinaryJSONField(index=False, default=dict)
    highlighted = BinaryJSONField(index=False, default=list)
