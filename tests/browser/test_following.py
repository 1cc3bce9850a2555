"""Marking in rhythm, following, and several bodies, as hands do it."""

import os
import re
import signal
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import expect

from footing.settings import Settings
from footing.store.database import bound_url
from footing.studies.school.people import Person
from tests.browser.hands import Hands, number_of, truth_of
from tests.conftest import World, do_the_work
from tests.jobs.test_jobs import rolling_film
from tests.studies.steps import Tab

OpenTab = Callable[[Person], Hands]


@pytest.fixture
def truth(clips: Path) -> dict[str, Any]:
    return truth_of(clips, "curling-stones")


@pytest.fixture
def bench(open_tab: OpenTab, world: World, clips: Path, settings: Settings) -> Hands:
    """Group Heron at Mark, with the curling stones and two bodies, the red one in turn."""
    tab = Tab(world.study, world.heron)
    footage = tab.uploads(clips / "curling-stones.mp4", settings)
    for name in ("red stone", "yellow stone"):
        body = tab.makes("add_body", footage=footage, name=name)
        mass = truth_of(clips, "curling-stones")["masses"][name]
        tab.does("change_body", body=body, name=name, mass=str(mass))
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/mark")
    hands.sees_frame(0)
    return hands


def body_of(hands: Hands, name: str) -> dict[str, Any]:
    return next(body for body in hands.state()["bodies"] if body["name"] == name)


def clicks_slowly(hands: Hands, pixel: list[float]) -> None:
    hands.clicks(pixel)
    hands.page.wait_for_timeout(330)  # slower than a double click


def follows(hands: Hands, settings: Settings, *, to: int, bodies: set[str]) -> None:
    """Fill in the card, start, and wait until the work is done and shown."""
    for name in bodies:  # the cards know of the marks, and will not change under the hand
        pick = hands.page.locator("#cards .body-pick", has_text=name)
        expect(pick).not_to_contain_text(" 0 marks")
    form = hands.page.locator("form[data-follow]")
    for box in form.locator(".bodies-row label").all():
        box.locator("input").set_checked(box.inner_text().strip() in bodies)
    form.locator("[name=to]").fill(str(to))
    form.locator("button.is-primary").click()
    expect(hands.page.locator("[data-follow-progress]")).to_be_visible()
    do_the_work(settings)
    expect(hands.page.locator("#card-follow .said")).to_contain_text("marks between")


def test_bodies_are_marked_in_turn_by_key_and_click(bench: Hands, truth: dict[str, Any]) -> None:
    red, yellow = (truth["positions"][name] for name in ("red stone", "yellow stone"))
    turn = bench.page.locator("#turn")
    expect(turn).to_contain_text("red stone is marked by the next click")
    bench.page.locator("#card-showing summary").click()
    bench.page.locator("[data-option=inTurn]").check()
    for frame in range(2):
        bench.sees_frame(frame)
        clicks_slowly(bench, red[frame])
        bench.sees_frame(frame)
        expect(turn).to_contain_text("yellow stone is marked by the next click")
        clicks_slowly(bench, yellow[frame])
        bench.sees_frame(frame + 1)
        expect(turn).to_contain_text("red stone")
    bench.page.keyboard.press("2")
    expect(turn).to_contain_text("yellow stone")
    bench.page.keyboard.press("1")
    bench.page.locator("[data-option=inTurn]").uncheck()
    # the hand that steps marks, too: S marks where the pointer is, Z takes it back
    bench.page.mouse.move(*bench.point(red[2]))
    bench.page.keyboard.press("s")
    bench.sees_frame(3)
    bench.is_saved()
    assert [mark[0] for mark in body_of(bench, "red stone")["marks"]] == [0, 1, 2]
    bench.page.keyboard.press("z")
    bench.counts_marks(2)
    assert [mark[0] for mark in body_of(bench, "yellow stone")["marks"]] == [0, 1]


def test_only_missing_frames_are_offered_and_hidden_ones_passed(
    bench: Hands, truth: dict[str, Any]
) -> None:
    red = truth["positions"]["red stone"]
    for frame in (1, 3):
        bench.steps_to(frame)
        clicks_slowly(bench, red[frame])
    bench.is_saved()
    bench.page.locator("#card-showing summary").click()
    bench.page.locator("[data-option=onlyMissing]").check()
    bench.steps_to(0)
    clicks_slowly(bench, red[0])
    bench.sees_frame(2)
    bench.page.keyboard.press("h")
    bench.sees_frame(4)
    bench.is_saved()
    assert body_of(bench, "red stone")["hidden"] == [2]
    bench.page.keyboard.press("a")
    bench.page.keyboard.press("r")
    bench.sees_frame(4)
    bench.steps_to(2)
    expect(bench.page.locator("#turn")).to_contain_text("is said to be hidden here")


