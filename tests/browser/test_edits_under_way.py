"""What is typed, dragged and chosen: refused where it is, kept while answers are on their way."""

import pytest
from playwright.sync_api import Route, expect

from tests.browser.hands import Hands


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


def test_a_bad_length_is_refused_at_its_field(bench: Hands) -> None:
    bench.goes_to("ground")
    form = bench.card("lengths").locator(".known")
    field = form.locator("[name=length]")
    for typed in ("0", "-2", "tall", ""):
        field.fill(typed)
        field.press("Tab")
        expect(form.locator(".message")).not_to_be_empty()
        expect(field).to_have_attribute("aria-invalid", "")
        assert bench.state()["ground"]["known_lengths"][0]["typed"] == "2.00"
        field.fill("2.00")
        field.press("Tab")
        expect(form.locator(".message")).to_be_empty()
    field.fill("2.10")
    field.press("Tab")
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
    with page.expect_request("**/edits*"):
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


def test_the_angle_on_the_arc_leads_to_where_it_is_typed(bench: Hands) -> None:
    bench.goes_to("ground")
    bench.page.locator("#overlay .typed").click()
    field = bench.page.locator("#card-axes [name=angle]")
    expect(field).to_be_focused()
    field.fill("-12")
    field.press("Enter")
    expect(bench.page.locator("#overlay .typed")).to_have_text("−12.0°")
