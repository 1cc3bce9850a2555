"""Predicted motions with their legs, and the weather."""

from peewee import BooleanField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import BinaryJSONField

from footing.store.tables.base import Table
from footing.store.tables.bodies import Body
from footing.store.tables.files import Footage
from footing.store.tables.graphs import Passage
from footing.store.tables.people import Study


class MotionModel(Table):
    """See `footing.store.rows.MotionModel`."""

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage, null=True)
    body = ForeignKeyField(Body, null=True)
    name = TextField()
    shown = BooleanField(default=True)
    common = BinaryJSONField(index=False, default=dict)


class MotionLeg(Table):
    """See `footing.store.rows.MotionLeg`."""

    study = ForeignKeyField(Study)
    model = ForeignKeyField(MotionModel)
    place = IntegerField()
    law = TextField()
    passage = ForeignKeyField(Passage, null=True)
    lasts = TextField(null=True)
    goes_on = TextField(default="both")
    hits = BooleanField(default=False)
    normal = TextField(default="90")
    along_x = TextField(default="")
    along_y = TextField(default="")
    own = BinaryJSONField(index=False, default=dict)


class Weather(Table):
    """See `footing.store.rows.Weather`."""

    study = ForeignKeyField(Study, primary_key=True)
    temperature = TextField()
    temperature_unit = TextField()
    pressure = TextField()
    pressure_unit = TextField()
    damp = TextField()
    damp_is = TextField()
