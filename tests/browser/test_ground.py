"""Grounding by hand: clock, axes along a slope, oblique view, background spots, exact ends."""

import re
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import expect

from footing.settings import Settings
from tests.browser.hands import Hands, number_of, truth_of
from tests.conftest import do_the_work
from tests.films import numbered_film


def test_a_clock_waits_until_all_of_it_is_typed(sources: Hands, films: Path) -> None:
    sources.uploads(numbered_film(films / "clocked.mp4", frames=26))
    sources.goes_to("ground")
    clock = sources.card("clock")
    form = clock.locator("form.clock")
    form.locator("[name=clock]").select_option("moments")
    for name, value in (("typed", "0.100"), ("first", "0"), ("last", "25")):
        assert sources.state()["ground"]["clock"]["kind"] == "file"
        expect(form.locator(".message")).to_be_empty()
        form.locator(f"[name={name}]").fill(value)
        form.locator(f"[name={name}]").press("Tab")
    expect(clock).to_contain_text("10 times faster than the file plays")
    form.locator("[name=last]").fill("99")
    form.locator("[name=last]").press("Tab")
    expect(form.locator(".message")).to_contain_text("There is no frame 99")


def test_axes_are_turned_by_drawing_along_the_slope(sources: Hands, clips: Path) -> None:
    truth = truth_of(clips, "sled-run")
    first = round(truth["release_time"] * 30) + 2
    frames = range(first, 84, 8)
    page = sources.page
    sources.uploads(clips / "sled-run.mp4")
    sources.sets_span(frames[0], frames[-1], 8)
    sources.goes_to("ground")
    pole = truth["pole"]
    sources.draws_known_length(pole["start"], pole["end"], "2.00")
    page.locator('[data-tool="align"]').click()
    sources.drags_pixels(pole["end"], pole["start"])
    expect(page.locator("#card-axes [name=angle]")).to_have_value(re.compile(r"−1[12]\.\d+|−12"))
    sources.goes_to("mark")
    sources.adds_body("sled")
    sources.marks(frames, truth["positions"])
    sources.goes_to("ground")
    sources.steps_to(frames[0])
    page.get_by_role("button", name="On the mark in this frame").click()
    sources.is_saved()
    assert sources.state()["bodies"][0]["table"]["rows"][0][1] == "0.000"
    sources.goes_to("graph")
    page.locator("#fit-choices select[name=ys]").first.select_option("x")
    expect(page.locator("#graph-title")).to_have_text("Position x against time")
    sources.fits("quadratic")
    reading = page.locator(".readings li", has_text="acceleration").first
    a = number_of(reading.locator(".value").inner_text())
    assert a == pytest.approx(truth["acceleration"], rel=0.02)


def test_four_corners_make_an_oblique_view(sources: Hands, films: Path) -> None:
    page = sources.page
    sources.uploads(numbered_film(films / "slanted.mp4", frames=5))
    sources.goes_to("ground")
    sources.card("plane").locator('[data-tool="plane"]').click()
    for corner in ([60, 150], [260, 140], [220, 60], [90, 64]):
        sources.clicks(corner)
        page.wait_for_timeout(320)  # slower than a double click
    card = sources.card("plane")
    expect(card).to_contain_text("Type both sides")
    for name, value in (("across", "2.00"), ("along", "3.00")):
        card.locator(f'form[data-kind="type_plane"] [name={name}]').fill(value)
        card.locator(f'form[data-kind="type_plane"] [name={name}]').press("Tab")
        sources.is_saved()
    expect(card).to_contain_text("leave places uncertain by up to")
    expect(card.get_by_role("img", name="The plane, laid flat")).to_be_visible()
    page.wait_for_function("() => document.querySelector('.straight img').naturalWidth > 100")
    sources.places_zero([60, 150])
    sources.goes_to("mark")
    sources.adds_body("stone")
    sources.clicks([220, 60])
    sources.counts_marks(1)
    row = sources.state()["bodies"][0]["table"]["rows"][0]
    assert [float(cell) for cell in row[1:3]] == pytest.approx([2.0, 3.0], abs=0.03)


