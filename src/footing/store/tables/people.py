"""Who works here, and on what: teachers, classes, groups, labs and studies."""

from peewee import (
    BigAutoField,
    BooleanField,
    CharField,
    ForeignKeyField,
    IntegerField,
    TextField,
)
from playhouse.postgres_ext import BinaryJSONField, DateTimeTZField

from footing.store.tables.base import NOW, Table


class Teacher(Table):
    """See `footing.store.rows.Teacher`."""

    name = TextField()
    password_hash = TextField(null=True)


class SchoolClass(Table):
    """See `footing.store.rows.SchoolClass`."""

    teacher = ForeignKeyField(Teacher)
    name = TextField()
    code = CharField(unique=True)
    series_look = BinaryJSONField(index=False, default=dict)


class Group(Table):
    """See `footing.store.rows.Group`."""

    school_class = ForeignKeyField(SchoolClass)
    name = TextField()

    class Meta:
        """``group`` is a word of SQL."""

        table_name = "student_group"


class Student(Table):
    """See `footing.store.rows.Student`."""

    group = ForeignKeyField(Group)
    name = TextField()


class Lab(Table):
    """See `footing.store.rows.Lab`."""

    school_class = ForeignKeyField(SchoolClass)
    title = TextField()
    task = TextField()
    tells_meanings = BooleanField(default=True)
    tells_verdicts = BooleanField(default=True)


class SignIn(Table):
    """See `footing.store.rows.SignIn`."""

    token_hash = CharField(primary_key=True)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    expires = DateTimeTZField()
    used_at = DateTimeTZField(constraints=NOW)


class FailedSignIn(Table):
    """See `footing.store.rows.FailedSignIn`."""

    id = BigAutoField()
    name = TextField()
    address = TextField()
    at = DateTimeTZField(constraints=NOW)


class Study(Table):
    """See `footing.store.rows.Study`."""

    school_class = ForeignKeyField(SchoolClass)
    lab = ForeignKeyField(Lab, null=True)
    group = ForeignKeyField(Group, null=True)
    title = TextField()
    seq = IntegerField(default=0)
    made_at = DateTimeTZField(constraints=NOW)
    removed_at = DateTimeTZField(null=True)


class StudyPlace(Table):
    """See `footing.store.rows.StudyPlace`."""

    study = ForeignKeyField(Study)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    step = TextField()
    source = TextField(null=True)
    frame = IntegerField(null=True)
    body = IntegerField(null=True)


class SigningKey(Table):
    """See `footing.store.rows.SigningKey`."""

    key = TextField()
