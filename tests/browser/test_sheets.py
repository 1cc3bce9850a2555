"""Labs on sheets, from a typed or pasted table to a finding."""

import csv
import io
import re
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Locator, expect

from tests.browser.hands import Hands, number_of, truth_of
from tests.browser.typing import cell, pastes, sheet_is_here

MOST_EDITS = 60  # that this test makes


DROPS = [(0.20, 0.21), (0.45, 0.29), (0.80, 0.41), (1.20, 0.49), (1.60, 0.58), (2.00, 0.63)]


def records(fit: Locator, name: str, formula: str) -> None:
    """Record a result that is computed from the parameters of a fit."""
    fit.locator(".by-formula summary").click()
    form = fit.locator(".by-formula")
    form.locator("[name=name]").fill(name)
    form.locator("[name=formula]").fill(formula)
    form.get_by_role("button", name="Record").click()


def test_a_typed_two_column_lab_to_a_straight_line_and_a_finding(sources: Hands) -> None:
    """Falling times typed in cell by cell; t² against h is straight, and its slope is 2/g."""
    page = sources.page
    page.get_by_role("button", name="Type one").click()
    sheet_is_here(sources)
    sources.goes_to("mark")
    for place, (name, symbol, unit) in enumerate((("height", "h", "m"), ("time", "t", "s"))):
        column = page.locator(".sheet-column").nth(place)
        column.locator("summary").first.click()
        form = column.locator('[data-kind="change_column"]')
        form.locator("[name=name]").fill(name)
        form.locator("[name=symbol]").fill(symbol)
        form.locator("[name=unit]").fill(unit)
        form.get_by_role("button", name="Apply").click()
        expect(page.locator(f'#sheet [data-symbol="{symbol}"]')).to_contain_text(unit)
        expect(column.locator("summary").first).to_contain_text(name)
    cell(page, 1, "h").click()
    for height, time in DROPS:
        page.keyboard.type(f"{height:.2f}".replace(".", ","))
        page.keyboard.press("Tab")
        page.keyboard.type(f"{time:.2f}")
        page.keyboard.press("Enter")
        page.keyboard.press("ArrowLeft")
    expect(cell(page, 6, "t")).to_have_text("0.63")
    expect(page.locator("#graph-title")).to_have_text("Time against height")
    sources.is_saved()
    sources.goes_to("graph")
    page.get_by_role("button", name="Straighten").click()
    form = page.locator('.straight-form[data-form="y2-x"]')
    expect(form).to_contain_text("slope = 2/a, from t² = 2 d/a")
    form.click()
    fit = page.locator(".fit")
    expect(fit).to_contain_text("s²/m")
    records(fit, "g", "2/m")
    finding = page.locator(".finding")
    expect(finding).to_contain_text("m/s²")
    heights, times = np.array(DROPS).T
    slope = np.polyfit(heights, times**2, 1)[0]
    assert number_of(finding.locator(".result b").inner_text()) == pytest.approx(2 / slope, abs=0.1)
    expect(page.locator("#undo")).to_be_enabled()
    for _ in range(MOST_EDITS):
        if not sources.state()["undo"]:
            break
        page.locator("#undo").click()
        sources.is_saved()
    assert sources.state()["sources"] == []


def test_the_kick_sled_sheet_gives_the_friction(sources: Hands, clips: Path) -> None:
    """From the file to μ without a unit, as a number the truth agrees with."""
    page = sources.page
    page.locator("#file").set_input_files(clips / "kick-sled.csv")
    sheet_is_here(sources)
    truth = truth_of(clips, "kick-sled")
    sources.goes_to("mark")
    cell(page, truth["stopped_short"], "v").click()
    page.locator('[data-kind="set_row_aside"] [name=reason]').fill("ran into the straw")
    page.get_by_role("button", name="Set aside").click()
    expect(page.locator(".aside-row")).to_contain_text("Row 10 is set aside: ran into the straw")
    sources.is_saved()
    sources.goes_to("graph")
    page.get_by_role("button", name="Straighten").click()
    form = page.locator('.straight-form[data-form="y-x2"]')
    expect(form).to_contain_text("1/(2 a)")
    form.click()
    fit = page.locator(".fit")
    expect(fit).to_contain_text("The intercept is zero within its uncertainty.")
    records(fit, "friction", "1/(2*m*9.81 m/s^2)")
    text = page.locator(".finding .result b").inner_text()
    value, uncertainty = (float(part) for part in text.split(" ± "))  # and no unit behind it
    assert abs(value - truth["friction"]) < 3 * uncertainty
    expect(page.locator("#soundness-button")).to_have_attribute("data-sound", "true")


