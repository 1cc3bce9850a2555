"""What hands do with a sheet."""

from playwright.sync_api import Locator, Page, expect

from tests.browser.hands import Hands


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