def test_follow_correct_one_in_the_middle_and_go_on(
    bench: Hands, truth: dict[str, Any], settings: Settings
) -> None:
    red = truth["positions"]["red stone"]
    bench.clicks(red[0])
    bench.sees_frame(1)
    bench.steps_to(0)
    follows(bench, settings, to=50, bodies={"red stone"})
    bench.counts_marks(51)
    placed = {int(frame): (x, y) for frame, x, y in body_of(bench, "red stone")["marks"]}
    shift = np.array(placed[0]) - red[0]  # the click is the spot that is followed
    for frame in (10, 30, 50):
        assert placed[frame] == pytest.approx(np.array(red[frame]) + shift, abs=0.4)
    bench.steps_to(30)
    bench.drags_pixels(placed[30], (placed[30][0] + 12, placed[30][1]))
    bench.is_saved()
    follows(bench, settings, to=60, bodies={"red stone"})
    after = {int(frame): (x, y) for frame, x, y in body_of(bench, "red stone")["marks"]}
    assert sorted(after) == list(range(61))
    assert after[20] == placed[20]
    assert after[30][0] == pytest.approx(placed[30][0] + 12, abs=0.8)
    assert after[45][0] == pytest.approx(placed[45][0] + 12, abs=1.2)
    # the lane shows how each mark was made: two by hand, the others by following
    qualities = body_of(bench, "red stone")["qualities"]
    assert set(range(61)) - {int(frame) for frame in qualities} == {0, 30}
    bench.page.locator("#undo").click()
    expect(bench.page.locator("#undo")).to_have_attribute("title", "Undo: mark in frame 30")
    bench.page.locator("#undo").click()
    bench.page.locator("#undo").click()
    bench.counts_marks(1)


def test_two_bodies_at_a_collision_and_their_centre_of_mass(
    bench: Hands, truth: dict[str, Any], settings: Settings
) -> None:
    page = bench.page
    for place, name in enumerate(("red stone", "yellow stone"), start=1):
        page.keyboard.press(str(place))
        bench.steps_to(20)
        clicks_slowly(bench, truth["positions"][name][20])
    bench.is_saved()
    bench.steps_to(20)
    follows(bench, settings, to=100, bodies={"red stone", "yellow stone"})
    for name in ("red stone", "yellow stone"):
        marks = body_of(bench, name)["marks"]
        assert [mark[0] for mark in marks] == list(range(20, 101))
        true = np.array(truth["positions"][name])
        shift = np.array(marks[0][1:]) - true[20]
        errors = [np.hypot(*(np.array(mark[1:]) - true[int(mark[0])] - shift)) for mark in marks]
        assert np.sqrt(np.mean(np.square(errors))) < 0.3
    page.locator("details", has_text="Bodies made from others").locator("summary").click()
    page.locator('form[data-kind="add_centre"] button').click()
    expect(page.locator(".body-pick", has_text="centre of mass")).to_contain_text("81 frames")
    # no kink: lines before and after the impact have the same slope within their uncertainty
    centre = body_of(bench, "centre of mass")
    lane = centre["lanes"]
    times = np.array(bench.state()["footage"]["times"])[centre["counting"]]
    impact = truth["impact_time"]
    for key in ("x", "y"):
        values = np.array(lane[key]["values"])
        slopes, errors = zip(
            *(slope_of(times[part], values[part]) for part in (times < impact, times > impact)),
            strict=True,
        )
        # 20 … 59 and 60 … 100 differ by what friction takes in that time, less than 0.1 m/s
        assert abs(slopes[1] - slopes[0]) < 230 * 0.1 + 3 * np.hypot(*errors)
    page.keyboard.press("1")
    page.locator("#moments summary").click()
    page.locator('[data-moment="first"]').click()
    bench.steps_to(30)
    page.locator('[data-moment="last"]').click()
    expect(page.locator(".between dl")).to_contain_text("Δt")
    expect(page.locator(".arrow.displacement")).to_be_visible()
    shown = dict(
        zip(
            page.locator(".between dt").all_inner_texts(),
            page.locator(".between dd").all_inner_texts(),
            strict=True,
        )
    )
    moved = (truth["positions"]["red stone"][30][0] - truth["positions"]["red stone"][20][0]) * 6
    assert number_of(shown["v̄x"]) == pytest.approx(moved, abs=10)  # px/s, over 1/6 s


