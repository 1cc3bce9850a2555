"""A class in the room: from the first start to the board, several people at several windows."""

import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from itertools import pairwise

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Browser, Locator, Page, expect

from footing.answering import running
from footing.settings import Settings
from footing.store import tables
from footing.studies.lesson.lab_library import take_ready
from footing.studies.school import invitations
from footing.studies.school.lists import start_study
from footing.studies.school.people import Person
from footing.web.app import create_app
from footing.web.workshop import Workshop
from tests.browser.conftest import patient
from tests.browser.hands import Hands
from tests.browser.scenes import in_group
from tests.conftest import World
from tests.studies.steps import Tab

OpenTab = Callable[[Person], Hands]
PHONE = {"width": 390, "height": 780}
LAPTOP = {"width": 1280, "height": 800}


@pytest.fixture
def strangers(chromium: Browser) -> Iterator[Callable[[dict[str, int]], Page]]:
    """Opens windows for people who are not signed in."""
    opened = []
    errors: list[str] = []

    def open_window(size: dict[str, int]) -> Page:
        context = patient(chromium.new_context(viewport=size))  # type: ignore[arg-type]
        opened.append(context)
        page = context.new_page()
        page.on("pageerror", lambda error: errors.append(str(error)))
        return page

    yield open_window
    for context in opened:
        context.close()
    assert errors == []


@contextmanager
def first_start(settings: Settings, port: int, workshop: Workshop) -> Iterator[str]:
    """A Footing in which nobody is yet, and no demo."""
    plain = settings.model_copy(update={"demo": False})
    with running(create_app(plain, workshop=workshop), port=port) as address:
        yield address


def joins(page: Page, code: str, name: str, pin: str) -> None:
    page.get_by_label("Class code").fill(code)
    page.get_by_role("button", name="Go on").click()
    page.get_by_label("Your name").fill(name)
    page.get_by_label("PIN", exact=True).fill(pin)
    page.get_by_role("button", name="Come in").click()


def test_from_the_first_start_to_a_class_that_marks(
    empty_database: str,
    settings: Settings,
    port: int,
    workshop: Workshop,
    strangers: Callable[[dict[str, int]], Page],
) -> None:
    code = invitations.first_code()
    assert code is not None
    with first_start(settings, port, workshop) as address:
        teacher = strangers(LAPTOP)
        teacher.goto(address)
        teacher.get_by_label("Code").fill("1111 1111")
        teacher.get_by_label("Your name").fill("Ms Sandgate")
        teacher.get_by_label("Choose a password").fill("snow on the sled run")
        teacher.get_by_role("button", name="Make the account").click()
        expect(teacher.locator("#main .message")).to_contain_text("not the code")
        teacher.get_by_label("Code").fill(code)
        teacher.get_by_role("button", name="Make the account").click()
        expect(teacher.get_by_role("heading", name="My class")).to_be_visible()
        teacher.get_by_role("link", name="Take a ready one").click()
        teacher.get_by_role("button", name="Take Sled run").click()
        expect(teacher.get_by_role("heading", name="Sled run", exact=True)).to_be_visible()
        teacher.goto(address)
        teacher.locator(".class-head a.figures").click()
        shown = teacher.locator(".class-code").inner_text()
        expect(teacher.get_by_alt_text("phone or tablet")).to_be_visible()

        phone, laptop = strangers(PHONE), strangers(LAPTOP)
        for page, name, pin in ((phone, "Juniper", "4711"), (laptop, "Idris", "9930")):
            page.goto(address)
            joins(page, shown, name, pin)
            expect(page.get_by_role("heading", name="With whom do you work today?")).to_be_visible()
        expect(teacher.locator(".who-is-here")).to_contain_text("Juniper")
        expect(teacher.locator(".who-is-here")).to_contain_text("Idris")

        phone.get_by_label("or a new one").fill("Otters")
        phone.get_by_role("button", name="Make it").click()
        expect(phone.locator(".own-group")).to_contain_text("You are in group Otters")
        laptop.get_by_role("button", name=re.compile("^Otters")).click()
        expect(laptop.locator(".own-group")).to_contain_text("Idris, Juniper")
        expect(phone.locator(".own-group")).to_contain_text("Idris, Juniper")  # by itself

        laptop.get_by_role("button", name="Start a new study: Sled run").click()
        expect(laptop.locator("#bench")).to_have_attribute("data-ready", "true")
        expect(laptop.locator("#stage")).to_have_attribute("data-shown", re.compile(r"\d+"))
        phone.get_by_role("link", name=re.compile("Sled run")).click()
        expect(phone.locator("#bench")).to_have_attribute("data-ready", "true")
        for page, other in ((laptop, "Juniper"), (phone, "Idris")):
            expect(page.locator("#people")).to_contain_text(other)
        overflow = "document.documentElement.scrollWidth - document.documentElement.clientWidth"
        assert phone.evaluate(overflow) <= 0

        on_laptop, on_phone = Hands(laptop, address), Hands(phone, address)
        on_laptop.goes_to("mark")
        on_laptop.adds_body("sled")
        on_phone.goes_to("mark")
        expect(phone.locator("#cards .body-pick", has_text="sled")).to_be_visible()
        for number in (1, 2):
            phone.locator("#stage").scroll_into_view_if_needed()
            on_phone.clicks((600, 300 + 10 * number))
            on_laptop.counts_marks(number)

        another = strangers(PHONE)
        another.goto(f"{address}/join/{'-'.join(shown.split())}")  # as from the picture
        expect(another.get_by_role("button", name="Juniper")).to_be_visible()
        another.get_by_role("button", name="Juniper").click()
        another.get_by_label("PIN", exact=True).fill("1212")
        another.get_by_role("button", name="Come in").click()
        expect(another.locator("#main .message")).to_contain_text("not their PIN")
        another.get_by_label("PIN", exact=True).fill("4711")
        another.get_by_role("button", name="Come in").click()
        expect(another.locator(".own-group")).to_contain_text("You are in group Otters")


