"""Stage, score, table and graph move together; fields refuse bad values where they are."""

import base64
import json
import math
import re
import time
from collections.abc import Callable
from pathlib import Path

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, Route, expect

from footing.settings import Settings
from footing.studies.school import invitations
from footing.studies.school.people import Person
from tests.browser.hands import Hands
from tests.conftest import World
from tests.films import numbered_film
from tests.studies.steps import Tab

OpenTab = Callable[[Person], Hands]


@pytest.fixture
def sled(world: World, clips: Path, settings: Settings) -> Tab:
    """Group Heron's sled run with a ground, marks, a passage, a fit and a finding."""
    truth = json.loads((clips / "sled-run.json").read_text())
    tab = Tab(world.study, world.heron)
    footage = tab.uploads(clips / "sled-run.mp4", settings)
    (start_x, start_y), (end_x, end_y) = truth["pole"]["start"], truth["pole"]["end"]
    ends = {"start_x": start_x, "start_y": start_y, "end_x": end_x, "end_y": end_y}
    length = tab.makes("add_known_length", footage=footage, frame=0, **ends)
    tab.does("type_known_length", known_length=length, length="2.00", unit="m")
    tab.does("set_zero", footage=footage, x=start_x, y=start_y)
    body = tab.makes("add_body", footage=footage, name="sled")
    marks = [[frame, *truth["positions"][frame]] for frame in range(15, 80, 4)]
    tab.does("place_marks", body=body, marks=marks)
    passage = tab.makes("add_passage", footage=footage, name="slide", first=15, last=79)
    tab.does("set_graph", footage=footage, x="t", ys=["x"])
    fit = tab.makes("add_fit", body=body, x="t", y="x", curve="quadratic", passages=[passage])
    tab.does("add_finding", fit=fit, reading="acceleration", name="a")
    return tab


@pytest.fixture
def bench(open_tab: OpenTab, world: World, sled: Tab) -> Hands:
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{sled.study_id}/graph")
    expect(hands.page.locator("#plot canvas")).to_be_visible()
    return hands


def test_the_time_cursor_is_one_for_all(bench: Hands) -> None:
    page = bench.page
    bench.looks_at_table()
    page.locator('#table tr[data-frame="31"]').click()
    bench.sees_frame(31)
    expect(page.locator("#moment")).to_contain_text("frame 31")
    expect(page.locator("#graph")).to_have_attribute("data-cursor", "31")
    page.mouse.click(*bench.time_point(47, "lane"))
    bench.sees_frame(47)
    expect(page.locator('#table tr[data-frame="47"]')).to_have_class("here")
    bench.drags(bench.time_point(47, "strip"), bench.time_point(60, "strip"))
    bench.sees_frame(60)


def test_any_frame_is_reached_by_its_number(bench: Hands) -> None:
    field = bench.page.locator("#go-to")
    field.fill("73")
    field.press("Enter")
    bench.sees_frame(73)
    field.fill("900")
    field.press("Enter")
    expect(bench.page.locator("#stage-note")).to_have_text("Type a frame from 0 to 89.")
    bench.sees_frame(73)


def test_a_click_on_a_point_of_the_graph_goes_to_its_frame(bench: Hands) -> None:
    page = bench.page
    expect(page.locator("#graph")).to_have_attribute("data-seq", str(bench.state()["seq"]))
    box = page.locator("#plot canvas").bounding_box()
    assert box is not None
    # sweep across the plot; every hit must go to a marked frame, later ones further right
    reached = []
    for x in range(int(box["width"] * 0.4), int(box["width"] * 0.9), 24):
        for y in range(10, int(box["height"]) - 40, 24):
            page.mouse.click(box["x"] + x, box["y"] + y)
        reached.append(bench.frame())
    hits = set(reached) - {0}
    assert len(hits) >= 5
    assert hits <= set(range(15, 80, 4))
    assert reached == sorted(reached)


