"""Findings."""

from peewee import BooleanField, ForeignKeyField, TextField

from footing.store.tables.base import Table
from footing.store.tables.graphs import Fit
from footing.store.tables.models import MotionModel
from footing.store.tables.people import Study
from footing.store.tables.sheets import SheetColumn


class Finding(Table):
    """See `footing.store.rows.Finding`."""

    study = ForeignKeyField(Study)
    fit = ForeignKeyField(Fit, null=True)
    reading = TextField(null=True)
    formula = TextField(null=True)
    symbol = TextField(null=True)
    unit = TextField(null=True)
    column = ForeignKeyField(SheetColumn, null=True)
    model = ForeignKeyField(MotionModel, null=True)
    other = ForeignKeyField("self", null=True)
    name = TextField()
    as_size = BooleanField()
    accepted = TextField(null=True)
    accepted_uncertainty = TextField(null=True)
    highlighted = BooleanField(default=False)
