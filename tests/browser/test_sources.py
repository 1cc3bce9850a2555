"""Bringing things in: slow motion, pictures, phones, lost connections, cameras, turned files."""

import re
from pathlib import Path

import av
import cv2
import numpy as np
import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Browser, Page, Playwright, ViewportSize, expect

from footing.demo.filming import write_video
from footing.settings import Settings
from footing.studies.school.people import sign_in
from footing.web.security import COOKIE
from tests.browser.conftest import SIZE, launched, patient
from tests.browser.hands import Hands, number_of, truth_of
from tests.browser.network import Network
from tests.conftest import World, do_the_work
from tests.films import damage, noisy_film, numbered_film


def test_a_slow_motion_copy_of_the_lob_gives_g(sources: Hands, clips: Path, tmp_path: Path) -> None:
    """Shot at 60 frames/s, stored to play at 15, and the file says so as phones do."""
    truth = truth_of(clips, "snowball-lob")
    with av.open(str(clips / "snowball-lob.mp4")) as container:
        stored = [frame.to_ndarray(format="bgr24") for frame in container.decode(video=0)]
    upright = (cv2.rotate(picture, cv2.ROTATE_90_CLOCKWISE) for picture in stored)
    slow = tmp_path / "slow.mp4"
    write_video(
        slow,
        (np.asarray(picture, dtype=np.uint8) for picture in upright),
        rate=15,
        rotation=90,
        encoder={"crf": "18", "g": "15", "preset": "ultrafast"},
        capture_rate=60,
    )
    flying = [frame for frame, flies in enumerate(truth["flying"]) if flies]
    frames = range(flying[0], flying[-1], 8)
    page = sources.page
    sources.uploads(slow)
    sources.sets_span(frames[0], frames[-1], 8)
    sources.goes_to("ground")
    post = truth["post"]
    sources.draws_known_length(post["start"], post["end"], "1.50")
    clock = sources.card("clock")
    expect(clock).to_contain_text("captured at 60 frames/s; it plays at 15")
    expect(page.locator("#soundness-button")).to_have_attribute("data-sound", "false")
    clock.get_by_role("button", name="Use 60 frames/s").click()
    expect(clock).to_contain_text("4 times faster than the file plays")
    expect(sources.card("sense")).to_contain_text("The clip lasts 1.78 s of true time")
    sources.goes_to("mark")
    sources.adds_body("snowball")
    sources.marks(frames, truth["positions"])
    sources.goes_to("graph")
    sources.fits("quadratic")
    reading = page.locator(".readings li", has_text="acceleration").first
    g = -number_of(reading.locator(".value").inner_text())
    assert g == pytest.approx(truth["gravity"], rel=0.01)


@pytest.fixture
def phone(chromium: Browser) -> Page:
    """A phone's browser that nobody has signed in with."""
    size: ViewportSize = {"width": 390, "height": 760}
    context = patient(chromium.new_context(viewport=size, is_mobile=True, has_touch=True))
    yield context.new_page()
    context.close()


def test_a_phone_sends_a_video_to_the_open_laptop(sources: Hands, phone: Page, clips: Path) -> None:
    page = sources.page
    expect(page.locator("html")).to_have_attribute("data-live", "true")
    sources.card("phone").get_by_role("button", name="Show the code").click()
    expect(sources.card("phone").get_by_role("img")).to_be_visible()
    address = sources.card("phone").locator("a").get_attribute("href")
    assert address is not None
    phone.goto(address)
    expect(phone.get_by_text("Film or choose")).to_be_visible()
    assert Axe().run(phone).violations_count == 0
    assert phone.evaluate("document.documentElement.scrollWidth <= window.innerWidth")
    slow = {"offline": False, "latency": 0, "downloadThroughput": -1, "uploadThroughput": 900_000}
    phone.context.new_cdp_session(phone).send("Network.emulateNetworkConditions", slow)
    phone.locator("#phone-file").set_input_files(clips / "snowball-lob.mp4")
    arriving = page.locator("#arrivals", has_text="snowball-lob.mp4 from a phone")
    expect(arriving).to_be_visible()
    expect(page.locator("#arrivals .share")).to_contain_text("of 0.9 MB")
    expect(phone.locator("#phone-done")).to_be_visible(timeout=15_000)
    sources.sees_frame(0)  # without a reload
    expect(page.locator("#card-footage [name=name]")).to_have_value("snowball-lob.mp4")
    sources.card("phone").get_by_role("button", name="Close the code").click()
    expect(sources.card("phone").get_by_role("button", name="Show the code")).to_be_visible()
    phone.goto(address)
    expect(phone.get_by_text("expired or was closed")).to_be_visible()


