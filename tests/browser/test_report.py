"""The report through the interface: from an empty page to a PDF; blocks moved by keys and hand."""

import io
import re
from collections.abc import Callable
from pathlib import Path

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Browser, Locator, expect
from pypdf import PdfReader

from footing.settings import Settings
from footing.studies.school.people import Person
from tests.browser.conftest import SIZE, patient
from tests.browser.hands import Hands
from tests.browser.scenes import flying_snowball
from tests.conftest import World
from tests.moments import Once
from tests.studies.steps import Tab


@pytest.fixture
def lob(
    open_tab: Callable[[Person], Hands],
    world: World,
    clips: Path,
    settings: Settings,
    once: Once,
) -> Hands:
    """The snowball's flight, marked and fitted, with its acceleration kept; at Report."""
    tab = Tab(world.study, world.heron)
    body = flying_snowball(tab, clips, settings, once)
    fit = tab.makes("add_fit", body=body, x="t", y="y", curve="quadratic")
    tab.makes("add_finding", fit=fit, reading="acceleration", name="free fall", as_size=True)
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/report")
    return hands


def block(hands: Hands, kind: str, nth: int = 0) -> Locator:
    return hands.page.locator(f'.block[data-kind-of="{kind}"]').nth(nth)


def kinds(hands: Hands) -> list[str]:
    found: list[str] = hands.page.locator(".block").evaluate_all(
        "blocks => blocks.map((block) => block.dataset.kindOf)"
    )
    return found


def laid_out(hands: Hands) -> None:
    hands.page.get_by_role("button", name="Lay out a report").click()
    expect(block(hands, "findings")).to_be_visible()
    hands.is_saved()


def writes(hands: Hands, text: Locator, words: str) -> None:
    text.click()
    area = text.locator("textarea")
    area.fill(words)
    area.press("Tab")
    hands.is_saved()


def pdf_of(hands: Hands) -> PdfReader:
    with hands.page.expect_download() as download:
        hands.page.locator("#card-report-out").get_by_role("link", name="PDF", exact=True).click()
    return PdfReader(io.BytesIO(Path(download.value.path()).read_bytes()))


def test_from_an_empty_page_to_a_pdf_whose_numbers_follow_the_study(
    lob: Hands, world: World
) -> None:
    laid_out(lob)
    text = block(lob, "text", 2)
    text.click()
    text.locator("textarea").fill("A thrown ball falls with ")
    text.locator("[data-put-value]").select_option("free fall")
    text.locator("textarea").press_sequentially(" by $v = g t$.")
    lob.page.locator("#report").press("Escape")
    text.locator("textarea").press("Tab")
    lob.is_saved()
    lob.page.locator(".rail a[data-step=report]").focus()
    value = lob.state()["findings"][0]["text"]
    expect(text.locator(".block-shows .value")).to_have_text(value)
    expect(text.locator(".block-shows math")).to_have_count(1)
    pdf = pdf_of(lob)
    words = " ".join(page.extract_text() for page in pdf.pages)
    assert re.search(rf"falls with\s+{re.escape(value)}", words)
    assert len(re.findall(r"Figure \d\.", words)) == 3
    assert words.count("Table 1.") == 1

    # a number changes in the study, and in the report
    known = lob.state()["ground"]["known_lengths"][0]["id"]
    other = Tab(world.study, world.heron)
    other.does("type_known_length", known_length=known, length="3.00", unit="m")
    expect(text.locator(".block-shows .value")).not_to_have_text(value)
    later = lob.state()["findings"][0]["text"]
    expect(text.locator(".block-shows .value")).to_have_text(later)
    expect(block(lob, "findings").locator("td").nth(1)).to_have_text(later)
    words = " ".join(page.extract_text() for page in pdf_of(lob).pages)
    assert re.search(rf"falls with\s+{re.escape(later)}", words)


def test_blocks_are_put_in_moved_by_keys_and_by_dragging_and_taken_out(lob: Hands) -> None:
    laid_out(lob)
    before = kinds(lob)
    heading = block(lob, "heading", 1)
    heading.focus()
    lob.page.get_by_role("button", name="a text", exact=True).click()
    lob.is_saved()
    at = [n for n, kind in enumerate(before) if kind == "heading"][1]
    expect(lob.page.locator(".block")).to_have_count(len(before) + 1)
    assert kinds(lob) == [*before[: at + 1], "text", *before[at + 1 :]]

    lob.page.locator(".block").nth(0).focus()
    lob.page.keyboard.press("n")
    expect(lob.page.locator(".block").nth(1)).to_be_focused()
    lob.page.keyboard.press("v")
    lob.is_saved()
    expect(lob.page.locator(".block").nth(1)).to_have_attribute("data-kind-of", before[2])
    expect(lob.page.locator(".block").nth(2)).to_be_focused()
    lob.page.keyboard.press("r")
    lob.is_saved()
    expect(lob.page.locator(".block").nth(1)).to_have_attribute("data-kind-of", before[1])

    grip = lob.page.locator(".block").nth(1).locator("[data-grip]")
    lob.page.locator(".block").nth(1).hover()
    start, end = grip.bounding_box(), lob.page.locator(".block").nth(0).bounding_box()
    assert start is not None
    assert end is not None
    lob.drags((start["x"] + 5, start["y"] + 8), (start["x"] + 5, end["y"] + 2))
    lob.is_saved()
    expect(lob.page.locator(".block").nth(0)).to_have_attribute("data-kind-of", before[1])

    lob.page.locator(".block").nth(0).focus()
    lob.page.locator(".block").nth(0).get_by_role("button", name=re.compile("^Take")).click()
    lob.is_saved()
    expect(lob.page.locator(".block").nth(0)).to_have_attribute("data-kind-of", before[0])


