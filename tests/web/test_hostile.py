"""What comes in from outside and is not meant well, or not meant at all."""

import io
import json
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any
from uuid import uuid4

import httpx2 as httpx
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table, TableCell, TableRow
from odf.text import P

from footing.answering import running
from footing.core.errors import Unreadable
from footing.formats.reading import read_table
from footing.settings import Settings
from footing.store import reading
from footing.store.database import database
from footing.store.tables import FailedSignIn, SignIn, Teacher
from footing.studies.school import people
from footing.web.app import create_app
from footing.web.security import COOKIE
from tests.conftest import World
from tests.studies.conftest import typed_sheet
from tests.studies.steps import Tab
from tests.studies.test_edits import EXAMPLES
from tests.web.conftest import Browserless

INVISIBLE = ["\x01", "\x0b", "\ufffe", "\x00", "\ud800", "\u202e", "\u200b"]


def edit(site: Browserless, world: World, fields: dict[str, Any], tab: Tab) -> Any:
    request = {"edit": fields, "based_on": tab.view()["seq"], "token": uuid4().hex}
    return sent(site, world, tab.study_id, request)


def sent(site: Browserless, world: World, study: int, request: dict[str, Any]) -> Any:
    """As JSON writes it, with what no text may hold as an escape."""
    how = {"content": json.dumps(request), "headers": {"content-type": "application/json"}}
    return site.asks(world.heron, "POST", f"/api/studies/{study}/edits", **how)


@pytest.mark.parametrize("character", INVISIBLE)
def test_invisible_characters_do_not_come_in_and_pictures_are_drawn(
    character: str, site: Browserless, world: World, filmed: Tab
) -> None:
    footage = filmed.view()["footage"]["id"]
    body = filmed.makes("add_body", footage=footage, name="cone")
    filmed.does("place_marks", body=body, marks=[[n, 10 + n, 20] for n in range(4)])
    title = f"Fall{character} of a cone"
    for fields in (
        {"kind": "set_graph", "footage": footage, "title": title, "y_title": title},
        {"kind": "change_body", "body": body, "name": title},
    ):
        assert edit(site, world, fields, filmed).status_code == 200
    view = filmed.view()
    assert view["graphs"][0]["title"] == "Fall of a cone"
    assert view["bodies"][0]["name"] == "Fall of a cone"
    picture = site.asks(world.heron, "GET", f"/api/studies/{filmed.study_id}/graphs/0.svg")
    assert picture.status_code == 200
    assert "Fall of a cone" in picture.text


@pytest.mark.parametrize(
    ("fields", "said"),
    [
        ({"kind": "type_known_length", "length": "1e-155", "unit": "m"}, "1e-30 to 1e30"),
        ({"kind": "type_known_length", "length": "1e400", "unit": "m"}, "1e-30 to 1e30"),
        ({"kind": "type_known_length", "length": "1e-9", "unit": "m"}, "1e-06 to 1e"),
        ({"kind": "type_known_length", "length": "2.0", "unit": "½"}, "cannot be a unit"),
        ({"kind": "set_clock", "clock": "capture", "typed": "1e-20"}, "frames/s"),
        ({"kind": "set_clock", "clock": "moments", "typed": "1e-29", "first": 0, "last": 1}, "s."),
        ({"kind": "set_span", "first": 0, "last": 9, "stride": 2**31}, "too large"),
        ({"kind": "set_graph", "x_range": [0, 1e308]}, "no number that can be kept"),
        ({"kind": "set_graph", "sketch": {"x": "t", "y": "y", "line": [[0, -1e308]]}}, "no number"),
        ({"kind": "set_graph", "hidden": list(range(500))}, "at most"),
    ],
)
def test_numbers_beyond_sense_are_refused_at_their_field(
    fields: dict[str, Any], said: str, site: Browserless, world: World, filmed: Tab
) -> None:
    footage = filmed.view()["footage"]["id"]
    ends = {"start_x": 10, "start_y": 10, "end_x": 110, "end_y": 10}
    length = filmed.makes("add_known_length", footage=footage, frame=0, **ends)
    whose = {"known_length": length} if "length" in fields else {"footage": footage}
    answer = edit(site, world, fields | whose, filmed)
    assert answer.status_code == 422
    assert said in answer.json()["error"]
    assert site.asks(world.heron, "GET", f"/studies/{filmed.study_id}/ground").status_code == 200


