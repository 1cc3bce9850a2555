"""Pages of a class over HTTP: coming in, the register, labs, boards; and what open pages hear."""

import asyncio
import io
import json
import re
import zipfile
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest

from footing.store import tables
from footing.studies.school import attempts, invitations, people, register
from footing.web import security
from footing.web.live import Live
from footing.web.security import BROWSER_COOKIE, COOKIE
from tests.conftest import World
from tests.studies.steps import Tab
from tests.web.conftest import Browserless

CODE = "lark-9k"
JUNIPER = {"name": "Juniper", "kind": "pin", "secret": "4711"}
AS_SCRIPT = {"hx-request": "true"}


def answers(site: Browserless, method: str, path: str, **options: Any) -> Any:
    """Somebody without a sign-in, whose browser keeps what it was given."""
    return site.client.request(method, path, follow_redirects=False, **options)


def test_a_student_comes_in_by_code_name_and_pin(site: Browserless, world: World) -> None:
    typed = answers(site, "POST", "/join", data={"code": " Lark 9k "})
    assert (typed.status_code, typed.headers["location"].lower()) == (303, f"/join/{CODE}")
    joined = answers(site, "POST", f"/join/{CODE}", data=JUNIPER)
    assert joined.status_code == 303
    assert COOKIE in joined.cookies
    assert "With whom do you work today?" in answers(site, "GET", "/").text
    kept = {cookie.name for cookie in site.client.cookies.jar}
    assert BROWSER_COOKIE in kept


def test_what_was_wrong_is_said_with_its_field(site: Browserless, world: World) -> None:
    wrong = answers(site, "POST", "/join", data={"code": "owl-1"}, headers=AS_SCRIPT)
    assert (wrong.status_code, wrong.json()["field"]) == (422, "code")
    short = JUNIPER | {"secret": "1"}
    wrong = answers(site, "POST", f"/join/{CODE}", data=short, headers=AS_SCRIPT)
    assert (wrong.status_code, wrong.json()["field"]) == (422, "secret")
    assert "PIN has 4 to 8 digits" in wrong.json()["error"]
    plain = answers(site, "POST", f"/join/{CODE}", data=short)
    assert "<title>" in plain.text


def test_a_code_that_is_none_says_so_and_lets_type_it_again(
    site: Browserless, world: World
) -> None:
    page = answers(site, "GET", "/join/no-such-12")
    assert page.status_code == 422
    assert "No class has this code" in page.text
    assert 'value="no-such-12"' in page.text


def test_browsers_behind_one_address_are_told_apart(site: Browserless, world: World) -> None:
    answers(site, "GET", "/")
    for _ in range(10):
        answers(site, "POST", "/join", data={"code": "owl-owl-10"})
    assert "Too many" in answers(site, "POST", "/join", data={"code": CODE}).text
    site.client.cookies.clear()  # the browser beside it
    assert answers(site, "POST", "/join", data={"code": CODE}).status_code == 303


