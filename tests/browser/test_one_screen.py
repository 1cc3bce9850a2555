"""Everything of a step is on one screen, on the screens that schools have, beside scroll bars."""

from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Locator, ViewportSize, expect

from footing.store.records import fetch
from footing.store.rows import Lab
from footing.studies.school.labs import LabWords, change_lab
from footing.studies.school.people import Person
from footing.studies.steps import Step
from tests.browser.hands import Hands
from tests.conftest import World
from tests.studies.conftest import legs_of
from tests.studies.modelling import legs_over, models, parameters, passage, predicted
from tests.studies.steps import Tab

SIZES: list[ViewportSize] = [
    {"width": 1280, "height": 800},
    {"width": 1366, "height": 768},
    {"width": 1024, "height": 768},
]

# what is wider than its place, but for tables and equations, which scroll in a frame of their own
TOO_WIDE = """() => [...document.querySelectorAll("html, body *")]
  .filter((one) => one.clientWidth && one.scrollWidth > one.clientWidth + 1
    && (one === document.documentElement || /auto|scroll/.test(getComputedStyle(one).overflowX))
    && !one.matches(".figures-frame, .equations, .slick-viewport, .table-frame"))
  .map((one) => one.className || one.tagName)"""
# what in the top bar runs into what is beside it
OVER_EACH_OTHER = """() => [...document.querySelector(".top").children].filter((one) => {
  const [box, next] = [one, one.nextElementSibling].map((it) => it?.getBoundingClientRect());
  const spills = one.scrollWidth > one.clientWidth + 1 && !one.matches(".trail");
  return box.width && (spills || (next?.width && next.left < box.right - 1));
}).map((one) => one.className || one.tagName)"""
# whether a click in its middle reaches it
WITHIN_REACH = """(one) => {
  const box = one.getBoundingClientRect();
  const hit = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
  return one === hit || one.contains(hit);
}"""


def is_within_reach(thing: Locator) -> bool:
    return bool(thing.evaluate(WITHIN_REACH))


@pytest.fixture
def tasks(world: World) -> None:
    """A lab that says much, in lines that belong to steps."""
    lab = fetch(Lab, world.lab.id)
    assert lab is not None
    text = "- [scale] draw along the pole, 2.00 m\n- [zero] put zero at its foot\n"
    text += "- [12 marks] mark the sled in every third frame\n- [fit] fit a line\n\n"
    text += "Friction and the resistance of the air act on it.\n\n" * 8
    change_lab(lab, LabWords(title="Sled run", task="Find a.", instructions=text))


@pytest.mark.usefixtures("tasks")
def test_no_step_is_wider_than_the_screen_and_the_page_never_scrolls(
    open_tab: Callable[[Person], Hands], world: World, sled: Tab
) -> None:
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{sled.study_id}/sources")
    page = hands.page
    for step in Step:
        hands.goes_to(step)
        for size in SIZES:
            page.set_viewport_size(size)
            assert page.evaluate(TOO_WIDE) == [], (step, size)
            assert page.evaluate(OVER_EACH_OTHER) == [], (step, size)
            assert page.evaluate("document.documentElement.scrollHeight <= innerHeight"), step


def test_an_empty_study_is_not_wider_than_the_screen(sources: Hands) -> None:
    expect(sources.page.get_by_role("button", name="Make a sheet of it")).to_be_visible()
    for size in SIZES:
        sources.page.set_viewport_size(size)
        assert sources.page.evaluate(TOO_WIDE) == [], size


