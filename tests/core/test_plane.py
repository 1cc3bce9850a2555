import numpy as np
import pytest

from footing.core.errors import Refused
from footing.core.ground import Axes
from footing.core.plane import fitted_plane, rectangle

# a camera 3 m above a rink that looks down at a slant: an independent projection of the plane
CAMERA = np.array([1.0, -4.0, 3.0])
FOCAL, MIDDLE = 1400.0, np.array([640.0, 360.0])


def projected(places) -> np.ndarray:
    """Pixels of places on the plane z = 0, through a pinhole camera aimed at (1, 1.5)."""
    forward = np.array([1.0, 1.5, 0.0]) - CAMERA
    forward /= np.linalg.norm(forward)
    right = np.cross(forward, [0.0, 0.0, 1.0])
    right /= np.linalg.norm(right)
    down = np.cross(forward, right)
    rays = np.hstack([np.array(places), np.zeros((len(places), 1))]) - CAMERA
    depth = rays @ forward
    return MIDDLE + FOCAL * np.stack([rays @ right, rays @ down], axis=1) / depth[:, None]


def pixels_of(places) -> tuple[tuple[float, float], ...]:
    return tuple((float(x), float(y)) for x, y in projected(places))


SIDES = rectangle(2.0, 3.0)
ELSEWHERE = [(0.3, 0.4), (1.7, 2.2), (2.5, 1.0), (-0.5, 3.5)]


def test_four_corners_give_every_place_exactly() -> None:
    plane = fitted_plane(pixels_of(SIDES), SIDES, pixel_uncertainty=0.5)
    assert plane.flat(projected(ELSEWHERE)) == pytest.approx(np.array(ELSEWHERE), abs=1e-9)
    assert plane.pixels(np.array(ELSEWHERE)) == pytest.approx(projected(ELSEWHERE), abs=1e-7)
    assert plane.scatter is None


def test_positions_go_through_it_with_zero_and_axes() -> None:
    plane = fitted_plane(pixels_of(SIDES), SIDES, pixel_uncertainty=0.5)
    zero = pixels_of([(1.0, 1.0)])[0]
    world = Axes(zero, np.radians(30)).to_world(
        projected([(1 + np.cos(0.6), 1 + np.sin(0.6))]), plane
    )
    turned = 0.6 - np.radians(30)
    assert world[0] == pytest.approx([np.cos(turned), np.sin(turned)], abs=1e-9)


def test_errors_of_marks_lie_as_draws_of_noisy_marks_do() -> None:
    """Each place and each direction has its own: far from the camera a pixel is a long way."""
    plane = fitted_plane(pixels_of(SIDES), SIDES, pixel_uncertainty=0.5)
    at = projected(ELSEWHERE)
    rng = np.random.default_rng(3)
    drawn = np.array([plane.flat(at + rng.normal(scale=0.5, size=at.shape)) for _ in range(4000)])
    stated = 0.5 * plane.per_pixel(at) * np.linalg.norm(plane.error_shapes(at), axis=2)
    assert stated == pytest.approx(drawn.std(axis=0), rel=0.05)
    assert stated.max() > 2 * stated.min()


def test_its_uncertainties_equal_the_scatter_of_noisy_draws() -> None:
    rng = np.random.default_rng(3)
    exact = projected(SIDES)
    at = pixels_of([(1.2, 1.8)])[0]
    places, lengths = [], []
    for _ in range(2000):
        noisy = tuple(map(tuple, exact + rng.normal(scale=0.5, size=exact.shape)))
        plane = fitted_plane(noisy, SIDES, pixel_uncertainty=0.5)
        places.append(plane.flat(np.array([at]))[0])
        here = np.array([at, (at[0], at[1] - 2.0)])  # along the second side
        lengths.append(float(np.diff(plane.flat(here)[:, 1])[0]))
    plane = fitted_plane(pixels_of(SIDES), SIDES, pixel_uncertainty=0.5)
    larger = np.sqrt(np.linalg.eigvalsh(np.cov(np.array(places).T)).max())
    assert plane.place_uncertainty(at) == pytest.approx(larger, rel=0.06)
    relative = np.std(lengths) / abs(np.mean(lengths))
    assert plane.relative_uncertainty(np.array([at])) == pytest.approx(relative, rel=0.1)


def test_typed_sides_enter_and_a_misplaced_point_makes_everything_less_sure() -> None:
    at = np.array(pixels_of([(1.2, 1.8)]))
    how = {"pixel_uncertainty": 0.5}
    sharp = fitted_plane(pixels_of(SIDES), SIDES, **how).relative_uncertainty(at)
    typed = fitted_plane(pixels_of(SIDES), SIDES, side_uncertainties=(0.1, 0.01), **how)
    assert typed.relative_uncertainty(at) > 0.04  # of a side of two metres
    known = (*SIDES, (1.0, 1.5), (1.5, 2.0))
    seen = list(pixels_of(known))
    sound = fitted_plane(tuple(seen), known, **how).relative_uncertainty(at)
    seen[5] = (seen[5][0] + 20, seen[5][1])
    off = fitted_plane(tuple(seen), known, **how).relative_uncertainty(at)
    assert sound <= sharp * 1.15
    assert off > 8 * sound


def test_a_fifth_point_gives_residuals_in_units_of_length() -> None:
    known = (*SIDES, (1.0, 1.5), (1.0, 3.0))
    shifted = np.array(projected(known))
    shifted[4] += [6.0, 0.0]
    plane = fitted_plane(tuple(map(tuple, shifted)), known, pixel_uncertainty=0.5)
    worst = np.hypot(*plane.residuals.T)
    assert plane.scatter is not None
    assert worst.argmax() == 4
    direct = np.hypot(*(plane.flat(shifted) - np.array(known)).T)
    assert worst == pytest.approx(direct, abs=1e-12)


def test_more_points_lie_least_apart_in_the_plane() -> None:
    rng = np.random.default_rng(8)
    known = np.array([*SIDES, *ELSEWHERE])
    noisy = projected(known) + rng.normal(scale=1.5, size=known.shape)
    plane = fitted_plane(tuple(map(tuple, noisy)), tuple(map(tuple, known)), pixel_uncertainty=1.5)
    least = np.sum(plane.residuals**2)
    here = (noisy - plane._centre) / plane._size
    for k in range(8):
        for step in (-1e-4, 1e-4):
            other = plane.matrix.copy()
            other.ravel()[k] += step
            spread = np.hstack([here, np.ones((len(here), 1))]) @ other.T
            assert np.sum((known - spread[:, :2] / spread[:, 2:]) ** 2) > least


@pytest.mark.parametrize(
    ("pixels", "message"),
    [
        (pixels_of(SIDES[:3]), "there are 3"),
        (
            (*pixels_of(SIDES[:2]), pixels_of([(4.0, 0.0)])[0], pixels_of([(0.0, 3.0)])[0]),
            "one line",
        ),
        (tuple(pixels_of(SIDES)[k] for k in (0, 2, 1, 3)), "in order"),
    ],
)
def test_corners_that_cannot_be_are_refused(pixels, message) -> None:
    with pytest.raises(Refused, match=message):
        fitted_plane(pixels, SIDES[: len(pixels)], pixel_uncertainty=0.5)
