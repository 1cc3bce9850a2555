"""Two ways through a stretch made one: which is told, and whether either is on another body."""

from dataclasses import replace

import pytest

from footing.core.following.candidate import Candidate, Known
from footing.core.following.grading import quality
from footing.core.following.look import Sighting
from footing.core.following.patches import Point, Pose
from footing.core.following.review import reviewed, stands, taken_for
from tests.core.ways import GROUNDS, along, found, unseen


def test_ways_that_agree_are_told_in_their_middle() -> None:
    steps = reviewed(
        [found(k, along(k)) for k in range(5)], [found(k, along(k, 0.6)) for k in range(5)]
    )
    assert all(step.agreed and step.otherwise == 0 for step in steps)
    assert [step.place for step in steps] == [pytest.approx(along(k, 0.3)) for k in range(5)]


@pytest.mark.parametrize(
    ("aside", "turn", "told"), [(4.0, 0.4, True), (4.0, 0.0, False), (14.0, 0.4, False)]
)
def test_of_two_on_one_body_the_one_that_saw_its_rim_says_where(
    aside: float, turn: float, told: bool
) -> None:
    """Unless the other's look is just as it was, or so far away that it is of another thing."""
    turned = Sighting(Pose(*along(4, aside), 1.0, turn), 0.97, None, 1.0)
    looked = Known(4, Candidate(turned, look=2.4, change=2.2), GROUNDS)
    rim = Known(4, replace(found(4, along(4), 2.5, known=0.0).candidate, by_rim=True), GROUNDS)
    around = [found(k, along(k)) for k in range(9)]
    forward, backward = [*around[:4], looked, *around[5:]], [*around[:4], rim, *around[5:]]
    step = reviewed(forward, backward)[4]
    assert (step.place == pytest.approx(along(4))) == told
    assert step.agreed == told


@pytest.mark.parametrize("likelier", ["look", "rim"])
def test_what_a_look_and_a_rim_place_is_not_told_between_them(likelier: str) -> None:
    """One of them is exact and the other is not: a mean is neither."""
    looks = [found(k, along(k), 4.5 if likelier == "look" else 3.5) for k in range(5)]
    rims = [
        replace(known, candidate=replace(known.candidate, by_rim=True))
        for known in (found(k, along(k, 1.5)) for k in range(5))
    ]
    aside = 0.0 if likelier == "look" else 1.5
    steps = reviewed(looks, rims)
    assert all(step.agreed for step in steps)
    assert steps[-1].place == pytest.approx(along(4, aside))


def test_where_the_way_forward_went_astray_the_way_back_is_told() -> None:
    forward = [found(k, along(k, 8.0 if 3 <= k < 7 else 0.0), 1.5) for k in range(10)]
    backward = [found(k, along(k), 4.0) for k in range(10)]
    steps = reviewed(forward, backward)
    assert [step.place for step in steps] == [pytest.approx(along(k)) for k in range(10)]
    assert [step.agreed for step in steps] == [not 3 <= k < 7 for k in range(10)]
    assert all(step.otherwise < 0.1 for step in steps)


def test_where_the_way_back_got_lost_the_way_forward_is_told() -> None:
    """It is in a hand at first, where only who began there knows it."""
    forward = [found(k, along(k)) for k in range(10)]
    backward = [found(k, along(k, 30.0), 3.0) if k < 4 else found(k, along(k)) for k in range(10)]
    steps = reviewed(forward, backward)
    assert [step.place for step in steps] == [pytest.approx(along(k)) for k in range(10)]
    assert all(step.forward for step in steps[:4])


def test_a_way_back_that_never_came_to_the_start_is_not_told_there() -> None:
    """It is on another thing all the time, which is seen better."""
    forward = [found(k, along(k), 3.0) for k in range(8)] + [unseen(k) for k in range(8, 20)]
    backward = [found(k, along(k, 150.0), 4.5) for k in range(20)]
    steps = reviewed(forward, backward)
    assert [step.place for step in steps[:6]] == [pytest.approx(along(k)) for k in range(6)]


def meets(frame: int, *, turns: bool) -> Point:
    """Up to frame 10 one of two that meet there; turned round with the other, or gone on."""
    return (10.0 * frame if frame <= 10 or not turns else 200.0 - 10 * frame), 50.0


@pytest.mark.parametrize("turns", [True, False])
def test_who_turned_round_where_it_met_another_is_taken_for_that(turns: bool) -> None:
    """Going back from where it is leads straight past the place where they met."""
    forward = [found(k, meets(k, turns=turns)) for k in range(14)]
    backward = [found(k, (200.0 - 10 * k, 50.0)) for k in range(14)]
    if not turns:  # the way back is the one that turned
        backward[10:] = forward[10:]
    after = [found(k, meets(k, turns=turns)) for k in range(14, 21)]
    assert taken_for(forward, backward, after) == (10 if turns else None)


@pytest.mark.parametrize("alike", [True, False])
@pytest.mark.parametrize("turns", [True, False])
def test_where_another_is_known_to_be_alike_the_straighter_way_is_its_own(
    turns: bool, alike: bool
) -> None:
    """A walker's ways are never quite straight."""

    def walks(frame: int, place: Point) -> Known:
        return found(frame, (place[0] + 3.0 * (-1) ** (frame // 2), place[1]))

    forward = [walks(k, meets(k, turns=turns)) for k in range(22)]
    came = [walks(k, (200.0 - 10 * k, 50.0)) for k in range(10)]
    met = taken_for(forward[:16], [*came, *forward[10:16]], forward[16:], alike=alike)
    assert met == (10 if turns and alike else None)


def test_a_way_back_stands_that_never_left_where_it_began() -> None:
    """However it sways, and where it saw nothing; one that came there at any time does not."""
    swaying = [found(k, (60.0 + k % 2, 50.0)) for k in range(8)]
    assert stands([*swaying[:3], unseen(3), *swaying[4:]])
    assert not stands([found(0, (90.0, 50.0)), *swaying[1:]])


def test_what_only_one_way_saw_is_told_by_it() -> None:
    forward = [unseen(k) if k in (2, 3) else found(k, along(k)) for k in range(6)]
    backward = [unseen(k) if k == 0 else found(k, along(k)) for k in range(6)]
    assert [step.place for step in reviewed(forward, backward)] == [
        pytest.approx(along(k)) for k in range(6)
    ]


def test_where_the_ways_are_apart_for_one_frame_what_is_told_is_in_doubt() -> None:
    forward = [found(k, along(k), 3.0) for k in range(7)]
    backward = [
        found(k, along(k, 40.0 if k == 3 else 0.0), 3.5 if k == 3 else 3.0) for k in range(7)
    ]
    step = reviewed(forward, backward)[3]
    assert not step.agreed
    assert 0.2 < step.otherwise < 0.8
    assert quality(step.known, 0.0, review=step) < quality(forward[3], 0.0)
