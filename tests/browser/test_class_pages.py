"""Pages of a class that are made anew while somebody works on them."""

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import expect

from footing.settings import Settings
from footing.store import tables
from footing.studies.lesson.lab_library import take_ready
from footing.studies.school.lists import start_study
from footing.studies.school.people import Person
from tests.browser.hands import Hands
from tests.browser.scenes import in_group
from tests.conftest import World
from tests.studies.steps import Tab

OpenTab = Callable[[Person], Hands]


def test_names_are_dragged_into_groups(open_tab: OpenTab, world: World) -> None:
    in_group(world, "Juniper", world.study.group)
    teacher = open_tab(world.teacher)
    teacher.opens(f"/classes/{world.school_class.id}")
    page = teacher.page
    wren = page.get_by_role("region", name="Group Wren")
    page.locator("[data-student]", has_text="Juniper").drag_to(wren)
    expect(wren).to_contain_text("Juniper")
    expect(page.get_by_role("region", name="Group Heron")).not_to_contain_text("Juniper")
    page.get_by_label("groups of").fill("3")
    page.on("dialog", lambda dialog: dialog.accept())
    page.get_by_label("also who is not here yet").check()
    page.get_by_role("button", name="Draw at random").click()
    expect(page.locator("#groups-heading")).to_have_text("3 students in 1 group")


def test_what_was_chosen_and_not_sent_stays_when_somebody_joins(
    open_tab: OpenTab, world: World
) -> None:
    teacher = open_tab(world.teacher)
    teacher.opens(f"/classes/{world.school_class.id}")
    page = teacher.page
    expect(page.locator("html")).to_have_attribute("data-live", "true")
    size, everybody = page.get_by_label("groups of"), page.get_by_label("also who is not here yet")
    size.fill("3")
    everybody.check()
    page.request.post(
        f"{teacher.address}/classes/{world.school_class.id}/names",
        form={"names": "Juniper"},
        headers={"Origin": teacher.address},
    )
    expect(page.locator("[data-student]", has_text="Juniper")).to_be_visible()
    expect(page.get_by_role("main")).to_have_count(1)
    expect(size).to_have_value("3")
    expect(everybody).to_be_checked()
    page.on("dialog", lambda dialog: dialog.accept())
    page.get_by_role("button", name="Draw at random").click()
    expect(page.locator("#groups-heading")).to_have_text("3 students in 1 group")
    expect(everybody).not_to_be_checked()


def test_two_films_stay_at_their_moment_while_others_work(
    open_tab: OpenTab, world: World, settings: Settings
) -> None:
    lab = take_ready("sled-run", world.school_class.id, world.teacher, settings)
    heron = start_study(world.heron, world.school_class.id, lab_id=lab.id)
    start_study(world.wren, world.school_class.id, lab_id=lab.id)
    teacher = open_tab(world.teacher)
    teacher.opens(f"/labs/{lab.id}/beside?what=films%20beside")
    page = teacher.page
    expect(page.locator("html")).to_have_attribute("data-live", "true")
    moment = page.get_by_label("moment")
    moment.fill("1.2")
    at = moment.input_value()
    frames = page.locator("[data-frame-of]")
    expect(frames).not_to_have_text(["frame 0", "frame 0"])
    shown = frames.all_text_contents()
    page.get_by_role("heading", name="Sled run").click()  # whoever moves the slider is left alone
    page.evaluate(
        "() => document.body.addEventListener('htmx:afterSettle', () => (window.anew = true))"
    )
    Tab(tables.Study.get_by_id(heron), world.heron).makes("add_sheet", name="slides")
    page.wait_for_function("() => window.anew")
    expect(moment).to_have_value(at)
    expect(frames).to_have_text(shown)
    page.get_by_role("button", name="Play").click()
    expect(page.get_by_role("button", name="Stop")).to_be_visible()
    expect(frames).not_to_have_text(shown)


def test_two_films_are_those_that_the_two_groups_have_now(
    open_tab: OpenTab, world: World, settings: Settings, clips: Path
) -> None:
    lab = take_ready("sled-run", world.school_class.id, world.teacher, settings)
    heron, _ = (
        start_study(who, world.school_class.id, lab_id=lab.id) for who in (world.heron, world.wren)
    )
    teacher = open_tab(world.teacher)
    teacher.opens(f"/labs/{lab.id}/beside?what=films%20beside")
    page = teacher.page
    expect(page.locator("html")).to_have_attribute("data-live", "true")
    page.get_by_role("button", name="Play").click()
    expect(page.get_by_role("button", name="Stop")).to_be_visible()
    films = page.locator("img[data-film]")
    was = [films.nth(place).get_attribute("src") or "" for place in (0, 1)]
    # a third group, first by its name, begins: whose films are shown stays as it is
    early = tables.Group.create(school_class=world.school_class, name="Avocet")
    third = tables.Study.create(
        school_class=world.school_class, lab=lab.id, group=early, title="Sled run"
    )
    Tab(third, world.teacher).uploads(clips / "snowball-lob.mp4", settings)
    tab = Tab(tables.Study.get_by_id(heron), world.heron)
    old = tab.view()["footage"]["id"]
    tab.uploads(clips / "snowball-lob.mp4", settings)
    tab.does("remove_footage", footage=old)
    new = tab.view()["footage"]["content"]
    expect(films.first).to_have_attribute("src", re.compile(f"/{heron}/footage/{new}/"))
    assert f"/{heron}/" in was[0]
    expect(films.nth(1)).to_have_attribute("src", re.compile(was[1].rsplit("/", 2)[0]))
    expect(page.locator("figcaption")).to_contain_text(["Heron", "Wren"])
    page.get_by_label("moment").fill("0.5")
    expect(page.locator("[data-frame-of]")).not_to_have_text(["frame 0", "frame 0"])
    page.get_by_role("button", name="Play").click()
    expect(page.get_by_role("button", name="Stop")).to_be_visible()
    # an upright film and what plays it are seen at once
    assert page.evaluate("() => document.documentElement.scrollHeight <= innerHeight")