def test_where_very_many_codes_were_wrong_the_next_try_waits(
    site: Browserless, world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    waited: list[float] = []

    async def wait(seconds: float) -> None:
        waited.append(seconds)

    for _ in range(400):
        attempts.note_wrong_code("thrown away", "testclient")
    monkeypatch.setattr(security.asyncio, "sleep", wait)
    assert answers(site, "POST", "/join", data={"code": CODE}).status_code == 303
    assert answers(site, "GET", f"/join/{CODE}").status_code == 200
    assert answers(site, "POST", f"/join/{CODE}", data=JUNIPER).status_code == 303
    assert [one for one in waited if one >= 1] == [3.0] * 3


@pytest.mark.parametrize("token", ["", "made-up", "x.y", "a" * 500, "é"])
def test_a_made_up_token_of_a_browser_is_replaced(
    token: str, site: Browserless, world: World
) -> None:
    cookie = {"cookie": f"{BROWSER_COOKIE}={token}; footing-known=1.x|2.é|{'9' * 50}."}
    page = answers(site, "GET", f"/join/{CODE}", headers={k: v.encode() for k, v in cookie.items()})
    assert page.status_code == 200
    assert BROWSER_COOKIE in page.cookies


def test_markup_in_names_is_text_everywhere(site: Browserless, world: World) -> None:
    markup = '"><img src=x onerror=alert(1)>'[:40]
    of = world.school_class.id
    register.add_names(of, markup)
    register.rename_class(register_row(world), markup)
    group = register.new_group(of)
    register.rename_group(group, markup)
    tables.Lab.update(title=markup, task=markup).execute()
    tables.Study.update(title=markup).execute()
    lab = world.lab.id
    pages = ["/", f"/classes/{of}", f"/classes/{of}/code", f"/classes/{of}/kept", f"/labs/{lab}"]
    for path in [*pages, f"/labs/{lab}/overview", f"/labs/{lab}/board", "/account"]:
        page = site.asks(world.teacher, "GET", path)
        assert page.status_code == 200, path
        assert "<img src=x" not in page.text, path
    for path in ("/", f"/join/{CODE}", f"/labs/{lab}/board"):
        assert "<img src=x" not in site.asks(world.heron, "GET", path).text, path


def register_row(world: World) -> Any:
    from footing.store.records import fetch
    from footing.store.rows import SchoolClass

    return fetch(SchoolClass, world.school_class.id)


def test_writes_from_another_site_are_refused(site: Browserless, world: World) -> None:
    elsewhere = {"origin": "https://example.org", "sec-fetch-site": "cross-site"}
    before = tables.Student.select().count()
    for path, form in (
        (f"/join/{CODE}", JUNIPER),
        (f"/classes/{world.school_class.id}/names", {"names": "Idris"}),
        (f"/classes/{world.school_class.id}/wipe", {"name": "9K Physics"}),
        ("/invitations", {}),
    ):
        answer = site.asks(world.teacher, "POST", path, data=form, headers=elsewhere)
        assert answer.status_code == 403, path
    assert tables.Student.select().count() == before
    assert tables.Invitation.select().count() == 0


def test_the_teacher_renames_moves_and_removes(site: Browserless, world: World) -> None:
    of, who = world.school_class.id, world.wren.id
    place = f"/classes/{of}/students/{who}"
    site.asks(world.teacher, "POST", f"{place}/name", data={"name": "Saoirse B"})
    site.asks(world.teacher, "POST", f"{place}/group", data={"group_id": world.study.group_id})
    row = tables.Student.get_by_id(who)
    assert (row.name, row.group_id) == ("Saoirse B", world.study.group_id)
    taken = site.asks(world.teacher, "POST", f"{place}/name", data={"name": "ottilie"})
    assert taken.status_code == 422
    site.asks(world.teacher, "POST", f"{place}/group", data={"group_id": ""})
    assert tables.Student.get_by_id(who).group_id is None
    site.asks(world.teacher, "POST", f"{place}/remove")
    assert tables.Student.get_or_none(tables.Student.id == who) is None


def test_a_student_of_another_class_is_not_reached_through_ones_own(
    site: Browserless, world: World
) -> None:
    other = tables.SchoolClass.get(tables.SchoolClass.teacher == world.stranger.id)
    place = f"/classes/{other.id}/students/{world.wren.id}"
    for what in ("name", "group", "secret", "remove"):
        answer = site.asks(world.stranger, "POST", f"{place}/{what}", data={"name": "Mine"})
        assert answer.status_code == 404, what
    assert tables.Student.get_by_id(world.wren.id).name == "Saoirse"
    group = f"/classes/{other.id}/groups/{world.study.group_id}/name"
    assert site.asks(world.stranger, "POST", group, data={"name": "Mine"}).status_code == 404


def test_a_lab_is_made_changed_shared_and_taken_in(site: Browserless, world: World) -> None:
    of = world.school_class.id
    made = site.asks(world.teacher, "POST", f"/classes/{of}/labs", data={"title": "Icicles"})
    lab = made.headers["location"]
    words = {"title": "Icicles", "task": "How fast?", "instructions": "- [scale] $v$"}
    site.asks(world.teacher, "POST", lab, data=words | {"follows": "true"})
    asked = {"name": "v", "unit": "m/s", "accepted": "7.7", "tolerance": "5"}
    site.asks(world.teacher, "POST", f"{lab}/findings", data=asked)
    site.asks(world.teacher, "POST", f"{lab}/questions", data={"words": "Why?"})
    page = site.asks(world.teacher, "GET", lab).text
    for part in ("How fast?", "<math", "7.7", "Why?"):
        assert part in page
    file = site.asks(world.teacher, "GET", f"{lab}/lab.zip")
    with zipfile.ZipFile(io.BytesIO(file.content)) as archive:
        assert json.loads(archive.read("lab.json"))["questions"] == ["Why?"]
    other = tables.SchoolClass.get(tables.SchoolClass.teacher == world.stranger.id)
    sent = {"content": file.content}
    taken = site.asks(world.stranger, "POST", f"/classes/{other.id}/labs/file", **sent)
    assert "How fast?" in site.asks(world.stranger, "GET", taken.headers["location"]).text
    bad = {"content": b"no zip", "headers": AS_SCRIPT}
    refused = site.asks(world.stranger, "POST", f"/classes/{other.id}/labs/file", **bad)
    assert (refused.status_code, refused.json()["field"]) == (422, "file")


@pytest.mark.parametrize("form", ["svg", "png", "csv", "ods"])
@pytest.mark.parametrize("shape", ["dots", "histogram", "pairs"])
def test_a_board_is_had_in_every_form(
    form: str, shape: str, site: Browserless, world: World
) -> None:
    tab = Tab(world.study, world.heron)
    for name, readings in (("a", ["1.5", "1.6"]), ("b", ["2.5", "2.7"])):
        sheet = tab.makes("add_sheet", name=name)
        column = tab.makes("add_column", sheet=sheet, name=name, unit="m/s")
        cells = [[one] for one in readings]
        tab.does("set_cells", sheet=sheet, row=1, column=column, cells=cells)
        tab.makes("add_finding", column=column, name=name)
        tables.LabFinding.create(lab=world.lab, name=name)
    query = {"of": "a", "across": "b", "shape": shape}
    answer = site.asks(world.heron, "GET", f"/labs/{world.lab.id}/board.{form}", params=query)
    assert answer.status_code == 200
    begins = {"svg": b"<svg", "png": b"\x89PNG", "csv": b"\xef\xbb\xbf", "ods": b"PK"}
    assert answer.content.startswith(begins[form])


def test_where_the_class_hides_names_no_board_has_them(site: Browserless, world: World) -> None:
    tab = Tab(world.study, world.heron)
    sheet = tab.makes("add_sheet", name="slides")
    column = tab.makes("add_column", sheet=sheet, name="a", unit="m/s")
    tab.does("set_cells", sheet=sheet, row=1, column=column, cells=[["1.5"], ["1.6"]])
    tab.makes("add_finding", column=column, name="a")
    tables.LabFinding.create(lab=world.lab, name="a")
    hides = f"/classes/{world.school_class.id}/hides-names"
    lab = f"/labs/{world.lab.id}"
    paths = [f"{lab}/board?of=a", f"{lab}/board.csv?of=a&names=true", f"{lab}/board.svg?of=a"]
    for said, hidden in (("true", True), ("", False)):
        site.asks(world.teacher, "POST", hides, data={"hides": said} if said else {})
        for path in paths:
            page = site.asks(world.wren, "GET", path)
            assert page.status_code == 200
            assert ("Heron" in page.text.split("<main")[-1]) is not hidden, path


def test_the_first_account_is_made_once_and_guessing_its_code_ends(
    site: Browserless, world: World
) -> None:
    code = invitations.first_code()
    account = {"name": "Ms Sandgate", "password": "snow on the sled run"}
    for _ in range(3):
        wrong = answers(site, "POST", "/first-teacher", data=account | {"code": "0000 0000"})
        assert wrong.status_code == 422
    assert people.by_password("Ms Sandgate", account["password"]) is None
    made = answers(site, "POST", "/first-teacher", data=account | {"code": code})
    assert COOKIE in made.cookies
    again = answers(
        site, "POST", "/first-teacher", data=account | {"code": code, "name": "Mr Else"}
    )
    assert again.status_code == 422


def test_too_many_wrong_codes_shut_the_first_account(site: Browserless, world: World) -> None:
    code = invitations.first_code()
    account = {"name": "Ms Sandgate", "password": "snow on the sled run"}
    for _ in range(10):
        answers(site, "POST", "/first-teacher", data=account | {"code": "0000 0000"})
    shut = answers(site, "POST", "/first-teacher", data=account | {"code": code})
    assert "Too many wrong codes" in shut.text


def test_presence_is_told_to_those_in_the_study_and_to_nobody_else(world: World) -> None:
    study, of = world.study.id, world.school_class.id

    def told(listen: Callable[[Live], Any], *notices: dict[str, Any]) -> list[dict[str, Any]]:
        async def heard() -> list[dict[str, Any]]:
            live = Live(asyncio.get_running_loop())
            events = listen(live)
            assert (await anext(events))["event"] == "ready"
            for notice in (*notices, {"class": of, "end": True}):
                live.receive(notice)
            found = []
            async for event in events:
                found.append(json.loads(event["data"]))
                if "end" in found[-1]:
                    break
            await events.aclose()
            return found[:-1]

        with ThreadPoolExecutor() as beside:  # in this thread a browser's loop may run already
            return beside.submit(lambda: asyncio.run(heard())).result()

    here = {"study": study, "here": {"tab": "x" * 8, "name": "Ottilie"}}
    changed = {"study": study, "seq": 5, "by": "Ottilie"}
    hands = {"class": of, "hands": True}
    other_class = {"class": of + 1, "hands": True}
    notices = (here, changed, hands, other_class)
    yes = {"may_see": lambda: True}
    assert told(lambda live: live.of_study(study, of, **yes), *notices) == [here, changed, hands]
    assert told(lambda live: live.of_class(of, studies=False, **yes), *notices) == [hands]
    seen = told(lambda live: live.of_class(of, studies=True, **yes), *notices)
    assert seen == [{"studies": True}, hands]


def test_where_somebody_is_must_be_said_rightly(site: Browserless, world: World) -> None:
    path = f"/api/studies/{world.study.id}/here"
    good = {"tab": "0123456789abcdef", "step": "mark", "frame": 3, "pointer": [1.5, 2]}
    assert site.asks(world.heron, "POST", path, json=good).status_code == 204
    for wrong in ({"step": "nowhere"}, {"tab": "x"}, {"pointer": [1]}, {"name": "Ms Tarnwick"}):
        assert site.asks(world.heron, "POST", path, json=good | wrong).status_code == 422


@pytest.mark.parametrize(
    ("who", "leads", "helps"), [("heron", 1, 0), ("wren", 0, 0), ("teacher", 1, 1)]
)
def test_those_who_only_look_lead_nobody_and_students_do_not_help_as_teachers(
    who: str, leads: int, helps: int, site: Browserless, world: World, statements: list[str]
) -> None:
    row = register_row(world)
    register.show_to_all(row, world.study.id)
    path = f"/api/studies/{world.study.id}/here"
    here = {"tab": "0123456789abcdef", "step": "mark", "leads": True, "helps": True}
    assert site.asks(getattr(world, who), "POST", path, json=here).status_code == 204
    (told,) = [one for one in statements if "pg_notify" in one]
    assert (told.count('"leads": true'), told.count('"helps": true')) == (leads, helps)


def test_a_hand_goes_up_for_the_group_and_down_again(site: Browserless, world: World) -> None:
    path = f"/api/studies/{world.study.id}/hand"
    overview = f"/labs/{world.lab.id}/overview"
    assert site.asks(world.heron, "POST", path, json={"up": True}).status_code == 204
    assert re.search(r'class="asks"', site.asks(world.teacher, "GET", overview).text)
    assert "Asking for help: Heron" in site.asks(world.teacher, "GET", "/").text
    assert site.asks(world.heron, "POST", path, json={"up": False}).status_code == 204
    assert not re.search(r'class="asks"', site.asks(world.teacher, "GET", overview).text)