def test_a_table_that_did_not_come_is_asked_for_again(bench: Hands) -> None:
    refused: list[Route] = []

    def busy(route: Route) -> None:
        if refused or "table" not in route.request.url:
            return route.continue_()
        refused.append(route)
        return route.fulfill(status=503, json={"error": "Footing is busy just now."})

    bench.page.route("**/news*", busy)
    expect(bench.looks_at_table()).to_have_count(17)
    assert refused


def test_span_handles_grey_what_is_outside_and_zoom_the_axis(bench: Hands) -> None:
    page = bench.page
    handle = page.locator('[data-span-end="first"] path').bounding_box()
    assert handle is not None
    start = (handle["x"] + 4, handle["y"] + 8)
    bench.drags(start, (bench.time_point(30, "strip")[0], start[1]))
    expect(page.locator('[data-span-end="first"]')).to_have_attribute("aria-valuenow", "30")
    bench.is_saved()
    body = bench.state()["bodies"][0]
    assert body["counting"][0] == 31
    assert len(body["marks"]) == 17
    rows = bench.looks_at_table()
    expect(rows).to_have_count(len(body["counting"]))
    page.locator("#undo").click()
    expect(rows).to_have_count(17)


def test_a_table_is_asked_for_when_it_comes_into_view(bench: Hands, sled: Tab) -> None:
    page = bench.page
    body = sled.view()["bodies"][0]["id"]
    expect(page.locator("#table tbody tr")).to_have_count(0)
    with page.expect_response(lambda answer: f"table%3A{body}" in answer.url):
        rows = bench.looks_at_table()
    expect(rows).to_have_count(17)
    page.locator("#cards").evaluate("cards => cards.parentElement.scrollTo(0, 0)")
    place = {"body": body, "frame": 16, "x": 300, "y": 400}
    sled.does("place_mark", **place)  # by somebody else, while nobody looks at the table here
    expect(page.locator("#lanes")).to_be_visible()
    expect(bench.looks_at_table()).to_have_count(18)
    shown = sled.view()["bodies"][0]["table"]["rows"]
    times = [row.locator("td").first.text_content() for row in rows.all()]
    assert times == [cells[0] for cells in shown]


def test_passages_are_moved_by_their_ends(bench: Hands) -> None:
    page = bench.page
    bench.drags(bench.time_point(79, "passages"), bench.time_point(55, "passages"))
    expect(page.locator(".fit")).to_contain_text("11 points")
    assert bench.state()["passages"][0]["last"] == 55


def test_playing_stops_at_the_end_of_the_span(bench: Hands) -> None:
    page = bench.page
    bench.steps_to(80)
    page.keyboard.press("Space")
    bench.sees_frame(89)
    expect(page.locator("#play")).to_have_attribute("aria-label", "Play")


def test_the_end_of_a_passage_keeps_the_focus_while_keys_move_it(bench: Hands) -> None:
    page = bench.page
    bench.drags(bench.time_point(5, "passages"), bench.time_point(20, "passages"))
    form = page.locator("#passage-form")
    form.locator("[name=name]").fill("fall")
    form.locator("[name=name]").press("Enter")
    end = page.get_by_role("slider", name="End of fall")
    expect(end).to_be_visible()
    before = int(end.get_attribute("aria-valuenow") or 0)
    end.focus()
    for further in (1, 2):
        page.keyboard.press("ArrowRight")
        bench.is_saved()
        expect(end).to_have_attribute("aria-valuenow", str(before + further))
    expect(end).to_be_focused()


def test_changing_curve_and_quantity(bench: Hands) -> None:
    page = bench.page
    fit = bench.card("fits").locator(".fit")
    fit.locator("[name=curve]").select_option("line")
    expect(fit).to_contain_text("velocity =")
    expect(page.locator(".finding")).to_contain_text("has no acceleration")
    page.locator("#fit-choices select[name=ys]").first.select_option("vx")
    expect(page.locator("#graph-title")).to_have_text("Velocity x against time")
    expect(fit).to_contain_text("Not drawn: the graph shows other quantities.")
    fit.get_by_role("button", name="Show them").click()
    expect(page.locator("#graph-title")).to_have_text("Position x against time")


