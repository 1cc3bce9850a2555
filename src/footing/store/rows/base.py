"""What all rows have in common."""

from dataclasses import dataclass
from operator import attrgetter
from typing import ClassVar

Key = int | str | tuple[int, int]
NEW = 0  # the key of a row that is not stored yet; the database counts them


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """One row of a table; its fields are named as the columns are.

    KEY : the fields that tell it apart from others of its table
    """

    KEY: ClassVar[tuple[str, ...]] = ("id",)


def key_of_row(row: Row) -> Key:
    """The key of a row: of one field its value, of two a pair."""
    key: Key = attrgetter(*row.KEY)(row)
    return key
