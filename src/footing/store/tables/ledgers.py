"""Impacts, and the ledgers of energy and of momentum."""

from peewee import BooleanField, DoubleField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import ArrayField, BinaryJSONField

from footing.store.tables.base import Table
from footing.store.tables.bodies import Body
from footing.store.tables.files import Footage
from footing.store.tables.graphs import Passage
from footing.store.tables.people import Study


class Impact(Table):
    """See `footing.store.rows.Impact`."""

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage)
    body = ForeignKeyField(Body, null=True)
    at = DoubleField()
    kind = TextField(default="impact")


class EnergyLedger(Table):
    """See `footing.store.rows.EnergyLedger`."""

    footage = ForeignKeyField(Footage, primary_key=True)
    study = ForeignKeyField(Study)
    left_out = ArrayField(IntegerField, index=False, default=list)
    columns = ArrayField(IntegerField, index=False, default=list)
    spring_body = ForeignKeyField(Body, null=True)
    spring_constant = TextField(null=True)
    spring_unit = TextField(default="N/m")
    rest_length = TextField(null=True)
    rest_unit = TextField(default="m")
    fixed_x = DoubleField(null=True)
    fixed_y = DoubleField(null=True)
    start = IntegerField(null=True)
    top = IntegerField(null=True)
    finish = IntegerField(null=True)
    against = TextField(default="t")
    from_above = BooleanField(default=False)
    verdict = TextField(null=True)


class MomentumLedger(Table):
    """See `footing.store.rows.MomentumLedger`."""

    impact = ForeignKeyField(Impact, primary_key=True)
    study = ForeignKeyField(Study)
    before = ForeignKeyField(Passage, null=True)
    after = ForeignKeyField(Passage, null=True)
    left_out = ArrayField(IntegerField, index=False, default=list)
    resting_before = ArrayField(IntegerField, index=False, default=list)
    resting_after = ArrayField(IntegerField, index=False, default=list)
    unit = TextField(default="kg*m/s")
    blank = BooleanField(default=False)
    entries = BinaryJSONField(index=False, default=dict)
    verdict = TextField(null=True)
