"""The JSON API: state, edits, history, frames, uploads."""

import cv2
import numpy as np
import pytest

from tests.conftest import World
from tests.films import number_in
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
    assert [(row["person"], row["label"]) for row in history] == [("Ottilie", "source “plain.mp4”")]


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
