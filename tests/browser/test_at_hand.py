"""What is at hand while one works: words where something is missing, and going on where one was."""

from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import expect

from footing.settings import Settings
from footing.studies.school.people import Person
from tests.browser.hands import Hands
from tests.conftest import World
from tests.studies.conftest import typed_sheet
from tests.studies.steps import Tab

OpenTab = Callable[[Person], Hands]


@pytest.fixture
def tab(world: World) -> Tab:
    return Tab(world.study, world.heron)


@pytest.fixture
def footage(tab: Tab, plain_film: Path, settings: Settings) -> int:
    return tab.uploads(plain_film, settings)


@pytest.fixture
def bench(open_tab: OpenTab, world: World, footage: int) -> Hands:
    """Group Heron at Mark, with a film of 40 frames and no body yet."""
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/mark")
    hands.sees_frame(0)
    return hands


def test_a_click_without_a_body_says_what_is_missing(bench: Hands) -> None:
    bench.clicks([100, 100])
    expect(bench.page.locator("#stage-note")).to_contain_text("name what moves")
    expect(bench.page.locator('form[data-kind="add_body"] [name=name]')).to_be_focused()
    bench.page.keyboard.type("cone")
    bench.page.keyboard.press("Enter")
    expect(bench.page.locator("#cards .body-pick", has_text="cone")).to_be_visible()
    bench.clicks([140, 120])
    bench.sees_frame(1)


def test_correcting_a_mark_stays_on_its_frame(bench: Hands) -> None:
    bench.adds_body("cone")
    bench.clicks([100, 100])
    bench.sees_frame(1)
    bench.steps_to(0)
    bench.page.wait_for_timeout(400)  # longer than a double click
    bench.clicks([120, 110])
    bench.is_saved()
    bench.sees_frame(0)
    (mark,) = bench.state()["bodies"][0]["marks"]
    assert mark[1:] == pytest.approx([120, 110], abs=0.6)


def test_arrows_nudge_what_is_on_view(bench: Hands) -> None:
    """An end that was touched at Ground stays where it is while marks are nudged."""
    bench.adds_body("cone")
    bench.clicks([100, 100])
    bench.sees_frame(1)
    bench.steps_to(0)
    bench.goes_to("ground")
    bench.draws_known_length([50, 50], [150, 50], "1.00")
    bench.page.locator("[data-handle^=length]").first.focus()
    bench.page.keyboard.press("ArrowRight")
    bench.is_saved()
    length = bench.state()["ground"]["known_lengths"][0]
    bench.goes_to("mark")
    before = bench.state()["bodies"][0]["marks"][0]
    bench.page.keyboard.press("ArrowRight")
    bench.is_saved()
    after = bench.state()
    assert after["bodies"][0]["marks"][0][1] == pytest.approx(before[1] + 1, abs=0.01)
    assert after["ground"]["known_lengths"][0] == length


def test_a_new_first_frame_takes_the_stage_into_the_span(bench: Hands) -> None:
    bench.goes_to("sources")
    bench.sets_span(12, 39)
    bench.sees_frame(12)


def test_escape_closes_what_is_open(bench: Hands) -> None:
    keys = bench.page.locator("#keys")
    bench.page.keyboard.press("?")
    expect(keys).to_be_visible()
    bench.page.keyboard.press("Escape")
    expect(keys).to_be_hidden()
    bench.drags(bench.time_point(5, "passages"), bench.time_point(20, "passages"))
    form = bench.page.locator("#passage-form")
    expect(form).to_be_visible()
    form.locator("[name=name]").fill("fall")
    bench.page.keyboard.press("Escape")
    expect(form).to_be_hidden()
    assert bench.state()["passages"] == []


def test_the_table_of_marks_is_taken_out(bench: Hands) -> None:
    bench.adds_body("cone")
    for frame in range(4):
        bench.sees_frame(frame)
        bench.clicks([100 + 10 * frame, 100])
        bench.page.wait_for_timeout(350)
    bench.is_saved()
    bench.goes_to("graph")
    bench.looks_at_table()
    out = bench.page.locator(".table-out")
    with bench.page.expect_download() as coming:
        out.get_by_text("CSV").click()
    lines = coming.value.path().read_text().splitlines()
    assert lines[0].startswith("frame,")
    assert [line.split(",")[0] for line in lines[1:]] == ["0", "1", "2", "3"]
    out.get_by_role("button", name="Copy").click()
    expect(bench.page.locator("#stage-note")).to_contain_text("on the clipboard")


