"""Whoever uses no mouse, or hears the page, gets everywhere."""

from collections.abc import Callable

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from footing.studies.school import invitations
from footing.studies.school.people import Person
from tests.browser.hands import Hands
from tests.conftest import World

OpenTab = Callable[[Person], Hands]


def test_axe_finds_no_violation(bench: Hands) -> None:
    for step in ("sources", "ground", "mark", "graph"):
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
