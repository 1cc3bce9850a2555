"""Work without a video: typed and pasted tables, straightened, fitted, and taken back again."""

import csv
import io
import re
from pathlib import Path

import numpy as np
import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Locator, Page, expect

from tests.browser.hands import Hands, number_of, truth_of
from tests.conftest import World
from tests.studies.steps import Tab

MOST_EDITS = 60  # that this test makes
DROPS = [(0.20, 0.21), (0.45, 0.29), (0.80, 0.41), (1.20, 0.49), (1.60, 0.58), (2.00, 0.63)]


@pytest.fixture
def empty(open_tab, world: World) -> Hands:
    """The empty study of group Heron, at its sources."""
    hands: Hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/sources")
    return hands


def cell(page: Page, row: int, symbol: str) -> Locator:
    expect(page.locator(f'#sheet [data-symbol="{symbol}"]')).to_be_visible()
    heads = page.locator("#sheet .column-head").all()
    place = [head.get_attribute("data-symbol") for head in heads].index(symbol)
    return page.locator(f'#sheet .slick-row[data-row="{row - 1}"] .slick-cell.l{place + 1}')


def sheet_is_here(hands: Hands) -> None:
    expect(hands.page.locator("#bench")).to_have_attribute("data-kind", "sheet")
    expect(hands.page.locator("#sheet")).to_have_attribute("data-ready", "true")


def pastes(hands: Hands, text: str) -> None:
    form = hands.card("sheet-in").locator("[data-take-table]")
    form.locator("textarea").fill(text)
    form.locator("button").click()
    expect(form.locator(".message")).to_have_text("")
    sheet_is_here(hands)


def records(fit: Locator, name: str, formula: str) -> None:
    """Record a result that is computed from the parameters of a fit."""
    fit.locator(".by-formula summary").click()
    form = fit.locator(".by-formula")
    form.locator("[name=name]").fill(name)
    form.locator("[name=formula]").fill(formula)
    form.get_by_role("button", name="Record").click()


def test_a_typed_two_column_lab_to_a_straight_line_and_a_finding(empty: Hands) -> None:
    """Falling times typed in cell by cell; t² against h is straight, and its slope is 2/g."""
    page = empty.page
    page.get_by_role("button", name="Type one").click()
    sheet_is_here(empty)
    empty.goes_to("mark")
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
    empty.is_saved()
    empty.goes_to("graph")
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
        if not empty.state()["undo"]:
            break
        page.locator("#undo").click()
        empty.is_saved()
    assert empty.state()["sources"] == []


def test_the_kick_sled_sheet_gives_the_friction(empty: Hands, clips: Path) -> None:
    """From the file to μ without a unit, as a number the truth agrees with."""
    page = empty.page
    page.locator("#file").set_input_files(clips / "kick-sled.csv")
    sheet_is_here(empty)
    truth = truth_of(clips, "kick-sled")
    empty.goes_to("mark")
    cell(page, truth["stopped_short"], "v").click()
    page.locator('[data-kind="set_row_aside"] [name=reason]').fill("ran into the straw")
    page.get_by_role("button", name="Set aside").click()
    expect(page.locator(".aside-row")).to_contain_text("Row 10 is set aside: ran into the straw")
    empty.is_saved()
    empty.goes_to("graph")
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


def test_a_table_pasted_with_commas_is_plotted_and_taken_out_again(empty: Hands) -> None:
    page = empty.page
    pastes(empty, "time in s;distance (cm)\n0,0;1,5\n0,5;4,0\n1,0;6,5\n1,5;9,1\n")
    empty.goes_to("mark")
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
    source = empty.state()["sheet"]["id"]
    answer = page.request.get(f"{empty.address}/api/studies/{study}/tables/s{source}.csv")
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