def test_from_where_one_is_into_the_report(lob: Hands) -> None:
    lob.goes_to("graph")
    findings = lob.card("findings")
    findings.get_by_role("button", name="Into the report").click()
    expect(lob.page.locator("#stage-note")).to_contain_text("In the report now")
    lob.card("fits").get_by_role("button", name="Into the report").click()
    lob.page.locator('[data-working^="finding/"]').first.click()
    working = lob.page.locator("#working")
    working.get_by_role("button", name="Into the report").click()
    lob.is_saved()
    lob.goes_to("report")
    expect(lob.page.locator(".block")).to_have_count(3)
    assert kinds(lob) == ["finding", "fit", "working"]
    expect(block(lob, "working").locator("math").first).to_be_visible()


def test_the_report_can_be_read_and_written_without_seeing_it(lob: Hands) -> None:
    laid_out(lob)
    block(lob, "text").focus()
    lob.page.keyboard.press("y")
    expect(block(lob, "text").locator("textarea")).to_be_focused()
    found = Axe().run(lob.page).response["violations"]
    assert [(one["id"], one["nodes"][0]["html"][:200]) for one in found] == []


def test_handed_in_commented_at_a_mark_returned_and_answered(
    lob: Hands, open_tab: Callable[[Person], Hands], world: World
) -> None:
    laid_out(lob)
    card = lob.page.locator("#card-hand-in")
    card.get_by_role("button", name="Hand in", exact=True).click()
    expect(card).to_contain_text("Handed in")

    teacher = open_tab(world.teacher)
    page = teacher.page
    page.goto(f"{teacher.address}/labs/{world.lab.id}/hand-ins")
    page.get_by_label("Criterion").fill("the graph")
    page.get_by_label("points", exact=True).fill("4")
    page.get_by_role("button", name="Judge by it").click()
    expect(page.get_by_role("cell", name="the graph", exact=True)).to_be_visible()
    page.get_by_role("link", name="Read the first of 1").click()
    page.locator(".handed-block", has_text="Figure 3").click()
    page.keyboard.press("c")
    page.keyboard.type("Name both axes.")
    page.locator(".new-comment").get_by_role("button", name="Comment").click()
    expect(page.locator(".handed-block", has_text="Figure 3").locator(".comment")).to_contain_text(
        "Name both axes."
    )
    page.get_by_label("the graph").fill("5")
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator(".judgement .message")).to_contain_text("4 points at most")
    page.get_by_label("the graph").fill("3")
    page.get_by_label("Grade").fill("2")
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator(".judgement")).to_contain_text("3 points")
    review = page.url

    # in the study as it was, at a mark
    link = page.get_by_role("link", name="The study as it was").get_attribute("href") or ""
    copy = link.partition("?")[0]
    teacher.opens(f"{copy}/mark?looking=1")
    place = page.locator("#comment-place")
    expect(place.locator("option")).not_to_have_count(0)
    teacher.steps_to(teacher.state()["bodies"][0]["counting"][3])
    frame = teacher.frame()
    place.select_option(label=f"the mark of snowball in frame {frame}")
    page.locator("#comments textarea").fill("Is this the middle?")
    page.locator("#comments .new-comment").get_by_role("button", name="Comment").click()
    expect(page.locator(".comment-flag")).to_have_count(1)
    page.goto(review)
    page.get_by_role("button", name="Return it").click()
    expect(page.locator(".review-side")).to_contain_text("Returned")

    # the group reads it, in place, and answers
    expect(card).to_contain_text("Returned: read it")
    card.get_by_role("link", name="Returned: read it").click()
    student = lob.page
    expect(student.locator(".returned")).to_contain_text("3 of 4")
    at_mark = student.locator(".review-side .comment", has_text="Is this the middle?")
    at_mark.locator("summary").click()
    at_mark.get_by_label("Answer to this comment").fill("We took the edge.")
    at_mark.get_by_role("button", name="Answer").click()
    expect(at_mark.locator(".answer")).to_contain_text("We took the edge.")
    at_mark.get_by_role("link", name=f"mark of snowball in frame {frame}").click()
    expect(student.locator("#bench")).to_have_attribute("data-ready", "true")
    expect(student.locator("#moment")).to_contain_text(f"frame {frame} ")
    expect(student.locator(".comment-flag")).to_have_count(1)
    page.reload()
    expect(page.locator(".answer")).to_contain_text("We took the edge.")


