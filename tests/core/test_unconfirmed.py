"""Jumps that no later frame confirms: asked about, or put where a witness had them."""

from collections.abc import Callable

import numpy as np
import pytest

from footing.core.following.asking import unconfirmed
from footing.core.following.candidate import Elsewhere
from footing.core.following.hypothesis import Hypothesis
from footing.core.following.leg import Leg, Start, Step
from footing.core.following.patches import Point
from footing.core.following.scene import Scene
from footing.core.following.target import Target
from footing.core.following.unconfirmed import confirmed_of, is_farthest_off, is_unconfirmed
from tests.core.scenes import film, gone_through, slide, steps_of

_COUNT, _JUMPS = 30, 15
_ALLOWED = 3.0


def falls(frame: int) -> Point:
    return 20.0 + 5 * frame, 30.0 + 0.15 * frame**2


def bounces(frame: int) -> Point:
    """It falls, and from frame 15 on it rises."""
    since = frame - 15
    return 20.0 + 5 * frame, 120.0 - 7 * abs(since) + 0.15 * since**2


def lies_after(frame: int) -> Point:
    """It slides, and is stopped at once."""
    return 20.0 + 8 * min(frame, 15), 60.0


def places_of(course: Callable[[int], Point], *, scatter: float = 0.1) -> dict[int, Point]:
    rng = np.random.default_rng(2)
    noise = rng.normal(0, scatter, size=(_COUNT, 2))
    return {k: (course(k)[0] + noise[k][0], course(k)[1] + noise[k][1]) for k in range(_COUNT)}


def aside(place: Point, by: float) -> Point:
    return place[0] + by, place[1] + by


@pytest.mark.parametrize("course", [falls, bounces, lies_after])
def test_a_smooth_course_and_one_that_turns_at_once_confirm_all_marks(
    course: Callable[[int], Point],
) -> None:
    places = places_of(course)
    assert not any(is_unconfirmed(places, frame, _ALLOWED) for frame in places)


@pytest.mark.parametrize("course", [falls, bounces, lies_after])
def test_a_mark_beside_its_course_is_the_one_that_is_not_confirmed(
    course: Callable[[int], Point],
) -> None:
    places = places_of(course)
    places[8] = aside(places[8], 2.5)
    found = [k for k in places if is_unconfirmed(places, k, _ALLOWED)]
    assert 8 in found
    assert [k for k in range(6, 11) if is_farthest_off(places, k)] == [8]


@pytest.mark.parametrize(("by", "scatter"), [(1.0, 0.1), (2.5, 1.5)], ids=["a little", "as all"])
def test_what_is_as_far_off_as_marks_may_be_or_as_all_are_is_confirmed(
    by: float, scatter: float
) -> None:
    places = places_of(falls, scatter=scatter)
    places[8] = aside(falls(8), by)
    assert not is_unconfirmed(places, 8, _ALLOWED)


@pytest.mark.parametrize("sways", [0.0, 1.2])
def test_where_all_marks_scatter_one_that_is_no_farther_off_is_confirmed(sways: float) -> None:
    """Seen between others alone: what is before and after it is too short to be carried on."""
    places = {k: aside(falls(k), 0.0 if 9 < k < 15 else sways * (-1) ** k) for k in range(25)}
    del places[9], places[15]
    places[12] = aside(places[12], 2.5)
    assert is_unconfirmed(places, 12, _ALLOWED) == (sways == 0.0)


def test_a_mark_at_an_end_or_beside_a_gap_is_not_spoken_of() -> None:
    places = places_of(falls)
    places[29] = aside(places[29], 9.0)
    places[9] = aside(places[9], 9.0)
    del places[8]
    assert not is_unconfirmed(places, 29, _ALLOWED)
    assert not is_unconfirmed(places, 9, _ALLOWED)


def test_the_place_that_makes_a_course_is_chosen_and_none_that_moves_the_bend_along() -> None:
    places = places_of(falls)
    places[8] = aside(places[8], 4.0)
    own, farther = places_of(falls)[8], aside(places[8], 1.0)
    beside = aside(places[9], -4.0)
    assert confirmed_of({8: [farther, own], 9: [beside]}, places, 8, _ALLOWED) == (8, 1)
    assert confirmed_of({8: [farther], 9: [beside]}, places, 8, _ALLOWED) is None


def test_no_place_is_chosen_that_bends_the_course_more() -> None:
    """It may be that no single mark is beside such a course."""
    places = places_of(falls, scatter=0.0)
    along = places[7][0] + 40.0, places[7][1] + 40.0
    del places[6], places[10]
    assert not any(is_unconfirmed({**places, 7: along}, k, 80.0) for k in places)
    assert confirmed_of({7: [along]}, places, 8, 80.0) is None


def told_leg(
    places: dict[int, Point], elsewhere: dict[int, list[Elsewhere]], *, first: int = 0
) -> Leg:
    """A body of which all frames were told."""
    account = Hypothesis(Target(Scene(), 10, 40, chosen=False))
    leg = Leg(1, Start(first, places[first]), [account])
    leg.told = {k: Step(1, k, place, 0.95, True) for k, place in places.items() if k != first}
    leg.elsewhere = elsewhere
    return leg


def test_a_jump_is_asked_about_once_it_was_gone_back_over_it() -> None:
    places = places_of(falls)
    places[10] = aside(places[10], 4.0)
    leg = told_leg(places, {})
    asked = [step for number in range(11, 28) for step in unconfirmed(leg, number, ())]
    (step,) = asked
    assert isinstance(step, Step)
    assert (step.frame, step.place, step.sure) == (10, places[10], False)
    assert step.quality <= 0.5
    assert leg.told[10] == step
    assert unconfirmed(leg, 28, [step]) == []


