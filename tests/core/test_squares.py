"""Squares of a frame, and what is known of a place beside its still background."""

import numpy as np
import pytest

from footing.core.following.patches import square
from footing.core.following.scene import Scene, watched
from tests.core.scenes import film, slide


@pytest.mark.parametrize(
    ("left", "top", "side"),
    [
        pytest.param(3, 2, 4, id="within"),
        pytest.param(-2, 1, 5, id="over the left edge"),
        pytest.param(7, 5, 6, id="over a corner"),
        pytest.param(-3, -2, 30, id="over all edges"),
        pytest.param(-20, 3, 6, id="wholly to the left"),
        pytest.param(40, 30, 7, id="wholly beyond a corner"),
    ],
)
def test_a_square_repeats_the_edges_of_its_frame(left: int, top: int, side: int) -> None:
    frame = np.arange(80, dtype=np.uint8).reshape(8, 10)
    rows, columns = np.mgrid[top : top + side, left : left + side]
    nearest = frame[np.clip(rows, 0, 7), np.clip(columns, 0, 9)]
    assert np.array_equal(square(frame, left, top, side), nearest)


def test_what_is_known_of_a_place_is_known_of_this_frame_alone() -> None:
    frames = [*watched(film(slide, count=30))]
    asked = Scene()
    for kept in frames:
        asked.comes(kept)
    for number in range(12):
        asked.next()
        answer = asked.changed(100, 90, 20)
        fresh = Scene()
        for kept in frames:
            fresh.comes(kept)
        for _ in range(number + 1):
            fresh.next()
        anew = fresh.changed(100, 90, 20)
        assert (answer is None) == (anew is None)
        if answer is not None and anew is not None:
            assert np.array_equal(answer.strength, anew.strength)
            assert asked.changed(100, 90, 20) is answer


def test_a_place_of_which_nothing_was_known_is_known_once_enough_frames_came() -> None:
    first, *others = watched(film(slide, count=12))
    scene = Scene()
    scene.comes(first)
    scene.next()
    assert scene.changed(100, 90, 20) is None
    for kept in others:
        scene.comes(kept)
    assert scene.changed(100, 90, 20) is not None


def test_beside_what_was_before_and_what_comes_are_two_answers() -> None:
    scene = Scene()
    for kept in watched(film(slide, count=40)):
        scene.comes(kept)
    for _ in range(20):
        scene.next()
    x, y = (round(value) for value in slide(19))
    always = scene.changed(x, y, 20)
    before, after = scene.changed_once(x, y, 20)
    assert always is not None
    assert not np.array_equal(before.still, after.still)
    assert np.array_equal(scene.changed_once(x, y, 20)[0].still, before.still)
