"""A daily tidying removes what nothing can need any more, and not a byte else."""

import os
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from footing.settings import Settings
from footing.store.database import database
from footing.store.media import media_path
from footing.store.tables import Cells, FailedSignIn, Footage, Media, PhoneLink, SignIn, Upload
from footing.studies.school.people import sign_in
from footing.studies.school.tidying import tidy
from tests.conftest import World
from tests.studies.conftest import Measured, typed_sheet
from tests.studies.steps import Tab, all_rows


def grow_old(settings: Settings) -> None:
    """Let two days pass."""
    database.execute_sql("UPDATE cells SET made_at = now() - interval '2 days'")
    ago = time.time() - 2 * 86_400
    for file in settings.data.rglob("*"):
        if file.is_file():
            os.utime(file, (ago, ago))


@pytest.fixture
def tab(world: World) -> Tab:
    return Tab(world.study, world.heron)


def test_what_is_in_use_stays_whatever_its_age(measured: Measured, settings: Settings) -> None:
    unused = Footage.select(Footage.media)
    Media.delete().where(Media.content.not_in(unused)).execute()
    before = all_rows(measured.tab.study_id)
    kept = {row.key for row in Cells.select()}
    files = {row.content for row in Media.select()}
    grow_old(settings)
    tidy(settings)
    assert all_rows(measured.tab.study_id) == before
    view = measured.tab.view(f"s{measured.sheet}")  # type: ignore[arg-type]
    assert view["sheet"]["rows"] == 5
    assert {row.content for row in Media.select()} == files
    assert all(media_path(settings.media_folder, one).exists() for one in files)
    assert {row.key for row in Cells.select()} <= kept


def test_what_undo_and_redo_can_bring_back_stays_until_they_cannot(
    tab: Tab, plain_film: Path, settings: Settings
) -> None:
    footage = tab.uploads(plain_film, settings)
    content = Media.get().content
    sheet, column, _, _ = typed_sheet(tab)
    tab.does("remove_sheet", sheet=sheet)
    tab.does("remove_footage", footage=footage)
    grow_old(settings)
    assert tidy(settings).media == 0
    tab.does("undo")
    tab.does("undo")
    assert tab.view()["footage"]["id"] == footage
    assert Cells.select().count() > 0
    while tab.view()["undo"]:  # down to the footage itself
        tab.does("undo")
    assert tab.view()["footage"] is None
    grow_old(settings)
    tidy(settings)
    assert Media.select().count() == 1  # redo may want it
    tab.does("set_unit", length="cm")  # and from now on it may not
    grow_old(settings)
    done = tidy(settings)
    assert (done.media, done.cells > 0) == (1, True)
    assert done.bytes_freed > 1000
    assert Media.select().count() == Cells.select().count() == 0
    assert not media_path(settings.media_folder, content).exists()
    assert column


def test_sessions_links_uploads_and_half_files_go_when_they_are_over(
    world: World, settings: Settings
) -> None:
    long_ago = datetime.now(UTC) - timedelta(days=40)
    sign_in(world.heron, days=1)
    sign_in(world.heron, days=-1)
    FailedSignIn.create(name="x", address="y", at=long_ago)
    PhoneLink.create(study=world.study, student=world.heron.id, expires=long_ago)
    who = {"study": world.study, "student": world.heron.id, "name": "a.mp4", "size": 9}
    for key, state in (("old", "used"), ("on-its-way", "arriving")):
        Upload.create(id=key, state=state, started_at=long_ago, **who)
    for place in (
        "media/arriving/on-its-way",
        "media/arriving/unknown",
        "frames/ab/c/1.123",
        "made/1",
    ):
        file = settings.data / place
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_bytes(b"half")
    fresh = settings.data / "media/arriving/just-begun"
    grow_old(settings)
    fresh.write_bytes(b"half")
    done = tidy(settings)
    assert (done.uploads, done.links, done.sign_ins, done.files) == (1, 1, 2, 3)
    assert SignIn.select().count() == 1
    assert [row.id for row in Upload.select()] == ["on-its-way"]
    left = {file.name for file in settings.data.rglob("*") if file.is_file()}
    assert left == {"on-its-way", "just-begun"}
