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
    """An uploaded file, known by the SHA-256 of its content, with its index.

    The size of its picture and the number of its frames stand beside the index, because every mark
    is checked against them.

    kind : ``video`` or ``picture``
    survey : what looking through all frames found; empty until that was done
    """

    content = CharField(primary_key=True)
    size = BigIntegerField()
    frames = IntegerField()
    width = IntegerField()
    height = IntegerField()
    index = BinaryJSONField(index=False)
    kind = TextField()
    survey = BinaryJSONField(index=False, null=True)


class PhoneLink(Table):
    """A link by which a phone may send files into a study, in the name of who made it."""

    study = ForeignKeyField(Study)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    expires = DateTimeTZField()
    revoked = BooleanField(default=False)


class Upload(Table):
    """A file that is arriving, or has arrived.

    size : bytes announced; replaces : the footage whose file it takes the place of
    state : ``arriving``, ``used`` or ``refused`` (with the reason); made : the footage
    """

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
    """A video or a picture that a study measures on, with its span and stride.

    highlighted : keys of measured columns that are to be seen first
    digits : by the key of a measured column, how many digits are shown and of which kind
    """

    study = ForeignKeyField(Study)
    media = ForeignKeyField(Media, column_name="content", object_id_name="media_id")
    name = TextField()
    first = IntegerField()
    last = IntegerField()
    stride = IntegerField()
    digits = BinaryJSONField(index=False, default=dict)
    highlighted = BinaryJSONField(index=False, default=list)
