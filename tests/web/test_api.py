"""The JSON API: state, edits, history, frames, uploads."""

from pathlib import Path

import cv2
import numpy as np
import pytest

from footing.settings import Settings
from footing.store.tables import Footage, Media
from tests.conftest import World
from tests.films import number_in, numbered_film, numbered_picture, sound_film
from tests.studies.steps import Tab
from tests.web.conftest import Browserless


def edit(kind: str, based_on: int, token: str, **fields: object) -> dict[str, object]:
    return {"edit": {"kind": kind, **fields}, "based_on": based_on, "token": token}


def test_an_edit_answers_with_the_new_state(
    site: Browserless, filmed: Tab, world: World, token: str
) -> None:
    footage = filmed.view()["footage"]["id"]
    request = edit("add_body", filmed.seq, token, footage=footage, name="sled")
    answer = site.asks(world.heron, "POST", f"/api/studies/{filmed.study_id}/edits", json=request)
    assert answer.json()["made"].startswith("body:")
    assert answer.json()["view"]["bodies"][0]["name"] == "sled"
    state = site.asks(world.heron, "GET", f"/api/studies/{filmed.study_id}").json()
    assert state == answer.json()["view"]


def test_a_stale_edit_answers_409_with_the_present_state(
    site: Browserless, filmed: Tab, world: World, token: str
) -> None:
    footage = filmed.view()["footage"]["id"]
    seen = filmed.seq
    filmed.does("set_zero", footage=footage, x=5, y=6)
    request = edit("set_zero", seen, token, footage=footage, x=50, y=60)
    path = f"/api/studies/{filmed.study_id}/edits"
    answer = site.asks(world.teacher, "POST", path, json=request)
    assert answer.status_code == 409
    assert "Ottilie has changed the same thing" in answer.json()["error"]
    assert answer.json()["view"]["ground"]["zero"] == [5, 6]


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"kind": "set_span", "footage": 1, "first": "two", "last": 9, "stride": 1}, "first"),
        ({"kind": "set_span", "footage": 1, "first": 3, "last": 1, "stride": 1}, "first"),
        ({"kind": "fly"}, "edit"),
    ],
)
def test_a_bad_edit_answers_422_with_a_sentence_and_its_field(
    site: Browserless, filmed: Tab, world: World, token: str, body: dict, field: str
) -> None:
    request = {"edit": body, "based_on": filmed.seq, "token": token}
    answer = site.asks(world.heron, "POST", f"/api/studies/{filmed.study_id}/edits", json=request)
    assert answer.status_code == 422
    assert answer.json()["field"] == field
    assert answer.json()["error"].endswith(".")


def test_history_says_who_did_what(site: Browserless, filmed: Tab, world: World) -> None:
    history = site.asks(world.teacher, "GET", f"/api/studies/{filmed.study_id}/history").json()
    assert [(row["person"], row["label"]) for row in history] == [
        ("Ottilie", "footage “plain.mp4”")
    ]


def test_frame_n_shows_frame_n_and_may_be_kept(
    site: Browserless, filmed: Tab, world: World
) -> None:
    content = filmed.view()["footage"]["content"]
    path = f"/api/studies/{filmed.study_id}/footage/{content}/frames/17/screen.jpg"
    answer = site.asks(world.heron, "GET", path)
    picture = cv2.imdecode(np.frombuffer(answer.content, dtype=np.uint8), cv2.IMREAD_COLOR)
    assert picture is not None
    assert number_in(picture) == 17
    assert answer.headers["cache-control"] == "private, max-age=31536000, immutable"


def test_a_frame_outside_is_said(site: Browserless, filmed: Tab, world: World) -> None:
    content = filmed.view()["footage"]["content"]
    path = f"/api/studies/{filmed.study_id}/footage/{content}/frames/40/screen.jpg"
    answer = site.asks(world.heron, "GET", path)
    assert answer.status_code == 404
    assert answer.json()["error"] == "There is no frame 40; the last one is 39."


def upload(site: Browserless, world: World, data: bytes, name: str = "clip.mp4"):
    path = f"/api/studies/{world.study.id}/footage?name={name}&based_on=0"
    return site.asks(world.heron, "POST", path, content=data)


def test_upload_gives_footage(site: Browserless, world: World, plain_film: Path) -> None:
    answer = upload(site, world, plain_film.read_bytes(), "Sled 1.mp4")
    footage = answer.json()["view"]["footage"]
    assert (footage["name"], footage["frames"]) == ("Sled 1.mp4", 40)


@pytest.mark.parametrize(
    ("kind", "sentence"),
    [
        ("empty", "The file is empty; copy it from the phone again."),
        ("text", "This is a text file, not a video; choose the video itself."),
        ("sound", "The file holds sound but no picture; choose the video itself."),
        ("picture", "This is a PNG picture, not a video; choose the video itself."),
    ],
)
def test_a_file_that_is_no_video_is_refused_and_nothing_is_kept(
    kind: str,
    sentence: str,
    site: Browserless,
    world: World,
    tmp_path: Path,
    settings: Settings,
) -> None:
    data = {
        "empty": b"",
        "text": "Höhe über Zeit\n".encode() * 50,
        "sound": sound_film(tmp_path / "song.mp4").read_bytes(),
        "picture": cv2.imencode(".png", numbered_picture(3))[1].tobytes(),
    }[kind]
    answer = upload(site, world, data)
    assert answer.status_code == 422
    assert answer.json()["error"] == sentence
    assert [file for file in settings.media_folder.rglob("*") if file.is_file()] == []
    assert Media.select().count() == Footage.select().count() == 0


def test_a_truncated_file_opens_with_a_note(
    site: Browserless, world: World, plain_film: Path
) -> None:
    data = plain_film.read_bytes()
    footage = upload(site, world, data[: len(data) * 6 // 10]).json()["view"]["footage"]
    assert 0 < footage["frames"] < 40
    assert "cut off" in footage["notes"][0]


def test_a_single_frame_opens_with_a_note(site: Browserless, world: World, films: Path) -> None:
    film = numbered_film(films / "one.mp4", frames=1)
    view = upload(site, world, film.read_bytes()).json()["view"]
    assert "single frame" in view["footage"]["notes"][0]
    assert view["footage"]["times"] == [0]


def test_an_upload_over_the_limit_is_refused_while_it_arrives(
    site: Browserless, world: World, settings: Settings
) -> None:
    site.client.app.state.settings = settings.model_copy(update={"upload_megabytes": 1})  # type: ignore[attr-defined]
    answer = upload(site, world, bytes(2 * 2**20))
    assert answer.status_code == 422
    assert "larger than 1 MB" in answer.json()["error"]
    assert list(settings.media_folder.iterdir()) == []


def test_the_same_file_is_kept_once(
    site: Browserless, world: World, filmed: Tab, plain_film: Path, settings: Settings
) -> None:
    filmed.does("remove_footage", footage=filmed.view()["footage"]["id"])
    answer = upload(site, world, plain_film.read_bytes(), "again.mp4")
    assert answer.status_code == 200
    assert len([file for file in settings.media_folder.rglob("*") if file.is_file()]) == 1
