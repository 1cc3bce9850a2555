"""Row changes with their inverse.

Every edit changes rows through a `Changes`, which notes what each row was before and is after. The
notes are enough to take the edit back or to make it again, and they name what it touched:

- ``body:7`` for a row that came or went,
- ``body:7.name`` for one field of it,
- ``body:7.by.mark:7/12`` for a row that relies on it (here: the mark of body 7 in frame 12).

Two edits are in conflict where a name of one equals, or begins, a name of the other; so removing
body 7 is in conflict with any mark made on it, but renaming it is not.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import asdict, dataclass, field
from itertools import groupby
from typing import Any, Literal, Self, TypeVar

from peewee import ForeignKeyField, IntegrityError, ProgrammingError, Tuple

from footing.core.errors import Refused
from footing.store.tables import CONTENT, Table, table_name

Row = dict[str, Any]
SomeTable = TypeVar("SomeTable", bound=Table)

_AT_ONCE = 1000  # rows in a statement
_TABLES = {table_name(table): table for table in CONTENT}


class Outdated(Refused):
    """An edit from before an update of Footing, whose rows are kept in another way since."""

    def __init__(self) -> None:
        super().__init__(
            "This was done before an update of Footing and cannot be taken back or made again any "
            "more; change it by hand."
        )


@dataclass(frozen=True)
class RowChange:
    """One row before and after; None where it does not exist."""

    table: str
    before: Row | None
    after: Row | None

    def reversed(self) -> Self:
        """The change that takes this one back."""
        return type(self)(self.table, self.after, self.before)

    @property
    def kind(self) -> Literal["insert", "delete", "update"]:
        """What happens to the row."""
        if self.before is None:
            return "insert"
        return "delete" if self.after is None else "update"

    @property
    def touched(self) -> set[str]:
        """Names of what this change touches."""
        row = self.after or self.before or {}
        name = _row_name(self.table, row)
        if self.before is None or self.after is None:
            own = {name}
        else:
            own = {f"{name}.{key}" for key, value in row.items() if self.before[key] != value}
        return own | {f"{parent}.by.{name}" for parent in _parents(self.table, row)}

    def make(self) -> None:
        """Change the database."""
        table: Any = _TABLES[self.table]
        if self.before is None:
            table.insert(self.after).execute()
            return
        here = _condition(table, self.before)
        if self.after is None:
            table.delete().where(here).execute()
        else:
            table.update(self.after).where(here).execute()


@dataclass
class Changes:
    """Makes row changes and keeps them."""

    made: list[RowChange] = field(default_factory=list)

    def insert(self, table: type[SomeTable], **values: Any) -> SomeTable:
        """Insert a row and give it back with its key."""
        made_row: Any = table.create(**values)
        self.made.append(RowChange(table_name(table), None, dict(made_row.__data__)))
        return made_row

    def insert_many(self, table: type[Table], rows: Sequence[Row]) -> None:
        """Insert rows whose keys are known, in a few statements."""
        full = [dict(table(**values).__data__) for values in rows]
        _insert_rows(table, full)
        self.made += [RowChange(table_name(table), None, row) for row in full]

    def update(self, row: Table, **values: Any) -> None:
        """Change fields of a row; nothing happens where they have these values already."""
        data: Row = dict(row.__data__)
        after = data | values
        if after != data:
            self._make(RowChange(table_name(type(row)), data, after))
            row.__data__.update(values)

    def delete(self, row: Table) -> None:
        """Remove a row. What rests on it must have been removed before."""
        self._make(RowChange(table_name(type(row)), dict(row.__data__), None))

    def reverse(self, changes: Iterable[RowChange]) -> None:
        """Take back changes that were made in this order.

        Raises
        ------
        Outdated : if they are of rows as they are not kept any more.
        """
        try:
            self._reverse(changes)
        except (KeyError, AttributeError, IntegrityError, ProgrammingError) as error:
            raise Outdated from error

    def _reverse(self, changes: Iterable[RowChange]) -> None:
        backwards = (change.reversed() for change in reversed(list(changes)))
        for (name, kind), run in groupby(backwards, key=lambda change: (change.table, change.kind)):
            alike, table = list(run), _TABLES[name]
            if kind == "insert":
                _insert_rows(table, [change.after or {} for change in alike])
            elif kind == "delete":
                _delete_rows(table, [change.before or {} for change in alike])
            else:
                for change in alike:
                    change.make()
            self.made += alike

    @property
    def touched(self) -> set[str]:
        """Names of all that was touched."""
        return set().union(*(change.touched for change in self.made))

    @property
    def first_made(self) -> str | None:
        """Name of the first row that came into being, such as ``body:7``."""
        made = (
            change for change in self.made if change.before is None and change.after is not None
        )
        return next((_row_name(change.table, change.after or {}) for change in made), None)

    def _make(self, change: RowChange) -> None:
        change.make()
        self.made.append(change)


def as_json(changes: Sequence[RowChange]) -> list[dict[str, Any]]:
    """The changes as they are stored."""
    return [asdict(change) for change in changes]


def from_json(stored: Sequence[dict[str, Any]]) -> list[RowChange]:
    """The changes as they were stored."""
    return [RowChange(**change) for change in stored]


def in_conflict(these: Iterable[str], those: Iterable[str]) -> bool:
    """Whether two edits that touched these and those names touch the same thing."""
    ones, others = set(these), set(those)
    return any(part in others for one in ones for part in _beginnings(one)) or any(
        part in ones for other in others for part in _beginnings(other)
    )


def _beginnings(name: str) -> Iterator[str]:
    """A name and everything that begins it: ``body:7.by.mark:1/2``, ``body:7.by``, ``body:7``."""
    while name:
        yield name
        name = name.rpartition(".")[0]


def _key_fields(table: type[Table]) -> list[str]:
    meta: Any = table._meta
    return [one.name for one in meta.get_primary_keys()]


def _row_name(table: str, row: Row) -> str:
    key = "/".join(str(row[name]) for name in _key_fields(_TABLES[table]))
    return f"{table}:{key}"


def _parents(table: str, row: Row) -> list[str]:
    """Names of the content rows that this row refers to."""
    meta: Any = _TABLES[table]._meta
    return [
        f"{table_name(key.rel_model)}:{row[key.name]}"
        for key in meta.sorted_fields
        if isinstance(key, ForeignKeyField)
        and key.rel_model in CONTENT
        and row.get(key.name) is not None
    ]


def _condition(table: Any, row: Row) -> Any:
    first, *others = [getattr(table, name) == row[name] for name in _key_fields(table)]
    for other in others:
        first &= other
    return first


def _insert_rows(table: type[Table], rows: list[Row]) -> None:
    for chunk in _chunks(rows):
        table.insert_many(chunk).execute()


def _delete_rows(table: type[Table], rows: list[Row]) -> None:
    names = _key_fields(table)
    fields = [getattr(table, name) for name in names]
    for chunk in _chunks(rows):
        keys = [tuple(row[name] for name in names) for row in chunk]
        here = Tuple(*fields).in_(keys) if len(names) > 1 else fields[0].in_([k for (k,) in keys])
        table.delete().where(here).execute()


def _chunks(rows: list[Row]) -> Iterator[list[Row]]:
    for begin in range(0, len(rows), _AT_ONCE):
        yield rows[begin : begin + _AT_ONCE]
