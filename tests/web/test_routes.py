"""Every route, as everybody: who may see and do what, and that nothing else is there for them."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from fastapi.routing import APIRoute
from starlette.testclient import TestClient

from footing.settings import Settings
from footing.store import hand_ins, tables
from footing.studies.report.report import report_of
from footing.studies.review.handing_in import hand_in
from footing.studies.school import invitations, people, register
from footing.studies.school.people import Person, person
from footing.web.app import create_app
from footing.web.security import COOKIE
from tests.conftest import World
from tests.studies.steps import Tab
from tests.web.conftest import Browserless

ANYBODY = {
    *("/", "/health", "/sign-in", "/sign-out", "/demo/sign-in"),
    *("/look/{link}", "/join", "/join/{code}", "/first-teacher", "/invited/{invitation}"),
}
SIGNED_IN = {"/studies", "/api/weather-station", "/studies/{study_id}/take-back"}
TEACHERS = {
    *("/classes", "/classes/file", "/account", "/account/password", "/invitations"),
    "/invited/{invitation}/as-myself",
}
STUDENTS = {"/groups", "/groups/join"}
OF_THE_CLASS = {
    *("/labs/{lab_id}/board", "/labs/{lab_id}/board.{form}", "/labs/{lab_id}/board/sheet"),
    "/api/classes/{class_id}/events",
}
TEACHERS_OF_IT = re.compile(r"^(/api)?/(classes/\{class_id\}|labs/\{lab_id\})(/|$)|/as-start$")
REVIEWS = {  # what only a teacher does to what was handed in
    *("/hand-ins/{hand_in_id}/judgement", "/hand-ins/{hand_in_id}/return"),
    "/hand-ins/{hand_in_id}/keep-back",
}
BY_LINK = "/phone/{token}"
ASKS_FOR_MORE = re.compile(
    r"^/hand-ins/\{hand_in_id\}/report|/hand-ins\.\{form\}$|\{(key|body|sheet|owner|place|block)\}|/report\.\{form\}$|/straight\.jpg|/(stretch|tangent|straight-forms|working)$"
    r"|/energies\.\{form\}$|/models/(graph\.\{form\}|table\.csv)$|/board\.\{form\}$"
)
ENDLESS = re.compile(r"/events$")
ENDS_SOMETHING = re.compile(r"/(remove|wipe|secret|less|random|group)$")
NOTHING_SUCH = ("There is no such", "may belong to another group", "for teachers", "for students")


@dataclass(frozen=True)
class Everybody:
    """Everybody who might ask."""

    nobody: None
    removed: Person
    pupil: Person
    colleague: Person
    wren: Person
    heron: Person
    co_teacher: Person
    teacher: Person


@pytest.fixture
def everybody(world: World) -> Everybody:
    """Beside the world: a student of the stranger, one who was removed, and a co-teacher."""
    other = tables.SchoolClass.get(tables.SchoolClass.teacher == world.stranger.id)
    pupil = tables.Student.create(school_class=other, name="Idris")
    gone = tables.Student.create(
        school_class=world.school_class, group=world.study.group, name="Juniper"
    )
    removed = person("student", gone.id)
    co_teacher = tables.Teacher.create(name="Ms Sandgate")
    tables.CoTeacher.create(school_class=world.school_class, teacher=co_teacher)
    return Everybody(
        None,
        removed,
        person("student", pupil.id),
        world.stranger,
        world.wren,
        world.heron,
        person("teacher", co_teacher.id),
        world.teacher,
    )


def may(who: str, path: str) -> bool:
    """Whether somebody may do what is at an address."""
    teaches = who in ("teacher", "co_teacher")
    if path in ANYBODY:
        return True
    if who in ("nobody", "removed"):
        return False
    if path in SIGNED_IN:
        return True
    if path in TEACHERS:
        return teaches or who == "colleague"
    if path in STUDENTS:
        return who in ("heron", "wren", "pupil")
    if path in OF_THE_CLASS:
        return teaches or who in ("heron", "wren")
    if TEACHERS_OF_IT.search(path):
        return teaches
    if path in REVIEWS:
        return teaches
    if "{hand_in_id}" in path:
        return teaches or who == "heron"
    assert "{study_id}" in path, f"say above who may do what is at {path}"
    return teaches or who == "heron"


def filled(path: str, tab: Tab, world: World) -> str:
    footage = tab.view()["footage"]
    values = {
        "study_id": tab.study_id,
        "class_id": world.school_class.id,
        "lab_id": world.lab.id,
        "group_id": world.study.group_id,
        "student_id": world.wren.id,
        "teacher_id": world.teacher.id,
        "code": world.school_class.code.lower(),
        "invitation": "made-up",
        "content": footage["content"],
        "source": footage["id"],
        "frame": 3,
        "size": "screen",
        "step": "mark",
        "key": "sled",
        "body": 0,
        "follow_id": 0,
        "what": "stop",
        "sheet": 0,
        "owner": "s0",
        "form": "csv",
        "place": 0,
        "block": 0,
        "hand_in_id": handed_in(tab),
        "comment_id": 0,
        "link": "made-up",
    }
    return path.format(**values)


def handed_in(tab: Tab) -> int:
    """A report of the study, handed in once."""
    found = hand_ins.of_study(tab.study_id)
    if not found:
        tab.makes("add_block", block="text", words="It slides.")
        found = [hand_in(tab.study, tab.person, report_of(tab.study, tab.person), [])]
    return found[0].id


def of_somebody(site: Browserless) -> list[tuple[str, str]]:
    """Every route that is not by a phone's link, those last that end something."""
    paths = [one for one in site_paths(site) if BY_LINK not in one[1]]
    return sorted(
        paths, key=lambda one: (bool(ENDS_SOMETHING.search(one[1])), one[1] == "/sign-out")
    )


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


