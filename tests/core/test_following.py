import numpy as np
import pytest

from footing.core.errors import Refused
from footing.core.following.laying import lay
from footing.core.following.leg import Ended, Start, Step
from footing.core.following.patches import Patch, Pose
from footing.core.following.prediction import Course
from footing.core.following.run import follow
from footing.core.following.searching import peaks
from footing.core.following.streaks import smeared


def textured(seed: int = 1, size: tuple[int, int] = (160, 220)) -> np.ndarray:
    """Smooth random texture, as float."""
    rng = np.random.default_rng(seed)
    rows, columns = np.mgrid[: size[0], : size[1]].astype(float)
    waves = rng.uniform(0.08, 0.5, size=(24, 2)), rng.uniform(0, 6, size=24)
    total = sum(np.sin(a * columns + b * rows + c) for (a, b), c in zip(*waves, strict=True))
    return np.asarray(128 + 18 * total / np.std(total))


def shifted(dx: float, dy: float) -> np.ndarray:
    """The same texture moved by a part of a pixel, exactly."""
    rng = np.random.default_rng(1)
    rows, columns = np.mgrid[:160, :220].astype(float)
    waves = rng.uniform(0.08, 0.5, size=(24, 2)), rng.uniform(0, 6, size=24)
    total = sum(
        np.sin(a * (columns - dx) + b * (rows - dy) + c) for (a, b), c in zip(*waves, strict=True)
    )
    return np.asarray(128 + 18 * total / np.std(total))


SPOT = (100.4, 80.2)


def grey(picture: np.ndarray) -> np.ndarray:
    return np.clip(np.round(picture), 0, 255).astype(np.uint8)


def patch() -> Patch:
    return Patch.around(grey(textured()), SPOT, reach=14)


@pytest.mark.parametrize(("dx", "dy"), [(0.0, 0.0), (2.0, -3.0), (1.3, 2.6), (-3.45, 0.2)])
def test_a_patch_is_laid_to_a_twentieth_of_a_pixel(dx: float, dy: float) -> None:
    laid = lay(patch(), grey(shifted(dx, dy)), Pose(100, 80))
    assert laid is not None
    assert (laid.pose.x, laid.pose.y) == pytest.approx((SPOT[0] + dx, SPOT[1] + dy), abs=0.05)
    assert laid.pose.size == pytest.approx(1, abs=0.01)
    assert laid.pose.turn == pytest.approx(0, abs=0.01)


def test_brightness_and_contrast_do_not_matter() -> None:
    laid = lay(patch(), grey(0.5 * shifted(1.5, 2) + 20), Pose(*SPOT))
    assert laid is not None
    assert (laid.pose.x, laid.pose.y) == pytest.approx((SPOT[0] + 1.5, SPOT[1] + 2), abs=0.05)
    assert laid.score > 0.99


def test_a_part_that_is_covered_does_not_pull() -> None:
    covered = shifted(1.0, 1.0)
    covered[:71] = 250
    laid = lay(patch(), grey(covered), Pose(*SPOT))
    assert laid is not None
    assert (laid.pose.x, laid.pose.y) == pytest.approx((SPOT[0] + 1, SPOT[1] + 1), abs=0.3)


def test_a_search_finds_what_is_far_away() -> None:
    best = peaks(grey(shifted(23.0, -14.0)), patch(), Pose(*SPOT), radius=40)[0]
    assert (best.pose.x, best.pose.y) == pytest.approx((SPOT[0] + 23, SPOT[1] - 14), abs=2)


def test_pictures_that_are_smeared_crosswise_are_alike() -> None:
    sharp = textured().astype(np.float32)
    along, across = np.array([9.0, 0.0]), np.array([2.0, 6.0])
    one, other = smeared(smeared(sharp, along), across), smeared(smeared(sharp, across), along)
    inner = np.s_[20:-20, 20:-20]
    assert one[inner] == pytest.approx(other[inner], abs=0.01)
    assert np.std(one[inner]) < 0.8 * np.std(sharp[inner])


def test_a_smear_keeps_its_place() -> None:
    dot = np.zeros((41, 41), dtype=np.float32)
    dot[20, 20] = 1
    streak = smeared(dot, np.array([12.5, -3.0]))
    rows, columns = np.mgrid[:41, :41]
    assert streak.sum() == pytest.approx(1, abs=1e-5)
    assert (streak * columns).sum() == pytest.approx(20, abs=1e-3)
    assert (streak * rows).sum() == pytest.approx(20, abs=1e-3)


def test_a_parabola_is_foreseen_exactly() -> None:
    course = Course()
    for frame in range(6):
        course.add(frame, (3.0 * frame, 10 - 4.0 * frame + 0.5 * frame**2))
    place, _ = course.foreseen(8)
    assert place == pytest.approx((24.0, 10 - 32 + 32))
    assert course.velocity(5) == pytest.approx([3.0, 1.0])


@pytest.mark.parametrize(
    ("speed", "rests", "since"), [(8.0, 2, 4), (8.0, 1, None), (0.4, 2, None), (8.0, 0, None)]
)
def test_what_moved_and_stays_where_it_is_is_at_rest(
    speed: float, rests: int, since: int | None
) -> None:
    """A picture that comes twice is no rest."""
    course = Course()
    for frame in range(5):
        course.add(frame, (speed * frame, 10.0))
    for frame in range(5, 5 + rests):
        course.add(frame, (speed * 4 + 0.2, 10.0))
    assert (course.halt and course.halt.since) == since


def test_a_plain_place_is_refused() -> None:
    plain = np.full((160, 220), 128, dtype=np.uint8)
    with pytest.raises(Refused, match="nothing to hold on to"):
        list(follow([(0, plain)], {7: Start(0, SPOT)}))


def _moving(count: int) -> list[tuple[int, np.ndarray]]:
    return [(number, grey(shifted(1.7 * number, 0.9 * number))) for number in range(count)]


def _places(frames: list[tuple[int, np.ndarray]], start: Start) -> dict[int, tuple[float, float]]:
    return {
        step.frame: step.place
        for told in follow(frames, {7: start})
        for step in told
        if isinstance(step, Step) and step.sure and step.place
    }


def test_backwards_is_as_good_as_forwards() -> None:
    frames = _moving(20)[::-1]
    last = (SPOT[0] + 1.7 * 19, SPOT[1] + 0.9 * 19)
    places = _places(frames, Start(19, last))
    assert sorted(places) == list(range(19))
    assert places[0] == pytest.approx(SPOT, abs=0.2)


def test_a_mark_made_by_hand_is_believed() -> None:
    """It wins over what was followed, and what comes after starts from it."""
    known = (SPOT[0] + 17 + 6, SPOT[1] + 9)  # another spot, 6 px to the right
    places = _places(_moving(16), Start(0, SPOT, known={10: known}))
    assert 10 not in places
    assert places[9] == pytest.approx((SPOT[0] + 15.3, SPOT[1] + 8.1), abs=0.2)
    assert places[15] == pytest.approx((SPOT[0] + 25.5 + 6, SPOT[1] + 13.5), abs=0.2)


def test_what_vanishes_is_lost_and_nothing_is_invented() -> None:
    frames = [*_moving(8), *((n, grey(textured(seed=9))) for n in range(8, 40))]
    told = [step for steps in follow(frames, {7: Start(0, SPOT)}) for step in steps]
    assert {step.frame for step in told if isinstance(step, Step) and step.sure} == set(range(1, 8))
    assert told[-1] == Ended(7, 8, "lost")
