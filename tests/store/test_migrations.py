import hashlib
from collections.abc import Iterator
from importlib import resources
from pathlib import Path

import psycopg
import pytest

from footing.core.errors import Refused
from footing.store import tables
from footing.store.database import bind, connected, database, unbind
from footing.store.migrations import apply_migrations, pending
from footing.studies.school.people import person
from tests.studies.steps import Tab

OLDER = Path(__file__).with_name("older")
MIGRATIONS = resources.files("footing.store.migrations")


def columns() -> set[tuple[str, str, bool]]:
    """Table, column and whether it may be empty, of all that is there."""
    rows = database.execute_sql(
        "SELECT table_name, column_name, is_nullable FROM information_schema.columns"
        " JOIN information_schema.tables USING (table_schema, table_name)"
        " WHERE table_schema = 'public' AND table_name <> 'migration'"
        " AND table_type = 'BASE TABLE'"
    ).fetchall()
    return {(table, column, nullable == "YES") for table, column, nullable in rows}


def declared() -> set[tuple[str, str, bool]]:
    return {
        (tables.table_name(table), field.column_name, field.null)
        for table in tables.ALL
        for field in table._meta.sorted_fields  # type: ignore[attr-defined]
    }


def test_migrations_are_applied_once(migrated: str) -> None:
    with connected():
        assert pending() == []
    assert apply_migrations() == []


def test_tables_of_the_database_are_those_of_the_code(migrated: str) -> None:
    with connected():
        assert columns() == declared()


def test_a_migration_that_has_landed_is_never_touched_again() -> None:
    lines = Path(__file__).with_name("migrations.sha256").read_text().splitlines()
    landed = dict(reversed(line.split()) for line in lines)
    present = {
        file.name: hashlib.sha256(file.read_bytes()).hexdigest()
        for file in MIGRATIONS.iterdir()
        if file.name.endswith(".sql")
    }
    assert present == landed  # a new one adds its line


@pytest.fixture
def older(migrated: str) -> Iterator[str]:
    """An empty database beside that of the tests, in use as long as the test runs."""
    place = migrated.rpartition("/")[0]
    with psycopg.connect(migrated, autocommit=True) as connection:
        connection.execute("DROP DATABASE IF EXISTS older")
        connection.execute("CREATE DATABASE older")
    unbind()
    bind(f"{place}/older")
    try:
        yield f"{place}/older"
    finally:
        unbind()
        bind(migrated)


def apply(url: str, names: list[str], *data: str) -> None:
    """Apply migrations as they were first, where that is kept, and put data in."""
    with psycopg.connect(url) as connection:
        connection.execute(
            "CREATE TABLE IF NOT EXISTS migration (name text PRIMARY KEY, applied_at timestamptz)"
        )
        for name in names:
            first = OLDER / name
            text = first.read_text() if first.exists() else (MIGRATIONS / name).read_text()
            connection.execute(text.encode())
            connection.execute("INSERT INTO migration (name) VALUES (%s)", (name,))
        for name in data:
            connection.execute((OLDER / name).read_bytes())


EARLY = ["0001_first_tables.sql", "0002_sources_and_ground.sql", "0003_mark_and_follow.sql"]


@pytest.mark.parametrize("count", [1, 2, 3, 4])
def test_databases_from_before_a_migration_was_changed_have_all_tables_now(
    count: int, older: str
) -> None:
    apply(older, [*EARLY, "0004_sheets.sql"][:count])
    apply_migrations()
    with connected():
        assert columns() == declared()


def test_a_study_from_then_opens_and_its_edits_are_taken_back_or_refused(older: str) -> None:
    apply(older, EARLY, "data_of_0003.sql")
    apply_migrations()
    with connected():
        study = tables.Study.get_by_id(1)
        tab = Tab(study, person("student", 1))
        assert [mark[0] for mark in tab.view()["bodies"][0]["marks"]] == [0, 1, 2]
        tab.does("undo")
        tab.does("undo")
        assert [mark[0] for mark in tab.view()["bodies"][0]["marks"]] == [0, 1, 3]
        with pytest.raises(Refused, match="before an update of Footing"):
            tab.does("undo")
        assert tab.view()["graphs"][0]["ys"] == ["x"]


def test_columns_of_bodies_become_rows_of_their_own_with_their_keys_and_history(older: str) -> None:
    later = sorted(file.name for file in MIGRATIONS.iterdir() if "0004" <= file.name < "0010")
    apply(older, EARLY, "data_of_0003.sql")
    apply(older, [name for name in later if name.endswith(".sql")], "data_of_0009.sql")
    apply_migrations()
    with connected():
        tab = Tab(tables.Study.get_by_id(1), person("student", 1))
        view = tab.view()
        (column,) = view["columns"]
        told = {key: column[key] for key in ("key", "name", "digits", "digits_as", "highlighted")}
        assert told == {
            "key": "c2",
            "name": "twice",
            "digits": 2,
            "digits_as": "significant",
            "highlighted": True,
        }
        assert view["graphs"][0]["ys"] == ["c2"]
        assert [source["name"] for source in view["sources"]] == ["sled.mp4", "weights"]
        assert view["findings"] == []
        tab.does("undo")
        assert [one["name"] for one in tab.view()["columns"]] == ["double"]
        tab.does("undo")
        assert [one["name"] for one in tab.view()["columns"]] == ["double", "gone"]
        tab.does("add_column", footage=1, name="new", formula="x")
        tab.does("add_column", sheet=2, name="newer")
        keys = {one["id"] for source in (None, "s2") for one in tab.view(source)["columns"]}
        assert keys == {1, 2, 3, 4, 5}