def test_a_table_pasted_with_commas_is_plotted_and_taken_out_again(sources: Hands) -> None:
    page = sources.page
    pastes(sources, "time in s;distance (cm)\n0,0;1,5\n0,5;4,0\n1,0;6,5\n1,5;9,1\n")
    sources.goes_to("mark")
    expect(page.locator("#graph-title")).to_have_text("Distance against time")
    form = page.locator("#card-columns form.add")
    form.locator("[name=name]").fill("speed")
    form.locator("[name=formula]").fill("rate(d) + t")
    expect(form.locator(".formula-echo")).to_contain_text("Adding: m/s and s do not go together.")
    expect(form.locator("mark")).to_have_text("rate(d) + t")
    form.locator("[name=formula]").fill("rate(d)")
    expect(form.locator(".formula-echo")).to_contain_text("cm/s")
    form.get_by_role("button", name="Add the column").click()
    expect(cell(page, 2, "v")).to_have_text("5.00")
    study = page.locator("#bench").get_attribute("data-study")
    source = sources.state()["sheet"]["id"]
    answer = page.request.get(f"{sources.address}/api/studies/{study}/tables/s{source}.csv")
    rows = list(csv.reader(io.StringIO(answer.text())))
    assert rows[0] == ["time: t (s)", "distance: d (cm)", "speed: v (cm/s)"]
    assert rows[2] == ["0.5", "4.0", "5.00"]
    # and of it what is chosen
    cell(page, 2, "d").click()
    page.keyboard.press("Shift+ArrowDown")
    page.get_by_label("take out the chosen cells only").check()
    with page.expect_download() as download:
        page.locator("#card-sheet").get_by_role("link", name="CSV").click()
    rows = list(csv.reader(Path(download.value.path()).read_text().splitlines()))
    assert rows == [["distance: d (cm)"], ["4.0"], ["6.5"]]


def test_what_matters_is_highlighted_in_the_sheet_and_among_the_findings(sources: Hands) -> None:
    page = sources.page
    pastes(sources, "t (s);x (m)\n0;1\n1;3\n2;5\n")
    sources.goes_to("mark")
    column = page.locator(".sheet-column").nth(1)
    column.locator("summary").first.click()
    column.get_by_role("button", name="Highlight x").click()
    expect(page.locator("#sheet .slick-cell.highlighted").first).to_have_text("1")
    expect(page.locator("#sheet .slick-header-column.highlighted")).to_contain_text("x")
    sources.goes_to("graph")
    mean = page.locator("#card-findings form.add")
    mean.locator("[name=column]").select_option(label="x")
    mean.locator("[name=name]").fill("middle")
    mean.get_by_role("button", name="Record").click()
    finding = page.locator(".finding")
    finding.get_by_role("button", name="Highlight middle").click()
    expect(finding).to_have_class(re.compile("highlighted"))
    finding.get_by_role("button", name="Highlight middle").click()
    expect(finding).not_to_have_class(re.compile("highlighted"))


