"""Every route, as everybody: signed out, a stranger, a student of another group, its own people."""

import pytest
from fastapi.routing import APIRoute
from starlette.testclient import TestClient

from footing.settings import Settings
from footing.web.api import edits, footage
from footing.web.app import create_app
from footing.web.pages import home, workbench
from tests.conftest import World
from tests.studies.steps import Tab
from tests.web.conftest import Browserless

TO_SIGN_IN_OR_OUT = {"/sign-out", "/demo/sign-in"}
OF_A_VISITOR = {"/studies"}


def filled(path: str, tab: Tab) -> str:
    content = tab.view()["footage"]["content"]
    values = {
        "study_id": tab.study_id,
        "content": content,
        "frame": 3,
        "size": "screen",
        "step": "mark",
    }
    return path.format(**values)


def of_a_study() -> list[tuple[str, str]]:
    return [(method, path) for method, path in site_paths() if "{study_id}" in path]


def site_paths() -> list[tuple[str, str]]:
    parts = [
        ("/api", edits.router),
        ("/api", footage.router),
        ("", home.router),
        ("", home.demo_router),
        ("", workbench.router),
    ]
    return [
        (method, prefix + route.path)
        for prefix, router in parts
        for route in router.routes
        if isinstance(route, APIRoute)
        for method in sorted(route.methods)
    ]


def test_every_route_is_of_a_study_or_named_here() -> None:
    others = {path for _, path in site_paths() if "{study_id}" not in path}
    assert others == {"/"} | TO_SIGN_IN_OR_OUT | OF_A_VISITOR


def test_signed_out_nobody_sees_a_study(site: Browserless, filmed: Tab) -> None:
    for method, path in of_a_study():
        answer = site.asks(None, method, filled(path, filmed))
        expected = (401,) if path.startswith("/api") else (303,)
        assert answer.status_code in expected, (method, path)
        if answer.status_code == 303:
            assert answer.headers["location"] == "/"


@pytest.mark.parametrize("who", ["stranger", "wren"])
def test_a_stranger_and_another_group_see_nothing(
    who: str, site: Browserless, filmed: Tab, world: World
) -> None:
    for method, path in of_a_study():
        answer = site.asks(getattr(world, who), method, filled(path, filmed))
        assert answer.status_code == 404, (method, path)
        assert "may belong to another group" in answer.text


@pytest.mark.parametrize("who", ["teacher", "heron"])
def test_its_teacher_and_its_group_see_it(
    who: str, site: Browserless, filmed: Tab, world: World
) -> None:
    for method, path in of_a_study():
        if method != "GET":
            continue
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
        assert "Nobody is signed in" in client.get("/").text