def test_typing_into_a_sheet_survives_a_reload_and_a_paste_goes_where_the_hand_is(
    empty: Hands,
) -> None:
    page = empty.page
    pastes(empty, "a;b\n1;2\n3;4")
    empty.goes_to("mark")
    cell(page, 3, "a").click()
    page.evaluate(
        """() => {
          const data = new DataTransfer();
          data.setData("text/plain", "5,5\\t6\\n7,5\\t8");
          document.activeElement.dispatchEvent(
            new ClipboardEvent("paste", {clipboardData: data, bubbles: true, cancelable: true}));
        }"""
    )
    expect(cell(page, 4, "b")).to_have_text("8")
    empty.is_saved()
    page.reload()
    sheet_is_here(empty)
    expect(cell(page, 3, "a")).to_have_text("5.5")


def test_what_matters_is_highlighted_in_the_sheet_and_among_the_findings(empty: Hands) -> None:
    page = empty.page
    pastes(empty, "t (s);x (m)\n0;1\n1;3\n2;5\n")
    empty.goes_to("mark")
    column = page.locator(".sheet-column").nth(1)
    column.locator("summary").first.click()
    column.get_by_role("button", name="Highlight x").click()
    expect(page.locator("#sheet .slick-cell.highlighted").first).to_have_text("1")
    expect(page.locator("#sheet .slick-header-column.highlighted")).to_contain_text("x")
    empty.goes_to("graph")
    mean = page.locator("#card-findings form.add")
    mean.locator("[name=column]").select_option(label="x")
    mean.locator("[name=name]").fill("middle")
    mean.get_by_role("button", name="Record").click()
    finding = page.locator(".finding")
    finding.get_by_role("button", name="Highlight middle").click()
    expect(finding).to_have_class(re.compile("highlighted"))
    finding.get_by_role("button", name="Highlight middle").click()
    expect(finding).not_to_have_class(re.compile("highlighted"))


def test_statistics_slope_trial_and_own_formula_on_the_graph(empty: Hands) -> None:
    page = empty.page
    pastes(empty, "t (s);x (m)\n" + "\n".join(f"{n};{n * n}" for n in range(9)))
    empty.goes_to("graph")
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
    empty.drags(
        (box["x"] + box["width"] * 0.2, box["y"] + 60),
        (box["x"] + box["width"] * 0.95, box["y"] + 60),
    )
    expect(page.locator("#stretch")).to_contain_text("standard deviation")
    expect(page.locator("#stretch")).to_contain_text("m·s")
    page.locator("#stretch").get_by_role("button", name="Fit these points").click()
    expect(page.locator(".fit")).to_have_count(2)


def test_fits_over_passages_before_and_after_a_bounce(empty: Hands) -> None:
    """One line over all of it is shaky; a line before and a line after are not."""
    page = empty.page
    times = np.arange(20) / 10
    places = np.where(times < 1, 3.0 - 2.5 * times, 0.5 + 1.5 * (times - 1))
    places = places + np.random.default_rng(5).normal(scale=0.004, size=20)
    rows = "\n".join(f"{t:.2f};{x:.3f}" for t, x in zip(times, places, strict=True))
    pastes(empty, f"t (s);x (m)\n{rows}")
    empty.goes_to("graph")
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


def test_what_a_rule_shows_is_read_by_eye_frame_after_frame(empty: Hands, plain_film: Path) -> None:
    page = empty.page
    empty.uploads(plain_film)
    form = empty.card("sheet-in").locator('[data-kind="read_by_eye"]')
    form.locator("[name=name]").fill("ruler")
    form.locator("[name=unit]").fill("cm")
    form.get_by_role("button", name="Make its sheet").click()
    expect(page.locator("#card-sources")).to_contain_text("ruler")
    empty.goes_to("mark")
    page.keyboard.press("y")
    for frame, text in enumerate(("2,0", "2.4", "3,1")):
        expect(page.locator("#card-eye [data-frame-number]")).to_have_text(str(frame))
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    empty.sees_frame(3)
    study = page.locator("#bench").get_attribute("data-study")
    sheet = empty.state()["sources"][1]["id"]
    view = page.request.get(f"{empty.address}/api/studies/{study}?source={sheet}").json()
    points = view["graphs"][0]["series"][0]["points"]
    times = empty.state()["footage"]["times"]
    assert [(x, y) for _, x, y, *_ in points] == [
        (pytest.approx(times[n]), value) for n, value in enumerate((2.0, 2.4, 3.1))
    ]


