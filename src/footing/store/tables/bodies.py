"""Bodies, their marks, and how these were made."""

from peewee import BooleanField, CompositeKey, DoubleField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import ArrayField, DateTimeTZField

from footing.store.tables.base import NOW, Table
from footing.store.tables.files import Footage
from footing.store.tables.people import Student, Study, Teacher


class Body(Table):
    """See `footing.store.rows.Body`."""

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage)
    name = TextField()
    look = IntegerField()
    mass = TextField(null=True)
    mass_unit = TextField(null=True)
    background = BooleanField(default=False)
    kind = TextField(default="marked")
    second_of = ForeignKeyField("self", null=True)
    first = IntegerField(null=True)
    last = IntegerField(null=True)
    stride = IntegerField(null=True)
    spot = TextField(null=True)
    size = TextField(null=True)
    size_unit = TextField(null=True)
    inertia_shape = TextField(null=True)
    inertia = TextField(null=True)


class Member(Table):
    """See `footing.store.rows.Member`."""

    body = ForeignKeyField(Body)
    other = ForeignKeyField(Body)
    study = ForeignKeyField(Study)
    place = IntegerField()

    class Meta:
        """One for each pair."""

        primary_key = CompositeKey("body", "other")


class Mark(Table):
    """See `footing.store.rows.Mark`."""

    body = ForeignKeyField(Body)
    frame = IntegerField()
    study = ForeignKeyField(Study)
    x = DoubleField()
    y = DoubleField()
    quality = DoubleField(null=True)
    aside = BooleanField(default=False)
    reason = TextField(null=True)

    class Meta:
        """One mark for a body in a frame."""

        primary_key = CompositeKey("body", "frame")


class HiddenFrame(Table):
    """See `footing.store.rows.HiddenFrame`."""

    body = ForeignKeyField(Body)
    frame = IntegerField()
    study = ForeignKeyField(Study)

    class Meta:
        """Said once."""

        primary_key = CompositeKey("body", "frame")


class Doubt(Table):
    """See `footing.store.rows.Doubt`."""

    body = ForeignKeyField(Body)
    frame = IntegerField()
    study = ForeignKeyField(Study)
    x = DoubleField(null=True)
    y = DoubleField(null=True)
    quality = DoubleField()

    class Meta:
        """One for a body in a frame."""

        primary_key = CompositeKey("body", "frame")


class Follow(Table):
    """See `footing.store.rows.Follow`."""

    study = ForeignKeyField(Study)
    footage_id = IntegerField()
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    bodies = ArrayField(IntegerField, index=False)
    first = IntegerField()
    last = IntegerField()
    stop_level = DoubleField()
    over_hand = BooleanField(default=False)
    reach = IntegerField(null=True)
    search = IntegerField(null=True)
    state = TextField(default="waiting")
    at = IntegerField(null=True)
    said = TextField(null=True)
    asked_at = DateTimeTZField(constraints=NOW)
