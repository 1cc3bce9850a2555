"""Graphs, passages, fits and findings."""

from peewee import BooleanField, DoubleField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import ArrayField, BinaryJSONField

from footing.store.tables.base import Table
from footing.store.tables.bodies import Body
from footing.store.tables.files import Footage
from footing.store.tables.people import Study
from footing.store.tables.sheets import Sheet, SheetColumn


class Passage(Table):
    """A named stretch of a footage, in frame numbers (halves allowed), or of the rows of a sheet.

    Both ends are included. Rows count from 1.
    """

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage, null=True)
    sheet = ForeignKeyField(Sheet, null=True)
    name = TextField()
    first = DoubleField()
    last = DoubleField()


class Graph(Table):
    """What is plotted against what, on one of the graphs of a source.

    place : its order among those of the source, from the top
    x, ys : keys of columns; as many ys as there are series
    title, x_title, y_title : empty for those that follow from the columns
    x_low … y_high : typed limits, empty where they follow from the data
    hidden : bodies that are not shown
    looks : how series are drawn, by the key of the column: form, size, joined
    others : series of other sheets that are shown with them: sheet, x, y
    sketch : what was expected before the data were seen: x, y, and a line as points
    legend : whether it says what stands for what
    """

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
    """A curve through a series: the y of a body or a sheet against its x.

    curve, formula : a named curve, or ``own`` with its formula
    passages : those it goes over; all points if there are none
    points : frames or rows that were selected instead
    weights : ``equal``, or ``stated`` by the uncertainties that the values come with
    given : by parameter: start, fixed, low, high
    digits : how many significant ones its numbers are shown with; as their uncertainties have if
        empty
    label : what it is called on the graph; dashed, colour : how its line is drawn
    box : where on the graph its results stand, as shares of its width and height; by itself if
        empty
    """

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


class Finding(Table):
    """A result, and what it is compared with.

    fit, reading : read from a fit, by the key of the reading
    formula : computed from the parameters of the fit and from quantities and findings of the study
    symbol : by which formulas call it
    unit : in which a computed one is wanted; the one that follows if empty
    column : of whose values it is the mean
    other : a second finding that it is compared with
    """

    study = ForeignKeyField(Study)
    fit = ForeignKeyField(Fit, null=True)
    reading = TextField(null=True)
    formula = TextField(null=True)
    symbol = TextField(null=True)
    unit = TextField(null=True)
    column = ForeignKeyField(SheetColumn, null=True)
    other = ForeignKeyField("self", null=True)
    name = TextField()
    as_size = BooleanField()
    accepted = TextField(null=True)
    accepted_uncertainty = TextField(null=True)
    highlighted = BooleanField(default=False)
