"""Marking, correcting and undoing, as hands do it."""

import json
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Route, expect

from footing.settings import Settings
from footing.studies.school.people import Person
from tests.browser.hands import Hands
from tests.conftest import World
from tests.moments import Once
from tests.studies.steps import Tab

OpenTab = Callable[[Person], Hands]


@pytest.fixture
def bench(open_tab: OpenTab, world: World, clips: Path, settings: Settings, once: Once) -> Hands:
    """Group Heron at Mark, with the sled clip and a body."""
    tab = Tab(world.study, world.heron)

    def make() -> None:
        footage = tab.uploads(clips / "sled-run.mp4", settings)
        tab.does("add_body", footage=footage, name="sled")

    once("unmarked sled", tab, make)
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/mark")
    hands.sees_frame(0)
    return hands


@pytest.fixture
def positions(clips: Path) -> list[list[float]]:
    return json.loads((clips / "sled-run.json").read_text())["positions"]


def marks(hands: Hands) -> list[list[float]]:
    return hands.state()["bodies"][0]["marks"]


def test_a_graph_without_marks_shows_no_axes_and_leads_to_marking(bench: Hands) -> None:
    page = bench.page
    bench.goes_to("graph")
    expect(page.locator("#graph-empty")).to_contain_text("Marks appear here")
    expect(page.locator("#graph-list")).to_have_css("visibility", "hidden")
    expect(page.get_by_role("button", name="Fit")).to_have_count(0)
    page.get_by_role("button", name="Go and mark").click()
    bench.sees_frame(0)
    expect(page.locator("#bench")).to_have_attribute("data-step", "mark")


def test_names_of_lanes_have_room_for_24_letters(bench: Hands) -> None:
    page = bench.page
    body = page.locator('#card-bodies form[data-kind="change_body"] [name=name]')
    body.fill("smaller of the two sleds")  # 24 letters
    body.press("Tab")
    shown = page.locator("#lanes .lane-name tspan")
    expect(shown).to_have_text(["smaller of", "the two sleds"])


def test_a_click_lands_where_it_points_and_moves_on(
    bench: Hands, positions: list[list[float]]
) -> None:
    bench.marks(range(4), positions)
    bench.sees_frame(4)
    placed = marks(bench)
    assert [mark[0] for mark in placed] == [0, 1, 2, 3]
    for frame, x, y in placed:
        assert (x, y) == pytest.approx(positions[int(frame)], abs=0.8)


def test_a_double_click_makes_one_mark(bench: Hands) -> None:
    bench.page.mouse.dblclick(*bench.point([200, 300]))
    bench.sees_frame(1)
    bench.is_saved()
    assert [mark[0] for mark in marks(bench)] == [0]


def test_a_mark_is_dragged_nudged_and_removed(bench: Hands) -> None:
    bench.clicks([200, 300])
    bench.is_saved()
    bench.page.keyboard.press("d")
    bench.sees_frame(0)
    bench.drags_pixels([200, 300], [260, 340])
    bench.is_saved()
    bench.counts_marks(1)
    assert marks(bench)[0][1:] == pytest.approx([260, 340], abs=0.8)
    before = marks(bench)[0]
    bench.page.keyboard.press("ArrowRight")
    bench.page.keyboard.press("Shift+ArrowUp")
    bench.is_saved()
    assert marks(bench)[0][1:] == pytest.approx([before[1] + 1, before[2] - 0.1], abs=1e-6)
    bench.page.keyboard.press("e")
    bench.counts_marks(0)
    assert marks(bench) == []


def test_a_held_key_is_one_edit(bench: Hands) -> None:
    bench.clicks([200, 300])
    bench.is_saved()
    bench.page.keyboard.press("d")
    seq = bench.state()["seq"]
    for _ in range(5):  # a held key repeats without being let go
        bench.page.keyboard.down("ArrowRight")
    bench.page.keyboard.up("ArrowRight")
    bench.is_saved()
    expect(bench.page.locator("#undo")).to_be_enabled()
    state = bench.state()
    assert state["seq"] == seq + 1
    assert state["bodies"][0]["marks"][0][1] == pytest.approx(205, abs=0.8)


