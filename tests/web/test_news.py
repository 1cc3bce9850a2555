"""What a page is told: only what is new since what it has."""

from datetime import UTC, datetime
from typing import Any

import pytest

from footing.store.records import add
from footing.store.rows import Study
from footing.studies.steps import Step
from footing.web.reads import parts_read
from footing.web.steps import RAIL
from tests.conftest import World
from tests.studies.steps import Tab
from tests.web.conftest import Browserless


class Page:
    """A page of a study: it says what it has."""

    def __init__(self, site: Browserless, tab: Tab, step: Step) -> None:
        self.site = site
        self.tab = tab
        self.has: dict[str, str] = {"step": step}
        self.fetch()

    def fetch(self) -> dict[str, Any]:
        """What is new; after that the page has it."""
        path = f"/api/studies/{self.tab.study_id}/news"
        return self.take(self.site.asks(self.tab.person, "GET", path, params=self.has).json())

    def take(self, told: dict[str, Any]) -> dict[str, Any]:
        """Have what was told from now on."""
        view = told.get("view")
        version = view["version"] if view else told["changes"]["fields"]["version"]["to"]
        self.has |= {"since": version, "cards": told["cards"]["version"]}
        return told

    def edits(self, kind: str, **fields: object) -> dict[str, Any]:
        """Make an edit; what is new comes with the answer."""
        request = self.tab.request(kind, **fields).model_dump()
        path = f"/api/studies/{self.tab.study_id}/edits"
        answer = self.site.asks(self.tab.person, "POST", path, json=request, params=self.has)
        return self.take(answer.json())


@pytest.fixture
def marked(filmed: Tab) -> int:
    """A body with some marks."""
    footage = filmed.view()["footage"]["id"]
    body = filmed.makes("add_body", footage=footage, name="cone")
    for frame in range(6):
        filmed.does("place_mark", body=body, frame=frame, x=20.0 + 3 * frame, y=30.0)
    return body


def test_an_edit_tells_only_what_it_changed(site: Browserless, filmed: Tab, marked: int) -> None:
    page = Page(site, filmed, Step.MARK)
    had = dict(page.has)
    told = page.edits("place_mark", body=marked, frame=7, x=50, y=30)
    assert (told["since"], told["cards"]["since"]) == (had["since"], had["cards"])
    fields = told["changes"]["fields"]
    assert "view" not in told
    assert {"bodies", "graphs", "seq"} <= fields.keys()
    assert not {"footage", "ground", "passages", "sources", "findings"} & fields.keys()
    assert fields["seq"]["to"] == told["seq"] == filmed.view()["seq"]
    (body,) = fields["bodies"]["items"].values()
    first, gone, rows = body["fields"]["marks"]["rows"]
    assert (first, gone, rows) == (6, 0, [[7, 50.0, 30.0]])


def test_nothing_new_is_nearly_nothing(site: Browserless, filmed: Tab, marked: int) -> None:
    page = Page(site, filmed, Step.MARK)
    told = page.fetch()
    shared = {"bodies", "graphs", "fits", "checks", "footage", "ground", "sources"}
    assert not shared & told["changes"]["fields"].keys()
    assert told["cards"]["changes"] == {}


def test_cards_come_with_what_changed_in_them(site: Browserless, filmed: Tab, marked: int) -> None:
    page = Page(site, filmed, Step.GRAPH)
    footage = filmed.view()["footage"]["id"]
    told = page.edits("add_passage", footage=footage, name="pushed", first=1, last=4)
    changed = told["cards"]["changes"]["fields"]["html"]["fields"]
    assert "pushed" in changed["passages"]["to"]
    assert {"passages", "line"} <= changed.keys()
    assert not {"columns", "graph", "fits"} & changed.keys()


def test_cards_that_stayed_are_as_if_they_were_made_anew(
    site: Browserless, filmed: Tab, marked: int
) -> None:
    edits: list[tuple[str, dict[str, object]]] = [
        ("place_mark", {"body": marked, "frame": 8, "x": 52.0, "y": 31.0}),
        ("add_fit", {"body": marked, "x": "t", "y": "x", "curve": "line", "passages": []}),
        ("change_body", {"body": marked, "name": "paper cone"}),
        ("remove_body", {"body": marked}),
    ]
    path = f"/api/studies/{filmed.study_id}/news"
    for step in (Step.MARK, Step.GRAPH, Step.GROUND):
        page = Page(site, filmed, step)
        shown = site.asks(filmed.person, "GET", path, params={"step": step}).json()
        html = shown["cards"]["changes"]["to"]["html"]
        for kind, fields in edits:
            told = page.edits(kind, **fields)
            html |= {
                key: change["to"]
                for key, change in told["cards"]["changes"]
                .get("fields", {})
                .get("html", {})
                .get("fields", {})
                .items()
            }
            anew = site.asks(filmed.person, "GET", path, params={"step": step}).json()
            present = anew["cards"]["changes"]["to"]["html"]
            assert {key: html[key] for key in present} == present
        for _ in edits:
            filmed.does("undo")


