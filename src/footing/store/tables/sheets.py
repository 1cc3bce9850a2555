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
    """See `footing.store.rows.Sheet`."""

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage, null=True)
    kind = TextField(default="typed")
    name = TextField()
    rows = IntegerField(default=0)


class AnyColumn(Table):
    """See `footing.store.rows.AnyColumn`; no table of its own."""

    study = ForeignKeyField(Study)
    place = IntegerField()
    name = TextField()
    symbol = TextField()
    unit = TextField()
    formula = TextField(null=True)
    digits = IntegerField(null=True)
    digits_as = TextField(null=True)
    scatter = TextField(null=True)
    seed = IntegerField(null=True)
    highlighted = BooleanField(default=False)


class SheetColumn(AnyColumn):
    """See `footing.store.rows.SheetColumn`."""

    sheet = ForeignKeyField(Sheet)
    uncertainty = TextField(null=True)
    blocks = ArrayField(TextField, index=False, default=list)


class BodyColumn(AnyColumn):
    """See `footing.store.rows.BodyColumn`."""

    footage = ForeignKeyField(Footage)


class RowAside(Table):
    """See `footing.store.rows.RowAside`."""

    sheet = ForeignKeyField(Sheet)
    row = IntegerField()
    study = ForeignKeyField(Study)
    reason = TextField(default="")

    class Meta:
        """Once for each row."""

        primary_key = CompositeKey("sheet", "row")


class StudyQuantity(Table):
    """See `footing.store.rows.StudyQuantity`."""

    study = ForeignKeyField(Study)
    symbol = TextField()
    name = TextField()
    typed = TextField()
    unit = TextField()


class Cells(Table):
    """See `footing.store.rows.Cells`."""

    key = CharField(primary_key=True)
    texts = BlobField()
    wrong = BinaryJSONField(index=False, null=True)
    made_at = DateTimeTZField(constraints=NOW)
