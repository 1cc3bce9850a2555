"""Discs laid by how they mix with the background at their edge."""

import numpy as np
import pytest

from footing.core.following.leg import Start
from footing.core.following.opacity import laid_disc
from footing.core.following.outline import Outline
from footing.core.following.pictures import Picture
from footing.core.following.pieces import blobs
from footing.core.following.rim import Disc, disc_at
from footing.core.following.scene import Changed, Scene, watched
from footing.core.following.streaks import Exposure, Streak
from footing.core.following.touching import with_rim
from tests.core.scenes import SIZE, seen_at, steps_of, wall

AT, RADIUS = (160.3, 90.6), 9.0


def ball(picture: np.ndarray, at: tuple[float, float], radius: float = RADIUS) -> None:
    """Lay a ball that is lit from a side over a picture; in parts it is as bright as the wall."""
    rows, columns = np.mgrid[: picture.shape[0], : picture.shape[1]]
    dx, dy = columns - at[0], rows - at[1]
    cover = np.clip(radius - np.hypot(dx, dy) + 0.5, 0, 1)
    picture *= 1 - cover
    picture += cover * (170 + 4.0 * dx - 2.0 * dy)


def streaked(length: float, *, radius: float = RADIUS) -> list[tuple[int, np.ndarray]]:
    """A disc that crosses a wall while the shutter is open, in one frame of many without it."""
    rng = np.random.default_rng(2)
    behind = wall()[40:220, 40:360]
    steps = max(int(4 * length), 1)
    exposed = np.zeros(SIZE)
    for way in length * ((np.arange(steps) + 0.5) / steps - 0.5):
        moment = behind.copy()
        ball(moment, (AT[0] + way, AT[1]), radius)
        exposed += moment / steps
    pictures = [exposed if number == 10 else behind for number in range(20)]
    noisy = [picture + rng.normal(0, 2.0, size=SIZE) for picture in pictures]
    return [(k, np.clip(np.round(each), 0, 255).astype(np.uint8)) for k, each in enumerate(noisy)]


def off(disc_centre: tuple[float, float]) -> float:
    return float(np.hypot(*np.subtract(disc_centre, AT)))


@pytest.mark.parametrize(("length", "exact"), [(0.0, 0.2), (4.0, 0.3), (10.0, 0.7)])
def test_a_disc_is_laid_in_the_middle_of_its_streak(length: float, exact: float) -> None:
    changed = seen_at(streaked(length), 10, AT)
    near = (AT[0] + 1.2, AT[1] - 0.8)
    laid = laid_disc(changed, near, RADIUS, np.array([length, 0.0]))
    assert laid is not None
    assert laid.support > 0.7
    assert off(laid.centre) < exact
    assert laid.radius == pytest.approx(RADIUS, abs=0.2)
    rim = disc_at(changed, near, RADIUS)
    if length > 0 and rim is not None:
        assert off(laid.centre) < 0.5 * off(rim.centre)


@pytest.mark.parametrize("assumed", [10.2, 8.0])
def test_a_radius_that_is_hardly_known_is_measured(assumed: float) -> None:
    changed = seen_at(streaked(0.0), 10, AT)
    laid = laid_disc(changed, AT, assumed, keeps=0.1)
    kept = laid_disc(changed, AT, assumed, keeps=30.0)
    assert laid is not None
    assert kept is not None
    assert laid.radius == pytest.approx(RADIUS, abs=0.3)
    assert kept.radius == pytest.approx(assumed, abs=0.15)


def test_how_long_a_streak_is_can_be_measured() -> None:
    changed = seen_at(streaked(12.0), 10, AT)
    length = 8.0
    for _ in range(3):
        laid = laid_disc(changed, AT, RADIUS, np.array([length, 0.0]))
        assert laid is not None
        assert laid.streak is not None
        length = laid.streak.length
    assert length == pytest.approx(12.0, abs=1.0)
    still = laid_disc(changed, AT, RADIUS)
    assert still is not None
    assert still.streak is None


def test_the_exposure_is_learnt_from_fast_streaks_alone() -> None:
    exposure = Exposure()
    assert exposure.after(Streak(9.0, 50.0), 5.0) == exposure
    for speed in (20.0, 24.0, 28.0):
        exposure = exposure.after(Streak(0.8 * speed, 50.0), speed)
    assert exposure.share == pytest.approx(0.8, abs=0.02)
    assert 0 <= Exposure().after(Streak(60.0, 1e6), 20.0).share <= 1.0


def test_an_exposure_that_has_changed_is_learnt_anew() -> None:
    exposure = Exposure()
    for share in [0.8] * 60 + [0.2] * 20:
        exposure = exposure.after(Streak(share * 20.0, 50.0), 20.0)
    assert exposure.share < 0.45