def test_statistics_slope_trial_and_own_formula_on_the_graph(sources: Hands) -> None:
    page = sources.page
    pastes(sources, "t (s);x (m)\n" + "\n".join(f"{n};{n * n}" for n in range(9)))
    sources.goes_to("graph")
    expect(page.locator("#plot canvas")).to_be_visible()
    add = page.locator("#fit-choices form.add")
    add.locator("[name=curve]").select_option("own")
    add.locator("[name=formula]").fill("k*t^2")
    expect(add.locator(".try-said")).to_contain_text("on trial: scatter")
    add.get_by_role("button", name="Fit").click()
    expect(page.locator(".fit")).to_contain_text("m/s²")
    box = page.locator("#plot canvas").bounding_box()
    assert box is not None
    page.locator('button[data-tool="graph-stretch"]').click()
    sources.drags(
        (box["x"] + box["width"] * 0.2, box["y"] + 60),
        (box["x"] + box["width"] * 0.95, box["y"] + 60),
    )
    expect(page.locator("#stretch")).to_contain_text("standard deviation")
    expect(page.locator("#stretch")).to_contain_text("m·s")
    page.locator("#stretch").get_by_role("button", name="Fit these points").click()
    expect(page.locator(".fit")).to_have_count(2)


def test_fits_over_passages_before_and_after_a_bounce(sources: Hands) -> None:
    """One line over all of it is shaky; a line before and a line after are not."""
    page = sources.page
    times = np.arange(20) / 10
    places = np.where(times < 1, 3.0 - 2.5 * times, 0.5 + 1.5 * (times - 1))
    places = places + np.random.default_rng(5).normal(scale=0.004, size=20)
    rows = "\n".join(f"{t:.2f};{x:.3f}" for t, x in zip(times, places, strict=True))
    pastes(sources, f"t (s);x (m)\n{rows}")
    sources.goes_to("graph")
    fits = page.locator("#card-fits")
    add = page.locator("#fit-choices form.add")
    add.get_by_role("button", name="Fit").click()
    expect(page.locator("#soundness-button")).to_have_attribute("data-sound", "false")
    page.locator("#soundness-button").click()
    expect(page.locator("#soundness-list")).to_contain_text("the velocity changes at once")
    page.locator("#soundness-button").click()
    fits.get_by_role("button", name="Remove this fit").click()
    expect(page.locator(".fit")).to_have_count(0)
    for name, first, last in (("before", "1", "10"), ("after", "12", "20")):
        form = page.locator('#card-passages [data-kind="add_passage"]')
        form.locator("[name=name]").fill(name)
        form.locator("[name=first]").fill(first)
        form.locator("[name=last]").fill(last)
        form.get_by_role("button", name="Add").click()
        expect(add.locator("[name=passages]")).to_contain_text(name)
    for name, velocity in (("before", -2.5), ("after", 1.5)):
        add.locator("[name=passages]").select_option(label=name)
        add.get_by_role("button", name="Fit").click()
        fit = page.locator(".fit").last
        expect(fit.get_by_label(name)).to_be_checked()
        value = fit.locator(".readings li", has_text="velocity").first.locator(".value")
        assert number_of(value.inner_text()) == pytest.approx(velocity, abs=0.05)
    expect(page.locator("#soundness-button")).to_have_attribute("data-sound", "true")


def test_what_a_rule_shows_is_read_by_eye_frame_after_frame(
    sources: Hands, plain_film: Path
) -> None:
    page = sources.page
    sources.uploads(plain_film)
    form = sources.card("sheet-in").locator('[data-kind="read_by_eye"]')
    form.locator("[name=name]").fill("ruler")
    form.locator("[name=unit]").fill("cm")
    form.get_by_role("button", name="Make its sheet").click()
    expect(page.locator("#card-sources")).to_contain_text("ruler")
    sources.goes_to("mark")
    page.keyboard.press("y")
    for frame, text in enumerate(("2,0", "2.4", "3,1")):
        expect(page.locator("#card-eye [data-frame-number]")).to_have_text(str(frame))
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    sources.sees_frame(3)
    study = page.locator("#bench").get_attribute("data-study")
    sheet = sources.state()["sources"][1]["id"]
    view = page.request.get(f"{sources.address}/api/studies/{study}?source={sheet}").json()
    points = view["graphs"][0]["series"][0]["points"]
    times = sources.state()["footage"]["times"]
    assert [(x, y) for _, x, y, *_ in points] == [
        (pytest.approx(times[n]), value) for n, value in enumerate((2.0, 2.4, 3.1))
    ]
