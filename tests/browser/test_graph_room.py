"""What the graph shows, how close, and the result above it."""

import json
import math
import re
import time
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.hands import Hands
from tests.studies.steps import Tab


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


def eventually(holds: Callable[[], bool]) -> bool:
    """Whether something comes to hold: a drawing takes a moment, as asking again does."""
    ends = time.monotonic() + 20
    while time.monotonic() < ends:
        if holds():
            return True
    return False
