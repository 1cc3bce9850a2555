"""What takes long to make is made once by each process of the tests, and then brought back.

It is brought back as it was made through the one door: all rows, with their keys and edits, and all
files.
"""

import shutil
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, TypeVar
from uuid import uuid4

from footing.store.database import database
from footing.store.reading import forget
from footing.store.sql import asked
from footing.studies.views import states
from tests.studies.steps import Tab

Made = TypeVar("Made")
_Keys = dict[str, int]

_TABLES = """
    SELECT format('%%I.%%I', schemaname, tablename) FROM pg_tables
    WHERE schemaname = 'public' AND tablename <> 'migration'
    OR schemaname = 'jobs' AND tablename <> 'procrastinate_workers'
"""
_LAST_KEYS = """
    SELECT format('%%I.%%I', schemaname, sequencename), last_value FROM pg_sequences
    WHERE schemaname = 'public' AND last_value IS NOT NULL
"""


@dataclass(frozen=True)
class _Moment:
    """What there was before something was made, and what it changed.

    rows : of each table that it changed, as PostgreSQL copies them out
    made : what the maker gave; seq : the latest edit that its tab has seen
    """

    keys_before: _Keys
    keys: _Keys
    rows: dict[str, bytes]
    files: Path
    made: Any
    seq: int


@dataclass(frozen=True)
class Moments:
    """What was made so far, by its name; ``folder`` has the files."""

    folder: Path
    by_name: dict[str, _Moment] = field(default_factory=dict)


@dataclass(frozen=True)
class Once:
    """Makes things in the database and in a test's own folder, each of them once for all tests."""

    moments: Moments
    data: Path

    def __call__(self, name: str, tab: Tab, make: Callable[[], Made]) -> Made:
        """What ``make`` gives, with all that the tab has done there.

        Brought back if it was made before on the same ground: another gives other keys.
        """
        keys_before = _last_keys()
        moment = self.moments.by_name.get(name)
        if moment is None or moment.keys_before != keys_before:
            before = _all_rows()
            made = make()
            rows = {table: rows for table, rows in _all_rows().items() if rows != before.get(table)}
            files = self.moments.folder / uuid4().hex
            shutil.copytree(self.data, files)
            moment = _Moment(keys_before, _last_keys(), rows, files, made, tab.seq)
            self.moments.by_name[name] = moment
            return made
        _bring_back(moment)
        shutil.copytree(moment.files, self.data, dirs_exist_ok=True)
        tab.seq = moment.seq
        made_before: Made = moment.made
        return made_before


def _last_keys() -> _Keys:
    return dict(asked(_LAST_KEYS))


def _all_rows() -> dict[str, bytes]:
    rows = {}
    with database.cursor() as cursor:
        for (table,) in asked(_TABLES):
            with cursor.copy(f"COPY {table} TO STDOUT (FORMAT BINARY)") as copy:
                rows[table] = b"".join(copy)
    return rows


def _bring_back(moment: _Moment) -> None:
    emptied = "; ".join(f"DELETE FROM {table}" for table in moment.rows)
    with database.atomic(), database.cursor() as cursor:
        # no foreign key is looked at, so that the order does not matter
        cursor.execute(f"SET LOCAL session_replication_role = replica; {emptied}")
        for table, rows in moment.rows.items():
            with cursor.copy(f"COPY {table} FROM STDIN (FORMAT BINARY)") as copy:
                copy.write(rows)
        cursor.execute(
            "SELECT setval(key::regclass, last) FROM unnest(%s::text[], %s::bigint[]) k(key, last)",
            (list(moment.keys), list(moment.keys.values())),
        )
    # a test before may have changed rows by something that is no edit, which tokens do not tell
    forget()
    states._kept.clear()
