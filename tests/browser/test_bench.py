"""Frames, time and passages: stage, score, table and graph move together."""

from playwright.sync_api import Route, expect

from tests.browser.hands import Hands
from tests.studies.steps import Tab


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