@pytest.fixture
def sled(world: World, settings: Settings) -> Tab:
    """Group Heron's study of the ready sled run, in the class."""
    lab = take_ready("sled-run", world.school_class.id, world.teacher, settings)
    study = start_study(world.heron, world.school_class.id, lab_id=lab.id)
    return Tab(tables.Study.get_by_id(study), world.heron)


@pytest.fixture
def mate(world: World) -> Person:
    """A second student in group Heron."""
    return in_group(world, "Juniper", world.study.group)


def test_two_work_on_one_study_and_see_each_other(
    open_tab: OpenTab, sled: Tab, world: World, mate: Person
) -> None:
    body = sled.makes("add_body", footage=sled.view()["footage"]["id"], name="sled")
    mine, theirs = open_tab(world.heron), open_tab(mate)
    for hands in (mine, theirs):
        hands.opens(f"/studies/{sled.study_id}/mark")
    expect(mine.page.locator("#people")).to_have_text(re.compile("Juniper"))
    expect(theirs.page.locator("#people")).to_have_text(re.compile("Ottilie"))
    assert Axe().run(mine.page).response["violations"] == []

    mine.steps_to(30)
    mine.clicks((500, 400))
    theirs.counts_marks(1)
    theirs.steps_to(60)
    theirs.clicks((700, 380))
    mine.counts_marks(2)
    theirs.sees_frame(63)  # what is one's own stays one's own; every third frame is marked
    mine.sees_frame(33)
    expect(mine.page.locator("#people li", has_text="Juniper")).to_have_attribute(
        "title", re.compile("frame 63")
    )
    marks = Tab(tables.Study.get_by_id(sled.study_id), world.heron).view()["bodies"][0]["marks"]
    assert [one[0] for one in marks] == [30, 60]
    assert body

    theirs.page.mouse.move(*theirs.point((640, 300)))
    expect(mine.page.locator("svg.others text")).to_contain_text("Juniper, frame 63")

    theirs.steps_to(33)
    expect(mine.page.locator("#stage-note")).to_contain_text("is marking sled here, too")

    mine.page.get_by_role("button", name="Come along").click()
    expect(theirs.page.locator("#along")).to_contain_text("You go along with Ottilie")
    mine.goes_to("ground")
    expect(theirs.page.locator("#bench")).to_have_attribute("data-step", "ground")
    theirs.page.get_by_role("button", name="Stay here").click()
    mine.goes_to("graph")
    expect(mine.page.locator("#people li", has_text="Juniper")).to_have_attribute(
        "title", re.compile("ground")
    )
    expect(theirs.page.locator("#bench")).to_have_attribute("data-step", "ground")
    theirs.page.close()
    expect(mine.page.locator("#people li")).to_have_count(0)