@pytest.mark.usefixtures("tasks")
def test_what_the_lab_asks_at_a_step_leaves_room_for_the_tools_of_the_step(
    sources: Hands, clips: Path
) -> None:
    sources.uploads(clips / "sled-run.mp4")
    page = sources.page
    lab = page.locator("#card-task")
    expect(lab.get_by_text("Friction and the resistance").first).to_be_visible()
    sources.goes_to("ground")
    for size in SIZES:
        page.set_viewport_size(size)
        expect(lab.get_by_text("Friction and the resistance").first).to_be_hidden()
        expect(lab.get_by_role("listitem")).to_have_text(
            ["draw along the pole, 2.00 m", "put zero at its foot"]
        )
        assert is_within_reach(page.get_by_role("button", name="Draw a known length"))
        assert is_within_reach(page.get_by_role("button", name="Place zero"))
    sources.draws_known_length((100, 400), (500, 400), "2.00 m")
    done = lab.get_by_label("Asked for here").get_by_role("img", name="done", exact=True)
    expect(done).to_have_count(1)
    lab.locator("summary").click()  # somebody reads all of it again, each line once
    expect(lab.get_by_text("put zero at its foot")).to_have_count(2)
    expect(lab.get_by_label("Asked for here")).to_be_hidden()


def test_the_film_stays_where_it_is_when_there_is_something_to_mark(
    sources: Hands, clips: Path
) -> None:
    sources.uploads(clips / "sled-run.mp4")
    sources.goes_to("mark")
    before = sources.point((200, 200))
    sources.adds_body("sled")
    expect(sources.page.locator("#lanes .lane-name", has_text="sled")).to_be_visible()
    assert sources.point((200, 200)) == pytest.approx(before, abs=1)


def test_who_only_looks_reaches_all_that_can_be_looked_at(
    open_tab: Callable[[Person], Hands], world: World, sled: Tab
) -> None:
    teacher = open_tab(world.teacher)
    teacher.opens(f"/studies/{sled.study_id}/graph?looking=1")
    page = teacher.page
    expect(page.locator("#looking")).to_contain_text("work of Heron")
    assert is_within_reach(page.locator("#look-away"))
    tools = page.locator(":is(.graph, #ledger) > .graph-tools :is(button, a)").filter(visible=True)
    expect(tools.first).to_be_visible()
    assert all(tools.evaluate_all(f"tools => tools.map({WITHIN_REACH})"))
    teacher.goes_to("ledger")
    expect(page.locator("#ledger")).to_contain_text("Energies need a mass")
    assert all(tools.evaluate_all(f"tools => tools.map({WITHIN_REACH})"))
    assert page.evaluate("document.documentElement.scrollHeight <= innerHeight")


def test_a_ledger_without_a_mass_says_so_and_offers_nothing_to_take_out(
    open_tab: Callable[[Person], Hands], world: World, sled: Tab
) -> None:
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{sled.study_id}/ledger")
    page = hands.page
    expect(page.locator("#ledger")).to_contain_text("Energies need a mass")
    expect(page.locator("#ledger").get_by_role("link", name="PNG")).to_be_hidden()
    side, film = (page.locator(one).bounding_box() for one in (".side", "#stage"))
    assert side is not None
    assert film is not None
    assert film["width"] == pytest.approx(side["width"], abs=1)
    mass = hands.card("accounted").locator("[name=mass]")
    mass.fill("34 kg")
    mass.press("Enter")
    expect(page.locator("#ledger").get_by_role("link", name="PNG")).to_be_visible()
    bars, film = (page.locator(one).bounding_box() for one in ("#bars", "#stage"))
    assert bars is not None
    assert film is not None
    assert film["x"] + film["width"] == pytest.approx(bars["x"], abs=1)