def slope_of(times: np.ndarray, values: np.ndarray) -> tuple[float, float]:
    (slope, _), covariance = np.polyfit(times, values, 1, cov=True)
    return float(slope), float(np.sqrt(covariance[0, 0]))


def test_what_is_in_doubt_is_asked_by_stretches_and_answered_with_one_key(
    open_tab: OpenTab, world: World, clips: Path, settings: Settings
) -> None:
    tab = Tab(world.study, world.heron)
    footage = tab.uploads(clips / "sled-run.mp4", settings)
    body = tab.makes("add_body", footage=footage, name="sled")
    tab.does("place_mark", body=body, frame=3, x=120, y=262)
    opened = [
        *([frame, 120.0 + frame, 255.0, 0.41] for frame in range(5, 10)),
        [12, None, None, 0.0],
        [13, 150.0, 250.0, 0.3],
        [20, 170.0, 250.0, 0.3],
    ]
    marks = [[30, 200.0, 250.0, 0.9]]
    tab.does("follow_marks", bodies=[{"body": body, "marks": marks, "open": opened}])
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/mark")
    decide = hands.page.locator(".decide")
    expect(decide).to_contain_text("8 frames wait")
    expect(decide).to_contain_text("5–9: is this still it?")
    expect(decide.locator(".crop")).to_have_count(3)
    decide.locator(".crop").last.click()
    hands.sees_frame(9)
    expect(hands.page.locator(".proposal")).to_be_visible()
    hands.page.keyboard.press("c")
    hands.sees_frame(12)
    expect(decide).to_contain_text("12–13")
    decide.get_by_role("button", name="Hidden here").click()
    hands.sees_frame(20)
    hands.clicks([160, 245])
    expect(decide).to_be_hidden()
    sled = body_of(hands, "sled")
    assert [mark[0] for mark in sled["marks"]] == [3, 5, 6, 7, 8, 9, 20, 30]
    assert sled["hidden"] == [12, 13]
    assert sled["qualities"] == {**{str(n): 0.41 for n in range(5, 10)}, "30": 0.9}


def test_each_place_is_accepted_before_the_next(
    bench: Hands, truth: dict[str, Any], settings: Settings
) -> None:
    clicks_slowly(bench, truth["positions"]["red stone"][0])
    bench.is_saved()
    bench.steps_to(0)
    page = bench.page
    page.locator("#follow-sizes summary").click()
    page.locator("#follow-each").check()
    page.locator("form[data-follow] button.is-primary").click()
    for frame in (1, 2):
        do_the_work(settings)
        bench.sees_frame(frame)
        expect(page.locator(".decide")).to_contain_text(f"frame {frame}")
        assert [mark[0] for mark in body_of(bench, "red stone")["marks"]] == list(range(frame))
        page.keyboard.press("c")
        expect(page.locator("[data-follow-progress]")).to_be_visible()
    do_the_work(settings)
    marks = body_of(bench, "red stone")["marks"]
    assert [mark[0] for mark in marks] == [0, 1, 2]
    for frame, *place in marks:
        assert place == pytest.approx(truth["positions"]["red stone"][int(frame)], abs=1.0)


def test_following_goes_on_from_the_answer_where_it_was_lost(
    open_tab: OpenTab, world: World, tmp_path: Path, settings: Settings
) -> None:
    """A disc is away for long; a click where it is back is followed on by itself."""
    tab = Tab(world.study, world.heron)
    middles = rolling_film(tmp_path / "rolling.mp4", frames=90, away=range(25, 70))
    footage = tab.uploads(tmp_path / "rolling.mp4", settings)
    body = tab.makes("add_body", footage=footage, name="disc")
    tab.does("place_mark", body=body, frame=0, x=middles[0][0], y=middles[0][1])
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/mark")
    follows(hands, settings, to=89, bodies={"disc"})
    expect(hands.page.locator("#card-follow .said")).to_contain_text("went behind something")
    expect(hands.page.locator(".decide")).to_contain_text("frame 25: not seen")
    hands.steps_to(70)
    hands.clicks([float(value) for value in middles[70]])
    expect(hands.page.locator("[data-follow-progress]")).to_be_visible()
    do_the_work(settings)
    expect(hands.page.locator("#card-follow .said")).to_contain_text("marks between")
    marks = {int(frame): place for frame, *place in body_of(hands, "disc")["marks"]}
    assert sorted(marks) == [*range(25), *range(70, 90)]
    for frame in (20, 80):
        assert marks[frame] == pytest.approx(middles[frame], abs=1.5)