def test_what_is_being_typed_and_chosen_survives_a_fresh_card(bench: Hands) -> None:
    """The cards of an earlier edit arrive while somebody is already at the next field."""
    page = bench.page
    form = page.locator('#fit-choices form[data-kind="add_fit"]')
    held: list[Route] = []
    page.route("**/edits*", lambda route: held.append(route))
    with page.expect_request("**/edits*"):
        page.locator("#fit-choices select[name=ys]").first.select_option("vx")
    form.locator("[name=curve]").select_option("cubic")
    page.locator(".finding [name=name]").fill("a of the sled")
    with page.expect_response("**/edits*"):
        for route in held:
            route.continue_()
    expect(page.locator(".fit")).to_contain_text("Not drawn")
    expect(form.locator("[name=curve]")).to_have_value("cubic")
    expect(page.locator(".finding [name=name]")).to_have_value("a of the sled")


def test_an_axis_that_hides_its_zero_says_so(bench: Hands, sled: Tab) -> None:
    page = bench.page
    for name, column in (("ys", "y"), ("x", "x")):
        page.locator(f"#fit-choices select[name={name}]").select_option(column)
        bench.is_saved()
    footage = bench.state()["footage"]["id"]
    sled.seq = bench.state()["seq"]
    sled.does("set_zero", footage=footage, x=-4000, y=0)
    page.reload()
    note = page.locator("#graph-notes")
    expect(note).to_contain_text("horizontal axis starts at")
    note.get_by_role("button", name="Include zero").click()
    expect(note).not_to_contain_text("starts at")


@pytest.mark.parametrize("typed", ["0", "-2", "tall", ""])
def test_a_bad_length_is_refused_at_its_field(bench: Hands, typed: str) -> None:
    bench.goes_to("ground")
    form = bench.card("lengths").locator(".known")
    field = form.locator("[name=length]")
    field.fill(typed)
    field.press("Tab")
    expect(form.locator(".message")).not_to_be_empty()
    expect(field).to_have_attribute("aria-invalid", "")
    assert bench.state()["ground"]["known_lengths"][0]["typed"] == "2.00"
    field.fill("2.10")
    field.press("Tab")
    expect(form.locator(".message")).to_be_empty()
    bench.is_saved()
    assert bench.state()["ground"]["known_lengths"][0]["typed"] == "2.10"


def test_a_known_length_drawn_in_one_place_is_refused(bench: Hands) -> None:
    bench.goes_to("ground")
    ends = bench.state()["ground"]["known_lengths"][0]
    bench.drags_pixels(ends["end"], ends["start"])
    expect(bench.page.locator("#stage-note")).to_contain_text("in one place")
    assert bench.state()["ground"]["known_lengths"][0]["end"] == ends["end"]
    handle = bench.page.get_by_label("The other end of the known length")
    assert bench.middle(handle) == pytest.approx(bench.point(ends["end"]), abs=1.5)


def test_what_is_dragged_is_shown_at_once_and_what_is_stored_in_the_end(bench: Hands) -> None:
    bench.goes_to("ground")
    page = bench.page
    zero = bench.state()["ground"]["zero"]
    there, beyond = [zero[0] + 40, zero[1] - 30], [zero[0] + 90, zero[1] - 60]
    held: list[Route] = []
    page.route("**/edits*", lambda route: route.continue_() if held else held.append(route))
    handle = page.locator('[data-handle="zero"]')
    with page.expect_request("**/edits*"):
        bench.drags_pixels(zero, there)
    assert bench.middle(handle) == pytest.approx(bench.point(there), abs=1.5)
    bench.drags_pixels(there, beyond)  # the second waits for the answer to the first
    held[0].continue_()
    bench.is_saved()
    assert bench.middle(handle) == pytest.approx(bench.point(beyond), abs=1.5)
    assert bench.state()["ground"]["zero"] == pytest.approx(beyond, abs=1)


