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
    """A teacher; without a password hash nobody can sign in as them by password."""

    name = TextField()
    password_hash = TextField(null=True)


class SchoolClass(Table):
    """A class of a teacher, with the code by which its students join.

    series_look : how points are drawn where nobody chose: form, size, joined; dashed for its fits
    """

    teacher = ForeignKeyField(Teacher)
    name = TextField()
    code = CharField(unique=True)
    series_look = BinaryJSONField(index=False, default=dict)


class Group(Table):
    """Students of a class who work together."""

    school_class = ForeignKeyField(SchoolClass)
    name = TextField()

    class Meta:
        """``group`` is a word of SQL."""

        table_name = "student_group"


class Student(Table):
    """A student in a group."""

    group = ForeignKeyField(Group)
    name = TextField()


class Lab(Table):
    """A task that a teacher sets for a class.

    tells_meanings : whether fits say what their numbers mean; if not, students say it themselves
    """

    school_class = ForeignKeyField(SchoolClass)
    title = TextField()
    task = TextField()
    tells_meanings = BooleanField(default=True)


class SignIn(Table):
    """A session: the hash of a cookie's token, and who it stands for."""

    token_hash = CharField(primary_key=True)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    expires = DateTimeTZField()
    used_at = DateTimeTZField(constraints=NOW)


class FailedSignIn(Table):
    """A sign-in that failed: the name that was tried, and from which address."""

    id = BigAutoField()
    name = TextField()
    address = TextField()
    at = DateTimeTZField(constraints=NOW)


class Study(Table):
    """The work of a group (or of the class's teacher, without a group) on a lab or a question.

    ``seq`` is the number of the latest edit. Where ``removed_at`` is set nobody sees it any more,
    and it goes for good some weeks later.
    """

    school_class = ForeignKeyField(SchoolClass)
    lab = ForeignKeyField(Lab, null=True)
    group = ForeignKeyField(Group, null=True)
    title = TextField()
    seq = IntegerField(default=0)
    made_at = DateTimeTZField(constraints=NOW)
    removed_at = DateTimeTZField(null=True)


class StudyPlace(Table):
    """Where somebody left a study off: the step, the source on the stage, frame and body."""

    study = ForeignKeyField(Study)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    step = TextField()
    source = TextField(null=True)
    frame = IntegerField(null=True)
    body = IntegerField(null=True)


class SigningKey(Table):
    """With what links are signed."""

    key = TextField()