def test_what_is_told_anew_later_is_looked_at_again() -> None:
    places = places_of(falls)
    leg = told_leg(places, {})
    assert not any(unconfirmed(leg, number, ()) for number in range(11, _COUNT))
    leg.told[10] = Step(1, 10, aside(places[10], 4.0), 0.95, True)
    (step,) = unconfirmed(leg, _COUNT - 1, [leg.told[10]])
    assert isinstance(step, Step)
    assert (step.frame, step.sure) == (10, False)


def test_at_the_end_the_latest_frames_are_looked_at_too() -> None:
    places = places_of(falls)
    places[25] = aside(places[25], 4.0)
    leg = told_leg(places, {})
    assert unconfirmed(leg, _COUNT - 1, ()) == []
    assert [step.frame for step in unconfirmed(leg, _COUNT - 1, (), ended=True)] == [25]


def test_a_jump_is_put_where_another_witness_had_it() -> None:
    places = places_of(falls)
    own = places[10]
    places[10] = aside(own, 4.0)
    leg = told_leg(places, {10: [Elsewhere(aside(own, -5.0), False), Elsewhere(own, True)]})
    (step,) = unconfirmed(leg, 27, ())
    assert step == Step(1, 10, own, 0.95, True, by_outline=True)
    assert leg.elsewhere[10] == [Elsewhere(aside(own, -5.0), False)]


def test_marks_by_hand_tell_of_those_beside_them_and_questions_do_not() -> None:
    places = places_of(falls)
    jump = {10: aside(places[10], 4.0)}
    by_hand = {k: places[k] for k in (8, 9, 11, 12)}
    leg = told_leg({k: place for k, place in (places | jump).items() if k not in by_hand}, {})
    assert unconfirmed(leg, 27, ()) == []
    leg.start = Start(0, places[0], by_hand)
    assert [step.frame for step in unconfirmed(leg, 27, ())] == [10]

    leg = told_leg(places, {})
    for k in (9, 11):
        leg.told[k] = Step(1, k, aside(places[k], 6.0), 0.5, False)
    assert unconfirmed(leg, 27, ()) == []


@pytest.mark.parametrize("stride", [3, -3])
def test_of_every_third_frame_those_before_and_after_tell(stride: int) -> None:
    first = 0 if stride > 0 else 87
    frames = {k: first + stride * k for k in range(_COUNT)}
    places = places_of(falls)
    places[10] = aside(places[10], 4.0)
    leg = told_leg({frames[k]: place for k, place in places.items()}, {}, first=first)
    leg.poses = dict.fromkeys(frames.values())
    asked = [step for k in range(11, 28) for step in unconfirmed(leg, frames[k], ())]
    assert [step.frame for step in asked] == [frames[10]]


def test_a_jolt_of_the_camera_is_no_jump_of_the_body() -> None:
    places = places_of(falls)
    leg = told_leg(places, {})
    jolt = np.array([[1, 0, 6.0], [0, 1, -4.0]])
    leg.poses = {k: jolt if k == 10 else None for k in places}
    place = places[10]
    leg.told[10] = Step(1, 10, (place[0] + 6, place[1] - 4), 0.95, True)
    assert unconfirmed(leg, 27, ()) == []
    leg.poses[10] = None
    assert [step.frame for step in unconfirmed(leg, 27, ())] == [10]


def jumps(number: int) -> Point:
    """It slides, and is seen beside its way in one frame."""
    x, y = slide(number)
    return x, y + (6.0 if number == _JUMPS else 0.0)


def jolts(number: int) -> tuple[float, float]:
    """How far the camera has moved: aside and back, in one frame."""
    return (0.0, 6.0) if number == _JUMPS else (0.0, 0.0)


@pytest.mark.parametrize("backward", [False, True])
def test_what_is_seen_beside_its_way_in_one_frame_is_asked_about(*, backward: bool) -> None:
    frames = film(jumps)
    start = frames[-1][0] if backward else 0
    steps = steps_of(frames[::-1] if backward else frames, {1: Start(start, slide(start))})
    assert [frame for (_, frame), step in steps.items() if not step.sure] == [_JUMPS]


def leaves(number: int) -> Point:
    """It leaves the picture in frame 47, and is seen beside its way just before."""
    x, y = slide(number)
    return x, y + (6.0 if number == 40 else 0.0)


def test_before_it_leaves_the_picture_the_latest_frames_are_looked_at_too() -> None:
    steps = steps_of(film(leaves, count=60), {1: Start(0, slide(0))})
    assert not steps[1, 40].sure
    assert steps[1, 39].sure
    assert max(frame for (_, frame) in steps) < 50


@pytest.mark.parametrize("spin", [0.0, 0.4])
def test_what_places_a_body_says_where_the_other_witness_has_it(spin: float) -> None:
    """A look has it where its outline has, too; an outline, where something looks like it."""
    frames = [picture for _, picture in film(slide, spin=spin)]
    best = gone_through(frames, slide(0), count=20)
    known = best.history[-1]
    elsewhere = known.candidate.elsewhere
    assert elsewhere is not None
    assert elsewhere.by_outline != known.candidate.by_outline
    if spin == 0.0:
        assert not known.candidate.by_outline
        assert elsewhere.place == pytest.approx(slide(known.frame), abs=1.0)


def test_what_the_camera_shows_beside_its_way_is_marked() -> None:
    steps = steps_of(film(slide, shake=jolts), {1: Start(0, slide(0))})
    assert all(step.sure for step in steps.values())
    assert len(steps) == 39