def test_a_card_stays_as_it_is_while_something_on_it_is_pressed(
    open_tab: OpenTab, sled: Tab, world: World
) -> None:
    footage = sled.view()["footage"]["id"]
    sled.makes("add_body", footage=footage, name="sled")
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{sled.study_id}/mark")
    page = hands.page
    picks = page.locator("#cards .body-pick")
    picks.first.scroll_into_view_if_needed()
    page.mouse.move(*hands.middle(picks.first))
    page.mouse.down()
    sled.makes("add_body", footage=footage, name="pole")
    expect(page.locator("#lanes")).to_contain_text("pole")  # it came
    assert picks.count() == 1
    page.mouse.up()
    expect(picks).to_have_count(2)


def test_what_was_done_while_the_connection_was_lost_arrives_at_the_others(
    open_tab: OpenTab, sled: Tab, world: World, mate: Person
) -> None:
    sled.makes("add_body", footage=sled.view()["footage"]["id"], name="sled")
    mine, theirs = open_tab(world.heron), open_tab(mate)
    for hands in (mine, theirs):
        hands.opens(f"/studies/{sled.study_id}/mark")
    mine.steps_to(30)
    mine.sees_frame(30)
    mine.page.context.set_offline(True)
    mine.clicks((500, 400))
    expect(mine.page.locator("#saved")).not_to_have_text("saved ✓")
    theirs.steps_to(60)
    theirs.clicks((700, 380))
    theirs.counts_marks(1)
    mine.page.context.set_offline(False)
    mine.is_saved()
    mine.counts_marks(2)
    theirs.counts_marks(2)


def test_a_laptop_that_slept_connects_anew_and_comes_back_current(
    open_tab: OpenTab, sled: Tab, world: World
) -> None:
    hands = open_tab(world.heron)
    page = hands.page
    page.clock.install()
    hands.opens(f"/studies/{sled.study_id}/mark")
    expect(page.locator("html")).to_have_attribute("data-live", "true")
    page.route("**/news*", lambda route: route.abort())  # asleep: what is told is not heard
    sled.makes("add_body", footage=sled.view()["footage"]["id"], name="pole")
    page.unroute("**/news*")
    with page.expect_request("**/events"):
        page.clock.fast_forward(61_000)  # at once: a sign of life on the way would end the silence
    expect(page.locator("#cards .body-pick", has_text="pole")).to_be_visible()


def test_the_lesson_is_live(open_tab: OpenTab, sled: Tab, world: World, settings: Settings) -> None:
    lab = sled.study.lab
    assert lab is not None
    wren = Tab(
        tables.Study.get_by_id(start_study(world.wren, world.school_class.id, lab_id=lab.id)),
        world.wren,
    )
    teacher, board, student, other = (
        open_tab(who) for who in (world.teacher, world.heron, world.heron, world.wren)
    )
    board.opens(f"/labs/{lab.id}/board?of=a")
    student.opens(f"/studies/{sled.study_id}/mark")
    other.opens(f"/studies/{wren.study_id}/mark")
    for what in ("graphs%20beside", "graphs%20over", "films%20beside", "films%20over"):
        teacher.opens(f"/labs/{lab.id}/beside?what={what}")
        assert Axe().run(teacher.page).response["violations"] == [], what
    slider = teacher.page.get_by_label("moment")
    slider.fill("1.2")
    frames = teacher.page.locator("[data-frame-of]")
    footage = sled.view()["footage"]
    wanted = range(footage["first"], footage["last"] + 1, footage["stride"])
    nearest = min(wanted, key=lambda frame: abs(footage["times"][frame] - 1.2))
    expect(frames).to_have_text([f"frame {nearest}"] * 2)
    teacher.opens(f"/labs/{lab.id}/overview")
    of_heron = teacher.page.locator("tbody tr", has_text="Heron")
    expect(of_heron).to_be_visible()
    expect(board.page.locator("#main")).to_contain_text("Nobody has recorded")

    for tab, value in ((sled, "1.62"), (wren, "1.58")):
        sheet = tab.makes("add_sheet", name="slides")
        column = tab.makes("add_column", sheet=sheet, name="slope", unit="m/s^2")
        cells = [[value], [f"{float(value) + 0.02:.2f}"]]
        tab.does("set_cells", sheet=sheet, row=1, column=column, cells=cells)
        tab.makes("add_finding", column=column, name="a")
    expect(of_heron).to_contain_text("1.630 ± 0.010 m/s²")
    expect(board.page.locator("#board-plot svg")).to_be_visible()
    expect(board.page.locator(".board-summary")).to_contain_text("2 of 2 studies")

    student.page.get_by_role("button", name="Ask for help").click()
    expect(of_heron).to_contain_text("asks")
    with teacher.page.expect_popup() as opened:  # beside the overview
        of_heron.get_by_role("link", name="Help").click()
    helping = opened.value
    expect(helping.locator("#bench")).to_have_attribute("data-ready", "true")
    expect(student.page.locator("#people")).to_contain_text("Ms Tarnwick helps")
    student.page.get_by_role("button", name="Ask for help").click()

    helping.get_by_role("button", name="To everybody").click()
    expect(other.page.locator("#looking")).to_contain_text("Everybody looks at this study")
    assert f"/studies/{sled.study_id}/" in other.page.url
    expect(student.page).to_have_url(re.compile(f"/studies/{sled.study_id}/mark"))
    before = len(Tab(tables.Study.get_by_id(sled.study_id), world.heron).view()["bodies"])
    other.page.keyboard.press("s")
    expect(other.page.locator("#looking")).to_be_visible()
    after = Tab(tables.Study.get_by_id(sled.study_id), world.heron).view()["bodies"]
    assert len(after) == before
    helping.get_by_role("button", name="To everybody").click()
    expect(other.page).to_have_url(re.compile(f"/studies/{wren.study_id}/mark"))

    of_heron.get_by_role("link", name="Heron").click()  # into the same window
    expect(helping.locator("#looking")).to_contain_text("You are looking at the work of Heron")
    expect(student.page.locator("#people")).to_contain_text("Ms Tarnwick looks")


