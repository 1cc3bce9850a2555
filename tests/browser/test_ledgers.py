"""Ledgers through the interface: impacts on the score, energies, bars, momenta, blanks, working."""

import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Locator, expect

from footing.settings import Settings
from footing.studies.school.people import Person
from tests.browser.hands import Hands, number_of, truth_of
from tests.browser.scenes import flying_snowball, known_length
from tests.conftest import World
from tests.moments import Once
from tests.studies.steps import Tab

FIRST, LAST, STRIDE = 4, 118, 2
HIT = 58.5  # the stones meet at frame 59.04, between two marks


@pytest.fixture
def stones(
    open_tab: Callable[[Person], Hands],
    world: World,
    clips: Path,
    settings: Settings,
    once: Once,
) -> Hands:
    """The curling stones, marked with the scatter of a hand, without masses and impacts."""
    tab = Tab(world.study, world.heron)
    once("curling stones", tab, lambda: _stones(tab, clips, settings))
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/ledger")
    return hands


def _stones(tab: Tab, clips: Path, settings: Settings) -> None:
    truth = truth_of(clips, "curling-stones")
    footage = tab.uploads(clips / "curling-stones.mp4", settings)
    tab.does("set_span", footage=footage, first=FIRST, last=LAST, stride=STRIDE)
    known_length(tab, footage, truth["ring"], "1.22")
    tab.does("set_zero", footage=footage, x=400, y=372)
    rng = np.random.default_rng(21)
    frames = range(FIRST, LAST + 1, STRIDE)
    for name in truth["masses"]:
        body = tab.makes("add_body", footage=footage, name=name)
        places = np.array(truth["positions"][name])[frames] + rng.normal(scale=0.2, size=(58, 2))
        marks = [[n, *place] for n, place in zip(frames, places.tolist(), strict=True)]
        tab.does("place_marks", body=body, marks=marks)


@pytest.fixture
def lob(
    open_tab: Callable[[Person], Hands],
    world: World,
    clips: Path,
    settings: Settings,
    once: Once,
) -> Hands:
    """The snowball's flight, marked; its mass is not typed yet."""
    flying_snowball(Tab(world.study, world.heron), clips, settings, once)
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/ledger")
    return hands


def weighs(hands: Hands, body: str, mass: str, unit: str) -> None:
    form = hands.card("accounted").locator("form.weighed", has_text=f"Mass of {body}")
    form.locator("[name=mass_unit]").select_option(unit)
    hands.is_saved()
    form = hands.card("accounted").locator("form.weighed", has_text=f"Mass of {body}")
    form.locator("[name=mass]").fill(mass)
    form.locator("[name=mass]").press("Tab")
    hands.is_saved()


def momenta(hands: Hands) -> Locator:
    hands.page.locator('button[data-ledger-tab="momentum"]').click()
    return hands.page.locator("section.momentum")


def momentum_of(hands: Hands, cell: str) -> str:
    (one,) = hands.state()["ledger"]["momenta"]
    return hands.page.locator(f'[data-working="momentum/{one["impact"]}/{cell}"]').inner_text()


def test_from_marks_to_the_verdict_of_a_collision_in_two_dimensions(
    stones: Hands, clips: Path
) -> None:
    truth = truth_of(clips, "curling-stones")
    weighs(stones, "red stone", "19.1", "kg")
    weighs(stones, "yellow stone", "18.6", "kg")
    page = stones.page
    page.locator('button[data-ledger-tab="momentum"]').click()
    expect(page.locator(".empty-ledger")).to_contain_text("something hits")
    page.get_by_role("button", name="Place an impact there").click()
    section = page.locator("section.momentum")
    expect(section.locator(".verdict")).to_contain_text("conserved as far as this can tell")
    assert number_of(momentum_of(stones, "total.before.x")) == pytest.approx(
        19.1 * truth["velocity_before"][0], rel=0.01
    )
    red = truth["velocities_after"]["red stone"]
    state = stones.state()
    (key,) = [f"b{body['id']}" for body in state["bodies"] if body["name"] == "red stone"]
    assert number_of(momentum_of(stones, f"{key}.after.x")) == pytest.approx(
        19.1 * red[0], rel=0.01
    )
    assert number_of(momentum_of(stones, f"{key}.after.y")) == pytest.approx(
        -19.1 * red[1], rel=0.01
    )
    assert number_of(momentum_of(stones, "restitution")) == pytest.approx(0.88, rel=0.02)
    expect(section.locator(".ledger-facts")).to_contain_text("partly elastic")
    # vectors over the film, head to tail: three before (one of them rests), three after
    expect(page.locator("#overlay .arrow.momentum.after")).to_have_count(3)
    expect(page.locator("#overlay .arrow.momentum.sum")).to_have_count(2)


