"""Background work on the real queue."""

import json
import threading
from pathlib import Path
from typing import Any

import numpy as np
import psycopg
import pytest

from footing.demo.filming import write_video
from footing.jobs.queue import open_queue
from footing.settings import Settings
from footing.store.database import bound_url
from footing.store.notices import Listener, notify
from footing.store.tables import Media
from tests.conftest import World, do_the_work
from tests.studies.steps import Tab


@pytest.fixture
def tab(world: World) -> Tab:
    return Tab(world.study, world.heron)


def waiting() -> int:
    with psycopg.connect(bound_url()) as connection:
        row = connection.execute("SELECT count(*) FROM jobs.procrastinate_jobs").fetchone()
    assert row is not None
    return int(row[0])


def test_a_file_is_looked_through(tab: Tab, plain_film: Path, settings: Settings) -> None:
    tab.uploads(plain_film, settings)
    content = tab.view()["footage"]["content"]
    assert not tab.view()["footage"]["surveyed"]
    with open_queue(bound_url()) as queue:
        queue.ask("look_through", once=content, content=content)
        queue.ask("look_through", once=content, content=content)
    assert waiting() == 1
    do_the_work(settings)
    assert waiting() == 0
    footage = tab.view()["footage"]
    assert footage["surveyed"]
    assert footage["damaged"] == []
    assert ["damaged", "none"] in footage["facts"]


def test_a_file_that_takes_too_long_says_so(tab: Tab, plain_film: Path, settings: Settings) -> None:
    tab.uploads(plain_film, settings)
    content = tab.view()["footage"]["content"]
    with open_queue(bound_url()) as queue:
        queue.ask("look_through", content=content)
    do_the_work(settings.model_copy(update={"survey_seconds": 0.0}))
    assert Media.get_by_id(content).survey["problem"]
    assert "too long" in tab.view()["footage"]["notes"][-1]


def shaken_film(path: Path) -> np.ndarray:
    """A textured wall filmed by an unsteady hand; gives how it moved, in pixels."""
    rng = np.random.default_rng(6)
    wall = rng.integers(40, 220, size=(60, 100, 3)).repeat(6, axis=0).repeat(6, axis=1)
    shake = np.round(np.cumsum(rng.normal(0, 2.0, size=(20, 2)), axis=0)).astype(int)
    shake -= shake[0]
    pictures = [wall[40 - dy : 260 - dy, 60 - dx : 460 - dx].astype(np.uint8) for dx, dy in shake]
    write_video(path, iter(pictures), rate=25, encoder={"crf": "14", "g": "10"})
    return shake


def test_a_background_spot_is_followed(tab: Tab, tmp_path: Path, settings: Settings) -> None:
    shake = shaken_film(tmp_path / "shaken.mp4")
    footage = tab.uploads(tmp_path / "shaken.mp4", settings)
    spot = tab.makes("add_body", footage=footage, name="gatepost", background=True)
    tab.does("place_mark", body=spot, frame=8, x=200.5, y=110.0)
    with open_queue(bound_url()) as queue:
        queue.ask("follow_background", body=spot, role="student", person=tab.person.id)
    do_the_work(settings)
    marks = {frame: (x, y) for frame, x, y in tab.view()["bodies"][0]["marks"]}
    assert sorted(marks) == list(range(20))
    moved = np.array([marks[k] for k in range(20)]) - [200.5, 110.0]
    assert moved == pytest.approx(shake - shake[8], abs=0.3)
    assert tab.view()["undo"] == "19 marks"


def test_notices_reach_a_listener_when_the_edit_is_committed(
    tab: Tab, plain_film: Path, settings: Settings
) -> None:
    heard: list[dict[str, Any]] = []
    arrived = threading.Event()

    def receive(notice: dict[str, Any]) -> None:
        heard.append(notice)
        if notice.get("said") == "end":
            arrived.set()

    with Listener(bound_url(), receive):
        tab.uploads(plain_film, settings)
        notify(tab.study_id, said="end")
        assert arrived.wait(10)
    assert {"study": tab.study_id, "seq": 1} in heard
    assert json.dumps(heard)
