"""Graphs, passages and fits."""

from peewee import BooleanField, DoubleField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import ArrayField, BinaryJSONField

from footing.store.tables.base import Table
from footing.store.tables.bodies import Body
from footing.store.tables.files import Footage
from footing.store.tables.people import Study
from footing.store.tables.sheets import Sheet


class Passage(Table):
    """See `footing.store.rows.Passage`."""

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage, null=True)
    sheet = ForeignKeyField(Sheet, null=True)
    name = TextField()
    first = DoubleField()
    last = DoubleField()


class Graph(Table):
    """See `footing.store.rows.Graph`."""

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage, null=True)
    sheet = ForeignKeyField(Sheet, null=True)
    place = IntegerField(default=0)
    x = TextField()
    ys = ArrayField(TextField, index=False)
    include_zero = BooleanField(default=False)
    title = TextField(null=True)
    x_title = TextField(null=True)
    y_title = TextField(null=True)
    x_low = DoubleField(null=True)
    x_high = DoubleField(null=True)
    y_low = DoubleField(null=True)
    y_high = DoubleField(null=True)
    error_bars = BooleanField(default=False)
    hidden = ArrayField(IntegerField, index=False, default=list)
    looks = BinaryJSONField(index=False, default=dict)
    others = BinaryJSONField(index=False, default=list)
    sketch = BinaryJSONField(index=False, default=dict)
    legend = BooleanField(default=True)


class Fit(Table):
    """See `footing.store.rows.Fit`."""

    study = ForeignKeyField(Study)
    body = ForeignKeyField(Body, null=True)
    sheet = ForeignKeyField(Sheet, null=True)
    x = TextField()
    y = TextField()
    curve = TextField()
    formula = TextField(null=True)
    passages = ArrayField(IntegerField, index=False, default=list)
    points = ArrayField(IntegerField, index=False, null=True)
    weights = TextField(default="equal")
    given = BinaryJSONField(index=False, default=dict)
    digits = IntegerField(null=True)
    label = TextField(null=True)
    dashed = BooleanField(default=False)
    colour = TextField(null=True)
    box = BinaryJSONField(index=False, null=True)
