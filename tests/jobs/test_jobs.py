"""Background work on the real queue."""

import json
import threading
from pathlib import Path
from typing import Any

import numpy as np
import psycopg
import pytest

from footing.core.errors import Refused
from footing.demo.filming import write_video
from footing.jobs.queue import is_at_rest, open_queue
from footing.settings import Settings
from footing.store.database import bound_url
from footing.store.notices import Listener, notify
from footing.store.tables import Follow, Media
from footing.studies.door import submit
from footing.studies.films.follows import FollowRequest, ask_follow, control
from tests.conftest import World, do_the_work
from tests.core.scenes import film, slide
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
    assert not is_at_rest()
    do_the_work(settings)
    assert waiting() == 0
    assert is_at_rest()
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
        queue.ask(
            "follow_background", study=tab.study_id, body=spot, role="student", person=tab.person.id
        )
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


def rolling_film(
    path: Path, *, frames: int = 30, away: range = range(0)
) -> list[tuple[float, float]]:
    """A patterned disc rolls to and fro on a textured floor; gives its middle in each frame.

    It is not there in the frames ``away``.
    """
    rng = np.random.default_rng(8)
    floor = rng.integers(140, 170, size=(45, 80, 3)).repeat(4, axis=0).repeat(4, axis=1)
    rows, columns = np.mgrid[:180, :320]
    middles = [(160 - 110 * np.cos(n / 20), 90 + 30 * np.sin(n / 31)) for n in range(frames)]

    def picture(number: int) -> np.ndarray:
        x, y = middles[number]
        off = np.hypot(columns - x, rows - y)[..., None]
        disc = np.where(off < 6, 230, np.where(off < 11, 60, 120))
        cover = np.clip(16 - off, 0, 1) * (number not in away)
        return np.asarray(cover * disc + (1 - cover) * floor).astype(np.uint8)

    pictures = (picture(number) for number in range(frames))
    write_video(path, pictures, rate=25, encoder={"crf": "16", "g": "10"})
    return middles


@pytest.fixture
def rolling(tab: Tab, tmp_path: Path, settings: Settings) -> tuple[int, list[tuple[float, float]]]:
    """A body with one mark, made by hand in frame 2, and the truth."""
    middles = rolling_film(tmp_path / "rolling.mp4")
    footage = tab.uploads(tmp_path / "rolling.mp4", settings)
    body = tab.makes("add_body", footage=footage, name="disc")
    tab.does("place_mark", body=body, frame=2, x=middles[2][0], y=middles[2][1])
    return body, middles


def wanted(tab: Tab, body: int, **how: Any) -> int:
    """Ask for a follow, but do not tell the queue."""
    return ask_follow(tab.study, tab.person, FollowRequest(bodies=[body], **how))


def asked(tab: Tab, body: int, **how: Any) -> int:
    found = wanted(tab, body, **how)
    with open_queue(bound_url()) as queue:
        queue.ask("follow_bodies", once=f"follow {found}", follow=found)
    return found


def marks_of(tab: Tab) -> dict[int, tuple[float, float]]:
    return {frame: (x, y) for frame, x, y in tab.view()["bodies"][0]["marks"]}


def test_a_body_is_followed_and_taken_back_in_one_step(
    tab: Tab, rolling: tuple[int, list[tuple[float, float]]], settings: Settings
) -> None:
    body, middles = rolling
    asked(tab, body, frame=2, to=29)
    do_the_work(settings)
    marks = marks_of(tab)
    assert sorted(marks) == list(range(2, 30))
    errors = [np.hypot(*np.subtract(marks[n], middles[n])) for n in marks]
    assert max(errors) < 0.5
    view = tab.view()
    assert view["follow"]["state"] == "done"
    assert view["follow"]["said"] == "28 marks between the frames 2 and 29."
    assert set(view["bodies"][0]["qualities"]) == set(range(3, 30))
    tab.does("undo")
    assert list(marks_of(tab)) == [2]


def test_it_is_said_where_the_outline_is_marked_and_not_a_spot(
    tab: Tab, tmp_path: Path, settings: Settings
) -> None:
    """A disc that turns by 50° in each frame never shows the spot that was clicked again."""
    frames = [np.dstack([grey] * 3) for _, grey in film(slide, count=30, spin=0.9)]
    write_video(tmp_path / "spin.mp4", iter(frames), rate=25, encoder={"crf": "16", "g": "10"})
    footage = tab.uploads(tmp_path / "spin.mp4", settings)
    body = tab.makes("add_body", footage=footage, name="disc")
    x, y = slide(0)
    tab.does("place_mark", body=body, frame=0, x=x, y=y)
    asked(tab, body, frame=0, to=29)
    do_the_work(settings)
    assert tab.view()["follow"]["said"] == (
        "30 marks between the frames 0 and 29. disc turns or is plain: its outline is marked, "
        "as far from the middle as your first mark."
    )


