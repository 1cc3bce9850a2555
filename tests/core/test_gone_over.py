"""Going back over what was followed, and what is told anew then."""

from dataclasses import replace

import numpy as np
import pytest

from footing.core.following.asking import doubted
from footing.core.following.candidate import Candidate, Elsewhere, Known
from footing.core.following.hypothesis import Hypothesis
from footing.core.following.leg import Leg, Start, Step
from footing.core.following.look import Sighting
from footing.core.following.outline import Outline
from footing.core.following.patches import Pose
from footing.core.following.pieces import Blob
from footing.core.following.rim import Disc
from footing.core.following.scene import Scene
from footing.core.following.target import Target
from footing.core.following.telling import filled, gone_over, news
from tests.core.scenes import gone_through, panned, panned_film
from tests.core.ways import GROUNDS, along, found, unseen


def test_the_way_back_goes_with_the_camera() -> None:
    back = gone_through(panned_film(30), panned(0), count=20).seen_backward(14, 5)
    assert [known.frame for known in back] == list(range(13, 4, -1))
    for known in back:
        assert known.place is not None
        assert np.hypot(*np.subtract(known.place, panned(known.frame))) < 1


class GoneBack(Hypothesis):
    """An account of which is known what it finds on its way back."""

    def __init__(self, back: list[Known]) -> None:
        super().__init__(Target(Scene(), 10, 40, chosen=False))
        self.back = back
        for known in back:
            assert known.place is not None
            self.target.look.course.add(known.frame, known.place)

    def seen_backward(self, last: int, first: int) -> tuple[Known, ...]:
        return tuple(known for known in self.back if first <= known.frame <= last)


class FilledGap(Hypothesis):
    """An account of which is known what it finds where it was not seen, going back."""

    def __init__(self, filled: list[Known]) -> None:
        super().__init__(Target(Scene(), 10, 40, chosen=False))
        self.back = filled

    def filled(self) -> list[Known]:
        return self.back


def test_what_was_followed_in_a_gap_and_the_way_back_never_met_stays_in_doubt() -> None:
    """It was hidden, something else was followed for a while, and then it was found again."""
    count = 16
    best = FilledGap([found(k, along(k)) for k in (11, 12)])
    places = {k: along(k, 60.0 if 7 <= k <= 10 else 0.0) for k in range(count)}
    best.found = best.history = tuple(
        unseen(k) if k in (5, 6, 11, 12) else found(k, places[k]) for k in range(count)
    )
    for k, place in places.items():
        best.target.look.course.add(k, place)
    best.gap, best.since, best.unproven = (5, 12), 3, (7, places[7])
    leg = Leg(0, Start(0, along(0)), [best])
    news(leg, 0.6)
    filled(leg, best, 0.6)
    news(leg, 0.6)
    sure = [frame for frame, step in sorted(leg.told.items()) if step.sure]
    assert sure == [0, 1, 2, 3, 4, 11, 12, 13, 14, 15]


@pytest.mark.parametrize("another", [False, True])
def test_what_going_back_told_is_told_otherwise_only_by_another_account(another: bool) -> None:
    """The best account goes on to hold what it found at first for some frames."""
    count = 16
    best = GoneBack([found(k, along(k), 4.0) for k in range(count)])
    astray = [found(k, along(k, 8.0 if 3 <= k < 8 else 0.0), 1.5) for k in range(count)]
    best.history = best.found = tuple(astray)
    best.since = count
    leg = Leg(0, Start(0, along(0)), [best])
    news(leg, 0.6)
    assert leg.told[5].place == along(5, 8.0)
    gone_over(leg, best, count - 1, 0.6)
    assert leg.told[5].place == pytest.approx(along(5))
    if another:
        best.found = tuple(found(k, along(k, -9.0)) for k in range(count))
    news(leg, 0.6)
    assert leg.told[5].place == pytest.approx(along(5, -9.0) if another else along(5))


def test_where_else_it_may_be_is_known_of_each_frame() -> None:
    count = 16
    beside = Elsewhere(along(5, 2.0), by_outline=True)
    back = [found(k, along(k), 4.0) for k in range(count)]
    ahead = [found(k, along(k, 8.0 if 3 <= k < 8 else 0.0), 1.5) for k in range(count)]
    ahead[5] = replace(ahead[5], candidate=replace(ahead[5].candidate, elsewhere=beside))
    best = GoneBack(back)
    best.history = best.found = tuple(ahead)
    best.since = count
    leg = Leg(0, Start(0, along(0)), [best])
    news(leg, 0.6)
    assert leg.elsewhere[5] == [beside]
    gone_over(leg, best, count - 1, 0.6)
    assert leg.elsewhere[5] == [Elsewhere(along(5, 8.0), by_outline=False), beside]


