"""What was handed in, and what is said about it."""

from peewee import BooleanField, DoubleField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import ArrayField, BinaryJSONField, DateTimeTZField

from footing.store.tables.base import NOW, Table
from footing.store.tables.people import Lab, Student, Study, Teacher


class HandIn(Table):
    """See `footing.store.rows.HandIn`."""

    study = ForeignKeyField(Study)
    copy = ForeignKeyField(Study)
    number = IntegerField()
    made_at = DateTimeTZField(constraints=NOW)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    person_name = TextField()
    names = ArrayField(TextField, index=False, default=list)
    title = TextField()
    late = BooleanField(default=False)
    version = TextField()
    blocks = BinaryJSONField(index=False, default=list)
    numbers = BinaryJSONField(index=False, default=list)
    returned_at = DateTimeTZField(null=True)
    returned_by = TextField(default="")
    again = BooleanField(default=False)
    points = BinaryJSONField(index=False, default=dict)
    grade = TextField(default="")
    words = TextField(default="")


class Comment(Table):
    """See `footing.store.rows.Comment`."""

    hand_in = ForeignKeyField(HandIn)
    answers = ForeignKeyField("self", null=True)
    about = TextField(default="")
    quote = TextField(default="")
    words = TextField()
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    person_name = TextField()
    made_at = DateTimeTZField(constraints=NOW)


class Criterion(Table):
    """See `footing.store.rows.Criterion`."""

    lab = ForeignKeyField(Lab)
    name = TextField()
    most = DoubleField()