def test_an_impact_is_placed_moved_and_removed_and_everything_follows(stones: Hands) -> None:
    weighs(stones, "red stone", "19.1", "kg")
    weighs(stones, "yellow stone", "18.6", "kg")
    page = stones.page
    page.locator('button[data-ledger-tab="momentum"]').click()
    stones.steps_to(58)
    page.keyboard.press("i")
    notch = page.locator(".notch.impact")
    expect(notch).to_have_attribute("aria-valuenow", "58.5")
    beside = stones.looks_at_table().get_by_text("just ")  # the table says which side it is
    expect(beside).to_have_text(["just before", "just after"])
    before = momentum_of(stones, "total.after.x")
    x, y = stones.middle(notch.locator("rect"))
    there = stones.time_point(40, "lane")[0]
    stones.drags((x, y), (there, y))
    stones.is_saved()
    moved = float(notch.get_attribute("aria-valuenow") or "nan")
    assert moved == pytest.approx(40.5, abs=1)
    expect(page.locator("section.momentum h2")).to_contain_text(f"{int(moved)}")
    assert momentum_of(stones, "total.after.x") != before
    notch.focus()
    page.keyboard.press("ArrowRight")
    expect(notch).to_have_attribute("aria-valuenow", str(moved + 1))
    expect(notch).to_be_focused()
    stones.card("impacts").get_by_role("button", name="Remove").click()
    expect(notch).to_have_count(0)
    expect(page.locator("section.momentum")).to_have_count(0)


def test_an_impact_is_placed_by_a_click_on_the_score(stones: Hands) -> None:
    stones.card("impacts").get_by_role("button", name="Place on the score").click()
    stones.page.mouse.click(*stones.time_point(30, "lane"))
    expect(stones.page.locator(".notch.impact")).to_have_count(1)
    (impact,) = stones.state()["impacts"]
    assert impact["at"] == pytest.approx(30.5, abs=1)


def test_energies_of_a_throw_with_its_mass_in_grams(lob: Hands, clips: Path) -> None:
    page = lob.page
    card = lob.card("accounted")
    expect(card).to_contain_text("The mass of snowball is missing.")
    expect(page.locator(".ledger-energy .empty-ledger")).to_contain_text("Energies need a mass")
    weighs(lob, "snowball", "120", "g")
    total = page.locator(".ledger-changes tr.total").first
    expect(total).to_contain_text("total energy")
    truth = truth_of(clips, "snowball-lob")
    start = truth["positions"][truth["flying"].index(True)]
    height = (truth["post"]["start"][1] - start[1]) / truth["pixels_per_metre"]
    whole = 0.120 * (np.hypot(*truth["velocity"]) ** 2 / 2 + 9.81 * height)
    assert number_of(total.locator("td").first.inner_text()) == pytest.approx(whole, rel=0.1)
    expect(page.locator(".ledger-changes [scope=rowgroup]").first).to_contain_text("kept within")
    expect(page.locator(".ledger-energy canvas")).to_be_visible()
    expect(page.locator(".ledger-energy .legend")).to_contain_text("total energy")
    table = lob.looks_at_table()
    page.locator("#table-card .shown-columns summary").click()
    page.locator("#table-card .shown-columns label", has_text="kinetic energy").click()
    expect(page.locator("#table thead")).to_contain_text("J")
    expect(table.first).to_be_visible()


