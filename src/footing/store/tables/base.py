"""What all tables have in common."""

from typing import TYPE_CHECKING, Any

from peewee import SQL, Model

from footing.store.database import database

NOW = [SQL("DEFAULT now()")]


class Table(Model):
    """Base of all tables."""

    if TYPE_CHECKING:  # peewee makes keys and the columns of references by itself
        id: Any

        def __getattr__(self, name: str) -> Any: ...  # noqa: D105

    class Meta:
        """Bound when the process starts."""

        database = database
        legacy_table_names = False


def table_name(table: type[Table]) -> str:
    """Name of a table in the database."""
    meta: Any = table._meta
    return str(meta.table_name)