def test_axe_finds_no_violation_with_a_sheet(empty: Hands) -> None:
    pastes(empty, "t (s);x (m)\n" + "\n".join(f"{n};{n * n}" for n in range(9)))
    page = empty.page
    for step in ("mark", "graph"):
        empty.goes_to(step)
        page.wait_for_load_state("networkidle")
        page.mouse.move(640, 500)  # not over a link, whose colours change then
        results = Axe().run(page)
        assert results.violations_count == 0, results.generate_report()
    page.get_by_role("button", name="Straighten").click()
    expect(page.locator(".straight-form").first).to_be_visible()
    results = Axe().run(page)
    assert results.violations_count == 0, results.generate_report()


def row_head(page: Page, row: int) -> Locator:
    return page.locator(f'#sheet .slick-row[data-row="{row - 1}"] .row-number')


def test_cells_are_chosen_copied_emptied_and_typed_by_pointer_and_keys(empty: Hands) -> None:
    page = empty.page
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    pastes(empty, "a;b\n" + "\n".join(f"{n};{10 * n}" for n in range(1, 31)))
    empty.goes_to("mark")
    expect(cell(page, 6, "b")).to_have_text("60")
    chosen = page.locator("#card-sheet")
    cell(page, 2, "a").drag_to(cell(page, 4, "b"))
    expect(chosen).to_contain_text("row 2 to 4")
    page.keyboard.press("Control+c")
    assert page.evaluate("() => navigator.clipboard.readText()") == "2\t20\n3\t30\n4\t40"
    page.keyboard.press("Delete")
    expect(cell(page, 4, "b")).to_have_text("")
    expect(cell(page, 5, "b")).to_have_text("50")
    empty.is_saved()
    for _ in range(2):  # one edit for each column
        page.keyboard.press("Control+z")
        empty.is_saved()
    expect(cell(page, 4, "b")).to_have_text("40")
    row_head(page, 7).click()
    row_head(page, 9).click(modifiers=["Shift"])
    expect(chosen).to_contain_text("row 7 to 9")
    page.locator('#sheet [data-symbol="b"]').click()
    expect(chosen).to_contain_text("row 1 to 30")
    cell(page, 5, "a").dblclick()
    page.keyboard.type("77")
    page.keyboard.press("Escape")
    expect(cell(page, 5, "a")).to_have_text("5")
    page.keyboard.press("F2")
    page.keyboard.press("Home")
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    expect(cell(page, 5, "a")).to_have_text("15")
    page.keyboard.type("16")  # Enter went on to the cell below
    page.locator('#sheet [data-symbol="b"]').click()  # going elsewhere keeps what was typed
    expect(cell(page, 6, "a")).to_have_text("16")
    empty.is_saved()
    page.reload()
    sheet_is_here(empty)
    expect(cell(page, 6, "a")).to_have_text("16")


def test_what_another_changes_does_not_end_what_is_being_typed(
    empty: Hands, open_tab, world: World
) -> None:
    page = empty.page
    pastes(empty, "a;b\n1;2\n3;4")
    empty.goes_to("mark")
    other: Hands = open_tab(world.heron)
    other.opens(f"/studies/{world.study.id}/mark")
    cell(page, 1, "a").click()
    page.keyboard.type("1")
    cell(other.page, 4, "b").click()
    other.page.keyboard.type("44")
    other.page.keyboard.press("Enter")
    expect(cell(page, 4, "b")).to_have_text("44")
    page.keyboard.type("23")
    page.keyboard.press("Enter")
    expect(cell(other.page, 1, "a")).to_have_text("123")