def test_undo_and_redo_by_button_and_key(bench: Hands, positions: list[list[float]]) -> None:
    bench.marks(range(3), positions)
    whole = marks(bench)
    bench.page.locator("#undo").click()
    bench.counts_marks(2)
    bench.page.keyboard.press("Control+z")
    bench.counts_marks(1)
    bench.page.reload()
    bench.page.locator("#redo").click()
    bench.counts_marks(2)
    bench.page.keyboard.press("Control+Shift+z")
    bench.counts_marks(3)
    assert marks(bench) == whole


def test_the_loupe_shows_with_the_same_spot_when_it_was_marked_last(bench: Hands) -> None:
    loupe = bench.page.locator("#loupe")
    bench.page.mouse.move(*bench.point([300, 300]))
    expect(loupe).to_be_visible()
    expect(loupe.locator("figure")).to_be_hidden()
    bench.clicks([300, 300])
    bench.sees_frame(1)
    bench.page.mouse.move(*bench.point([310, 300]))
    expect(loupe.locator("figure")).to_be_visible()


def test_zoom_keeps_the_point_under_the_pointer_and_marks_stay_exact(bench: Hands) -> None:
    point = (560, 330)
    target = bench.pixel(point)
    bench.page.mouse.move(*point)
    for _ in range(8):
        bench.page.mouse.wheel(0, -100)
    bench.page.wait_for_function(
        "Number(document.getElementById('stage').dataset.matrix.split(',')[0]) > 3.5"
    )
    assert bench.point(target) == pytest.approx(point, abs=0.01)
    bench.clicks(target)
    bench.is_saved()
    assert marks(bench)[0][1:] == pytest.approx(target, abs=0.2)


def test_a_lost_connection_loses_no_mark(bench: Hands) -> None:
    page = bench.page
    page.route("**/edits*", lambda route: route.abort())
    bench.clicks([200, 300])
    expect(page.locator("#saved")).to_contain_text("not saved yet")
    bench.sees_frame(1)
    page.unroute("**/edits*")
    bench.is_saved()
    assert [mark[0] for mark in marks(bench)] == [0]


def test_an_edit_that_cannot_be_stored_is_named_and_the_rest_goes_on(bench: Hands) -> None:
    page = bench.page

    def first_fails(route: Route) -> None:
        if '"frame":0' in (route.request.post_data or ""):
            route.fulfill(status=500, json={"error": "Something went wrong (error 1a2b)."})
        else:
            route.continue_()

    page.route("**/edits*", first_fails)
    bench.clicks([200, 300])
    bench.sees_frame(1)
    bench.clicks([210, 310])
    expect(page.locator("#saved")).to_have_text("not saved: place mark in frame 0")
    expect(page.locator("#stage-note")).to_contain_text("could not be stored")
    bench.sees_frame(2)
    page.wait_for_function("() => true")
    page.unroute("**/edits*")
    page.get_by_role("button", name="Try again").click()
    bench.is_saved()
    assert sorted(mark[0] for mark in marks(bench)) == [0, 1]


def test_signed_out_meanwhile_nothing_is_called_saved_and_nothing_is_lost(
    bench: Hands, world: World
) -> None:
    page = bench.page
    cookies = page.context.cookies()
    page.context.clear_cookies()
    bench.clicks([200, 300])
    expect(page.locator("#saved")).to_contain_text("you are signed out")
    page.reload()  # to the sign-in; the mark waits in this window
    page.context.add_cookies(
        [{"name": one["name"], "value": one["value"], "url": bench.address} for one in cookies]
    )
    bench.opens(f"/studies/{world.study.id}/mark")
    bench.is_saved()
    assert [mark[0] for mark in marks(bench)] == [0]


def test_a_stale_edit_from_a_second_tab_is_refused_with_the_present_state(
    bench: Hands, open_tab: OpenTab, world: World
) -> None:
    bench.clicks([200, 300])
    bench.is_saved()
    # no live updates reach this tab
    bench.page.route("**/news*", lambda route: route.abort())
    second = open_tab(world.heron)
    second.opens(f"/studies/{world.study.id}/mark")
    second.sees_frame(0)
    second.drags_pixels([200, 300], [250, 300])
    second.is_saved()
    bench.page.keyboard.press("d")
    bench.sees_frame(0)
    bench.drags_pixels([200, 300], [200, 350])
    note = bench.page.locator("#stage-note")
    expect(note).to_contain_text("Ottilie has changed the same thing meanwhile")
    assert marks(bench)[0][1:] == pytest.approx([250, 300], abs=0.8)
    bench.drags_pixels([250, 300], [200, 350])  # the present state is shown, so this is fresh
    bench.is_saved()
    expect(bench.page.locator("#undo")).to_be_enabled()
    bench.counts_marks(1)
    assert marks(bench)[0][1:] == pytest.approx([200, 350], abs=0.8)