def test_what_is_taken_back_is_said_in_both_windows(
    bench: Hands, open_tab: OpenTab, world: World
) -> None:
    other = open_tab(world.heron)
    other.opens(f"/studies/{world.study.id}/mark")
    other.sees_frame(0)
    expect(other.page.locator("html")).to_have_attribute("data-live", "true")
    bench.adds_body("cone")
    expect(other.page.locator("#cards .body-pick", has_text="cone")).to_be_visible()
    bench.clicks([100, 100])
    bench.is_saved()
    other.page.locator("#undo").click()
    expect(other.page.locator("#stage-note")).to_contain_text("Taken back: mark in frame 0")
    expect(bench.page.locator("#stage-note")).to_contain_text(
        "In another window Ottilie has taken back: mark in frame 0"
    )


def test_one_goes_on_where_one_left_off_on_another_computer(
    bench: Hands, open_tab: OpenTab, world: World
) -> None:
    bench.adds_body("cone")
    bench.steps_to(17)
    with bench.page.expect_response(lambda one: one.url.endswith("/place")) as noted:
        bench.goes_to("graph")
    assert noted.value.status == 204
    other = open_tab(world.heron)
    other.opens("/")
    other.page.get_by_role("link", name="Sled run").click()
    expect(other.page.locator("#bench")).to_have_attribute("data-ready", "true")
    expect(other.page.locator("#bench")).to_have_attribute("data-step", "graph")
    assert other.frame() == 17


def test_studies_are_renamed_duplicated_removed_and_taken_back(bench: Hands) -> None:
    page = bench.page
    bench.opens("/")

    def change(what: str) -> None:
        page.get_by_text("Change", exact=True).first.click()
        page.get_by_role("button", name=what).first.click()

    page.get_by_text("Change", exact=True).first.click()
    page.get_by_label("Title").first.fill("Icy sled")
    page.get_by_role("button", name="Rename").first.click()
    expect(page.get_by_role("link", name="Icy sled")).to_be_visible()
    change("Duplicate")
    expect(page.get_by_role("link", name="Icy sled, copy")).to_be_visible()
    change("Remove")
    expect(page.get_by_role("link", name="Icy sled")).to_have_count(1)
    page.get_by_text("Removed lately (1)").click()
    page.get_by_role("button", name="Take it back").click()
    expect(page.get_by_role("link", name="Icy sled")).to_have_count(2)


def test_a_reading_with_long_names_is_recorded(open_tab: OpenTab, world: World, tab: Tab) -> None:
    sheet, first, second, _ = typed_sheet(tab)
    tab.does("change_column", column=first, name="speed of the sled " * 3, symbol="v", unit="m/s")
    tab.does("add_fit", sheet=sheet, x=f"c{first}", y=f"c{second}", curve="line")
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/graph")
    hands.page.locator("#card-fits [data-reading=slope]").first.click()
    hands.is_saved()
    expect(hands.page.locator("#card-findings .finding")).to_have_count(1)


def test_a_sheet_read_by_eye_shows_the_time_of_each_row(
    bench: Hands, tab: Tab, footage: int
) -> None:
    bench.goes_to("sources")
    form = bench.card("sheet-in").locator('form[data-kind="read_by_eye"]')
    form.locator("[name=name]").fill("ruler")
    form.locator("button", has_text="Make its sheet").click()
    expect(form).to_contain_text("“ruler”")
    state = bench.page.request.get(f"{bench.address}/api/studies/{tab.study_id}").json()
    tab.seq = state["seq"]
    sheet = next(one["id"] for one in state["sources"] if str(one["id"]).startswith("s"))
    tab.does("add_reading", sheet=int(sheet[1:]), frame=5, text="12.5")
    bench.opens(f"/studies/{tab.study_id}/mark?source={sheet}")
    expect(bench.page.locator("#sheet .row-number").first).to_contain_text("1 · 0.200")
