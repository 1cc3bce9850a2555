"""Films that are brought in at Sources."""

import base64
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import expect

from footing.studies.school.people import Person
from tests.browser.hands import Hands
from tests.conftest import World
from tests.films import numbered_film

OpenTab = Callable[[Person], Hands]


def test_a_dropped_video_becomes_footage_and_stays_sharp_when_zoomed(
    open_tab: OpenTab, world: World, films: Path
) -> None:
    film = numbered_film(films / "dropped.mp4", frames=4, size=(1600, 900))
    hands = open_tab(world.heron)
    page = hands.page
    hands.opens(f"/studies/{world.study.id}/sources")
    data = base64.b64encode(film.read_bytes()).decode()
    transfer = page.evaluate_handle(
        """data => {
          const bytes = Uint8Array.from(atob(data), (letter) => letter.charCodeAt(0));
          const transfer = new DataTransfer();
          transfer.items.add(new File([bytes], "dropped.mp4", {type: "video/mp4"}));
          return transfer;
        }""",
        data,
    )
    page.dispatch_event("#drop", "drop", {"dataTransfer": transfer})
    hands.sees_frame(0)
    expect(hands.card("footage")).to_contain_text("1600 × 900 px")
    page.mouse.move(500, 300)
    with page.expect_response("**/frames/0/full.jpg") as sharp:
        for _ in range(6):
            page.mouse.wheel(0, -100)
    assert sharp.value.ok
    before = hands.point((800, 450))
    hands.drags((500, 300), (560, 340))  # with no tool in hand, dragging moves the picture
    after = hands.point((800, 450))
    assert (after[0] - before[0], after[1] - before[1]) == pytest.approx((60, 40), abs=6)


def test_an_upload_shows_how_far_it_is(open_tab: OpenTab, world: World, clips: Path) -> None:
    hands = open_tab(world.heron)
    page = hands.page
    hands.opens(f"/studies/{world.study.id}/sources")
    slow = {"offline": False, "latency": 0, "downloadThroughput": -1, "uploadThroughput": 800_000}
    page.context.new_cdp_session(page).send("Network.emulateNetworkConditions", slow)
    page.locator("#file").set_input_files(clips / "sled-run.mp4")
    page.wait_for_function(
        "() => { const value = document.querySelector('#arrivals progress')?.value;"
        " return value > 5 && value < 95; }"
    )
    expect(page.locator("#arrivals .share")).to_contain_text("of 1.9 MB")
    hands.sees_frame(0)


def test_a_bad_file_is_refused_in_the_drop_area(
    open_tab: OpenTab, world: World, tmp_path: Path
) -> None:
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/sources")
    notes = tmp_path / "notes.mp4"
    notes.write_text("not a film\n")
    hands.page.locator("#file").set_input_files(notes)
    expect(hands.page.locator("#arrivals .message")).to_have_text(
        "This is a text file, not a video; choose the video itself."
    )
    expect(hands.page.locator("#drop")).to_be_visible()
    assert hands.state()["footage"] is None
