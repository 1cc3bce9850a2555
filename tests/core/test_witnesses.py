"""What changed against the still background, and what several accounts make of it."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest

from footing.core.following.leg import Ended, Start, Step
from footing.core.following.look import Sighting
from footing.core.following.outline import Outline
from footing.core.following.patches import Pose
from footing.core.following.pieces import blobs
from footing.core.following.roundness import Roundness
from footing.core.following.run import follow
from footing.core.following.weighing import weighed
from tests.core.scenes import (
    Place,
    beside,
    debris,
    disc,
    film,
    gone_through,
    landing,
    lands,
    seen_at,
    slide,
    steps_of,
)


@pytest.mark.parametrize(
    ("light", "shake"),
    [
        (lambda _: 1.0, lambda _: (0.0, 0.0)),
        (lambda n: 1.0 if n < 20 else 0.6, lambda _: (0.0, 0.0)),
        (lambda _: 1.0, lambda n: (9 * np.sin(n / 3), 5 * np.cos(n / 4))),
    ],
    ids=["at rest", "exposed anew", "by hand"],
)
def test_what_moved_stands_out_from_the_background(
    light: Callable[[int], float], shake: Place
) -> None:
    frames = film(slide, light=light, shake=shake)
    at = tuple(np.add(slide(18), shake(18)))
    changed = seen_at(frames, 18, at)
    largest = blobs(changed, radius=12)[0]
    assert largest.centre == pytest.approx(at, abs=1.0)
    assert largest.area == pytest.approx(np.pi * 12**2, rel=0.2)


@pytest.mark.parametrize("room", [10, 14, 40])
def test_what_fills_the_place_that_is_asked_for_stands_out_there(room: int) -> None:
    """It is no noise, though all that is looked at differs from the background by as much."""
    changed = seen_at(film(slide), 20, slide(20), room=room)
    rows, columns = np.mgrid[: 2 * room + 1, : 2 * room + 1]
    away = np.hypot(rows - room, columns - room)
    assert changed.mask[away < 10].mean() > 0.6
    assert not changed.mask[away > 14].any()


def test_the_centre_of_a_turning_disc_is_where_its_outline_is() -> None:
    frames = film(slide, spin=0.7)
    outline = None
    errors = []
    for number in range(8, 30):
        at = slide(number)
        blob = blobs(seen_at(frames, number, at), radius=12)[0]
        if outline is None:
            outline = Outline.begun(blob, at)
        else:
            centre = outline.by_shape(blob) or blob.centre
            errors.append(np.hypot(*np.subtract(centre, at)))
            outline = outline.learnt(blob, None, 0.0)
    assert np.median(errors) < 0.5
    assert np.hypot(*outline.offset) < 0.5  # type: ignore[union-attr]


@pytest.mark.parametrize("spin", [0.2, 0.9, 1.6])
def test_a_patterned_disc_is_followed_however_fast_it_turns(spin: float) -> None:
    told = steps_of(film(slide, spin=spin), {0: Start(0, slide(0))})
    sure = {frame: step.place for (_, frame), step in told.items() if step.sure and step.place}
    assert len(sure) >= 37
    errors = [np.hypot(*np.subtract(place, slide(frame))) for frame, place in sure.items()]
    assert max(errors) < 2.5
    assert np.median(errors) < 0.7


def test_a_thing_that_vanishes_is_hidden_and_the_background_is_never_it() -> None:
    def goes(number: int) -> tuple[float, float]:
        return slide(number) if number < 20 else (-100.0, -100.0)

    frames = film(goes, count=70)
    told = [step for steps in follow(frames, {0: Start(0, slide(0))}) for step in steps]
    sure = {step.frame for step in told if isinstance(step, Step) and step.sure}
    assert sure == set(range(1, 20))
    assert [step for step in told if isinstance(step, Ended)] == [Ended(0, 20, "hidden")]


def test_who_is_gone_before_it_was_seen_to_move_is_lost_and_not_hidden() -> None:
    """Nobody knows where it should be, so that the background there says nothing."""

    def goes(number: int) -> tuple[float, float]:
        return slide(20) if number == 0 else (-100.0, -100.0)

    frames = film(goes, count=12)
    way = follow(frames, {0: Start(0, slide(20))}, patience=4)
    told = [step for steps in way for step in steps]
    assert [step for step in told if isinstance(step, Ended)] == [Ended(0, 1, "lost")]


def test_a_speck_is_never_the_wall_from_which_it_went() -> None:
    """It stands out where it is, however little of the place around it does."""
    frames = film(lambda _: (-60.0, -60.0))
    for number, picture in frames:
        x, y = (round(value) for value in slide(number))
        picture[y - 2 : y + 3, x - 2 : x + 3] = 225
    account = gone_through([picture for _, picture in frames], slide(0), count=1)
    assert account.target.knows_background


def test_what_was_there_before_is_not_it_however_alike() -> None:
    """It vanishes just before it comes to its like, which has always been there."""

    def goes(number: int) -> tuple[float, float]:
        return slide(number) if number < 20 else (-100.0, -100.0)

    told = steps_of(film(goes, count=60, twin=slide(24)), {0: Start(0, slide(0))})
    assert {frame for (_, frame), step in told.items() if step.sure} == set(range(1, 20))


def test_a_still_thing_on_its_way_is_not_it() -> None:
    """As a codec leaves one behind; the look of what turns says nothing of what stops at once."""

    def race(number: int) -> tuple[float, float]:
        return (30.0 + 9 * number, 90.0) if number <= 16 else (-60.0, -60.0)

    frames = []
    for number, picture in film(race, count=40, spin=0.9):
        over = picture.astype(float)
        if number > 16:
            disc(over, race(15), 10.0, turn=0.3, seed=11)
        frames.append((number, np.clip(over, 0, 255).astype(np.uint8)))
    told = steps_of(frames, {0: Start(0, race(0))})
    assert [frame for (_, frame), step in told.items() if step.sure] == list(range(1, 17))


def test_a_mark_by_hand_says_that_it_is_the_same() -> None:
    """It turns, is away, and comes back on another course: nobody can know it but by hand.

    Then it is known in the frames before that mark, too, back to where it came from.
    """

    def comes_back(number: int) -> tuple[float, float]:
        if number < 15:
            return slide(number)
        return (-100.0, -100.0) if number < 22 else (170.0 - 5 * (number - 22), 130.0)

    start = Start(0, slide(0), known={26: comes_back(26)})
    frames = film(comes_back, count=50, spin=0.9)
    every = list(follow(frames, {0: start}))
    early = [step for steps in every[:43] for step in steps]
    assert {22, 23, 24, 25} <= {s.frame for s in early if isinstance(s, Step) and s.sure}
    told = {s.frame: s for steps in every for s in steps if isinstance(s, Step)}
    sure = {frame: step.place for frame, step in told.items() if step.sure}
    assert not set(sure) & set(range(15, 22))
    assert {*range(22, 26), *range(27, 50)} <= set(sure)
    for frame in range(22, 26):
        assert np.hypot(*np.subtract(sure[frame], comes_back(frame))) < 1


def test_what_comes_to_rest_is_followed_as_long_as_it_rests() -> None:
    def halts(number: int) -> tuple[float, float]:
        return slide(min(number, 16))

    told = steps_of(film(halts, count=110), {0: Start(0, slide(0))})
    sure = {frame: step.place for (_, frame), step in told.items() if step.sure and step.place}
    assert set(sure) >= set(range(1, 110))
    assert max(np.hypot(*np.subtract(at, halts(frame))) for frame, at in sure.items()) < 2


@pytest.mark.parametrize(("speed", "back"), [(5.0, 26), (0.0, 26), (0.0, 19)])
def test_what_was_sure_before_it_was_lost_stays_so(speed: float, back: int) -> None:
    """It vanishes, and later something like it goes elsewhere, or stands there."""

    def goes(number: int) -> tuple[float, float]:
        if number < 16:
            return slide(number)
        return (-100.0, -100.0) if number < back else (215.0 - speed * (number - back), 130.0)

    told = steps_of(film(goes, count=60), {0: Start(0, slide(0))})
    sure = {frame for (_, frame), step in told.items() if step.sure}
    assert sure >= set(range(1, 16))
    assert not sure & set(range(16, back if speed else 60))


@pytest.mark.parametrize("spin", [0.0, 0.5])
def test_a_ball_is_followed_from_the_hand_that_releases_it(spin: float) -> None:
    """The hand stops where the ball leaves it; the ball flies on, turning."""

    def flies(number: int) -> tuple[float, float]:
        late = max(number - 14, 0)
        return 40.0 + 6 * number, 120.0 - 2.5 * number + 0.12 * late**2

    frames = film(flies)
    behind = [picture for _, picture in film(lambda _: (-60.0, -60.0))]
    shown = []
    for number, _ in frames:
        picture = behind[number].astype(float)
        x, y = flies(min(number, 14))
        beside(picture, (x, y))
        disc(picture, flies(number), 12.0, turn=spin * max(number - 14, 0))
        shown.append((number, np.clip(picture, 0, 255).astype(np.uint8)))
    told = steps_of(shown, {0: Start(0, flies(0))})
    sure = {frame: step.place for (_, frame), step in told.items() if step.sure and step.place}
    errors = {n: float(np.hypot(*np.subtract(at, flies(n)))) for n, at in sure.items()}
    assert len(sure) >= 37
    assert max(errors.values()) < 3.0


@pytest.mark.parametrize(("turn", "believed"), [(1.4, True), (0.0, True), (-1.4, False)])
def test_a_look_may_be_turned_as_it_was_when_it_was_recognised(turn: float, believed: bool) -> None:
    """And no farther, where limbs may look like a turn."""
    frames = [picture for _, picture in film(slide, spin=0.07)]
    target = gone_through(frames, slide(0), count=21).target
    assert target.turned == pytest.approx(1.4, abs=0.1)
    assert target.outline is not None
    target.outline = replace(target.outline, wholeness=0.9)
    covered = np.full_like(frames[21], 120)
    sighting = Sighting(Pose(*slide(21), 1.0, turn), 0.9, None, 0.0)
    look = weighed(target, covered, 21, sighting, None, [], 40).look
    assert (look > -6) == believed


@pytest.mark.parametrize("seed", [9, 14, 15])
def test_what_flies_up_where_it_fell_puts_nothing_in_doubt(seed: int) -> None:
    """It lies there for most of the film, so that the wall alone stood out there before."""
    told = steps_of(landing(seed=seed), {0: Start(0, lands(0))})
    sure = {frame: step.place for (_, frame), step in told.items() if step.sure and step.place}
    assert len(sure) >= 43
    errors = [np.hypot(*np.subtract(place, lands(frame))) for frame, place in sure.items()]
    assert np.median(errors) < 0.5
    assert sum(error > 4 for error in errors) <= 1


def test_a_piece_is_asked_about_where_it_is_though_a_look_is_beside_it() -> None:
    """What looks like the body lies beside a piece of its size: either may be it."""
    account = gone_through([picture for _, picture in landing(seed=15)], lands(0), count=27)
    now = account.target.scene.next()
    assert now is not None
    sightings = [one.sighting for one in account.candidates(now[1].grey, 27)]
    places = [sighting.place for sighting in sightings if sighting is not None]
    for true in (lands(27), debris(27)):
        assert min(np.hypot(*np.subtract(place, true)) for place in places) < 3


@pytest.mark.parametrize(("off", "counts"), [(6.0, True), (14.5, False)])
def test_a_look_speaks_for_a_piece_only_on_the_body(off: float, counts: bool) -> None:
    """A pattern that rolls is beside the middle; what looks like it beyond the body is not it."""
    frames = film(slide)
    account = gone_through([picture for _, picture in frames], slide(0), count=21)
    changed = seen_at(frames, 21, slide(21))
    pieces = blobs(changed, radius=12)
    bare = np.full_like(frames[21][1], 120)
    x, y = slide(21)
    sighting = Sighting(Pose(x + off, y), 0.95, None, 0.0)
    weight = weighed(account.target, bare, 21, sighting, changed, pieces, 40)
    assert weight.by_outline
    assert (weight.look > 1.0) == counts


@pytest.mark.parametrize(
    ("look", "piece", "confirmed", "by_outline"),
    [(0.0, 9.0, True, False), (9.0, 0.0, True, True), (0.0, 9.0, False, True)],
    ids=["the outline leaps", "the look leaps", "a pattern may roll"],
)
def test_of_look_and_outline_the_one_on_the_course_says_where_it_is(
    look: float, piece: float, confirmed: bool, by_outline: bool
) -> None:
    """A codec leaves something of the body behind, which is one piece with it."""
    frames = film(slide)
    target = gone_through([picture for _, picture in frames], slide(0), count=21).target
    assert target.outline is not None
    compared = 9 if confirmed else 0
    target.outline = replace(target.outline, rim=Roundness(), compared=compared, away=(0.0, 0.0))
    changed = seen_at(frames, 21, slide(21))
    (x, y), blob = slide(21), blobs(changed, radius=12)[0]
    (left, top, *sides), (middle, up) = blob.box, blob.centre
    moved = replace(blob, centre=(middle + piece, up), box=(round(left + piece), top, *sides))
    sighting = Sighting(Pose(x + look, y), 0.98, None, 1.0)
    weight = weighed(target, frames[21][1], 21, sighting, changed, [moved], 40)
    assert weight.by_outline == by_outline
    assert weight.sighting is not None
    assert weight.sighting.place[0] == pytest.approx(x + (piece if by_outline else look), abs=1.5)
