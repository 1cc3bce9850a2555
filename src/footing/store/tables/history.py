"""What was done in a study."""

from peewee import BooleanField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import ArrayField, BinaryJSONField, DateTimeTZField

from footing.store.tables.base import NOW, Table
from footing.store.tables.people import Student, Study, Teacher


class Edit(Table):
    """One change of a study, with its inverse: the row changes, each with before and after.

    touched : names of what it changed or relied on, see `footing.store.changes`
    target : for an undo or a redo, the ``seq`` of the edit that it acts on
    standing : false once it was undone (an edit) or redone (an undo)
    token : chosen by the sender, so that a repeated request is not a second edit
    run : what several edits belong to that are undone together
    """

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