def test_bars_follow_the_cursor_on_one_scale(lob: Hands) -> None:
    weighs(lob, "snowball", "120", "g")
    page = lob.page
    bars = page.locator("#bars")
    expect(bars.locator("rect.bar")).to_have_count(3)
    kinetic = bars.locator("rect.bar").first
    total = bars.locator("rect.bar.total")
    at_start = float(kinetic.get_attribute("height") or 0)
    whole = float(total.get_attribute("height") or 0)
    frames = lob.state()["ledger"]["energy"]["bars"]["frames"]
    middle = frames[len(frames) // 2]
    lob.steps_to(middle)
    expect(bars).to_have_attribute("data-frame", str(middle))
    assert float(kinetic.get_attribute("height") or 0) < at_start / 2
    assert float(total.get_attribute("height") or 0) == pytest.approx(whole, rel=0.1)
    expect(bars.locator("svg")).to_have_attribute(
        "aria-label", re.compile(f"Energies in frame {middle}: kinetic energy")
    )
    page.keyboard.press("v")
    expect(page.locator("#bench")).to_have_attribute("data-film", "true")
    expect(bars).to_be_visible()


def test_the_zero_of_height_is_dragged(lob: Hands) -> None:
    weighs(lob, "snowball", "120", "g")
    page = lob.page
    page.get_by_role("button", name="Film large").click()
    expect(page.locator('[data-handle="height"]')).to_be_visible()
    before = lob.state()["ledger"]["energy"]
    x, y = before["level"]
    lob.drags(lob.point((x, y)), lob.point((x, y - 190)))
    lob.is_saved()
    after = lob.state()["ledger"]["energy"]
    assert after["level"][1] == pytest.approx(y - 190, abs=2)
    high = {bar["key"]: bar["values"][0] for bar in before["bars"]["bars"]}
    low = {bar["key"]: bar["values"][0] for bar in after["bars"]["bars"]}
    assert high["ep"] - low["ep"] == pytest.approx(0.120 * 9.80665 * 1.0, rel=0.02)
    assert high["ek"] == low["ek"]


def test_a_blank_ledger_is_filled_in_and_a_wrong_sign_is_seen(stones: Hands) -> None:
    weighs(stones, "red stone", "19.1", "kg")
    weighs(stones, "yellow stone", "18.6", "kg")
    page = stones.page
    page.locator('button[data-ledger-tab="momentum"]').click()
    stones.steps_to(58)
    page.keyboard.press("i")
    expect(page.locator("section.momentum")).to_be_visible()
    stones.card("momenta").locator("[name=blank]").check()
    cells = page.locator("section.momentum form.blank-cell")
    expect(cells.first).to_be_visible()
    expect(page.locator("section.momentum .verdict")).to_have_count(0)
    expect(page.locator("section.momentum [data-working]")).to_have_count(0)
    expect(page.locator("section.momentum header")).to_contain_text("find the velocities by fits")

    def fill(label: str, typed: str) -> Locator:
        cell = page.get_by_label(label, exact=True)
        cell.fill(typed)
        cell.press("Enter")
        stones.is_saved()
        return page.locator("form.blank-cell", has=page.get_by_label(label, exact=True))

    keys = {body["name"]: f"b{body['id']}" for body in stones.state()["bodies"]}
    right = fill(f"{keys['red stone']} before x", "42.7")
    expect(right).to_have_attribute("data-right", "true")
    wrong = fill(f"{keys['yellow stone']} after y", "19.7")
    expect(wrong).to_have_attribute("data-right", "false")
    expect(wrong).to_contain_text("the sign is not")
    fixed = fill(f"{keys['yellow stone']} after y", "-19.7")
    expect(fixed).to_have_attribute("data-right", "true")


def test_the_working_is_shown_and_copied_and_leads_to_its_frames(lob: Hands) -> None:
    weighs(lob, "snowball", "120", "g")
    page = lob.page
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.locator(".ledger-changes tr.total .as-number").first.click()
    working = page.locator("#working")
    expect(working.locator("math").first).to_be_visible()
    expect(working).to_contain_text("Change of the total energy")
    working.get_by_role("button", name="Copy as text").click()
    expect(page.locator("#stage-note")).to_have_text("Copied.")
    text = page.evaluate("navigator.clipboard.readText()")
    assert "ΔE = E2 − E1 = " in text
    working.get_by_role("button", name="Copy as MathML").click()
    page.wait_for_function("navigator.clipboard.readText().then((text) => text.includes('<math'))")
    frame = working.locator("[data-go-frame]").last
    wanted = int(frame.get_attribute("data-go-frame") or -1)
    frame.click()
    lob.sees_frame(wanted)
    working.get_by_role("button", name="Close").click()
    expect(working).to_be_hidden()
    page.locator(".ledger-changes tr.total .as-number").first.click()
    expect(working).to_be_visible()
    page.keyboard.press("Escape")
    expect(working).to_be_hidden()


def test_students_say_the_verdict_where_the_lab_leaves_it_to_them(lob: Hands) -> None:
    weighs(lob, "snowball", "120", "g")
    words = lob.card("verdict").locator("textarea").first
    words.fill("The total stays the same.")
    words.press("Tab")
    lob.is_saved()
    assert lob.state()["ledger"]["energy"]["words"] == "The total stays the same."
    expect(lob.page.locator('.rail a[data-step="ledger"] .state-text')).to_have_text("done")


def test_axe_finds_no_violation_at_the_ledger(stones: Hands) -> None:
    page = stones.page
    for body, mass in (("red", "19.1"), ("yellow", "18.6")):
        weighs(stones, body, mass, "kg")
    page.locator("#card-impacts [data-edit]").first.click()
    stones.is_saved()
    for tab in ("energy", "momentum"):
        page.locator(f'button[data-ledger-tab="{tab}"]').click()
        results = Axe().run(page)
        assert results.violations_count == 0, results.generate_report()
    page.locator('section.momentum [data-working$="restitution"]').click()
    expect(page.locator("#working math").first).to_be_visible()
    results = Axe().run(page)
    assert results.violations_count == 0, results.generate_report()