def test_a_background_spot_is_followed_on_request(
    sources: Hands, clips: Path, settings: Settings
) -> None:
    page = sources.page
    expect(page.locator("html")).to_have_attribute("data-live", "true")
    sources.uploads(clips / "sled-run.mp4")
    sources.sets_span(30, 45)
    sources.goes_to("ground")
    card = sources.card("steady")
    card.locator("[name=name]").fill("spruce")
    card.get_by_role("button", name="Add").click()
    expect(card).to_contain_text("0 marks")
    sources.goes_to("mark")
    sources.steps_to(36)
    sources.clicks([1130, 560])  # the top of a spruce
    sources.counts_marks(1)
    sources.goes_to("ground")
    card.get_by_role("button", name="Follow it").click()
    expect(page.locator("#stage-note")).to_contain_text("It is being followed")
    do_the_work(settings)
    expect(page.locator("#stage-note")).to_contain_text("followed through 15 frames")
    expect(card).to_contain_text("16 marks")
    marks = np.array([mark[1:] for mark in sources.state()["bodies"][0]["marks"]])
    assert np.ptp(marks, axis=0).max() < 0.5  # the tripod did not move


def test_keys_nudge_an_end_of_a_known_length_by_tenths(sources: Hands, films: Path) -> None:
    page = sources.page
    sources.uploads(numbered_film(films / "nudged.mp4", frames=3))
    sources.goes_to("ground")
    sources.draws_known_length([20, 90], [220, 90], "2.00")
    before = sources.state()["ground"]["known_lengths"][0]["end"]
    page.locator('[data-handle$="/end"]').focus()
    page.keyboard.press("Shift+ArrowRight")
    sources.is_saved()
    page.keyboard.press("ArrowDown")
    sources.is_saved()
    after = sources.state()["ground"]["known_lengths"][0]["end"]
    assert after == pytest.approx([before[0] + 0.1, before[1] + 1])


def test_a_known_length_says_how_sure_it_is_while_it_is_drawn(sources: Hands, films: Path) -> None:
    page = sources.page
    sources.uploads(numbered_film(films / "drawn.mp4", frames=3))
    sources.goes_to("ground")
    page.locator('[data-tool="length"]').click()
    page.mouse.move(*sources.point([20, 90]))
    page.mouse.down()
    page.mouse.move(*sources.point([60, 90]))
    label = page.locator("#overlay text", has_text="px, ±")
    expect(label).to_contain_text("a longer object would be better")
    page.mouse.move(*sources.point([300, 90]))
    expect(label).not_to_contain_text("longer")
    page.mouse.up()
    form = page.locator("#length-form")
    expect(form).to_be_visible()
    expect(form.locator("[name=length]")).to_have_value("")
    expect(sources.card("lengths")).to_contain_text("Everything is in pixels until a length")
    form.locator("[name=length]").fill("1")
    form.locator("[name=unit]").fill("sled")
    form.locator("button").click()
    expect(sources.card("lengths")).to_contain_text("sled")


def test_what_is_done_folds_to_a_line_that_says_how_it_stands(sources: Hands, clips: Path) -> None:
    page = sources.page
    sources.uploads(clips / "sled-run.mp4")
    sources.goes_to("ground")
    axes = page.locator("#card-axes details.fold")
    expect(axes).to_have_attribute("open", "")
    lengths = page.locator("#card-lengths details.fold")
    sources.draws_known_length([300, 400], [400, 400], "2.00")
    expect(lengths).not_to_have_attribute("open", "")
    expect(lengths.locator(".card-state")).to_have_text("1 px is 20.0 mm")
    sources.places_zero([300, 400])
    expect(axes).not_to_have_attribute("open", "")
    expect(axes.locator(".card-state")).to_have_text("zero at (300.0, 400.0) px")
    sources.steps_to(5)
    page.get_by_role("button", name="At this frame").click()
    sources.is_saved()
    axes.locator("summary").click()  # somebody looks again
    angle = axes.locator("[name=angle]")
    angle.fill("12")
    angle.press("Enter")
    sources.is_saved()
    expect(angle).to_be_visible()  # and is not interrupted
    page.reload()
    expect(axes.locator(".card-state")).to_have_text("zero at (300.0, 400.0) px, turned 12°")
    expect(angle).to_be_hidden()
    side = page.locator(".side")
    assert side.evaluate("side => side.scrollHeight - side.clientHeight") == 0
