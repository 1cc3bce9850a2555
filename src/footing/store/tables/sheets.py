"""Sheets, their columns and cells, and quantities of a study."""

from peewee import (
    BlobField,
    BooleanField,
    CharField,
    CompositeKey,
    ForeignKeyField,
    IntegerField,
    TextField,
)
from playhouse.postgres_ext import ArrayField, BinaryJSONField, DateTimeTZField

from footing.store.tables.base import NOW, Table
from footing.store.tables.files import Footage
from footing.store.tables.people import Study


class Sheet(Table):
    """Columns of numbers.

    kind : ``typed`` for a table of its own; ``eye`` for one whose rows are moments of a footage,
        read by eye; ``bodies`` for the columns that are computed for every body of a footage
    rows : how many rows it has; those of ``bodies`` are the marks of each
    """

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage, null=True)
    kind = TextField(default="typed")
    name = TextField()
    rows = IntegerField(default=0)


class SheetColumn(Table):
    """A column of a sheet.

    place : its order; symbol : what formulas call it; unit : as printed
    formula : what it is computed by; empty for a typed column
    digits, digits_as : how many are shown, as ``decimals`` or ``significant``; as in the data if
        empty
    uncertainty : of each value, as typed, in the unit; that of the last digit if empty
    scatter, seed : of practice data, the size of what is added by chance, as typed
    blocks : the cells of a typed column, so many in each block, by the key of `Cells`
    """

    study = ForeignKeyField(Study)
    sheet = ForeignKeyField(Sheet)
    place = IntegerField()
    name = TextField()
    symbol = TextField()
    unit = TextField()
    formula = TextField(null=True)
    digits = IntegerField(null=True)
    digits_as = TextField(null=True)
    uncertainty = TextField(null=True)
    scatter = TextField(null=True)
    seed = IntegerField(null=True)
    blocks = ArrayField(TextField, index=False, default=list)
    highlighted = BooleanField(default=False)


class RowAside(Table):
    """A row of a sheet that is set aside, and why; it stays, but does not count."""

    sheet = ForeignKeyField(Sheet)
    row = IntegerField()
    study = ForeignKeyField(Study)
    reason = TextField(default="")

    class Meta:
        """Once for each row."""

        primary_key = CompositeKey("sheet", "row")


class StudyQuantity(Table):
    """A quantity of the study that formulas can name: a mass, an angle, g; as typed."""

    study = ForeignKeyField(Study)
    symbol = TextField()
    name = TextField()
    typed = TextField()
    unit = TextField()


class Cells(Table):
    """Cells as they were typed, one a line, compressed; known by their hash and never changed.

    wrong : place (from 0) and text of each cell that is no number; null where nobody looked yet
    """

    key = CharField(primary_key=True)
    texts = BlobField()
    wrong = BinaryJSONField(index=False, null=True)
    made_at = DateTimeTZField(constraints=NOW)
