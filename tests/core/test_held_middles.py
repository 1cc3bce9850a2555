"""A round thing is followed from its middle, and told from where it was marked."""

from math import pi

import numpy as np
import pytest

from footing.core.following.hypothesis import Hypothesis
from footing.core.following.leg import Ended, Leg, Start, Step
from footing.core.following.outline import Outline
from footing.core.following.patches import Point
from footing.core.following.pieces import blobs
from footing.core.following.scene import Scene
from footing.core.following.target import Target
from footing.core.following.telling import as_marked
from footing.core.following.touching import with_rim
from tests.core.scenes import film, gone_through, seen_at, slide, steps_of

Frames = list[tuple[int, np.ndarray]]
MIDDLE = slide(0)


def aside(place: Point, way: Point) -> Point:
    return place[0] + way[0], place[1] + way[1]


def held(frames: Frames, mark: Point) -> Point:
    """What is followed for a mark in the first frame."""
    return gone_through([frame for _, frame in frames], mark, count=1).at


def on_a_stalk(frames: Frames) -> Frames:
    """The same with something narrow that holds the disc from below."""
    for number, frame in frames:
        x, y = (round(value) for value in slide(number))
        frame[y + 9 : y + 50, x - 2 : x + 2] = 215
    return frames


@pytest.mark.parametrize("spin", [0.0, 0.25])
def test_what_becomes_of_a_ball_does_not_depend_on_how_exactly_its_middle_was_marked(
    spin: float,
) -> None:
    frames = film(slide, spin=spin)
    clicks: list[Point] = [(0.0, 0.0), (0.3, -0.2), (-0.25, 0.1)]
    told = [steps_of(frames, {1: Start(0, aside(MIDDLE, click))}) for click in clicks]
    for other in told[1:]:
        assert other.keys() == told[0].keys()
        assert all(step.quality == other[at].quality for at, step in told[0].items())


def test_marks_keep_the_way_from_the_middle_that_the_first_had() -> None:
    frames = film(slide)
    click = (0.5, -0.4)
    middle, beside_it = (
        steps_of(frames, {1: Start(0, aside(MIDDLE, way))}) for way in ((0.0, 0.0), click)
    )
    for at, step in middle.items():
        assert step.place is not None
        if not step.by_outline:
            assert beside_it[at].place == pytest.approx(aside(step.place, click), abs=0.02)


def test_each_mark_by_hand_is_followed_from_where_it_was_made() -> None:
    frames = film(slide)
    first, second = (0.4, 0.0), (0.0, -0.5)
    known = {20: aside(slide(20), second)}
    told = steps_of(frames, {1: Start(0, aside(MIDDLE, first), known)})
    for way, stretch in ((first, range(5, 15)), (second, range(24, 38))):
        off = [np.subtract(told[1, k].place, slide(k)) for k in stretch]
        assert np.median(off, axis=0) == pytest.approx(way, abs=0.15)


@pytest.mark.parametrize("way", [(3.0, 0.0), (0.0, -1.5)])
def test_a_mark_beside_the_middle_is_followed_as_it_is(way: Point) -> None:
    mark = aside(MIDDLE, way)
    assert held(film(slide), mark) == mark


def test_a_round_part_of_something_is_followed_from_its_middle_only_if_all_of_it_is_seen() -> None:
    mark = aside(MIDDLE, (0.3, 0.3))
    middle = held(film(slide), mark)
    assert middle == pytest.approx(MIDDLE, abs=0.3)
    assert middle != mark
    assert held(on_a_stalk(film(slide)), mark) == mark


def test_a_middle_is_taken_so_roughly_that_how_it_was_found_does_not_show() -> None:
    middle = held(film(slide), aside(MIDDLE, (0.3, 0.3)))
    assert np.multiply(middle, 4) == pytest.approx(np.round(np.multiply(middle, 4)), abs=1e-9)


@pytest.fixture
def leg() -> Leg:
    """A body that is followed from a place half a pixel beside its mark."""
    account = Hypothesis(Target(Scene(), 10, 40, chosen=False))
    return Leg(1, Start(0, (10.0, 10.0)), [account], held_at={0: (10.5, 10.0)})


def test_a_spot_turns_with_its_pattern(leg: Leg) -> None:
    (step,) = as_marked([leg], [Step(1, 5, (50.0, 50.0), 0.9, True, turn=pi / 2)])
    assert isinstance(step, Step)
    assert step.place == pytest.approx((50.0, 49.5))


def test_what_an_outline_places_is_told_as_nearly_as_a_click_is_believed(leg: Leg) -> None:
    frames = film(slide)
    changed = seen_at(frames, 8, slide(8))
    piece = with_rim(blobs(changed, radius=12)[0], changed, None)
    outline = Outline.begun(piece, slide(8))
    leg.accounts[0].target.outline = outline
    (step,) = as_marked([leg], [Step(1, 5, (50.0, 50.0), 0.9, True, by_outline=True, turn=2.0)])
    assert isinstance(step, Step)
    assert step.place is not None
    away = step.place[0] - 50.0, step.place[1] - 50.0
    assert away[1] == pytest.approx(0.0, abs=1e-9)
    assert -0.5 < away[0] < 0.0
    there = Outline.begun(piece, aside(slide(8), (-0.5, 0.0)))
    assert away == pytest.approx(np.subtract(there.offset, outline.offset), abs=1e-9)


def test_what_has_no_place_is_told_as_it_is(leg: Leg) -> None:
    told: list[Step | Ended] = [Step(1, 5, None, 0.0, False), Ended(1, 6, "lost")]
    assert as_marked([leg], told) == told