def coloured(number: int) -> Changed:
    """A ball of the wall's brightness that differs from it in colour alone."""
    frames: list[tuple[int, Picture]] = []
    rng = np.random.default_rng(4)
    rows, columns = np.mgrid[: SIZE[0] // 2, : SIZE[1] // 2]
    for frame in range(20):
        grey = np.clip(wall()[40:220, 40:360] + rng.normal(0, 2, SIZE), 0, 255).astype(np.uint8)
        planes = [np.full((SIZE[0] // 2, SIZE[1] // 2), 128.0) for _ in range(2)]
        if frame == number:
            away = np.hypot(2 * columns + 0.5 - AT[0], 2 * rows + 0.5 - AT[1])
            covered = np.clip((RADIUS - away) / 2 + 0.5, 0, 1)
            planes = [128 + shade * covered for shade in (-40, 45)]
        u, v = (np.round(plane).astype(np.uint8) for plane in planes)
        frames.append((frame, Picture(grey, (u, v))))
    scene = Scene()
    for kept in watched(frames):
        scene.comes(kept)
    for _ in range(number + 1):
        scene.next()
    changed = scene.changed(round(AT[0]), round(AT[1]), 40)
    assert changed is not None
    return changed


def test_a_ball_as_bright_as_the_wall_is_laid_by_its_colour() -> None:
    laid = laid_disc(coloured(10), (AT[0] + 1.0, AT[1] - 1.0), RADIUS)
    assert laid is not None
    assert laid.support > 0.7
    assert off(laid.centre) < 0.6


@pytest.mark.parametrize(("rims", "told"), [(2, False), (3, True)])
def test_a_ball_on_a_thread_is_known_by_its_disc_once_its_radius_is(rims: int, told: bool) -> None:
    """With what hangs on it, it is not round; and it is too small for half a rim to tell it."""
    frames = streaked(0.0, radius=6.0)
    alone = blobs(seen_at(frames, 10, AT), radius=6)[0].rimmed(Disc(AT, 6.0, 1.0))
    outline = Outline.begun(alone, AT)
    for _ in range(rims - 1):
        outline = outline.learnt(alone, None, 0.0)
    x, y = (round(value) for value in AT)
    frames[10][1][y + 5 : y + 15, x : x + 1] = 230
    changed = seen_at(frames, 10, AT)
    piece = blobs(changed, radius=6)[0]
    found = with_rim(piece, changed, outline)
    assert off(piece.centre) > 0.7
    assert (found.disc is not None) == told
    if found.disc is not None:
        assert found.disc.assumed
        assert off(found.disc.centre) < 0.5


def test_where_nothing_is_no_disc_is_supported() -> None:
    for near in ((60.0, 60.0), (AT[0] + 24.0, AT[1])):
        laid = laid_disc(seen_at(streaked(0.0), 10, near), near, RADIUS)
        assert laid is None or laid.support < 0.3


def test_a_part_of_what_changed_is_the_same_there() -> None:
    changed = coloured(10)
    part = changed.around(165, 88, 30)
    assert laid_disc(part, AT, RADIUS) == laid_disc(changed, AT, RADIUS)
    assert part.here.shape == (61, 61)
    corner = changed.around(changed.left + 10, changed.top + 10, 30)
    assert (corner.left, corner.top) == (changed.left, changed.top)
    assert corner.here.shape == (41, 41)
    assert changed.around(round(AT[0]), round(AT[1]), 400).here.shape == changed.here.shape


def flying(speed: float, exposed: float) -> list[tuple[int, np.ndarray]]:
    """A ball that flies past the wall, from left to right, smeared by its motion."""
    rng = np.random.default_rng(6)
    behind = wall()[40:220, 40:360]
    frames = []
    for number in range(-6, 30):
        picture = np.zeros(SIZE)
        for part in (np.arange(24) + 0.5) / 24 - 0.5:
            moment = behind.copy()
            ball(moment, (30.0 + speed * (number + exposed * part), AT[1]))
            picture += moment / 24
        frames.append(np.clip(np.round(picture + rng.normal(0, 2, SIZE)), 0, 255).astype(np.uint8))
    return list(enumerate(frames))


@pytest.mark.parametrize(("exposed", "exact"), [(0.35, 0.5), (0.7, 0.78)])
def test_a_ball_that_is_smeared_by_its_flight_is_followed_in_its_middle(
    exposed: float, exact: float
) -> None:
    speed = 14.0
    frames = flying(speed, exposed)[8:]
    told = steps_of(frames, {0: Start(8, (30.0 + 2 * speed, AT[1]))})
    errors = [
        float(np.hypot(*np.subtract(step.place, (30.0 + speed * (frame - 6), AT[1]))))
        for (_, frame), step in told.items()
        if step.place is not None and frame < 24
    ]
    assert len(errors) >= 14
    assert np.median(errors) < exact
