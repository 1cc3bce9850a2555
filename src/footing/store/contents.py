"""What is known about uploaded files, by their content."""

from collections.abc import Iterable, Mapping
from typing import Any

from pydantic import JsonValue

from footing.core.errors import Refused
from footing.store import tables
from footing.store.rows import Surveyed
from footing.store.sql import asked


def stored_index(content: str) -> Mapping[str, JsonValue]:
    """The index of a file as it was stored.

    Raises
    ------
    Refused : if there is no such file.
    """
    row: Any = tables.Media.select(tables.Media.index).where(_of(content)).first()
    if row is None:
        raise Refused("The file is not there; upload it again.")
    index: Mapping[str, JsonValue] = row.index
    return index


def survey_of(content: str) -> Surveyed | None:
    """What looking through a file found, or None while nobody has."""
    found = asked("SELECT survey FROM media WHERE content = %(content)s", content=content)
    return found[0][0] if found else None


def surveyed_among(contents: Iterable[str]) -> frozenset[str]:
    """Which of these files have been looked through."""
    statement = "SELECT content FROM media WHERE content = ANY(%(contents)s) AND survey IS NOT NULL"
    return frozenset(content for (content,) in asked(statement, contents=list(contents)))


def is_stored(content: str) -> bool:
    """Whether there is such a file."""
    return bool(tables.Media.select().where(_of(content)).exists())


def _of(content: str) -> Any:
    return tables.Media.content == content
