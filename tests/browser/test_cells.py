"""Cells and fields of a sheet: chosen, typed, pasted, and kept while others change things."""

from pathlib import Path

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Locator, Page, expect

from tests.browser.hands import Hands
from tests.browser.typing import cell, pastes, sheet_is_here
from tests.conftest import World
from tests.studies.steps import Tab


def test_typing_into_a_sheet_survives_a_reload_and_a_paste_goes_where_the_hand_is(
    sources: Hands,
) -> None:
    page = sources.page
    pastes(sources, "a;b\n1;2\n3;4")
    sources.goes_to("mark")
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
    sources.is_saved()
    page.reload()
    sheet_is_here(sources)
    expect(cell(page, 3, "a")).to_have_text("5.5")


def test_axe_finds_no_violation_with_a_sheet(sources: Hands) -> None:
    pastes(sources, "t (s);x (m)\n" + "\n".join(f"{n};{n * n}" for n in range(9)))
    page = sources.page
    for step in ("mark", "graph"):
        sources.goes_to(step)
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


def test_cells_are_chosen_copied_emptied_and_typed_by_pointer_and_keys(sources: Hands) -> None:
    page = sources.page
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    pastes(sources, "a;b\n" + "\n".join(f"{n};{10 * n}" for n in range(1, 31)))
    sources.goes_to("mark")
    expect(cell(page, 6, "b")).to_have_text("60")
    chosen = page.locator("#card-sheet")
    cell(page, 2, "a").drag_to(cell(page, 4, "b"))
    expect(chosen).to_contain_text("row 2 to 4")
    page.keyboard.press("Control+c")
    assert page.evaluate("() => navigator.clipboard.readText()") == "2\t20\n3\t30\n4\t40"
    page.keyboard.press("Delete")
    expect(cell(page, 4, "b")).to_have_text("")
    expect(cell(page, 5, "b")).to_have_text("50")
    sources.is_saved()
    for _ in range(2):  # one edit for each column
        page.keyboard.press("Control+z")
        sources.is_saved()
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
    sources.is_saved()
    page.reload()
    sheet_is_here(sources)
    expect(cell(page, 6, "a")).to_have_text("16")


def test_what_another_changes_does_not_end_what_is_being_typed(
    sources: Hands, open_tab, world: World
) -> None:
    page = sources.page
    pastes(sources, "a;b\n1;2\n3;4")
    sources.goes_to("mark")
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


def test_a_long_and_wide_sheet_shows_what_one_scrolls_to(sources: Hands, tmp_path: Path) -> None:
    page = sources.page
    columns, rows = 70, 4000
    lines = [",".join(f"q{n}" for n in range(columns))]
    lines += [",".join(str(row * 100 + n) for n in range(columns)) for row in range(1, rows + 1)]
    path = tmp_path / "long.csv"
    path.write_text("\n".join(lines))
    page.locator("#file").set_input_files(path)
    sheet_is_here(sources)
    sources.goes_to("mark")
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
    sources.is_saved()
    key, sheet = sources.state()["columns"][-1], sources.state()["sheet"]["id"]
    study = page.locator("#bench").get_attribute("data-study")
    query = f"first={rows - 2}&count=2&columns={key['id']}"
    answer = page.request.get(f"{sources.address}/api/studies/{study}/sheets/{sheet}/cells?{query}")
    assert answer.json()["cells"][key["key"]] == [str((rows - 1) * 100 + columns - 1), "5"]


def test_tab_goes_along_a_row_of_entries_and_enter_back_to_where_it_began(sources: Hands) -> None:
    page = sources.page
    pastes(sources, "a;b\n1;2")
    sources.goes_to("mark")
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
    sources.is_saved()
    expect(cell(page, 4, "a")).to_have_text("5")
    typed = [[cell(page, row, one).inner_text() for one in "ab"] for row in (2, 3)]
    assert typed == [["7.0", "7.4"], ["9.0", "4.4"]]


def test_the_page_never_scrolls_and_a_message_at_the_graph_of_a_sheet_is_seen(
    sources: Hands,
) -> None:
    page = sources.page
    pastes(sources, "a;b\n" + "\n".join(f"{n};{2 * n}" for n in range(1, 9)))
    sources.goes_to("graph")
    for curve in ("line", "quadratic", "sine"):
        form = page.locator('#fit-choices form[data-kind="add_fit"]')
        form.locator("[name=curve]").select_option(curve)
        form.get_by_role("button", name="Fit", exact=True).click()
        sources.is_saved()
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


def test_what_is_typed_stays_in_its_field_when_cards_come_anew(
    sources: Hands, world: World
) -> None:
    """After Enter in a new quantity the next words belong to another new one, not to that one."""
    page = sources.page
    pastes(sources, "a;b\n1;2")
    sources.goes_to("mark")
    form = sources.card("quantities").locator('form[data-kind="set_quantity"][data-clear]')
    form.scroll_into_view_if_needed()
    for symbol, value in (("M", "0.25"), ("R", "0.125")):
        form.locator("[name=symbol]").fill(symbol)
        form.locator("[name=name]").fill(f"size {symbol}")
        form.locator("[name=typed]").fill(value)
        form.locator("[name=typed]").press("Enter")
        sources.is_saved()
        expect(page.locator("#cards")).to_contain_text(symbol)
        assert page.evaluate("() => document.activeElement.form?.hasAttribute('data-clear')")
    view = Tab(world.study, world.heron).view()
    assert {one["symbol"] for one in view["study_quantities"]} == {"M", "R"}
