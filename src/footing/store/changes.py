"""Row changes with their inverse.

Every edit changes rows through a `Changes`, which notes what each row was before and is after. The
notes are enough to take the edit back or to make it again, and they name what it touched.

- ``body:7`` for a row that came or went,
- ``body:7.name`` for one field of it,
- ``body:7.by.mark:7/12`` for a row that relies on it (here: the mark of body 7 in frame 12).

Two edits are in conflict where a name of one equals, or begins, a name of the other; so removing
body 7 is in conflict with any mark made on it, but renaming it is not.
"""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import groupby
from typing import Any, Literal, Self, TypeVar

from peewee import IntegrityError, ProgrammingError, Tuple
from pydantic import JsonValue

from footing.core.errors import Refused
from footing.store.mapping import (
    KINDS,
    for_insertion,
    kind_named,
    names_in_history,
    references,
    table_name,
    values,
)
from footing.store.rows import NEW, Key, Row, key_of_row
from footing.store.snapshot import Draft

StoredRow = Mapping[str, JsonValue]  # by the names of the history
SomeRow = TypeVar("SomeRow", bound=Row)
_Operation = Literal["insert", "delete", "update"]

_AT_ONCE = 1000  # rows in a statement


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
    before: StoredRow | None
    after: StoredRow | None

    def reversed(self) -> Self:
        """The change that takes this one back."""
        return type(self)(self.table, self.after, self.before)

    @property
    def operation(self) -> _Operation:
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


class Changes:
    """Makes row changes and keeps them.

    They are made in ``rows`` at once, where whoever works on looks, and in the database when they
    are written, many in a statement.
    """

    def __init__(self, rows: Draft) -> None:
        self.made: list[RowChange] = []
        self._rows = rows
        self._waiting: list[tuple[_Operation, Row]] = []

    def insert(self, row: SomeRow) -> SomeRow:
        """Add a row; give it back with its key, which the database counts where it has none."""
        if key_of_row(row) == NEW:
            self.write()
            table: Any = KINDS[type(row)]
            key = table.insert(**for_insertion(row, without=("id",))).execute()
            row = replace(row, id=key)  # type: ignore[call-arg]
        else:
            self._waiting.append(("insert", row))
        self._rows.put(row)
        self.made.append(RowChange(table_name(type(row)), None, as_stored(row)))
        return row

    def update(self, row: SomeRow) -> SomeRow:
        """Put a row in the place of the one with its key; nothing happens where it is the same."""
        before = self._rows.get(type(row), key_of_row(row))
        assert before is not None
        if row != before:
            self._waiting.append(("update", row))
            self._rows.put(row)
            change = RowChange(table_name(type(row)), as_stored(before), as_stored(row))
            self.made.append(change)
        return row

    def delete(self, row: Row) -> None:
        """Remove a row. What rests on it must have been removed before."""
        row = self._rows.get(type(row), key_of_row(row)) or row
        self._waiting.append(("delete", row))
        self._rows.drop(row)
        self.made.append(RowChange(table_name(type(row)), as_stored(row), None))

    def reverse(self, changes: Iterable[RowChange]) -> None:
        """Take back changes that were made in this order.

        Raises
        ------
        Outdated : if they are of rows as they are not kept any more.
        """
        backwards = [change.reversed() for change in reversed(list(changes))]
        try:
            self._waiting += apply_changes(self._rows, backwards)
            self.write()
        except (KeyError, TypeError, IntegrityError, ProgrammingError) as error:
            raise Outdated from error
        self.made += backwards

    def write(self) -> None:
        """Bring the database to where the rows are."""
        waiting, self._waiting = self._waiting, []
        for (operation, kind), run in groupby(waiting, key=lambda one: (one[0], type(one[1]))):
            alike = [row for _, row in run]
            {"insert": _insert, "update": _update, "delete": _delete}[operation](kind, alike)

    @property
    def touched(self) -> set[str]:
        """Names of all that was touched."""
        return set().union(*(change.touched for change in self.made))

    @property
    def first_made(self) -> str | None:
        """Name of the first row that came into being, such as ``body:7``."""
        made = (change for change in self.made if change.operation == "insert")
        return next((_row_name(change.table, change.after or {}) for change in made), None)