_ODD = st.one_of(
    st.sampled_from(
        ["1e400", "NaN", "inf", "-0", "½", "\x00", "😀" * 30, "=1+1", "1e-320", "x" * 99]
    ),
    st.integers(-(2**70), 2**70),
    st.floats(allow_nan=True),
    st.none(),
    st.booleans(),
    st.lists(st.integers(), max_size=3),
)


@settings(max_examples=150, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(kind=st.sampled_from(sorted(EXAMPLES)), data=st.data())
def test_any_edit_is_refused_with_a_sentence_or_leaves_everything_readable(
    kind: str, data: st.DataObject, site: Browserless, world: World, filmed: Tab
) -> None:
    fields: dict[str, Any] = {"kind": kind}
    for name in EXAMPLES[kind]:
        fields[name] = data.draw(_ODD)
    request = {"edit": fields, "based_on": 0, "token": uuid4().hex}
    answer = sent(site, world, filmed.study_id, request)
    assert answer.status_code < 500, answer.text
    path = f"/api/studies/{filmed.study_id}"
    assert site.asks(world.heron, "GET", path).status_code == 200


@pytest.mark.parametrize(
    "path",
    [
        "/api/studies/1%00",
        "/studies/99999999999999999999/mark",
        "/api/studies/{id}/sheets/99999999999999999999/cells",
        "/api/studies/{id}/tables/b99999999999999999999.csv",
        "/api/studies/{id}/graphs/0.png?scale=1e-7",
        "/api/studies/{id}/graphs/0.png?scale=nan",
        "/api/studies/{id}?source=%E2%80%AE",
    ],
)
def test_addresses_beyond_sense_are_answered_in_a_sentence(
    path: str, site: Browserless, world: World, filmed: Tab
) -> None:
    answer = site.asks(world.heron, "GET", path.format(id=filmed.study_id))
    assert 400 <= answer.status_code < 500, answer.text
    assert "content-security-policy" in answer.headers


def test_refusals_and_faults_carry_the_protective_headers_and_a_number(
    site: Browserless, world: World, filmed: Tab, monkeypatch: pytest.MonkeyPatch
) -> None:
    foreign = {"origin": "http://elsewhere.example"}
    refused = site.asks(world.heron, "POST", "/studies", headers=foreign)
    monkeypatch.setattr("footing.web.api.edits.study_view", lambda *_, **__: 1 / 0)
    fault = site.asks(world.heron, "GET", f"/api/studies/{filmed.study_id}")
    assert (refused.status_code, fault.status_code) == (403, 500)
    for answer in (refused, fault):
        assert "default-src 'none'" in answer.headers["content-security-policy"]
        assert "private" in answer.headers["cache-control"]
    assert fault.json()["number"] in fault.json()["error"]


def test_a_state_with_a_number_that_is_none_can_still_be_read(
    site: Browserless, world: World, tab: Tab
) -> None:
    sheet, v, d, _ = typed_sheet(tab)
    tab.does("set_cells", sheet=sheet, row=1, column=v, cells=[["0"]])
    tab.does("add_column", sheet=sheet, name="root", symbol="r", formula="sqrt(v)")
    root = tab.view()["columns"][-1]["key"]
    tab.does("set_graph", sheet=sheet, x=root, ys=[f"c{d}"])
    tab.does("add_fit", sheet=sheet, x=root, y=f"c{d}", curve="line")
    answer = site.asks(world.heron, "GET", f"/api/studies/{tab.study_id}?source=s{sheet}")
    assert answer.status_code == 200
    assert answer.json()["fits"][0]["reason"] is None
    forms = f"/api/studies/{tab.study_id}/straight-forms?owner=s{sheet}&x=c{v}&y=c{d}"
    assert site.asks(world.heron, "GET", forms).status_code == 200


@pytest.fixture
def tab(world: World) -> Tab:
    return Tab(world.study, world.heron)


def spreadsheet(*, columns: int = 1, rows: int = 1, words: int = 1) -> bytes:
    """An ODS file with one cell that is said to be repeated, or that holds many words."""
    document = OpenDocumentSpreadsheet()
    table, row = Table(name="t"), TableRow(numberrowsrepeated=rows)
    cell = TableCell(numbercolumnsrepeated=columns, valuetype="string")
    cell.addElement(P(text="snow " * words))
    row.addElement(cell)
    table.addElement(row)
    document.spreadsheet.addElement(table)
    file = io.BytesIO()
    document.write(file)
    return file.getvalue()


@pytest.mark.parametrize(
    ("larger", "said"),
    [
        ({"columns": 20_000_000}, "columns"),
        ({"rows": 20_000_000}, "rows"),
        ({"words": 11_000_000}, "Unpacked"),
    ],
)
def test_spreadsheets_that_are_larger_than_they_look_are_refused(
    larger: dict[str, int], said: str
) -> None:
    file = spreadsheet(**larger)
    begun = time.monotonic()
    with pytest.raises(Unreadable, match=said):
        list(read_table(file).rows)
    assert time.monotonic() - begun < 20


def test_cells_that_a_spreadsheet_would_compute_go_out_as_text(
    site: Browserless, world: World, tab: Tab
) -> None:
    sheet, _, _, _ = typed_sheet(tab)
    word = tab.makes("add_column", sheet=sheet, name="=word", symbol="q")
    cells = [["=1+1"], ["+2"], ["-3"], ["@here"], ["-"]]
    tab.does("set_cells", sheet=sheet, row=1, column=word, cells=cells)
    path = f"/api/studies/{tab.study_id}/tables/s{sheet}.csv"
    text = site.asks(world.heron, "GET", path).text
    for dangerous in (",=", ",@", ",-\n"):
        assert dangerous not in text
    assert ",-3\n" in text  # numbers stay numbers
    taken = list(read_table(text.encode()).rows)
    assert [row[-1] for row in taken][:4] == ["=1+1", "+2", "-3", "@here"]


def test_guessing_is_slowed_down_from_where_it_comes_and_the_owner_gets_in(
    site: Browserless, world: World
) -> None:
    people.add_teacher("Ms Tarnwick", "a long enough phrase")
    form = {"name": "ms tarnwick", "password": "wrong wrong"}
    said = [site.asks(None, "POST", "/sign-in", data=form).text for _ in range(10)]
    assert "do not go together" in said[0]
    assert "Too many attempts" in said[-1]
    FailedSignIn.update(address="10.9.9.9").execute()  # as if it had come from elsewhere
    right = form | {"password": "a long enough phrase"}
    assert site.asks(None, "POST", "/sign-in", data=right).status_code == 303


@pytest.mark.parametrize("password", ["short", "password123", "Ms Tarnwick", "aaaaaaaaaa"])
def test_passwords_that_are_guessed_at_once_are_refused(password: str, world: World) -> None:
    with pytest.raises(people.Refused):
        people.add_teacher("Ms Tarnwick", password)


def test_a_session_ends_with_another_sign_in_a_new_password_and_long_idleness(
    site: Browserless, world: World
) -> None:
    row = people.add_teacher("Mr Fenn", "a long enough phrase")
    mine = people.sign_in(people.teacher(row), days=9)
    site.client.cookies.clear()
    site.client.cookies.set("footing", mine)
    site.client.post("/demo/sign-in", data={"who": f"student {world.heron.id}"})
    assert people.signed_in(mine, idle_hours=9) is None
    mine = people.sign_in(people.teacher(row), days=9)
    people.add_teacher("Mr Fenn", "another long phrase")
    assert people.signed_in(mine, idle_hours=9) is None
    mine = people.sign_in(people.teacher(row), days=9)
    assert people.signed_in(mine, idle_hours=9) is not None
    SignIn.update(used_at=SignIn.used_at - people.timedelta(hours=10)).execute()
    assert people.signed_in(mine, idle_hours=9) is None
    assert Teacher.select().where(Teacher.name == "Mr Fenn").count() == 1


def test_the_cookie_is_for_tls_only_where_there_is_tls(site: Browserless, world: World) -> None:
    who = {"data": {"who": f"student {world.heron.id}"}}
    plain = site.asks(None, "POST", "/demo/sign-in", **who)
    assert "secure" not in plain.headers["set-cookie"].lower()
    behind = {"x-forwarded-proto": "https"}
    safe = site.asks(None, "POST", "/demo/sign-in", headers=behind, **who)
    assert "secure" in safe.headers["set-cookie"].lower()


def test_more_requests_than_connections_wait_for_one(
    site: Browserless, world: World, filmed: Tab, token: str
) -> None:
    """Forty at once, each for a state: none is turned away."""
    path = f"/api/studies/{filmed.study_id}"
    cookies = {"footing": people.sign_in(world.heron, days=1)}
    site.client.cookies.clear()
    site.client.cookies.update(cookies)
    answers: list[int] = []
    ask: Callable[[], None] = lambda: answers.append(site.client.get(path).status_code)  # noqa: E731
    threads = [threading.Thread(target=ask) for _ in range(40)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert answers == [200] * 40


def test_numbers_from_before_there_were_limits_leave_everything_readable(
    site: Browserless, world: World, filmed: Tab
) -> None:
    footage = filmed.view()["footage"]["id"]
    ends = {"start_x": 10, "start_y": 10, "end_x": 110, "end_y": 10}
    length = filmed.makes("add_known_length", footage=footage, frame=0, **ends)
    filmed.does("type_known_length", known_length=length, length="1.00", unit="m")
    filmed.does("set_clock", footage=footage, clock="capture", typed="120")
    body = filmed.makes("add_body", footage=footage, name="cone")
    filmed.does("place_marks", body=body, marks=[[n, 10 + n, 20 + n * n] for n in range(8)])
    filmed.does("add_fit", body=body, x="t", y="y", curve="quadratic")
    for statement in (
        "UPDATE known_length SET typed = '1e-155'",
        "UPDATE ground SET clock_typed = '1e-200', readout = '1e400', camera_distance = '1e-99'",
        "UPDATE body SET mass = '1e-300', mass_unit = 'kg'",
    ):
        database.execute_sql(statement)
    reading.forget()
    path = f"/api/studies/{filmed.study_id}"
    state = site.asks(world.heron, "GET", path)
    assert state.status_code == 200
    said = {one["key"]: one["reason"] for one in state.json()["checks"]}
    assert "1e-155" in said["unusable"]
    for step in ("ground", "mark", "graph"):
        page = site.asks(world.heron, "GET", f"/studies/{filmed.study_id}/{step}")
        assert page.status_code == 200
    filmed.does("undo")
    assert filmed.view()["fits"] == []


def test_a_large_body_is_taken_up_to_the_limit_and_refused_beyond(
    world: World, tmp_path: Path
) -> None:
    """In the pieces in which a network brings it, which are counted as they come."""
    cookies = {COOKIE: people.sign_in(world.heron, days=1)}
    path = f"/api/studies/{world.study.id}/edits"
    with (
        running(create_app(Settings(data=tmp_path / "data"))) as address,
        httpx.Client(base_url=address, cookies=cookies, timeout=60) as client,
    ):
        assert client.post(path, content=b" " * 12_000_000).status_code == 422  # no edit, but read
        refused = client.post(path, content=b" " * 17_000_000)
        assert refused.status_code == 413
        assert "16 MB at most" in refused.json()["error"]
        table = b"a,b\n" + b"1.25,2.50\n" * 2_000_000
        taken = client.post(f"/api/studies/{world.study.id}/tables?name=x", content=table)
        assert taken.status_code in (200, 422)  # too many rows, perhaps; not too many bytes