def test_what_is_chosen_while_an_answer_is_on_its_way_stays_chosen(bench: Hands) -> None:
    page = bench.page
    held: list[Route] = []
    page.route("**/edits*", lambda route: held.append(route))
    choices = page.locator("#fit-choices")
    choices.locator("[name=curve]").select_option("cubic")
    with page.expect_request("**/edits*"):
        choices.get_by_role("button", name="Fit").click()
    choices.locator("[name=curve]").select_option("line")
    held[0].continue_()
    bench.is_saved()
    expect(page.locator(".fit")).to_have_count(2)
    assert [fit["curve"] for fit in bench.state()["fits"]] == ["quadratic", "cubic"]
    expect(choices.locator("[name=curve]")).to_have_value("line")


def test_numbers_follow_the_ground_at_once(bench: Hands) -> None:
    bench.goes_to("ground")
    page = bench.page
    before = bench.state()["fits"][0]["readings"][0]["text"]
    bench.card("axes").locator("[name=flip_x]").check()
    bench.is_saved()
    page.locator("[data-open-length]").click()
    form = page.locator("#length-form")
    form.locator("[name=length]").fill("4.00")
    form.locator("button").click()
    expect(form).to_be_hidden()
    after = bench.state()["fits"][0]["readings"][0]["text"]
    assert after.startswith("−")
    first, second = (float(text.strip("−").split(" ")[0]) for text in (before, after))
    assert second == pytest.approx(2 * first, rel=0.01)


def test_a_dropped_video_becomes_footage_and_stays_sharp_when_zoomed(
    open_tab: OpenTab, world: World, films: Path
) -> None:
    film = numbered_film(films / "dropped.mp4", frames=4, size=(1600, 900))
    hands = open_tab(world.heron)
    page = hands.page
    hands.opens(f"/studies/{world.study.id}/sources")
    data = base64.b64encode(film.read_bytes()).decode()
    transfer = page.evaluate_handle(
        """data => {
          const bytes = Uint8Array.from(atob(data), (letter) => letter.charCodeAt(0));
          const transfer = new DataTransfer();
          transfer.items.add(new File([bytes], "dropped.mp4", {type: "video/mp4"}));
          return transfer;
        }""",
        data,
    )
    page.dispatch_event("#drop", "drop", {"dataTransfer": transfer})
    hands.sees_frame(0)
    expect(hands.card("footage")).to_contain_text("1600 × 900 px")
    page.mouse.move(500, 300)
    with page.expect_response("**/frames/0/full.jpg") as sharp:
        for _ in range(6):
            page.mouse.wheel(0, -100)
    assert sharp.value.ok
    before = hands.point((800, 450))
    hands.drags((500, 300), (560, 340))  # with no tool in hand, dragging moves the picture
    after = hands.point((800, 450))
    assert (after[0] - before[0], after[1] - before[1]) == pytest.approx((60, 40), abs=6)


def test_the_angle_on_the_arc_leads_to_where_it_is_typed(bench: Hands) -> None:
    bench.goes_to("ground")
    bench.page.locator("#overlay .typed").click()
    field = bench.page.locator("#card-axes [name=angle]")
    expect(field).to_be_focused()
    field.fill("-12")
    field.press("Enter")
    expect(bench.page.locator("#overlay .typed")).to_have_text("−12.0°")


def test_an_upload_shows_how_far_it_is(open_tab: OpenTab, world: World, clips: Path) -> None:
    hands = open_tab(world.heron)
    page = hands.page
    hands.opens(f"/studies/{world.study.id}/sources")
    slow = {"offline": False, "latency": 0, "downloadThroughput": -1, "uploadThroughput": 800_000}
    page.context.new_cdp_session(page).send("Network.emulateNetworkConditions", slow)
    page.locator("#file").set_input_files(clips / "sled-run.mp4")
    page.wait_for_function(
        "() => { const value = document.querySelector('#arrivals progress')?.value;"
        " return value > 5 && value < 95; }"
    )
    expect(page.locator("#arrivals .share")).to_contain_text("of 1.9 MB")
    hands.sees_frame(0)


