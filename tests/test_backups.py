"""Backups of a school: made and put in again, on full disks too; nothing is lost on the way."""

import io
import json
import os
import resource
import subprocess
import sys
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit, urlunsplit
from uuid import uuid4

import psycopg
import pytest

from footing.settings import Settings
from footing.store import tables
from footing.store.media import media_path
from footing.store.reading import read_study
from footing.studies.report.report import report_of
from footing.studies.review.handing_in import hand_in
from footing.studies.review.numbers import numbers_of
from tests.studies.conftest import (  # noqa: F401
    Measured,
    footage,
    measured,
    other_films,
    tab,
)

PROJECT = Path(__file__).parents[1]
SMALL = 150_000  # bytes that a file may have on the full disk
NUMBERS = """
import json, sys
from footing.store.access import class_study
from footing.store.database import bind, connected
from footing.studies.review.numbers import numbers_of
from footing.studies.school.people import Person
bind(sys.argv[1])
with connected():
    print(json.dumps(numbers_of(class_study(int(sys.argv[2])), Person("student", 1, "Ottilie"))))
"""
Done = subprocess.CompletedProcess[str]


def footing(school: Settings, *arguments: str | Path, room: int | None = None) -> Done:
    """A command on a school; ``room`` is how many bytes a file may have, as on a full disk."""

    def limit() -> None:
        if room is not None:
            resource.setrlimit(resource.RLIMIT_FSIZE, (room, room))

    return subprocess.run(
        [sys.executable, "-m", "footing", *map(str, arguments)],
        capture_output=True,
        text=True,
        check=False,
        preexec_fn=limit,
        env={
            **os.environ,
            "PYTHONPATH": str(PROJECT / "src"),
            "PYTHONDONTWRITEBYTECODE": "1",
            "FOOTING_DATA": str(school.data),
            "FOOTING_DATABASE_URL": str(school.database_url),
        },
    )


def refused(school: Settings, *arguments: str | Path, room: int | None = None) -> str:
    """The one line of a command that is refused."""
    done = footing(school, *arguments, room=room)
    assert done.returncode == 2, done
    (line,) = done.stderr.strip().splitlines()
    return line


@pytest.fixture
def school(
    measured: Measured,  # noqa: F811
    settings: Settings,
    migrated: str,
) -> Settings:
    """A school with a study, films and a hand-in."""
    tab = measured.tab  # noqa: F811
    hand_in(tab.study, tab.person, report_of(tab.study, tab.person), [])
    return settings.model_copy(update={"database_url": migrated})


@pytest.fixture
def backup(school: Settings, tmp_path: Path) -> Path:
    file = tmp_path / "school.backup"
    done = footing(school, "backup", file)
    assert done.returncode == 0, done.stderr
    assert f"{tables.Media.select().count()} films and pictures" in done.stdout
    return file


@pytest.fixture
def elsewhere(school: Settings, tmp_path: Path) -> Iterator[Settings]:
    """Another Footing, with an empty database beside the tests' own."""
    url, name = str(school.database_url), f"other_{uuid4().hex[:8]}"
    with psycopg.connect(url, autocommit=True) as connection:
        connection.execute(f"CREATE DATABASE {name}")
    other = urlunsplit(urlsplit(url)._replace(path=f"/{name}"))
    data = tmp_path / "elsewhere"
    data.mkdir()
    yield school.model_copy(update={"database_url": other, "data": data})
    with psycopg.connect(url, autocommit=True) as connection:
        connection.execute(f"DROP DATABASE {name} WITH (FORCE)")


def counted(school: Settings) -> dict[str, int]:
    with psycopg.connect(str(school.database_url)) as connection:
        found = {}
        for table in tables.ALL:
            name = tables.table_name(table)
            row = connection.execute(f"SELECT count(*) FROM {name}").fetchone()
            found[name] = row[0] if row else 0
        return found


def films_of(school: Settings) -> list[Path]:
    return [path for path in school.media_folder.rglob("*") if path.is_file()]


def test_a_school_is_elsewhere_as_it_was(
    measured: Measured,  # noqa: F811
    backup: Path,
    school: Settings,
    elsewhere: Settings,
) -> None:
    tab = measured.tab  # noqa: F811
    done = footing(elsewhere, "restore", backup)
    assert "as it was on" in done.stdout, done.stderr
    assert counted(elsewhere) == counted(school)
    script = [sys.executable, "-c", NUMBERS, str(elsewhere.database_url), str(tab.study_id)]
    environment = {**os.environ, "PYTHONPATH": str(PROJECT / "src")}
    numbers = subprocess.run(script, capture_output=True, check=True, env=environment).stdout
    assert json.loads(numbers) == numbers_of(tab.study, tab.person)
    for one in read_study(tab.study_id).footages:
        copied = media_path(elsewhere.media_folder, one.content)
        assert copied.read_bytes() == media_path(school.media_folder, one.content).read_bytes()
    with psycopg.connect(str(elsewhere.database_url)) as connection:
        add = "INSERT INTO student (school_class_id, name) VALUES (1, 'New') RETURNING id"
        row = connection.execute(add).fetchone()  # the database goes on counting where it was
    assert row is not None
    assert row[0] > counted(school)["student"]