def test_joining_marking_and_fitting_by_the_keyboard_alone(
    open_tab: OpenTab,
    strangers: Callable[[dict[str, int]], Page],
    address: str,
    world: World,
    settings: Settings,
) -> None:
    take_ready("sled-run", world.school_class.id, world.teacher, settings)
    page = strangers(LAPTOP)
    page.goto(f"{address}/join")
    keys = page.keyboard
    keys.type(world.school_class.code)  # the field has the focus
    keys.press("Enter")
    reaches(page, "Not among them? Your name")
    keys.type("Juniper")
    reaches(page, "PIN")
    keys.type("4711")
    keys.press("Enter")
    expect(page.get_by_role("heading", name="9K Physics")).to_be_visible()
    started = page.get_by_role("button", name="Start a new study: Sled run")
    reaches(page, started.nth(1))  # the ready one; the other gives no clip
    keys.press("Enter")
    expect(page.locator("#bench")).to_have_attribute("data-ready", "true")
    reaches(page, page.locator('.rail a[data-step="mark"]'))
    keys.press("Enter")
    expect(page.locator("#cards")).to_have_attribute("data-step", "mark")
    hands = Hands(page, address)
    reaches(page, page.locator('form[data-kind="add_body"] [name=name]'))
    keys.type("sled")
    keys.press("Enter")
    expect(page.locator("#cards .body-pick", has_text="sled")).to_be_visible()
    reaches(page, page.locator("#cards .body-pick", has_text="sled"))
    for number in range(1, 5):
        frame = hands.frame()
        keys.press("s")
        hands.counts_marks(number)
        for _ in range(number):
            keys.press("ArrowRight")
        hands.is_saved()
        keys.press("f")
        expect(page.locator("#stage")).not_to_have_attribute("data-shown", str(frame))
    marks = [one[1:3] for one in hands.state()["bodies"][0]["marks"]]
    steps = [after[0] - before[0] for before, after in pairwise(marks)]
    assert steps == pytest.approx([2 * steps[0] / 2, 3 * steps[0] / 2, 4 * steps[0] / 2])
    assert steps[0] > 0
    reaches(page, page.locator('.rail a[data-step="graph"]'))
    keys.press("Enter")
    expect(page.locator("#cards")).to_have_attribute("data-step", "graph")
    reaches(page, page.locator('#fit-choices form[data-kind="add_fit"] [name=curve]'))
    before = page.locator("#fit-choices [name=curve]").input_value()
    keys.press("ArrowDown")
    chosen = page.locator("#fit-choices [name=curve]").input_value()
    assert chosen != before
    reaches(page, page.locator('#fit-choices form[data-kind="add_fit"] button'))
    keys.press("Enter")
    expect(page.locator(".fit")).to_be_visible()
    assert hands.state()["fits"][0]["curve"] == chosen


def reaches(page: Page, wanted: Locator | str) -> None:
    """Go with the tab key to something on the page, or to what bears a label."""
    place = page.get_by_label(wanted, exact=True) if isinstance(wanted, str) else wanted.first
    expect(place).to_be_visible()
    for _ in range(150):
        if place.evaluate("one => one === document.activeElement"):
            return
        page.keyboard.press("Tab")
    raise AssertionError(f"{wanted} is not reached")