def test_a_bad_file_is_refused_in_the_drop_area(
    open_tab: OpenTab, world: World, tmp_path: Path
) -> None:
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/sources")
    notes = tmp_path / "notes.mp4"
    notes.write_text("not a film\n")
    hands.page.locator("#file").set_input_files(notes)
    expect(hands.page.locator("#arrivals .message")).to_have_text(
        "This is a text file, not a video; choose the video itself."
    )
    expect(hands.page.locator("#drop")).to_be_visible()
    assert hands.state()["footage"] is None


@pytest.mark.parametrize("step", ["sources", "ground", "mark", "graph"])
def test_axe_finds_no_violation(bench: Hands, step: str) -> None:
    bench.goes_to(step)
    bench.page.wait_for_load_state("networkidle")
    results = Axe().run(bench.page)
    assert results.violations_count == 0, results.generate_report()


def test_axe_finds_no_violation_on_the_first_pages(open_tab: OpenTab, world: World) -> None:
    hands = open_tab(world.teacher)
    school_class, lab = f"/classes/{world.school_class.id}", f"/labs/{world.lab.id}"
    mine = ["/", school_class, f"{school_class}/code", f"{school_class}/library", "/account"]
    for path in [*mine, f"{school_class}/kept", lab, f"{lab}/overview", f"{lab}/board"]:
        hands.opens(path)
        assert Axe().run(hands.page).response["violations"] == [], path
    invited = f"/invited/{invitations.invite(world.teacher, class_id=world.school_class.id)}"
    hands.opens("/")
    hands.page.get_by_role("button", name="Sign out").click()
    expect(hands.page.get_by_role("button", name="Ms Tarnwick, teacher of 9K")).to_be_visible()
    for path in ["/", "/join", f"/join/{world.school_class.code.lower()}", invited]:
        hands.opens(path)
        assert Axe().run(hands.page).response["violations"] == [], path
    student = open_tab(world.heron)
    for path in ["/", f"{lab}/board"]:
        student.opens(path)
        assert Axe().run(student.page).response["violations"] == [], path


def test_every_step_is_reached_by_keyboard(bench: Hands) -> None:
    page = bench.page
    bench.goes_to("graph")
    page.keyboard.press("?")
    expect(page.locator("#keys")).to_be_visible()
    expect(page.locator("#keys dl:visible")).to_have_count(1)
    expect(page.locator("#keys dl:visible")).to_contain_text("sketch what you expect")
    expect(page.locator("#keys dl:visible")).not_to_contain_text("remove the mark")
    page.keyboard.press("?")
    expect(page.locator("#keys")).to_be_hidden()
    page.locator('.rail a[data-step="ground"]').focus()
    page.keyboard.press("Enter")
    expect(page.locator("#bench")).to_have_attribute("data-step", "ground")
    zero = page.locator('[data-handle="zero"]')
    before = bench.state()["ground"]["zero"]
    zero.focus()
    page.keyboard.press("ArrowRight")
    bench.is_saved()
    expect(page.locator("#undo")).to_have_attribute("title", "Undo: zero")
    assert bench.state()["ground"]["zero"] == pytest.approx([before[0] + 1, before[1]])


def test_the_result_stands_above_the_graph_and_is_recorded_there(bench: Hands) -> None:
    """What is shown, curve, passage and Fit in one line; the value with its ± at once."""
    page = bench.page
    line = page.locator("#fit-choices")
    line.locator("select[name=ys]").select_option("vx")
    expect(page.locator("#graph-title")).to_have_text("Velocity x against time")
    expect(line.locator("[name=curve]")).to_have_value("line")  # what suits a velocity
    expect(line.locator("[name=passages] option:checked")).to_have_text("slide")
    line.get_by_role("button", name="Fit").click()
    result = page.locator(".fit-result")
    expect(result).to_contain_text("acceleration")
    expect(result).to_contain_text("± holds scale and fit")
    value = result.locator(".value").inner_text()
    result.get_by_role("button", name="Record").click()
    expect(result).to_contain_text("recorded")
    expect(page.locator(".finding").last.locator(".result")).to_contain_text(value)
    boxes = [page.locator(one).bounding_box() for one in ("#fit-choices", ".fit-result", "#plot")]
    tops = [box["y"] for box in boxes if box is not None]
    assert len(tops) == 3
    assert tops == sorted(tops)
    assert page.evaluate("document.documentElement.scrollHeight <= innerHeight")