def test_a_body_is_followed_backwards_by_its_stride(
    tab: Tab, rolling: tuple[int, list[tuple[float, float]]], settings: Settings
) -> None:
    body, middles = rolling
    tab.does("place_mark", body=body, frame=24, x=middles[24][0], y=middles[24][1])
    tab.does("set_body_span", body=body, first=None, last=None, stride=3)
    asked(tab, body, frame=24, to=9)
    do_the_work(settings)
    assert sorted(marks_of(tab)) == [2, 9, 12, 15, 18, 21, 24]


def test_a_correction_in_the_middle_stays_and_is_believed(
    tab: Tab, rolling: tuple[int, list[tuple[float, float]]], settings: Settings
) -> None:
    body, middles = rolling
    moved = (middles[15][0] + 4, middles[15][1])
    tab.does("place_mark", body=body, frame=15, x=moved[0], y=moved[1])
    asked(tab, body, frame=2, to=29)
    do_the_work(settings)
    marks = marks_of(tab)
    assert marks[15] == moved
    assert marks[14][0] == pytest.approx(middles[14][0], abs=0.5)
    assert marks[25][0] == pytest.approx(middles[25][0] + 4, abs=2.0)


def test_a_follow_that_broke_off_goes_on_and_marks_nothing_twice(
    tab: Tab, rolling: tuple[int, list[tuple[float, float]]], settings: Settings
) -> None:
    """As after a worker that was killed: the row says running, and nobody is at it."""
    body, middles = rolling
    follow = wanted(tab, body, frame=2, to=29)
    tab.does(
        "follow_marks",
        bodies=[{"body": body, "marks": [[n, *middles[n], 0.9] for n in range(3, 12)]}],
    )
    Follow.update(state="running", at=11).where(Follow.id == follow).execute()
    kept = {n: middles[n] for n in range(3, 12)}
    do_the_work(settings)
    marks = marks_of(tab)
    assert sorted(marks) == list(range(2, 30))
    assert {n: marks[n] for n in kept} == kept
    assert tab.view()["follow"]["state"] == "done"


def test_a_paused_follow_waits_until_it_goes_on(
    tab: Tab, rolling: tuple[int, list[tuple[float, float]]], settings: Settings
) -> None:
    body, _ = rolling
    follow = asked(tab, body, frame=2, to=29)
    study = tab.study
    assert control(study, follow, "pause") is False
    do_the_work(settings)
    assert list(marks_of(tab)) == [2]
    assert control(study, follow, "resume") is True
    do_the_work(settings)  # a worker that starts finds what is waiting
    assert len(marks_of(tab)) == 28


def test_a_follow_whose_marks_are_taken_back_marks_no_more(
    tab: Tab, rolling: tuple[int, list[tuple[float, float]]], settings: Settings
) -> None:
    body, middles = rolling
    follow = wanted(tab, body, frame=2, to=29)
    found = [{"body": body, "marks": [(n, *middles[n], 0.9) for n in range(3, 12)]}]
    request = tab.request("follow_marks", bodies=found)
    tab.seq = submit(tab.study_id, tab.person, request, run=f"follow {follow}").seq
    tab.does("undo")
    do_the_work(settings)
    assert list(marks_of(tab)) == [2]
    assert tab.view()["follow"]["said"] == "It was taken back."


def test_only_one_follow_at_a_time_and_only_from_a_mark(
    tab: Tab, rolling: tuple[int, list[tuple[float, float]]]
) -> None:
    body, _ = rolling
    unmarked = tab.makes("add_body", footage=tab.view()["footage"]["id"], name="other")
    with pytest.raises(Refused, match="Mark other in one frame first"):
        asked(tab, unmarked, frame=5, to=29)
    with pytest.raises(Refused, match="no frame 30"):
        asked(tab, body, frame=2, to=30)
    asked(tab, body, frame=2, to=29)
    with pytest.raises(Refused, match="already"):
        asked(tab, body, frame=2, to=29)


def test_a_plain_place_stops_with_the_reason(tab: Tab, tmp_path: Path, settings: Settings) -> None:
    plain = (np.full((90, 160, 3), 120, np.uint8) for _ in range(5))
    write_video(tmp_path / "plain.mp4", plain, rate=25, encoder={"crf": "20"})
    footage = tab.uploads(tmp_path / "plain.mp4", settings)
    body = tab.makes("add_body", footage=footage, name="nothing")
    tab.does("place_mark", body=body, frame=0, x=80, y=45)
    asked(tab, body, frame=0, to=4)
    do_the_work(settings)
    follow = tab.view()["follow"]
    assert follow["state"] == "stopped"
    assert "nothing to hold on to" in follow["said"]