def is_refused(answer: Any) -> bool:
    """Whether somebody was sent away, or was told that there is no such thing."""
    sent_away = answer.status_code == 303 and answer.headers["location"] == "/"
    if answer.status_code == 401 or sent_away:
        return True
    told = any(words in answer.text for words in NOTHING_SUCH)
    return answer.status_code == 404 and told


def test_without_a_valid_link_a_phone_sees_nothing(site: Browserless, world: World) -> None:
    for method, path in site_paths(site):
        if BY_LINK in path:
            place = path.format(token="made-up", key="none")
            answer = site.asks(world.teacher, method, place, headers=headers(method))
            assert answer.status_code == 404, (method, path)


@pytest.mark.parametrize("who", Everybody.__dataclass_fields__)
def test_nobody_sees_or_does_what_is_not_theirs(
    who: str, site: Browserless, filmed: Tab, world: World, everybody: Everybody
) -> None:
    asking = getattr(everybody, who)
    if who == "removed":
        site.asks(asking, "GET", "/")  # signed in while still there
        left_over = site.client.cookies[COOKIE]
        register.remove(register.pupil(world.school_class.id, asking.id), with_work=False)
        asking = None
    refused = 0
    for method, path in of_somebody(site):
        if may(who, path):
            continue
        place = filled(path, filmed, world)
        options: dict[str, Any] = {"headers": headers(method)}
        if who == "removed":
            options["headers"] = options["headers"] | {"cookie": f"{COOKIE}={left_over}"}
        answer = site.asks(asking, method, place, **options)
        assert method == "HEAD" or is_refused(answer), (method, path, answer.text[:300])
        assert answer.status_code in (303, 401, 404)
        if who in ("nobody", "removed"):
            assert answer.status_code == (401 if path.startswith("/api") else 303), (method, path)
        refused += 1
    teaches = who in ("teacher", "co_teacher")
    assert refused > (0 if teaches else 20)


@pytest.mark.parametrize("who", ["heron", "wren", "co_teacher", "teacher"])
def test_what_is_theirs_is_there_for_them(
    who: str, site: Browserless, filmed: Tab, world: World, everybody: Everybody
) -> None:
    there = 0
    for method, path in of_somebody(site):
        if ENDLESS.search(path) or path in ANYBODY or not may(who, path):
            continue
        answer = site.asks(
            getattr(everybody, who), method, filled(path, filmed, world), headers=headers(method)
        )
        assert answer.status_code < 500, (method, path)
        assert answer.status_code != 401, (method, path)
        if method == "GET" and not ASKS_FOR_MORE.search(path):
            assert answer.status_code in (200, 303), (method, path)
            there += 1
    assert there >= (2 if who == "wren" else 9)


