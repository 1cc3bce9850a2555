"""Scale, axes, up and clock of a footage."""

from peewee import BooleanField, DoubleField, ForeignKeyField, IntegerField, TextField

from footing.store.tables.base import Table
from footing.store.tables.files import Footage
from footing.store.tables.people import Study


class Ground(Table):
    """See `footing.store.rows.Ground`."""

    footage = ForeignKeyField(Footage, primary_key=True)
    study = ForeignKeyField(Study)
    zero_x = DoubleField()
    zero_y = DoubleField()
    zero_placed = BooleanField()
    angle = DoubleField()
    flip_x = BooleanField()
    flip_y = BooleanField()
    zero_frame = IntegerField()
    pixel_uncertainty = DoubleField()
    quarter = IntegerField(default=0)
    mirror = BooleanField(default=False)
    up = DoubleField()
    levelled = TextField(null=True)
    height_x = DoubleField(null=True)
    height_y = DoubleField(null=True)
    clock = TextField(default="file")
    clock_typed = TextField(null=True)
    clock_first = IntegerField(null=True)
    clock_last = IntegerField(null=True)
    readout = TextField(null=True)
    camera_distance = TextField(null=True)
    velocity_window = IntegerField(default=3)


class KnownLength(Table):
    """See `footing.store.rows.KnownLength`."""

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage)
    frame = IntegerField()
    start_x = DoubleField()
    start_y = DoubleField()
    end_x = DoubleField()
    end_y = DoubleField()
    typed = TextField(null=True)
    unit = TextField(null=True)
    hidden = BooleanField(default=False)
    nearer = TextField(null=True)


class Plane(Table):
    """See `footing.store.rows.Plane`."""

    footage = ForeignKeyField(Footage, primary_key=True)
    study = ForeignKeyField(Study)
    frame = IntegerField()
    across = TextField(null=True)
    along = TextField(null=True)
    unit = TextField()


class PlanePoint(Table):
    """See `footing.store.rows.PlanePoint`."""

    study = ForeignKeyField(Study)
    plane = ForeignKeyField(Plane)
    place = IntegerField()
    x = DoubleField()
    y = DoubleField()
    across = TextField(null=True)
    along = TextField(null=True)


class StudyUnit(Table):
    """See `footing.store.rows.StudyUnit`."""

    study = ForeignKeyField(Study, primary_key=True)
    length = TextField()