def test_an_upload_goes_on_where_a_lost_connection_left_it(
    sources: Hands, phone: Page, clips: Path
) -> None:
    """The phone loses its network in the middle of the file, and finds it again."""
    sources.card("phone").get_by_role("button", name="Show the code").click()
    link = sources.card("phone").locator("a").get_attribute("href")
    assert link is not None
    offsets: list[int] = []
    phone.on(
        "request",
        lambda request: (
            request.method == "PATCH" and offsets.append(int(request.headers["upload-offset"]))
        ),
    )
    clip = clips / "sled-run.mp4"
    with Network(sources.address) as network:
        phone.goto(network.address + link.removeprefix(sources.address))
        slow = {"offline": False, "latency": 0, "downloadThroughput": -1, "uploadThroughput": 6e5}
        phone.context.new_cdp_session(phone).send("Network.emulateNetworkConditions", slow)
        phone.locator("#phone-file").set_input_files(clip)
        phone.wait_for_function("() => document.getElementById('phone-progress').value > 30")
        network.cut()
        expect(phone.locator("#phone-message")).to_contain_text("No connection")
        network.mend()
        expect(phone.locator("#phone-done")).to_be_visible(timeout=30_000)
    assert offsets[0] == 0
    assert 0 < offsets[-1] < clip.stat().st_size
    sources.sees_frame(0)
    assert sources.state()["footage"]["frames"] == 90


def test_a_photograph_of_an_arch_gives_its_parabola(sources: Hands, clips: Path) -> None:
    truth = truth_of(clips, "footbridge")
    page = sources.page
    sources.uploads(clips / "footbridge.jpg")
    expect(page.locator("#score")).to_be_hidden()
    sources.goes_to("ground")
    expect(sources.card("clock")).to_have_count(0)
    railing = truth["railing"]
    sources.draws_known_length(railing["start"], railing["end"], "3.00")
    sources.places_zero(truth["crown"])
    sources.goes_to("mark")
    sources.adds_body("arch")
    for number, place in enumerate(truth["arch"]):
        sources.clicks(place)
        sources.counts_marks(number + 1)
        page.wait_for_timeout(320)  # slower than a double click
    page.keyboard.press("e")  # the last point is taken away, and comes back
    sources.counts_marks(len(truth["arch"]) - 1)
    page.locator("#undo").click()
    sources.counts_marks(len(truth["arch"]))
    sources.goes_to("graph")
    expect(page.locator("#graph-title")).to_have_text("Position y against position x")
    sources.fits("quadratic")
    parameter = page.locator(".readings li").first.locator(".value")
    expect(parameter).to_contain_text("1/m")
    assert number_of(parameter.inner_text()) == pytest.approx(truth["second_coefficient"], rel=0.01)
    fit = page.locator(".fit")
    fit.locator("[name=curve]").select_option("own")
    fit.locator(".own-formula [name=formula]").fill("top - k*(x - middle)^2")
    fit.locator(".own-formula [name=formula]").press("Enter")
    bend = fit.locator(".readings li", has_text="k").first.locator(".value")
    expect(bend).to_contain_text("1/m")
    assert number_of(bend.inner_text()) == pytest.approx(-truth["second_coefficient"], rel=0.01)


def test_the_simulated_camera_records_after_a_countdown(sources: Hands) -> None:
    page = sources.page
    page.get_by_role("button", name="Record with a camera").click()
    camera = page.locator("#camera")
    expect(camera.locator("option", has_text="Simulated camera")).to_have_count(1)
    camera.locator("select").select_option("simulated")
    camera.get_by_role("button", name="Record").click()
    expect(camera.locator(".camera-said")).to_contain_text("Recording begins in")
    expect(camera.get_by_role("button", name="Stop")).to_be_visible()
    page.wait_for_timeout(4000)  # what is recorded takes its time
    camera.get_by_role("button", name="Stop").click()
    sources.sees_frame(0)
    footage = sources.state()["footage"]
    assert (footage["width"], footage["height"]) == (1280, 720)
    assert footage["frames"] > 15
    assert footage["times"][-1] > 1.0
    expect(page.locator("#card-footage [name=name]")).to_have_value(re.compile(r"recording-\d+"))