def apply_changes(rows: Draft, changes: Iterable[RowChange]) -> list[tuple[_Operation, Row]]:
    """Make changes in memory, in this order; give what must be done in the database for them.

    Raises
    ------
    KeyError, TypeError : if they are of rows as they are not kept any more.
    """
    done: list[tuple[_Operation, Row]] = []
    for change in changes:
        kind = kind_named(change.table)
        stored = change.after if change.after is not None else change.before
        assert stored is not None
        if change.operation == "insert":
            row = kind(**_fields(kind, stored))
        else:
            present = rows.get(kind, _key(kind, stored))
            if present is None:
                raise KeyError(change.table)
            row = present
            if change.operation == "update":
                row = replace(present, **_fields(kind, stored))
        rows.drop(row) if change.operation == "delete" else rows.put(row)
        done.append((change.operation, row))
    return done


def as_stored(row: Row) -> StoredRow:
    """A row as the history keeps it."""
    names = names_in_history(type(row))
    return {names[field]: value for field, value in values(row).items()}


def as_json(changes: Sequence[RowChange]) -> list[dict[str, Any]]:
    """The changes as they are stored."""
    return [
        {"table": change.table, "before": change.before, "after": change.after}
        for change in changes
    ]


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


def _fields(kind: type[Row], stored: StoredRow) -> dict[str, Any]:
    """The fields of a row that the history holds; KeyError for one that rows have no more."""
    of_name = {name: field for field, name in names_in_history(kind).items()}
    return {of_name[name]: value for name, value in stored.items()}


def _key(kind: type[Row], stored: StoredRow) -> Key:
    names = names_in_history(kind)
    parts: list[Any] = [stored[names[field]] for field in kind.KEY]
    return parts[0] if len(parts) == 1 else (parts[0], parts[1])


def _row_name(table: str, stored: StoredRow) -> str:
    kind = kind_named(table)
    names = names_in_history(kind)
    return f"{table}:" + "/".join(str(stored[names[field]]) for field in kind.KEY)


def _parents(table: str, stored: StoredRow) -> list[str]:
    """Names of the content rows that this row refers to."""
    kind = kind_named(table)
    names = names_in_history(kind)
    return [
        f"{table_name(other)}:{stored[names[field]]}"
        for field, other in references(kind).items()
        if stored.get(names[field]) is not None
    ]


def _key_columns(kind: type[Row]) -> list[Any]:
    table, names = KINDS[kind], names_in_history(kind)
    return [getattr(table, names[field]) for field in kind.KEY]


def _insert(kind: type[Row], rows: list[Row]) -> None:
    table: Any = KINDS[kind]
    for chunk in _chunks(rows):
        table.insert_many([for_insertion(row) for row in chunk]).execute()


def _update(kind: type[Row], rows: list[Row]) -> None:
    table: Any = KINDS[kind]
    latest = {key_of_row(row): row for row in rows}
    others = [
        getattr(table, name)
        for field, name in names_in_history(kind).items()
        if field not in kind.KEY
    ]
    for chunk in _chunks(list(latest.values())):
        query = table.insert_many([for_insertion(row) for row in chunk])
        query.on_conflict(conflict_target=_key_columns(kind), preserve=others).execute()


def _delete(kind: type[Row], rows: list[Row]) -> None:
    table: Any = KINDS[kind]
    columns = _key_columns(kind)
    for chunk in _chunks(rows):
        keys = [key_of_row(row) for row in chunk]
        here = Tuple(*columns).in_(keys) if len(columns) > 1 else columns[0].in_(keys)
        table.delete().where(here).execute()


def _chunks(rows: list[Row]) -> Iterator[list[Row]]:
    for begin in range(0, len(rows), _AT_ONCE):
        yield rows[begin : begin + _AT_ONCE]
