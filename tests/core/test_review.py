"""Going back over a stretch: which way is told, and how sure that is."""

from dataclasses import replace

import numpy as np
import pytest

from footing.core.following.candidate import Candidate, Grounds, Known
from footing.core.following.grading import is_firm, quality
from footing.core.following.hypothesis import Hypothesis
from footing.core.following.leg import Leg, Start, Step
from footing.core.following.look import Sighting
from footing.core.following.outline import Outline
from footing.core.following.patches import Point, Pose
from footing.core.following.pieces import Blob
from footing.core.following.review import reviewed, taken_for
from footing.core.following.rim import Disc
from footing.core.following.scene import Scene
from footing.core.following.target import Target
from footing.core.following.telling import doubted, filled, gone_over, news
from tests.core.scenes import film, gone_through, slide

GROUNDS = Grounds(unrecognised=0, beside=0.0, radius=10.0, outlined=True, carried=False)


def found(frame: int, place: Point, evidence: float = 4.0, *, known: float = 1.0) -> Known:
    """A place found with so much evidence, by look and by change."""
    sighting = Sighting(Pose(*place), 0.9, None, known)
    half = evidence / 2
    return Known(frame, Candidate(sighting, look=half, change=half), GROUNDS)


def unseen(frame: int) -> Known:
    """Nothing found."""
    return Known(frame, Candidate(None, look=-1.0), GROUNDS)


def along(frame: int, aside: float = 0.0) -> Point:
    """On its way, or so far aside of it."""
    return 10.0 * frame, 50.0 + aside


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


@pytest.mark.parametrize(
    "worse",
    [
        {"unrecognised": 20},
        {"beside": 6.0},
        {"beside": None, "outlined": False},
        {"carried": True},
    ],
)
def test_quality_falls_with_what_a_place_does_not_rest_on(worse: dict[str, float]) -> None:
    known = found(3, along(3), known=0.5)
    less = Known(3, known.candidate, replace(GROUNDS, **worse))
    # where the course leaves room for doubt, each of them counts
    assert quality(less, -3.0) < quality(known, -3.0) - 0.005


def test_quality_is_of_the_course_the_rivals_and_the_way_back() -> None:
    known = found(3, along(3), known=0.5)
    plain = quality(known, 0.0)
    assert quality(known, -3.0) < plain
    assert quality(known, 0.0, otherwise=0.6) < plain
    (same,) = reviewed([known], [known])
    (apart,) = reviewed([known], [found(3, along(3, 3.0), known=0.5)])
    assert quality(known, 0.0, review=apart) < plain < quality(known, 0.0, review=same)


def test_quality_falls_with_how_places_scatter_about_their_course() -> None:
    """As they do in a film that is so compressed that its picture jumps."""
    known = found(3, along(3), known=0.5)
    smooth, rough = (quality(known, 0.0, scatter=scatter) for scatter in (0.1, 2.5))
    assert rough < quality(known, 0.0) < smooth


def test_places_scatter_as_most_of_those_around_do() -> None:
    """A bounce is one surprise among many frames; at first it is not known."""
    off = [None, None, None, 0.4, 0.3, 9.0, 0.5, 0.4, 0.2, 0.6] + [3.0] * 20
    account = Hypothesis(Target(Scene(), 10, 40, chosen=False))
    assert account.scatter(4) is None
    account.history = tuple(
        replace(found(k, along(k)), grounds=replace(GROUNDS, innovation=value))
        for k, value in enumerate(off)
    )
    assert account.scatter(1) == pytest.approx(0.4)
    assert account.scatter(25) == pytest.approx(3.0)


def test_what_is_recognised_with_all_evidence_is_firm() -> None:
    assert is_firm(found(0, along(0), 4.2))
    assert not is_firm(found(0, along(0), 4.2, known=0.6))
    assert not is_firm(found(0, along(0), 2.5))
    assert not is_firm(unseen(0))


def panned(number: int) -> Point:
    """Where the striped disc is while the camera pans by 2 px in each frame."""
    return 60.0 + 3.0 * number, 90.0


def panned_film(count: int) -> list[np.ndarray]:
    """A striped disc that turns before a wall; the camera goes along by 2 px in each frame."""
    rng = np.random.default_rng(4)
    wall = np.kron(rng.uniform(60, 160, size=(40, 100)), np.ones((6, 6)))
    rows, columns = np.mgrid[:180, :320]
    frames = []
    for number in range(count):
        picture = wall[30 : 30 + 180, 2 * number : 2 * number + 320].copy()
        x, y = panned(number)
        cover = np.clip(9 - np.hypot(columns - x, rows - y) + 0.5, 0, 1)
        stripes = 128 + 100 * np.sign(np.cos(0.25 * number) * (columns - x) + (rows - y))
        picture = picture * (1 - cover) + cover * stripes
        noisy = picture + rng.normal(0, 1.5, size=picture.shape)
        frames.append(np.clip(noisy, 0, 255).astype(np.uint8))
    return frames


@pytest.mark.parametrize(("jumps", "least", "most"), [(0.0, 0.0, 0.5), (2.0, 2.0, 8.0)])
def test_places_scatter_where_the_picture_jumps(jumps: float, least: float, most: float) -> None:
    def place(number: int) -> Point:
        x, y = slide(number)
        return x + jumps * (-1) ** number, y

    scatter = gone_through([picture for _, picture in film(place)], place(0), count=20).scatter(12)
    assert scatter is not None
    assert least < scatter < most


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