def test_what_is_there_goes_only_if_that_is_said(backup: Path, school: Settings) -> None:
    tables.Student.create(school_class=1, name="Later")
    before = counted(school)
    assert "--replace" in refused(school, "restore", backup)
    assert counted(school) == before
    assert footing(school, "restore", backup, "--replace").returncode == 0
    assert counted(school) == before | {"student": before["student"] - 1}


def test_an_older_backup_takes_the_place_of_all_that_is_there(
    backup: Path, elsewhere: Settings, tmp_path: Path
) -> None:
    """Also of tables that it does not know, and that rest on those that it brings."""
    assert footing(elsewhere, "restore", backup).returncode == 0
    with psycopg.connect(str(elsewhere.database_url)) as connection:
        connection.execute("CREATE TABLE later (study_id integer REFERENCES study)")
        connection.execute("INSERT INTO later SELECT id FROM study")
    assert footing(elsewhere, "restore", backup, "--replace").returncode == 0
    with psycopg.connect(str(elsewhere.database_url)) as connection:
        assert connection.execute("SELECT to_regclass('later')").fetchone() == (None,)


def changed(backup: Path, change: Callable[[dict[str, Any]], object], **entries: bytes) -> Path:
    made = backup.with_name("changed.backup")
    with zipfile.ZipFile(backup) as old, zipfile.ZipFile(made, "w") as new:
        for name in old.namelist():
            entry = entries.get(name.partition(".")[0], old.read(name))
            if name == "backup.json":
                plain = json.loads(entry)
                change(plain)
                entry = json.dumps(plain).encode()
            new.writestr(name, entry)
    return made


NEWER: dict[str, Callable[[dict[str, Any]], object]] = {
    "a later format": lambda said: said.update(format=2, more="x"),
    "a later migration": lambda said: said.update(migration="9999_far.sql", made_by="7.0"),
}


@pytest.mark.parametrize("how", NEWER)
def test_a_backup_of_a_newer_footing_is_refused(how: str, backup: Path, school: Settings) -> None:
    before = counted(school)
    made = changed(backup, NEWER[how])
    assert "newer Footing" in refused(school, "restore", made, "--replace")
    assert counted(school) == before


@pytest.mark.parametrize("content", [b"", b"PK\x03\x04", b"no zip at all"])
def test_what_is_no_backup_is_refused(content: bytes, school: Settings, tmp_path: Path) -> None:
    file = tmp_path / "wrong"
    file.write_bytes(content)
    assert "no backup" in refused(school, "restore", file, "--replace")
    assert "There is no file" in refused(school, "restore", tmp_path / "nowhere")


def test_a_damaged_database_changes_nothing(backup: Path, school: Settings) -> None:
    before = counted(school)
    with zipfile.ZipFile(backup) as archive:
        whole = archive.read("database.dump")
    for wrong in (whole[: len(whole) // 2], whole[:-40], b"PGDMP nonsense"):
        made = changed(backup, lambda _: None, database=wrong)
        assert refused(school, "restore", made, "--replace")
        assert counted(school) == before


def test_a_wrong_film_changes_nothing(backup: Path, elsewhere: Settings, tmp_path: Path) -> None:
    made = tmp_path / "swapped.backup"
    with zipfile.ZipFile(backup) as old, zipfile.ZipFile(made, "w") as new:
        films = [name for name in old.namelist() if name.startswith("media/")]
        for name in old.namelist():
            new.writestr(name, old.read(films[-1] if name == films[0] else name))
    assert "not the one" in refused(elsewhere, "restore", made)
    assert films_of(elsewhere) == []


def test_on_a_full_disk_nothing_half_made_is_left(
    backup: Path, school: Settings, elsewhere: Settings, tmp_path: Path
) -> None:
    assert backup.stat().st_size > SMALL
    said = refused(school, "backup", tmp_path / "full.backup", room=SMALL)
    assert "could not be written" in said
    assert not [path for path in tmp_path.iterdir() if path.name.startswith("full")]
    assert "could not be written" in refused(elsewhere, "restore", backup, room=SMALL)
    assert films_of(elsewhere) == []
    assert counted(elsewhere)["teacher"] == 0


def test_a_backup_takes_the_place_of_no_other_file(backup: Path, school: Settings) -> None:
    before = backup.read_bytes()
    assert "already" in refused(school, "backup", backup)
    assert backup.read_bytes() == before
    assert zipfile.ZipFile(io.BytesIO(before)).testzip() is None
