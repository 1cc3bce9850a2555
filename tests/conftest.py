"""Small named worlds: a real PostgreSQL, real video files, a class with two groups."""

import logging
import shutil
import tempfile
import threading
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from uuid import uuid4

import hypothesis
import pytest
from fastapi import FastAPI

from footing.jobs.queue import work
from footing.settings import Settings
from footing.store import tables
from footing.store.cluster import Cluster
from footing.store.database import bind, bound_url, connected, database, unbind
from footing.store.migrations import apply_migrations
from footing.studies.school.people import Person, person
from footing.web.app import create_app
from footing.web.workshop import Workshop
from tests.films import numbered_film
from tests.moments import Moments, Once

# a machine may be busy; and the same examples each time: chance does not decide what is green
hypothesis.settings.register_profile("footing", deadline=None, derandomize=True)
hypothesis.settings.load_profile("footing")


# what their tests share takes long: a site that begins, films that are painted and followed
_SHARING = {"test_site.py", "test_course.py"}


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Tests that share something which takes long come first.

    The last ones go to whatever process has nothing left to do, and each would make its own.
    """
    items.sort(key=lambda item: item.path.name not in _SHARING)


@pytest.fixture
def folder() -> Iterator[Path]:
    """A folder that the unprivileged user of a database can reach."""
    made = Path(tempfile.mkdtemp(prefix="footing-test-"))
    made.chmod(0o755)
    yield made
    shutil.rmtree(made)


@pytest.fixture(scope="session")
def database_url() -> Iterator[str]:
    """A PostgreSQL of the tests' own."""
    folder = Path(tempfile.mkdtemp(prefix="footing-test-"))
    folder.chmod(0o755)  # the unprivileged user must be able to reach its cluster in here
    try:
        with Cluster(folder / "postgres", durable=False) as url:
            yield url
    finally:
        shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def migrated(database_url: str) -> Iterator[str]:
    """The database with all tables."""
    bind(database_url)
    apply_migrations()
    yield database_url
    unbind()


@pytest.fixture(scope="session")
def workshop(migrated: str) -> Iterator[Workshop]:
    """One for all applications: its process takes seconds to begin."""
    made = Workshop(bind, migrated)
    yield made
    made.close()


@pytest.fixture(scope="session")
def _application(workshop: Workshop) -> FastAPI:
    return create_app(Settings(demo=True), workshop=workshop)


@pytest.fixture
def application(_application: FastAPI, settings: Settings) -> FastAPI:
    """The application, with settings of the test's own; what its routes take is looked up once."""
    _application.state.settings = settings
    return _application


@pytest.fixture
def empty_database(migrated: str) -> Iterator[str]:
    """All tables, no rows, keys from 1 on, a connection held."""
    with connected():
        database.execute_sql(_EMPTIED)
        yield migrated


# Far quicker than TRUNCATE, which makes a new file for each table and each index. No foreign key is
# looked at, so that the order does not matter.
_EMPTIED = """
    DO $$
    DECLARE
        place record;
    BEGIN
        SET LOCAL session_replication_role = replica;
        FOR place IN
            SELECT format('%%I.%%I', schemaname, tablename) AS name FROM pg_tables
            WHERE schemaname = 'public' AND tablename <> 'migration'
            OR schemaname = 'jobs' AND tablename <> 'procrastinate_workers'
        LOOP
            EXECUTE 'DELETE FROM ' || place.name;
        END LOOP;
        PERFORM setval(format('%%I.%%I', schemaname, sequencename)::regclass, 1, false)
        FROM pg_sequences WHERE schemaname = 'public' AND last_value IS NOT NULL;
    END $$
"""


@pytest.fixture
def statements() -> Iterator[list[str]]:
    """The statements that are sent to the database from now on."""
    sent: list[str] = []

    class Sent(logging.Handler):
        def emit(self, record: logging.LogRecord) -> None:
            sent.append(str(record.msg))

    log, handler = logging.getLogger("peewee"), Sent(logging.DEBUG)
    level = log.level
    log.addHandler(handler)
    log.setLevel(logging.DEBUG)
    yield sent
    log.removeHandler(handler)
    log.setLevel(level)


@dataclass(frozen=True)
class World:
    """A class with two groups, a stranger's class, and an empty study of group Heron."""

    teacher: Person
    stranger: Person
    heron: Person
    wren: Person
    school_class: Any
    lab: Any
    study: Any


@pytest.fixture
def world(empty_database: str) -> World:
    tarnwick = tables.Teacher.create(name="Ms Tarnwick")
    other = tables.Teacher.create(name="Mr Oddfell")
    school_class = tables.SchoolClass.create(teacher=tarnwick, name="9K Physics", code="LARK-9K")
    tables.SchoolClass.create(teacher=other, name="8B Physics", code="LARK-8B")
    groups = [tables.Group.create(school_class=school_class, name=n) for n in ("Heron", "Wren")]
    ottilie, saoirse = (
        tables.Student.create(school_class=school_class, group=group, name=name)
        for group, name in zip(groups, ("Ottilie", "Saoirse"), strict=True)
    )
    lab = tables.Lab.create(school_class=school_class, title="Sled run", task="Find a.")
    study = tables.Study.create(
        school_class=school_class, lab=lab, group=groups[0], title="Sled run"
    )
    return World(
        person("teacher", tarnwick.id),
        person("teacher", other.id),
        person("student", ottilie.id),
        person("student", saoirse.id),
        school_class,
        lab,
        study,
    )


@pytest.fixture
def settings(tmp_path: Path) -> Settings:
    """Settings with a data folder of the test's own."""
    return Settings(data=tmp_path / "data", demo=True)


@pytest.fixture(scope="session")
def moments(tmp_path_factory: pytest.TempPathFactory) -> Moments:
    return Moments(tmp_path_factory.mktemp("moments"))


@pytest.fixture
def once(moments: Moments, settings: Settings) -> Once:
    """Makes what takes long once for all tests, and brings it back."""
    return Once(moments, settings.data)


@pytest.fixture(scope="session")
def films(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Folder of made films that tests only read."""
    return tmp_path_factory.mktemp("films")


@pytest.fixture(scope="session")
def plain_film(films: Path) -> Path:
    """40 numbered frames of 320 × 180 at 25 frames/s, a key frame every 12."""
    return numbered_film(films / "plain.mp4", frames=40, rate=25, keys_every=12)


def do_the_work(settings: Settings) -> None:
    """Do what is in the queue, away from the event loop that a browser's driver has here."""
    worker = threading.Thread(target=work, args=(bound_url(), settings), kwargs={"wait": False})
    worker.start()
    worker.join()


@pytest.fixture
def token() -> str:
    return uuid4().hex