def test_a_long_and_wide_sheet_shows_what_one_scrolls_to(empty: Hands, tmp_path: Path) -> None:
    page = empty.page
    columns, rows = 70, 4000
    lines = [",".join(f"q{n}" for n in range(columns))]
    lines += [",".join(str(row * 100 + n) for n in range(columns)) for row in range(1, rows + 1)]
    path = tmp_path / "long.csv"
    path.write_text("\n".join(lines))
    page.locator("#file").set_input_files(path)
    sheet_is_here(empty)
    empty.goes_to("mark")
    expect(cell(page, 1, "q0")).to_have_text("100")
    assert page.locator("#sheet .slick-cell").count() < 70 * 60, "only what is in view is drawn"
    cell(page, 1, "q0").click()
    page.keyboard.press("Control+End")
    page.keyboard.press("ArrowUp")
    for _ in range(11):  # the empty rows below the last one
        page.keyboard.press("ArrowUp")
    last = page.locator("#sheet .slick-cell.active")
    expect(last).to_have_text(str(rows * 100 + columns - 1))
    page.keyboard.type("5")
    page.keyboard.press("Enter")
    empty.is_saved()
    key, sheet = empty.state()["columns"][-1], empty.state()["sheet"]["id"]
    study = page.locator("#bench").get_attribute("data-study")
    query = f"first={rows - 2}&count=2&columns={key['id']}"
    answer = page.request.get(f"{empty.address}/api/studies/{study}/sheets/{sheet}/cells?{query}")
    assert answer.json()["cells"][key["key"]] == [str((rows - 1) * 100 + columns - 1), "5"]


def test_tab_goes_along_a_row_of_entries_and_enter_back_to_where_it_began(empty: Hands) -> None:
    page = empty.page
    pastes(empty, "a;b\n1;2")
    empty.goes_to("mark")
    cell(page, 2, "a").click()
    for text, key in (
        ("7.0", "Tab"),
        ("7.4", "Tab"),
        ("9.0", "Tab"),
        ("4.4", "Enter"),
        ("5", "Enter"),
    ):
        page.keyboard.type(text)
        page.keyboard.press(key)
    empty.is_saved()
    expect(cell(page, 4, "a")).to_have_text("5")
    typed = [[cell(page, row, one).inner_text() for one in "ab"] for row in (2, 3)]
    assert typed == [["7.0", "7.4"], ["9.0", "4.4"]]


def test_the_page_never_scrolls_and_a_message_at_the_graph_of_a_sheet_is_seen(
    empty: Hands,
) -> None:
    page = empty.page
    pastes(empty, "a;b\n" + "\n".join(f"{n};{2 * n}" for n in range(1, 9)))
    empty.goes_to("graph")
    for curve in ("line", "quadratic", "sine"):
        form = page.locator('#fit-choices form[data-kind="add_fit"]')
        form.locator("[name=curve]").select_option(curve)
        form.get_by_role("button", name="Fit", exact=True).click()
        empty.is_saved()
    assert page.evaluate("() => document.documentElement.scrollHeight") <= 800
    page.mouse.move(1200, 500)
    page.mouse.wheel(0, 4000)
    expect(page.locator(".top .brand")).to_be_in_viewport()
    page.evaluate("() => document.documentElement.scrollTo(0, 500)")
    assert page.evaluate("() => document.documentElement.scrollTop") == 0
    page.keyboard.press("Control+Shift+z")
    note = page.locator("#stage-note")
    expect(note).to_contain_text("nothing to redo")
    box = note.bounding_box()
    assert box is not None
    assert box["width"] > 100


def test_what_is_typed_stays_in_its_field_when_cards_come_anew(empty: Hands, world: World) -> None:
    """After Enter in a new quantity the next words belong to another new one, not to that one."""
    page = empty.page
    pastes(empty, "a;b\n1;2")
    empty.goes_to("mark")
    form = empty.card("quantities").locator('form[data-kind="set_quantity"][data-clear]')
    form.scroll_into_view_if_needed()
    for symbol, value in (("M", "0.25"), ("R", "0.125")):
        form.locator("[name=symbol]").fill(symbol)
        form.locator("[name=name]").fill(f"size {symbol}")
        form.locator("[name=typed]").fill(value)
        form.locator("[name=typed]").press("Enter")
        empty.is_saved()
        expect(page.locator("#cards")).to_contain_text(symbol)
        assert page.evaluate("() => document.activeElement.form?.hasAttribute('data-clear')")
    view = Tab(world.study, world.heron).view()
    assert {one["symbol"] for one in view["study_quantities"]} == {"M", "R"}
