import numpy as np
import pytest

from footing.core.following import Patch, correlation, matched


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


@pytest.mark.parametrize(("dx", "dy"), [(0.0, 0.0), (5.0, -3.0), (7.3, 4.6), (-11.45, 0.2)])
def test_a_moved_patch_is_found_to_a_tenth_of_a_pixel(dx: float, dy: float) -> None:
    patch = Patch.around(textured().astype(np.uint8), (100.4, 80.2))
    found = matched(np.round(shifted(dx, dy)).astype(np.uint8), patch, near=(100.4, 80.2))
    assert found == pytest.approx((100.4 + dx, 80.2 + dy), abs=0.1)


def test_brightness_and_contrast_do_not_matter() -> None:
    patch = Patch.around(textured().astype(np.uint8), (100.0, 80.0))
    dimmed = (0.5 * shifted(4, 2) + 20).astype(np.uint8)
    assert matched(dimmed, patch, near=(100, 80)) == pytest.approx((104, 82), abs=0.1)


def test_what_is_not_there_is_not_found() -> None:
    patch = Patch.around(textured().astype(np.uint8), (100.0, 80.0))
    assert matched(textured(seed=9).astype(np.uint8), patch, near=(100, 80)) is None


def test_what_moved_too_far_is_not_found() -> None:
    patch = Patch.around(textured().astype(np.uint8), (100.0, 80.0))
    assert matched(shifted(60, 0).astype(np.uint8), patch, near=(100, 80)) is None


def test_correlation_is_that_of_the_textbook() -> None:
    rng = np.random.default_rng(3)
    area, patch = rng.normal(size=(9, 8)), rng.normal(size=(4, 5))
    scores = correlation(area, patch)
    assert scores.shape == (6, 4)
    view = area[2:6, 1:6]
    expected = np.corrcoef(view.ravel(), patch.ravel())[0, 1]
    assert scores[2, 1] == pytest.approx(expected)
