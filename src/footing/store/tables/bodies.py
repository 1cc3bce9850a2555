"""Bodies, their marks, and how these were made."""

from peewee import BooleanField, CompositeKey, DoubleField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import ArrayField, DateTimeTZField

from footing.store.tables.base import NOW, Table
from footing.store.tables.files import Footage
from footing.store.tables.people import Student, Study, Teacher


class Body(Table):
    """An object that is tracked. ``look`` numbers its colour and shape.

    background : a fixed spot that says how the camera moved
    kind : ``marked``; ``centre`` (of mass) or ``relative`` (the first of its members seen from the
        second), which have members instead of marks
    second_of : the body whose second spot this is; both together say how it turns
    first, last, stride : its own motion within the span; empty as in the span
    spot : which spot of it is marked, in words
    size : its diameter, as typed, in ``size_unit``
    """

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


class Member(Table):
    """A body that another, derived one is made from, in their order."""

    body = ForeignKeyField(Body)
    other = ForeignKeyField(Body)
    study = ForeignKeyField(Study)
    place = IntegerField()

    class Meta:
        """One for each pair."""

        primary_key = CompositeKey("body", "other")


class Mark(Table):
    """Where a body is in one frame, in pixels.

    On a picture ``frame`` is the point's number in the order of marking.

    quality : from 0 to 1 where it was made by following; empty where it was made by hand
    aside : set aside, because it is doubtful; it stays, but does not count
    reason : why it was, if somebody said so
    """

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
    """A frame in which somebody said that a body is hidden."""

    body = ForeignKeyField(Body)
    frame = IntegerField()
    study = ForeignKeyField(Study)

    class Meta:
        """Said once."""

        primary_key = CompositeKey("body", "frame")


class Doubt(Table):
    """A frame that following left open, with what it would have marked, if anything."""

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
    """Following some bodies through frames, asked for by a person; done in the background.

    first, last : frames, both included; backwards where the first is larger
    stop_level : quality under which a frame is left open
    over_hand : whether marks made by hand are replaced, too
    reach, search : pixels of the patch and of the search area; chosen if empty
    state : ``waiting``, ``running``, ``paused``, ``stopped`` or ``done``
    at : the last frame that was looked at
    said : how it went
    """

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