def test_marks_are_put_right_in_whole_stretches(bench: Hands) -> None:
    """Two bodies that were taken for each other, a spot that was meant, a range that goes."""
    page = bench.page
    bench.adds_body("lamp")
    names = [body["name"] for body in bench.state()["bodies"]]
    assert names[1] == "lamp"
    for name, x in ((names[0], 200), ("lamp", 600)):
        page.locator("#cards .body-pick", has_text=name).click()
        bench.steps_to(0)
        for frame in range(3):
            bench.sees_frame(frame)
            bench.clicks([x, 300])
            page.wait_for_timeout(330)  # slower than a double click
    bench.is_saved()
    bench.steps_to(1)
    first = page.locator("#cards .body").first
    first.locator(".body-pick").click()
    first.get_by_text("Put marks right").click()
    first.get_by_role("button", name="From this frame on").click()
    bench.is_saved()
    mine, lamps = (
        [round(mark[1], -2) for mark in body["marks"]] for body in bench.state()["bodies"]
    )
    assert (mine, lamps) == ([200, 600, 600], [600, 200, 200])
    first.locator("[name=dx]").fill("10")
    first.locator("[name=dy]").fill("0")
    first.get_by_role("button", name="Shift").click()
    bench.is_saved()
    assert bench.state()["bodies"][0]["marks"][0][1] == pytest.approx(210, abs=1)
    first.locator('[data-kind="remove_marks"] [name=first]').fill("1")
    first.locator('[data-kind="remove_marks"] [name=last]').fill("2")
    first.get_by_role("button", name="Remove them").click()
    expect(first.locator(".body-pick")).to_contain_text("1 mark")
    page.locator("#undo").click()
    expect(first.locator(".body-pick")).to_contain_text("3 marks")


def test_what_another_tab_changes_is_seen_without_a_reload(
    bench: Hands, open_tab: OpenTab, world: World
) -> None:
    expect(bench.page.locator("html")).to_have_attribute("data-live", "true")
    second = open_tab(world.teacher)
    second.opens(f"/studies/{world.study.id}/mark")
    second.sees_frame(0)
    second.clicks([200, 300])
    second.is_saved()
    bench.counts_marks(1)


def test_what_was_changed_before_the_live_updates_began_is_seen(
    bench: Hands, open_tab: OpenTab, world: World
) -> None:
    late = open_tab(world.heron)
    held: list[Route] = []
    late.page.route("**/events", lambda route: held.append(route))
    late.opens(f"/studies/{world.study.id}/mark")
    bench.clicks([200, 300])
    bench.is_saved()
    late.counts_marks(0)
    held[0].continue_()
    late.counts_marks(1)


def test_the_lane_of_the_body_grows_with_each_mark_and_tells_its_figures(
    bench: Hands, positions: list[list[float]]
) -> None:
    page = bench.page
    expect(page.locator("#graph")).to_be_hidden()  # the film has the room
    expect(page.locator("#table-card")).to_be_hidden()
    bench.marks(range(3), positions)
    bench.steps_to(2)
    figures = page.locator("#lanes .mark-figure")
    expect(figures).to_have_count(6)
    expect(page.locator("#plot canvas")).to_have_count(0)  # nothing is drawn that nobody sees
    body = bench.state()["bodies"][0]
    keys = [column["key"] for column in body["table"]["columns"]]
    shown = [row[keys.index(key)] for row in reversed(body["table"]["rows"]) for key in ("x", "y")]
    assert figures.all_text_contents() == shown
    assert page.locator("#lanes .mark-figure.now").all_text_contents() == shown[:2]
    expect(page.locator("#lanes .curve-point")).to_have_count(6)
    unit = body["table"]["columns"][keys.index("x")]["unit"]
    expect(page.locator("#lanes .lane-name").get_by_text(unit, exact=True)).to_be_visible()
    bench.steps_to(1)
    assert figures.all_text_contents() == shown[2:]
    bench.goes_to("graph")
    expect(figures).to_have_count(0)
    expect(page.locator("#graph")).to_be_visible()