def test_the_order_of_cards_is_told_when_a_result_comes(
    site: Browserless, filmed: Tab, marked: int
) -> None:
    page = Page(site, filmed, Step.GRAPH)
    fit = filmed.makes("add_fit", body=marked, x="t", y="x", curve="line", passages=[])
    page.fetch()
    told = page.edits("add_finding", fit=fit, reading="velocity", name="v")
    first, _, keys = told["cards"]["changes"]["fields"]["order"]["rows"]
    assert (first, keys[0]) == (1, "findings")  # below what the lab asks for


def test_a_version_of_another_study_tells_nothing(
    site: Browserless, filmed: Tab, marked: int, world: World
) -> None:
    page = Page(site, filmed, Step.MARK)
    study = add(
        Study(school_class_id=world.school_class.id, title="Second", made_at=datetime.now(UTC))
    )
    other = Tab(study, world.teacher)
    path = f"/api/studies/{other.study_id}/news"
    told = site.asks(world.teacher, "GET", path, params=page.has).json()
    assert told["view"]["id"] == other.study_id
    assert "since" not in told
    assert "since" not in told["cards"]


def test_a_version_that_nobody_knows_any_more_gives_all(
    site: Browserless, filmed: Tab, marked: int
) -> None:
    page = Page(site, filmed, Step.MARK)
    page.has |= {"since": f"{filmed.study_id}.0", "cards": f"{filmed.study_id}.0 mark 0"}
    told = page.fetch()
    assert told["view"]["bodies"][0]["id"] == marked
    assert "bodies" in told["cards"]["changes"]["to"]["order"]


def test_a_stale_edit_brings_what_is_new(site: Browserless, filmed: Tab, marked: int) -> None:
    page = Page(site, filmed, Step.MARK)
    stale = filmed.request("place_mark", body=marked, frame=2, x=1.0, y=1.0).model_dump()
    filmed.does("place_mark", body=marked, frame=2, x=9.0, y=9.0)
    path = f"/api/studies/{filmed.study_id}/edits"
    answer = site.asks(filmed.person, "POST", path, json=stale, params=page.has)
    assert answer.status_code == 409
    assert "bodies" in answer.json()["changes"]["fields"]


def test_what_each_card_reads_of_the_state_is_found(filmed: Tab) -> None:
    """A card that read what is not found here would not be made anew when that changes."""
    state = filmed.view().keys()
    for cards in (step.cards for step in RAIL):
        for card in cards:
            assert parts_read(card.template) <= state
    assert {"findings", "columns"} <= parts_read("_card_findings.html")
    assert {"fits", "graphs", "passages"} <= parts_read("_card_fits.html")  # some by way of others
    assert {"graphs", "quantities", "sheet"} <= parts_read("_card_line.html")


def test_a_page_gets_the_parts_of_bodies_that_it_shows(
    site: Browserless, filmed: Tab, marked: int
) -> None:
    (whole,) = filmed.view()["bodies"]
    page = Page(site, filmed, Step.MARK)
    del page.has["since"]

    def shows(*names: str) -> dict[str, Any]:
        page.has["shown"] = " ".join(names)
        page.has.pop("since", None)
        view = page.fetch()["view"]
        assert view["shown"] == [name for name in names if name != "table:cone"]
        (body,) = view["bodies"]
        return body

    parts = {"table", "lanes", "vectors"}
    bare = shows()
    assert {name: bare[name] for name in parts} == {"table": None, "lanes": {}, "vectors": {}}
    for body in (shows("lane:v"), shows("arrows:a"), shows(f"table:{marked}")):
        assert {name: body[name] for name in whole.keys() - parts} == {
            name: bare[name] for name in whole.keys() - parts
        }
    assert shows("lane:v", "lane:x")["lanes"] == {key: whole["lanes"][key] for key in ("x", "v")}
    assert shows("arrows:a")["vectors"] == {"a": whole["vectors"]["a"]}
    assert shows(f"table:{marked}")["table"] == whole["table"] is not None
    assert shows(f"table:{marked + 1}", "table:cone") == bare


def test_a_part_that_comes_into_view_is_told_as_news(
    site: Browserless, filmed: Tab, marked: int
) -> None:
    page = Page(site, filmed, Step.GRAPH)
    page.has["shown"] = "lane:x"
    page.fetch()
    page.has["shown"] = f"lane:x table:{marked}"
    fields = page.fetch()["changes"]["fields"]
    assert fields.keys() & {"bodies", "graphs", "fits"} == {"bodies"}
    (whole,) = filmed.view()["bodies"]
    assert fields["bodies"] == {"items": {"0": {"fields": {"table": {"to": whole["table"]}}}}}


def test_the_values_of_a_lane_are_printed_as_in_the_table(filmed: Tab, marked: int) -> None:
    (body,) = filmed.view()["bodies"]
    keys = [column["key"] for column in body["table"]["columns"]]
    for key in ("x", "y", "v"):
        lane, column = body["lanes"][key], keys.index(key)
        assert lane["texts"] == [body["table"]["rows"][row][column] for row in lane["rows"]]
        assert lane["unit"] == body["table"]["columns"][column]["unit"]