def test_the_drawing_gives_room_to_the_result_above_it(bench: Hands) -> None:
    page = bench.page
    fits_its_place = """[...document.querySelectorAll(".plot:not([hidden])")].every((plot) =>
        plot.querySelector("canvas").clientHeight <= plot.clientHeight + 1)"""
    bench.card("fits").get_by_role("button", name="Remove this fit").click()
    expect(page.locator(".fit-result")).to_have_count(0)
    expect(page.locator("#residual-plot")).to_be_hidden()
    assert eventually(lambda: page.evaluate(fits_its_place))
    page.locator("#fit-choices").get_by_role("button", name="Fit").click()
    expect(page.locator(".fit-result")).to_be_visible()
    expect(page.locator("#residual-plot canvas")).to_be_visible()
    assert eventually(lambda: page.evaluate(fits_its_place))


def test_a_drawing_keeps_its_room_on_a_small_projector(bench: Hands) -> None:
    page = bench.page
    height = "document.querySelector('#plot canvas').clientHeight"
    page.set_viewport_size({"width": 1024, "height": 768})
    page.get_by_role("button", name="Projector").click()
    expect(page.locator("#residual-plot")).to_be_hidden()
    assert eventually(lambda: page.evaluate(height) > 150)
    page.get_by_role("button", name="Projector").click()
    page.set_viewport_size({"width": 1280, "height": 800})
    expect(page.locator("#residual-plot canvas")).to_be_visible()
    assert eventually(lambda: page.evaluate(height) > 200)


def test_what_hardly_changes_can_be_looked_at_closely(bench: Hands, sled: Tab, clips: Path) -> None:
    page = bench.page
    places = json.loads((clips / "sled-run.json").read_text())["positions"]
    (x, y), (far_x, far_y) = places[15], places[79]
    angle = math.degrees(math.atan2(y - far_y, far_x - x))  # the slope that the sled runs down
    turned = {"angle": f"{angle:.3f}", "flip_x": False, "flip_y": False}
    sled.does("turn_axes", footage=bench.state()["footage"]["id"], **turned)
    page.locator("#fit-choices select[name=ys]").select_option("y")
    notes = page.locator("#graph-notes")
    expect(notes).to_contain_text("as long as for position x")
    way_down = 1.5  # m, what the axis is as long as
    assert eventually(lambda: height_between(page) > 0.3 * way_down)
    notes.get_by_role("button", name="See the wiggles").click()
    expect(notes).to_contain_text("Looked at closely")
    assert eventually(lambda: height_between(page) < 0.1 * way_down)
    notes.get_by_role("button", name="As long as for position x").click()
    expect(notes).to_contain_text("hardly changes")
    assert eventually(lambda: height_between(page) > 0.3 * way_down)


def eventually(holds: Callable[[], bool]) -> bool:
    """Whether something comes to hold: a drawing takes a moment, as asking again does."""
    ends = time.monotonic() + 20
    while time.monotonic() < ends:
        if holds():
            return True
    return False


def height_between(page: Page) -> float:
    """How much of the upper quantity lies between two heights of the graph."""
    box = page.locator("#plot canvas").bounding_box()
    assert box is not None
    said = []
    for share in (0.3, 0.6):
        page.mouse.move(box["x"] + 0.5 * box["width"], box["y"] + share * box["height"])
        expect(page.locator("#graph-readout")).to_contain_text("pointer")
        text = page.locator("#graph-readout").inner_text().replace("−", "-")
        found = re.search(r"pointer ([-\d.e]+)", text)
        assert found is not None
        said.append(float(found[1]))
    return said[0] - said[1]
