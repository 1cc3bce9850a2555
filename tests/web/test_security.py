from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from footing.settings import Settings
from footing.store.tables import SignIn, Student
from footing.studies.films import uploads
from footing.studies.school.people import Person
from footing.web.security import COOKIE
from tests.conftest import World
from tests.films import numbered_film
from tests.studies.steps import Tab
from tests.web.conftest import Browserless


def test_one_click_signs_in_and_out(site: Browserless, world: World) -> None:
    client = site.client
    client.cookies.clear()
    answer = client.post("/demo/sign-in", data={"who": f"teacher {world.teacher.id}"})
    assert "Ms Tarnwick" in answer.text
    assert "Sled run" in answer.text
    token = client.cookies[COOKIE]
    client.post("/sign-out")
    client.cookies.set(COOKIE, token)
    assert "Ms Tarnwick, teacher of 9K Physics" in client.get("/").text


def test_one_click_signs_in_only_those_who_are_offered(site: Browserless, world: World) -> None:
    second = Student.create(school_class=world.school_class, group=world.study.group, name="Zora")
    for who in (f"student {second.id}", "student 999", "teacher 999"):
        assert site.asks(None, "POST", "/demo/sign-in", data={"who": who}).status_code == 404, who


def test_the_cookie_is_kept_from_scripts_and_the_token_from_the_database(
    site: Browserless, world: World
) -> None:
    answer = site.asks(None, "POST", "/demo/sign-in", data={"who": f"student {world.heron.id}"})
    cookie = answer.headers["set-cookie"]
    assert "HttpOnly" in cookie
    assert "samesite=lax" in cookie.lower()
    token = cookie.split("=", 1)[1].split(";")[0]
    assert SignIn.get_or_none(SignIn.token_hash == token) is None


def test_an_expired_session_is_signed_out(site: Browserless, world: World, filmed: Tab) -> None:
    site.asks(world.heron, "GET", "/")
    SignIn.update(expires=datetime.now(UTC) - timedelta(seconds=1)).execute()
    answer = site.client.get(f"/api/studies/{filmed.study_id}")
    assert answer.status_code == 401


def test_frames_are_those_of_a_study_that_is_seen_and_no_others(
    site: Browserless, world: World, filmed: Tab, settings: Settings, films: Path
) -> None:
    content = filmed.view()["footage"]["content"]
    elsewhere = uploads.take_in(numbered_film(films / "elsewhere.mp4", frames=8, rate=25), settings)

    def status(who: Person | None, file: str) -> int:
        path = f"/api/studies/{filmed.study_id}/footage/{file}/frames/3/thumb.jpg"
        return site.asks(who, "GET", path).status_code

    assert status(world.heron, content) == status(world.teacher, content) == 200
    assert status(world.wren, content) == status(world.stranger, content) == 404
    assert status(world.heron, elsewhere) == 404  # stored, but not in this study
    assert status(None, content) == 401
    site.asks(world.heron, "POST", f"/studies/{filmed.study_id}/remove")
    assert status(world.heron, content) == 404


@pytest.mark.parametrize(
    "headers", [{"origin": "http://elsewhere.example"}, {"sec-fetch-site": "cross-site"}]
)
def test_writes_from_another_site_are_refused(
    headers: dict[str, str], site: Browserless, world: World
) -> None:
    form = {"class_id": world.school_class.id}
    answer = site.asks(world.heron, "POST", "/studies", data=form, headers=headers)
    assert answer.status_code == 403


def test_writes_from_our_own_pages_are_accepted(site: Browserless, world: World) -> None:
    form = {"class_id": world.school_class.id}
    headers = {"origin": "http://testserver"}
    answer = site.asks(world.heron, "POST", "/studies", data=form, headers=headers)
    assert answer.status_code == 303


def test_pages_may_run_our_own_scripts_only(site: Browserless, world: World) -> None:
    policy = site.asks(world.heron, "GET", "/").headers["content-security-policy"]
    assert "script-src 'self';" in policy
    assert "default-src 'none'" in policy


@pytest.mark.parametrize("path", ["..%2Fapp.py", "%2Fetc%2Fpasswd", "none.css"])
def test_static_files_end_at_their_folder(path: str, site: Browserless, world: World) -> None:
    assert site.asks(None, "GET", f"/static/x/{path}").status_code == 404


def test_an_unknown_page_says_so_as_a_page(site: Browserless, world: World) -> None:
    answer = site.asks(world.heron, "GET", "/nowhere")
    assert answer.status_code == 404
    assert "There is no such page here." in answer.text


def test_an_error_of_a_page_is_a_page_and_of_the_api_is_json(
    site: Browserless, world: World
) -> None:
    page = site.asks(world.heron, "GET", "/studies/999/mark")
    assert page.headers["content-type"].startswith("text/html")
    api = site.asks(world.heron, "GET", "/api/studies/999")
    assert api.json() == {
        "error": "There is no such study here; it may belong to another group.",
        "field": None,
    }