def test_what_the_class_looks_at_is_seen_by_all_of_it_and_changed_by_its_own(
    site: Browserless, filmed: Tab, world: World, everybody: Everybody
) -> None:
    place = f"/api/studies/{filmed.study_id}"
    shown = {"json": {"study": filmed.study_id}}
    shows = f"/api/classes/{world.school_class.id}/shown"
    assert site.asks(everybody.wren, "PUT", shows, **shown).status_code == 404
    assert site.asks(everybody.teacher, "PUT", shows, **shown).status_code == 204
    assert site.asks(everybody.wren, "GET", place).status_code == 200
    assert site.asks(everybody.pupil, "GET", place).status_code == 404
    content = filmed.view()["footage"]["content"]
    frame = f"{place}/footage/{content}/frames/0/thumb.jpg"
    assert site.asks(everybody.wren, "GET", frame).status_code == 200
    assert site.asks(everybody.pupil, "GET", frame).status_code == 404
    for method, path in of_somebody(site):
        if "{study_id}" not in path or method == "GET" or path in SIGNED_IN:
            continue
        if path.endswith(("/here", "/trial", "/place")):
            continue  # where they are, and what is only tried out
        answer = site.asks(
            everybody.wren, method, filled(path, filmed, world), headers=headers(method)
        )
        if answer.status_code != 404:  # of teachers alone
            assert answer.status_code == 422, (method, path)
            assert method == "HEAD" or "only its own group changes it" in answer.text
    site.asks(everybody.teacher, "PUT", shows, json={"study": None})
    assert site.asks(everybody.wren, "GET", place).status_code == 404


def test_a_teacher_shows_only_studies_of_the_class(
    site: Browserless, world: World, everybody: Everybody
) -> None:
    other = tables.SchoolClass.get(tables.SchoolClass.teacher == world.stranger.id)
    shows = f"/api/classes/{other.id}/shown"
    answer = site.asks(world.stranger, "PUT", shows, json={"study": world.study.id})
    assert answer.status_code == 404
    assert tables.SchoolClass.get_by_id(other.id).shown_study_id is None


def test_yesterdays_study_stays_with_those_who_worked_on_it(
    site: Browserless, filmed: Tab, world: World
) -> None:
    form = {"class_id": world.school_class.id, "lab_id": world.lab.id}
    started = site.asks(world.heron, "POST", "/studies", data=form).headers["location"]
    register.put(register.pupil(world.school_class.id, world.heron.id), None)
    assert site.asks(world.heron, "GET", f"{started}/sources").status_code == 200
    register.put(register.pupil(world.school_class.id, world.wren.id), world.study.group_id)
    assert site.asks(world.wren, "GET", f"{started}/sources").status_code == 200


def test_an_invitation_is_good_once_and_for_a_week(site: Browserless, world: World) -> None:
    answer = site.asks(
        world.teacher, "POST", "/invitations", data={"class_id": world.school_class.id}
    )
    (link,) = set(re.findall(r"/invited/[\w-]+", answer.text))
    form = {"name": "Ms Sandgate", "password": "a long enough phrase"}
    assert "9K Physics" in site.asks(None, "GET", link).text
    accepted = site.asks(None, "POST", link, data=form)
    assert accepted.status_code == 303
    again = site.asks(None, "POST", link, data=form | {"name": "Mr Else"})
    assert again.status_code == 404
    home = site.client.get("/", headers={"cookie": f"{COOKIE}={accepted.cookies[COOKIE]}"})
    assert "9K Physics" in home.text

    old = f"/invited/{invitations.invite(world.teacher, class_id=None)}"
    tables.Invitation.update(expires=datetime.now(UTC) - timedelta(seconds=1)).execute()
    assert site.asks(None, "GET", old).status_code == 404
    assert site.asks(None, "POST", old, data=form | {"name": "Mr Else"}).status_code == 404


def test_nobody_invites_to_a_class_that_is_not_theirs(site: Browserless, world: World) -> None:
    form = {"class_id": world.school_class.id}
    assert site.asks(world.stranger, "POST", "/invitations", data=form).status_code == 422
    assert tables.Invitation.select().count() == 0


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
        assert client.post("/demo/sign-in", data={"who": "teacher 1"}).status_code == 404
        assert "Make the account" in client.get("/").text  # nobody can sign in yet


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