def test_a_camera_of_the_computer_is_recorded(
    playwright: Playwright, address: str, world: World
) -> None:
    """The browser's own test pattern stands in for a camera, through the real camera interface."""
    pretend = ["--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream"]
    with launched(playwright, *pretend) as browser:
        context = patient(browser.new_context(viewport=SIZE))
        cookie = {"name": COOKIE, "value": sign_in(world.heron, days=1), "url": address}
        context.add_cookies([cookie])
        hands = Hands(context.new_page(), address)
        hands.opens(f"/studies/{world.study.id}/sources")
        hands.page.get_by_role("button", name="Record with a camera").click()
        camera = hands.page.locator("#camera")
        expect(camera.locator("option").first).not_to_have_text("Simulated camera (winter fair)")
        camera.get_by_role("button", name="Record").click()
        stop = camera.get_by_role("button", name="Stop")
        expect(stop).to_be_visible()
        hands.page.wait_for_timeout(4000)  # what is recorded takes its time
        stop.click()
        hands.sees_frame(0)
        assert hands.state()["footage"]["frames"] > 5


def test_the_camera_takes_a_picture_to_measure_on(sources: Hands) -> None:
    page = sources.page
    page.get_by_role("button", name="Record with a camera").click()
    page.locator("#camera select").select_option("simulated")
    page.wait_for_function("() => document.querySelector('#camera video').videoWidth > 0")
    page.locator("#camera").get_by_role("button", name="Take a picture").click()
    sources.sees_frame(0)
    footage = sources.state()["footage"]
    assert (footage["kind"], footage["width"], footage["height"]) == ("picture", 1280, 720)


def test_stepping_passes_over_damaged_frames(
    sources: Hands, tmp_path: Path, settings: Settings
) -> None:
    film = noisy_film(tmp_path / "damaged.mp4", list(range(20)))
    bad = damage(film, 5)
    sources.uploads(film)
    do_the_work(settings)
    expect(sources.card("footage")).to_contain_text("damaged: ")
    damaged = sources.state()["footage"]["damaged"]
    assert bad in damaged
    page = sources.page
    page.locator("#go-to").fill(str(damaged[0] - 1))
    page.locator("#go-to").press("Enter")
    page.locator("#stage").hover(position={"x": 4, "y": 4})
    page.keyboard.press("f")
    after = next(k for k in range(damaged[0], 20) if k not in damaged)
    sources.sees_frame(after)


def test_two_sources_and_the_ground_of_the_first_for_the_second(
    sources: Hands, films: Path
) -> None:
    page = sources.page
    sources.uploads(numbered_film(films / "first-try.mp4", frames=6))
    sources.goes_to("ground")
    sources.draws_known_length([20, 20], [220, 20], "2.00")
    sources.goes_to("sources")
    page.locator("#file").set_input_files(numbered_film(films / "second-try.mp4", frames=8))
    expect(page.locator("#card-footage [name=name]")).to_have_value("second-try.mp4")
    assert page.locator(".source").count() == 2
    sources.card("footage").get_by_role("button", name="Copy it").click()
    sources.goes_to("ground")
    expect(sources.card("lengths")).to_contain_text("1 px is 10.0 mm")
    sources.goes_to("sources")
    sources.card("footage").get_by_role("button", name="Remove", exact=True).click()
    expect(page.locator("#card-footage [name=name]")).to_have_value("first-try.mp4")
    page.locator("#undo").click()
    expect(page.locator(".source")).to_have_count(2)
    page.locator(".source", has_text="second-try").click()
    expect(page.locator("#card-footage [name=name]")).to_have_value("second-try.mp4")
    page.reload()
    expect(page.locator("#card-footage [name=name]")).to_have_value("second-try.mp4")


def test_a_file_that_lies_sideways_is_turned_by_hand(sources: Hands, films: Path) -> None:
    page = sources.page
    sources.uploads(numbered_film(films / "sideways.mp4", frames=5))
    sources.card("footage").locator("[name=quarter]").select_option("90")
    sources.is_saved()
    sources.goes_to("ground")
    sources.places_zero([30, 40])
    zero = sources.state()["ground"]["zero"]
    assert zero == pytest.approx([30, 40], abs=1.0)
    stage = page.locator("#stage").bounding_box()
    assert stage is not None
    shown = sources.pixel_points([[0, 0], [319, 0], [0, 179]])
    # the top left corner is now at the top right, and the top edge runs down
    assert shown[0][0] > shown[2][0]
    assert shown[1][1] > shown[0][1]


def test_the_span_starts_where_it_begins_to_move(
    sources: Hands, clips: Path, settings: Settings
) -> None:
    truth = truth_of(clips, "sled-run")
    expect(sources.page.locator("html")).to_have_attribute("data-live", "true")
    sources.uploads(clips / "sled-run.mp4")
    expect(sources.card("footage")).to_contain_text("under way")
    do_the_work(settings)
    span = sources.card("span")
    expect(span).to_contain_text("Something begins to move in frame")
    span.get_by_role("button", name="Start there").click()
    sources.is_saved()
    first = sources.state()["footage"]["first"]
    assert 0 <= first - truth["release_time"] * 30 < 6
