"""Every route, as everybody: signed out, a stranger, a student of another group, its own people."""

import re
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.routing import APIRoute
from starlette.testclient import TestClient

from footing.settings import Settings
from footing.studies.school import people
from footing.web.app import create_app
from footing.web.security import COOKIE
from tests.conftest import World
from tests.studies.steps import Tab
from tests.web.conftest import Browserless

OPEN = {"/", "/health", "/sign-in", "/sign-out", "/demo/sign-in"}
OF_A_VISITOR = {"/studies", "/api/weather-station"}
BY_LINK = "/phone/{token}"
ASKS_FOR_MORE = re.compile(
    r"\{(key|body|sheet|owner|place)\}|/straight\.jpg|/(stretch|tangent|straight-forms|working)$"
    r"|/energies\.\{form\}$|/models/(graph\.\{form\}|table\.csv)$"
)
ENDLESS = "/api/studies/{study_id}/events"


def filled(path: str, tab: Tab) -> str:
    footage = tab.view()["footage"]
    values = {
        "study_id": tab.study_id,
        "content": footage["content"],
        "source": footage["id"],
        "frame": 3,
        "size": "screen",
        "step": "mark",
        "key": "none",
        "body": 0,
        "follow_id": 0,
        "what": "stop",
        "sheet": 0,
        "owner": "s0",
        "form": "csv",
        "place": 0,
    }
    return path.format(**values)


def of_a_study(site: Browserless) -> list[tuple[str, str]]:
    return [(method, path) for method, path in site_paths(site) if "{study_id}" in path]


def site_paths(site: Browserless) -> list[tuple[str, str]]:
    app: Any = site.client.app
    api = [
        (method.upper(), path)
        for path, methods in app.openapi()["paths"].items()
        for method in methods
    ]
    pages = [
        (method, route.path)
        for route in every_route(app)
        if isinstance(route, APIRoute) and not route.include_in_schema
        for method in sorted(route.methods)
    ]
    return [one for one in api + pages if not one[1].startswith("/static")]


def every_route(router: Any) -> Iterator[Any]:
    """The routes of an application or a router, those of the routers that it includes as well."""
    for route in router.routes:
        included = getattr(route, "original_router", None)
        yield from [route] if included is None else every_route(included)


def headers(method: str) -> dict[str, str]:
    """What the upload routes want."""
    return {"Upload-Length": "5", "Upload-Offset": "0"} if method in ("POST", "PATCH") else {}


def test_every_route_is_of_a_study_or_named_here(site: Browserless) -> None:
    others = {path for _, path in site_paths(site) if "{study_id}" not in path}
    by_link = {path for path in others if BY_LINK in path}
    assert others - by_link == OPEN | OF_A_VISITOR
    assert len(by_link) == 3


def test_without_a_valid_link_a_phone_sees_nothing(site: Browserless, world: World) -> None:
    for method, path in site_paths(site):
        if BY_LINK in path:
            place = path.format(token="made-up", key="none")
            answer = site.asks(world.teacher, method, place, headers=headers(method))
            assert answer.status_code == 404, (method, path)


def test_signed_out_nobody_sees_a_study(site: Browserless, filmed: Tab) -> None:
    for method, path in of_a_study(site):
        answer = site.asks(None, method, filled(path, filmed), headers=headers(method))
        expected = (401,) if path.startswith("/api") else (303,)
        assert answer.status_code in expected, (method, path)
        if answer.status_code == 303:
            assert answer.headers["location"] == "/"


@pytest.mark.parametrize("who", ["stranger", "wren"])
def test_a_stranger_and_another_group_see_nothing(
    who: str, site: Browserless, filmed: Tab, world: World
) -> None:
    for method, path in of_a_study(site):
        place = filled(path, filmed)
        answer = site.asks(getattr(world, who), method, place, headers=headers(method))
        assert answer.status_code == 404, (method, path)
        assert method == "HEAD" or "may belong to another group" in answer.text


@pytest.mark.parametrize("who", ["teacher", "heron"])
def test_its_teacher_and_its_group_see_it(
    who: str, site: Browserless, filmed: Tab, world: World
) -> None:
    for method, path in of_a_study(site):
        if method != "GET" or path == ENDLESS:
            continue
        if ASKS_FOR_MORE.search(path):
            continue  # what they ask for is not there; it has tests of its own
        answer = site.asks(getattr(world, who), method, filled(path, filmed))
        assert answer.status_code in (200, 303), (method, path)


def test_new_study_needs_a_sign_in(site: Browserless, world: World) -> None:
    answer = site.asks(None, "POST", "/studies", data={"class_id": world.school_class.id})
    assert answer.headers["location"] == "/"


def test_new_study_in_a_strangers_class_is_refused(site: Browserless, world: World) -> None:
    form = {"class_id": world.school_class.id}
    assert site.asks(world.stranger, "POST", "/studies", data=form).status_code == 404


def test_new_study_belongs_to_the_group(site: Browserless, world: World) -> None:
    form = {"class_id": world.school_class.id, "lab_id": world.lab.id}
    answer = site.asks(world.heron, "POST", "/studies", data=form)
    place = answer.headers["location"]
    assert site.asks(world.heron, "GET", place).headers["location"] == f"{place}/sources"
    assert site.asks(world.wren, "GET", place).status_code == 404


def test_without_demo_mode_nobody_signs_in_by_one_click(world: World, settings: Settings) -> None:
    with TestClient(create_app(settings.model_copy(update={"demo": False}))) as client:
        assert client.post("/demo/sign-in", data={"who": "teacher"}).status_code == 404
        assert "Sign in as a teacher" in client.get("/").text


def test_a_teacher_signs_in_by_name_and_password(site: Browserless, world: World) -> None:
    people.add_teacher("Ms Ebberly", "long enough")
    wrong = site.asks(None, "POST", "/sign-in", data={"name": "Ms Ebberly", "password": "guess"})
    assert wrong.status_code == 422
    assert "do not go together" in wrong.text
    form = {"name": " ms ebberly ", "password": "long enough"}
    right = site.asks(None, "POST", "/sign-in", data=form)
    assert right.status_code == 303
    assert COOKIE in right.cookies


def test_a_teacher_without_a_password_cannot_be_signed_in(site: Browserless, world: World) -> None:
    for password in ("", "None", "anything"):
        form = {"name": "Ms Tarnwick", "password": password}
        assert site.asks(None, "POST", "/sign-in", data=form).status_code == 422


def test_guessing_is_slowed_down(site: Browserless, world: World) -> None:
    people.add_teacher("Ms Ebberly", "long enough")
    for _ in range(8):
        site.asks(None, "POST", "/sign-in", data={"name": "Ms Ebberly", "password": "guess"})
    form = {"name": "Ms Ebberly", "password": "long enough"}
    answer = site.asks(None, "POST", "/sign-in", data=form)
    assert answer.status_code == 422
    assert "Too many attempts" in answer.text
