"""What was done in a study."""

from peewee import BooleanField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import ArrayField, BinaryJSONField, DateTimeTZField

from footing.store.tables.base import NOW, Table
from footing.store.tables.people import Student, Study, Teacher


class Edit(Table):
    """See `footing.store.rows.Edit`."""

    study = ForeignKeyField(Study)
    seq = IntegerField()
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    person_name = TextField()
    kind = TextField()
    label = TextField()
    payload = BinaryJSONField(index=False)
    changes = BinaryJSONField(index=False)
    touched = ArrayField(TextField, index=False)
    based_on = IntegerField()
    target = IntegerField(null=True)
    standing = BooleanField(default=True)
    token = TextField()
    run = TextField(null=True)
    made_at = DateTimeTZField(constraints=NOW)
