"""Scale, axes, up and clock of a footage."""

from peewee import BooleanField, DoubleField, ForeignKeyField, IntegerField, TextField

from footing.store.tables.base import Table
from footing.store.tables.files import Footage
from footing.store.tables.people import Study


class Ground(Table):
    """Zero, axes, up and clock of a footage. Angles are in radians.

    quarter, mirror : turn and mirror by hand
    levelled : ``level`` or ``plumb``, what up was set by; empty for up in the picture as seen
    height_x, height_y : zero of height; empty where it is zero itself
    clock : ``file``, ``capture`` (clock_typed is the capture rate) or ``moments`` (clock_typed is
        the true time between the frames clock_first and clock_last)
    readout : milliseconds in which the camera reads the picture, as typed
    camera_distance : metres from the camera to the motion, as typed
    """

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


class KnownLength(Table):
    """A line drawn in a frame; ``typed`` and ``unit`` are empty until somebody types a length.

    hidden : not drawn, but used as before
    nearer : metres by which it lies nearer to the camera than the motion, as typed
    """

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
    """An oblique view: a rectangle seen in a frame, and its two sides as typed."""

    footage = ForeignKeyField(Footage, primary_key=True)
    study = ForeignKeyField(Study)
    frame = IntegerField()
    across = TextField(null=True)
    along = TextField(null=True)
    unit = TextField()


class PlanePoint(Table):
    """A point of an oblique view. Places 0 to 3 are the corners, counter-clockwise.

    The others have their own place in the plane, as typed in the plane's unit.
    """

    study = ForeignKeyField(Study)
    plane = ForeignKeyField(Plane)
    place = IntegerField()
    x = DoubleField()
    y = DoubleField()
    across = TextField(null=True)
    along = TextField(null=True)


class StudyUnit(Table):
    """The unit in which a study shows its lengths; metres without a row."""

    study = ForeignKeyField(Study, primary_key=True)
    length = TextField()