def test_a_throw_is_followed_from_the_hand_to_the_ground(
    open_tab: OpenTab, world: World, clips: Path, settings: Settings
) -> None:
    truth = truth_of(clips, "snowball-lob")["positions"]
    tab = Tab(world.study, world.heron)
    footage = tab.uploads(clips / "snowball-lob.mp4", settings)
    body = tab.makes("add_body", footage=footage, name="snowball")
    tab.does("place_mark", body=body, frame=2, x=truth[2][0], y=truth[2][1])
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/mark")
    follows(hands, settings, to=104, bodies={"snowball"})
    snowball = body_of(hands, "snowball")
    marks = {int(frame): place for frame, *place in snowball["marks"]}
    assert sorted(marks) == list(range(2, 105))
    assert snowball["doubts"] == []
    errors = [np.hypot(*np.subtract(place, truth[frame])) for frame, place in marks.items()]
    assert max(errors) < 2.0


def test_a_worker_that_is_killed_is_replaced_and_marks_nothing_twice(
    open_tab: OpenTab, world: World, tmp_path: Path, settings: Settings
) -> None:
    tab = Tab(world.study, world.heron)
    middles = rolling_film(tmp_path / "rolling.mp4", frames=600)
    footage = tab.uploads(tmp_path / "rolling.mp4", settings)
    body = tab.makes("add_body", footage=footage, name="disc")
    tab.does("place_mark", body=body, frame=0, x=middles[0][0], y=middles[0][1])
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/mark")
    hands.page.locator("form[data-follow] button.is-primary").click()
    progress = hands.page.locator("[data-follow-progress]")
    expect(progress).to_be_visible()
    environment = os.environ | {
        "FOOTING_DATABASE_URL": bound_url(),
        "FOOTING_DATA": str(settings.data),
        "PYTHONPATH": str(Path(__file__).parents[2] / "src"),
    }
    command = [sys.executable, "-m", "footing", "worker"]
    with subprocess.Popen(command, env=environment) as worker:
        text = hands.page.locator("[data-follow-text]")
        expect(text).to_contain_text(re.compile(r"frame ([5-9]\d|[1-5]\d\d) of"), timeout=60_000)
        worker.send_signal(signal.SIGKILL)
    before = body_of(hands, "disc")["marks"]
    assert 30 < len(before) < 600
    assert hands.state()["follow"]["state"] == "running"
    do_the_work(settings)  # another worker starts, and finds what broke off
    expect(hands.page.locator("#card-follow .said")).to_contain_text("600 marks")
    after = body_of(hands, "disc")["marks"]
    assert [mark[0] for mark in after] == list(range(600))
    settled = len(before) - 20  # the latest may still be placed better
    assert after[:settled] == before[:settled]


def test_follow_starts_from_the_mark_just_made_and_a_finished_body_does_not_block(
    bench: Hands, truth: dict[str, Any], settings: Settings
) -> None:
    """A click marks frame 0, the film goes on by itself, and then one asks."""
    page = bench.page
    clicks_slowly(bench, truth["positions"]["red stone"][0])
    bench.sees_frame(1)
    follows(bench, settings, to=12, bodies={"red stone"})
    assert max(mark[0] for mark in body_of(bench, "red stone")["marks"]) == 12
    page.locator("#cards .body-pick", has_text="yellow stone").click()
    page.locator("#go-to").fill("0")
    page.keyboard.press("Enter")
    bench.sees_frame(0)
    clicks_slowly(bench, truth["positions"]["yellow stone"][0])
    expect(page.locator("#cards .body-pick", has_text="yellow stone")).not_to_contain_text(" 0 m")
    follows(bench, settings, to=12, bodies={"red stone", "yellow stone"})
    assert max(mark[0] for mark in body_of(bench, "yellow stone")["marks"]) == 12
