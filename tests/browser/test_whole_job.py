"""From a video file to g, with mouse and keys, and everything still there after a reload."""

import json
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import expect

from footing.demo.filming import write_video
from footing.studies.school.people import Person
from tests.browser.hands import Hands, number_of
from tests.conftest import World

OpenTab = Callable[[Person], Hands]


def finds_g(hands: Hands, film: Path, scene: dict[str, Any], frames: range) -> float:
    """The whole chain in a fresh study; gives the recorded g."""
    page = hands.page
    hands.uploads(film)
    hands.sets_span(frames[0], frames[-1], frames.step)
    hands.goes_to("ground")
    stick = scene["stick"]
    hands.draws_known_length(stick["start"], stick["end"], f"{stick['length']:.2f}")
    hands.places_zero(stick["start"])
    hands.steps_to(frames[0])
    page.get_by_role("button", name="At this frame").click()
    hands.goes_to("mark")
    hands.adds_body("snowball")
    hands.marks(frames, scene["positions"])
    hands.counts_marks(len(frames))
    hands.goes_to("graph")
    hands.names_passage(frames[0], frames[-1], "flight")
    hands.fits("quadratic", "flight")
    reading = page.locator(".readings li", has_text="acceleration")
    expect(reading).to_contain_text("acceleration = 2c2")
    expect(reading).to_contain_text("m/s²")
    reading.get_by_role("button", name="Record acceleration").click()
    finding = page.locator(".finding")
    expect(finding.locator(".result")).to_contain_text("acceleration")
    finding.locator("[name=accepted]").fill("9.81")
    finding.locator("[name=accepted]").press("Tab")
    expect(finding).to_contain_text("The signs differ")
    finding.get_by_role("button", name="Take the size").click()
    expect(finding.locator(".result")).to_contain_text("|acceleration|")
    expect(finding.locator(".verdict")).to_contain_text("Agrees with 9.81 m/s²")
    return number_of(finding.locator(".result b").inner_text())


def test_upright_phone_clip_to_g(open_tab: OpenTab, world: World, clips: Path) -> None:
    """The snowball lob carries rotation metadata, as an upright phone makes it."""
    truth = json.loads((clips / "snowball-lob.json").read_text())
    flying = [frame for frame, flies in enumerate(truth["flying"]) if flies]
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/sources")
    g = finds_g(
        hands,
        clips / "snowball-lob.mp4",
        {"stick": truth["post"], "positions": truth["positions"]},
        range(flying[0], flying[-1], 8),
    )
    assert g == pytest.approx(truth["gravity"], rel=0.01)
    before = hands.state()
    hands.page.reload()
    expect(hands.page.locator(".finding .verdict")).to_contain_text("Agrees")
    assert hands.state() == before


def test_irregular_timestamps_to_g(open_tab: OpenTab, world: World, tmp_path: Path) -> None:
    """A ball falls; the frames come at uneven times, so frame number ÷ rate would be wrong."""
    rng = np.random.default_rng(17)
    times = np.concatenate([[0], np.cumsum(rng.choice([1 / 60, 1 / 30, 1 / 24], size=24))])
    metre, zero = 260.0, np.array([320.0, 40.0])
    drops = 0.5 * 9.81 * times**2
    keep = drops * metre < 400
    times, positions = times[keep], [[320.0, 40 + d * metre] for d in drops[keep]]
    assert np.diff(times).max() > 1.8 * np.diff(times).min()

    def pictures():
        for x, y in positions:
            picture = np.full((480, 640, 3), 180, dtype=np.uint8)
            rows, columns = np.mgrid[:480, :640]
            picture[np.hypot(columns - x, rows - y) < 7] = (60, 40, 160)
            yield picture

    film = tmp_path / "uneven.mp4"
    write_video(film, pictures(), rate=30, times=times, encoder={"crf": "20"})
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/sources")
    stick = {"start": zero.tolist(), "end": [320.0, 40 + 1.5 * metre], "length": 1.5}
    scene = {"stick": stick, "positions": positions}
    g = finds_g(hands, film, scene, range(0, len(positions), 2))
    assert g == pytest.approx(9.81, rel=0.01)
    hands.goes_to("sources")
    expect(hands.card("footage")).to_contain_text("vary")


def test_sled_run_with_turned_axes(open_tab: OpenTab, world: World, clips: Path) -> None:
    """Axes turned along the slope by dragging and typing; the line of v is the acceleration."""
    truth = json.loads((clips / "sled-run.json").read_text())
    hands = open_tab(world.heron)
    page = hands.page
    hands.opens(f"/studies/{world.study.id}/sources")
    hands.uploads(clips / "sled-run.mp4")
    first = round(truth["release_time"] * 30) + 2
    frames = range(first, 84, 6)
    hands.sets_span(frames[0], frames[-1], 6)
    hands.goes_to("ground")
    hands.draws_known_length(truth["pole"]["start"], truth["pole"]["end"], "200", "cm")
    hands.places_zero(truth["positions"][first])
    pointer = page.locator('[data-handle="angle"]').bounding_box()
    assert pointer is not None
    x, y = pointer["x"] + pointer["width"] / 2, pointer["y"] + pointer["height"] / 2
    hands.drags((x, y), (x - 4, y + 14))
    angle = hands.card("axes").locator("[name=angle]")
    expect(angle).to_have_value(re.compile(r"−1[3-8](\.\d)?"))
    angle.fill("-12")
    angle.press("Tab")
    hands.is_saved()
    hands.goes_to("mark")
    hands.adds_body("sled")
    hands.marks(frames, truth["positions"])
    hands.goes_to("graph")
    page.locator("#fit-choices select[name=ys]").first.select_option("vx")
    expect(page.locator("#graph-title")).to_have_text("Velocity x against time")
    hands.fits("line")
    reading = page.locator(".readings li", has_text="acceleration").first
    a = number_of(reading.locator(".value").inner_text())
    assert a == pytest.approx(truth["acceleration"], rel=0.02)
