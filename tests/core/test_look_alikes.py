"""Two that look alike, and two that are followed."""

from collections.abc import Callable

import numpy as np
import pytest

from footing.core.following.leg import Start
from tests.core.scenes import disc, film, slide, steps_of


def crossing(number: int) -> tuple[tuple[float, float], tuple[float, float]]:
    """Two that come towards each other, and the second over the first."""
    return (40.0 + 5 * number, 90.0), (280.0 - 5 * number, 92.0)


def of_two(
    places: Callable[[int], tuple[tuple[float, float], ...]],
) -> list[tuple[int, np.ndarray]]:
    """A film of discs of one kind, each laid over the one before."""
    shown = []
    for number, picture in film(lambda _: (-60.0, -60.0), count=46):
        over = picture.astype(float)
        for place in places(number):
            disc(over, place, 12.0, turn=0.0)
        shown.append((number, np.clip(over, 0, 255).astype(np.uint8)))
    return shown


@pytest.mark.parametrize("gone", [21, 23])
def test_of_two_that_look_alike_who_turns_round_is_no_mark_where_they_meet(gone: int) -> None:
    """The first goes behind the second and stays there, unseen: it may be either that goes on."""

    def places(number: int) -> tuple[tuple[float, float], ...]:
        first, second = crossing(number)
        return (first, second) if number < gone else (second,)

    told = steps_of(of_two(places), {0: Start(0, crossing(0)[0])})
    sure = {frame for (_, frame), step in told.items() if step.sure}
    assert set(range(1, 20)) <= sure <= set(range(1, gone))


def test_of_two_that_look_alike_no_mark_is_on_the_other() -> None:
    """They pass each other; where it went over to the other, that is asked about."""
    told = steps_of(of_two(crossing), {0: Start(0, crossing(0)[0])})
    sure = {frame: step.place for (_, frame), step in told.items() if step.sure and step.place}
    assert len(sure) >= 20
    for frame, place in sure.items():
        allowed = 12 if abs(frame - 24) <= 3 else 4  # they cover each other there
        assert np.hypot(*np.subtract(place, crossing(frame)[0])) < allowed


def test_two_bodies_never_share_one_thing() -> None:
    """Somebody marked the same disc twice; only one of the two has it for sure."""
    x, y = slide(0)
    told = steps_of(film(slide), {0: Start(0, (x, y)), 1: Start(0, (x + 1.5, y))})
    both = [
        frame
        for frame in range(5, 40)
        if all(told[body, frame].sure for body in (0, 1) if (body, frame) in told)
    ]
    assert both == []
