"""What a report of a study is made of."""

from peewee import DoubleField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import ArrayField

from footing.store.tables.base import Table
from footing.store.tables.people import Study


class ReportBlock(Table):
    """See `footing.store.rows.ReportBlock`."""

    study = ForeignKeyField(Study)
    place = DoubleField()
    kind = TextField()
    about = TextField(default="")
    words = TextField(default="")
    caption = TextField(default="")
    columns = ArrayField(TextField, index=False, default=list)
    first = IntegerField(null=True)
    last = IntegerField(null=True)
    shows = ArrayField(TextField, index=False, default=list)
    every = IntegerField(default=1)