def test_what_a_model_gives_is_in_view_however_many_there_are(
    open_tab: Callable[[Person], Hands], world: World, sled: Tab
) -> None:
    (body,) = sled.view()["bodies"]
    footage = sled.view()["footage"]["id"]
    for name in ("first", "second", "third", "fourth"):
        model = predicted(sled, body["id"], footage, "constant acceleration", name)
    legs_over(
        sled,
        model,
        "constant velocity",
        [passage(sled, footage, *way) for way in (("slow", 15, 40), ("fast", 40.5, 79))],
    )
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{sled.study_id}/model")
    page = hands.page
    models = hands.card("models")
    kept = models.get_by_role("button", name="Into the report").filter(visible=True)
    for size in SIZES:
        page.set_viewport_size(size)
        expect(kept).to_have_count(1)  # of the one in hand; of the others a line
        for name in models.get_by_label("Name of the model").all():
            assert is_within_reach(name)
        record = hands.card("predicted").get_by_role("button", name="Record").filter(visible=True)
        assert is_within_reach(record.first), size
        assert page.evaluate(TOO_WIDE) == [], size
    gives = hands.card("predicted").locator("article").filter(visible=True)
    velocity = gives.locator("li", has_text="velocity x at the start").first
    expect(gives.locator("li", has_text="acceleration x")).to_be_visible()
    expect(velocity).to_be_hidden()
    gives.get_by_text("Where and how fast it starts").click()
    expect(velocity).to_be_visible()
    models.locator(".model-pick").nth(3).click()
    expect(models.locator(".model-line").nth(3)).to_have_class("model-line in-hand")
    expect(velocity).to_be_visible()  # a constant velocity gives nothing else
    legs = hands.card("legs").locator("details.leg").filter(visible=True)
    assert legs.evaluate_all("legs => legs.map((leg) => leg.open)") == [False, True]
    findings = page.locator("#card-findings")
    expect(findings.locator("summary").first).to_contain_text("Findings a ")
    expect(findings.locator("article")).to_be_hidden()
    hands.goes_to("graph")
    expect(findings.locator("article")).to_be_visible()


def test_all_findings_are_in_view_beside_the_graph_and_say_more_when_asked(
    open_tab: Callable[[Person], Hands], world: World, sled: Tab
) -> None:
    fit = sled.view()["fits"][0]["id"]
    for name in ("again", "third", "fourth", "fifth"):
        sled.does("add_finding", fit=fit, reading="acceleration", name=name)
    kept = {"accepted": "2.5", "accepted_uncertainty": "0.1", "symbol": "", "other": None}
    judged = sled.makes("add_finding", fit=fit, reading="acceleration", name="sixth")
    sled.does("change_finding", finding=judged, name="sixth", as_size=False, **kept)
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{sled.study_id}/graph")
    page = hands.page
    findings = page.locator("#card-findings .finding")
    expect(findings).to_have_count(6)
    for size in SIZES:
        page.set_viewport_size(size)
        assert page.evaluate(TOO_WIDE) == [], size
        values = findings.locator(".result button").all()
        assert [is_within_reach(value) for value in values] == [True] * 6, size
        side = page.locator(".side")
        if size["width"] > SIZES[-1]["width"]:  # where no finding needs a second line
            assert side.evaluate("side => side.scrollHeight - side.clientHeight") == 0, size
    expect(findings.last.locator("summary").first).to_have_text("disagrees")
    accepted = findings.nth(1).locator("[name=accepted]")
    expect(accepted).to_be_hidden()
    findings.nth(1).get_by_text("more", exact=True).click()
    expect(findings.nth(1)).to_contain_text("again = acceleration = 1.43")
    expect(findings.nth(1)).to_contain_text("95 %: 1.4")
    accepted.fill("1.43")
    accepted.press("Enter")
    expect(findings.nth(1).locator("summary").first).to_have_text("agrees")


def test_a_model_that_gives_nothing_says_so_beside_one_that_does(
    open_tab: Callable[[Person], Hands], world: World, sled: Tab
) -> None:
    (body,) = sled.view()["bodies"]
    footage = sled.view()["footage"]["id"]
    for name in ("found", "given"):
        model = predicted(sled, body["id"], footage, "constant acceleration", name)
    (leg,) = legs_of(sled, model)
    (shown,) = (one["legs"][0] for one in models(sled) if one["id"] == model)
    for name in parameters(shown):
        sled.does("set_parameter", model=model, leg=leg, name=name, typed="1")
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{sled.study_id}/model")
    given = hands.card("predicted").get_by_text("so it gives no number").filter(visible=True)
    lines = hands.card("models").locator(".model-pick")
    lines.nth(1).click()
    expect(given).to_be_visible()
    lines.nth(0).click()
    expect(given).to_have_count(0)