def test_reading_hand_ins_is_possible_without_a_mouse(
    lob: Hands, open_tab: Callable[[Person], Hands], world: World
) -> None:
    laid_out(lob)
    lob.page.get_by_role("button", name="Hand in", exact=True).click()
    expect(lob.page.locator("#card-hand-in")).to_contain_text("Handed in")
    teacher = open_tab(world.teacher)
    teacher.page.goto(f"{teacher.address}/labs/{world.lab.id}/hand-ins")
    found = Axe().run(teacher.page).response["violations"]
    assert [(one["id"], one["nodes"][0]["html"][:200]) for one in found] == []
    teacher.page.get_by_role("link", name="Read the first of 1").click()
    expect(teacher.page.locator(".review-side")).to_be_visible()
    found = Axe().run(teacher.page).response["violations"]
    assert [(one["id"], one["nodes"][0]["html"][:200]) for one in found] == []
    teacher.page.locator(".handed-block").nth(2).focus()
    expect(teacher.page.locator(".new-comment .where")).to_contain_text("About")


def test_a_class_goes_out_is_wiped_and_comes_in_again_with_the_same_numbers(
    lob: Hands, open_tab: Callable[[Person], Hands], world: World, tmp_path: Path
) -> None:
    laid_out(lob)
    lob.page.get_by_role("button", name="Hand in", exact=True).click()
    expect(lob.page.locator("#card-hand-in")).to_contain_text("Handed in")
    before = lob.state()
    teacher = open_tab(world.teacher)
    page = teacher.page
    class_id, name = world.school_class.id, world.school_class.name
    page.goto(f"{teacher.address}/classes/{class_id}/kept")
    with page.expect_download() as download:
        page.get_by_role("link", name="The class as an archive").click()
    archive = tmp_path / "class.zip"
    download.value.save_as(archive)
    page.get_by_label(name).fill(name)
    page.get_by_role("button", name="Wipe it").click()
    page.wait_for_url(f"{teacher.address}/")
    expect(page.get_by_role("heading", name=name)).to_have_count(0)

    page.get_by_text("Take in a class").click()
    page.get_by_label("Archive of a class").set_input_files(archive)
    page.get_by_role("button", name="Take it in").click()
    page.wait_for_url(re.compile(r"/classes/\d+$"))
    assert int(page.url.rsplit("/", 1)[1]) != class_id
    page.goto(teacher.address)
    page.locator("details.lab-studies summary").first.click()
    page.locator(".studies a").first.click()
    page.wait_for_url(re.compile(r"/studies/\d+/"))
    study = page.url.split("/studies/")[1].split("/")[0]
    after = page.request.get(f"{teacher.address}/api/studies/{study}").json()
    for key in ("text", "interval", "budget"):
        assert [one[key] for one in after["findings"]] == [one[key] for one in before["findings"]]
    for one, other in zip(before["bodies"], after["bodies"], strict=True):
        assert one["marks"] == other["marks"]
    assert [one["line"] for one in after["fits"]] == [one["line"] for one in before["fits"]]
    page.goto(f"{teacher.address}/studies/{study}/report")
    expect(page.locator(".block")).to_have_count(lob.page.locator(".block").count())
    page.goto(teacher.address)
    page.get_by_role("link", name="Handed in").first.click()
    expect(page.get_by_role("link", name="Read the first of 1")).to_be_visible()


def test_what_is_no_archive_is_said_where_it_was_chosen(
    open_tab: Callable[[Person], Hands], world: World, tmp_path: Path
) -> None:
    teacher = open_tab(world.teacher)
    page = teacher.page
    page.goto(teacher.address)
    wrong = tmp_path / "wrong.zip"
    wrong.write_bytes(b"no zip")
    page.get_by_text("Take in a study").first.click()
    page.get_by_label("Archive", exact=True).set_input_files(wrong)
    page.locator("form[data-send-file*=studies]").get_by_role("button", name="Take it in").click()
    expect(page.locator("form[data-send-file*=studies] .message")).to_contain_text(
        "no study of Footing"
    )


def test_a_link_is_made_looked_at_and_closed(lob: Hands, chromium: Browser) -> None:
    out = lob.page.locator("#card-report-out")
    out.get_by_text("A link to look at it").click()
    out.get_by_role("button", name="Make a link").click()
    link = out.locator(".address a")
    expect(link).to_be_visible()
    address = link.get_attribute("href") or ""
    stranger = patient(chromium.new_context(viewport=SIZE))
    try:
        page = stranger.new_page()
        page.goto(address)
        expect(page.locator("#looking")).to_contain_text("by a link")
        expect(page.locator("#bench")).to_have_attribute("data-ready", "true")
        page.locator(".rail a[data-step=report]").click()
        expect(page.locator("#card-report-put-in")).to_be_visible()
        expect(page.locator("#card-hand-in")).to_have_count(0)
        out.get_by_role("button", name="Close the link").click()
        expect(out.get_by_role("button", name="Make a link")).to_have_count(1)
        page.goto(address)
        expect(page.locator("body")).to_contain_text("closed")
    finally:
        stranger.close()
