"""Who works here, and on what: teachers, classes, groups, labs and studies."""

from peewee import (
    BigAutoField,
    BooleanField,
    CharField,
    CompositeKey,
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
    joining = BooleanField(default=True)
    joining_until = DateTimeTZField(null=True)
    own_groups = BooleanField(default=True)
    hides_names = BooleanField(default=False)
    shown_study_id = IntegerField(null=True)  # a study, whose table comes after this one


class CoTeacher(Table):
    """See `footing.store.rows.CoTeacher`."""

    school_class = ForeignKeyField(SchoolClass)
    teacher = ForeignKeyField(Teacher)


class Invitation(Table):
    """See `footing.store.rows.Invitation`."""

    token_hash = CharField(unique=True)
    teacher = ForeignKeyField(Teacher, null=True)
    school_class = ForeignKeyField(SchoolClass, null=True)
    expires = DateTimeTZField()
    used_at = DateTimeTZField(null=True)


class Group(Table):
    """See `footing.store.rows.Group`."""

    school_class = ForeignKeyField(SchoolClass)
    name = TextField()
    dissolved_at = DateTimeTZField(null=True)
    hand_at = DateTimeTZField(null=True)

    class Meta:
        """``group`` is a word of SQL."""

        table_name = "student_group"


class Student(Table):
    """See `footing.store.rows.Student`."""

    school_class = ForeignKeyField(SchoolClass)
    group = ForeignKeyField(Group, null=True)
    name = TextField()
    secret_hash = TextField(null=True)
    secret_kind = TextField(null=True)
    joined_at = DateTimeTZField(null=True)


class Lab(Table):
    """See `footing.store.rows.Lab`."""

    school_class = ForeignKeyField(SchoolClass)
    title = TextField()
    task = TextField()
    tells_meanings = BooleanField(default=True)
    tells_verdicts = BooleanField(default=True)
    instructions = TextField(default="")
    due = DateTimeTZField(null=True)
    follows = BooleanField(default=True)
    sketch_first = BooleanField(default=False)
    start_id = IntegerField(null=True)  # a study, whose table comes after this one
    removed_at = DateTimeTZField(null=True)


class LabFinding(Table):
    """See `footing.store.rows.LabFinding`."""

    lab = ForeignKeyField(Lab)
    name = TextField()
    quantity = TextField(default="")
    unit = TextField(default="")
    accepted = TextField(null=True)
    tolerance = TextField(null=True)
    shown = BooleanField(default=True)


class LabQuestion(Table):
    """See `footing.store.rows.LabQuestion`."""

    lab = ForeignKeyField(Lab)
    words = TextField()
    removed_at = DateTimeTZField(null=True)


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
    frozen_from = ForeignKeyField("self", null=True)


class StudyLink(Table):
    """See `footing.store.rows.StudyLink`."""

    study = ForeignKeyField(Study)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    made_at = DateTimeTZField(constraints=NOW)
    closed_at = DateTimeTZField(null=True)


class SignIn(Table):
    """See `footing.store.rows.SignIn`."""

    token_hash = CharField(primary_key=True)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    study_link = ForeignKeyField(StudyLink, null=True)
    expires = DateTimeTZField()
    used_at = DateTimeTZField(constraints=NOW)


class StudyMember(Table):
    """See `footing.store.rows.StudyMember`."""

    study = ForeignKeyField(Study)
    student = ForeignKeyField(Student)

    class Meta:
        """Both together are the key."""

        primary_key = CompositeKey("study", "student")


class Answer(Table):
    """See `footing.store.rows.Answer`."""

    study = ForeignKeyField(Study)
    question = ForeignKeyField(LabQuestion)
    words = TextField()


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