@pytest.mark.parametrize("known", [False, True])
def test_once_a_rim_is_known_what_was_gone_over_is_gone_over_again(known: bool) -> None:
    count = 30
    best = GoneBack([found(k, along(k), 4.0) for k in range(count)])
    best.history = tuple(found(k, along(k, 8.0 if 3 <= k < 8 else 0.0), 1.5) for k in range(count))
    best.since = count
    if known:
        ball = Disc(along(0), 10.0, 1.0)
        best.target.outline = Outline.begun(Blob.round(ball).rimmed(ball), along(0))
    leg = Leg(0, Start(0, along(0)), [best], reviewed=12)
    told = gone_over(leg, best, count - 1, 0.6)
    assert (5 in {step.frame for step in told if isinstance(step, Step)}) == known
    assert leg.rim_known == known
    assert gone_over(leg, best, count - 1, 0.6) == []


@pytest.mark.parametrize(("sways", "sure"), [(0.0, True), (12.0, False)])
def test_the_frames_around_say_whether_what_was_not_foreseen_was_on_the_course(
    sways: float, sure: bool
) -> None:
    """What stands out alone, and looks like nothing, needs that; going over it asks them, too."""

    def surprising(frame: int) -> Known:
        sighting = Sighting(Pose(*along(frame, sways * (frame % 2))), 0.5, None, 0.0)
        return Known(frame, Candidate(sighting, look=0.2, change=2.0, motion=-1.5), GROUNDS)

    count = 30
    ways = [surprising(k) for k in range(count)]
    best = GoneBack(ways)
    best.history, best.since = tuple(ways), count
    leg = Leg(0, Start(0, along(0)), [best])
    told = gone_over(leg, best, count - 1, 0.6)
    middle = [step.sure for step in told if isinstance(step, Step) and 3 < step.frame < 20]
    assert middle == [sure] * 16


@pytest.mark.parametrize(("look", "not_seen"), [(2.0, None), (2.0, 18), (0.3, None)])
def test_where_the_ways_do_not_meet_it_is_gone_back_farther(
    look: float, not_seen: int | None
) -> None:
    """It met another just there, which comes straight on; what looks otherwise is not another."""
    count = 40

    def walks(frame: int, x: float, evidence: float) -> Known:
        return found(frame, (x + 3.0 * (-1) ** (frame // 2), 50.0), evidence)

    back = [walks(k, 400.0 - 10 * k, 4.0) for k in range(count)]
    best = GoneBack(back)
    best.back = [
        unseen(k)
        if k == not_seen
        else replace(known, candidate=replace(known.candidate, look=look))
        for k, known in enumerate(back)
    ]
    # it came from the left, and goes back there from frame 21 on with the other
    best.history = tuple(
        walks(k, 10.0 * k if k < 21 else 400.0 - 10 * k, 3.0) for k in range(count)
    )
    best.since = count
    leg = Leg(0, Start(0, along(0)), [best], reviewed=17)
    told = gone_over(leg, best, count - 1, 0.6)
    assert best.contested == (20 if look > 1 else None)
    # farther back it was gone over before
    assert min(step.frame for step in told if isinstance(step, Step)) == 18


@pytest.mark.parametrize(("known", "asked"), [(1.0, False), (0.2, True)])
def test_what_stood_all_along_where_a_body_rests_is_the_wall_if_the_body_is_known_there(
    known: float, asked: bool
) -> None:
    """Otherwise it may rest there that was met: the hand from which a ball has gone."""
    count = 40
    best = GoneBack([found(k, along(20), 4.0, known=known) for k in range(count)])
    best.history = tuple(found(k, along(min(k, 20)), 3.0, known=known) for k in range(count))
    best.since = count
    leg = Leg(0, Start(0, along(0)), [best], reviewed=12)
    gone_over(leg, best, count - 1, 0.6)
    assert (best.contested is not None) == asked


@pytest.mark.parametrize(("since", "doubted_from"), [(11, 11), (10, 8)])
def test_where_another_is_as_likely_all_since_it_was_not_seen_is_asked_about(
    since: int, doubted_from: int
) -> None:
    """In the frames 8 and 9 it was not seen: if it may be the other after them, then in them."""
    best = Hypothesis(Target(Scene(), 10, 40, chosen=False))
    best.found = best.history = tuple(
        unseen(k) if k in (8, 9) else found(k, along(k)) for k in range(16)
    )
    for k in range(16):
        best.target.look.course.add(k, along(k))
    leg = Leg(0, Start(0, along(0)), [best])
    news(leg, 0.6)
    assert doubted(leg, best) == []
    best.contest(since)
    best.contest(14)  # what was in doubt before stays so
    assert best.contested == doubted_from
    doubted(leg, best)
    seen = [k for k in range(16) if k not in (8, 9)]
    sure = [frame for frame, step in leg.told.items() if step.sure]
    assert sure == [k for k in seen if k < since]
    assert all(leg.told[k].place == along(k) for k in seen)
