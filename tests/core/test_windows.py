"""Weighted sums over neighbouring marks, and what the errors of marks do to them."""

import numpy as np
import pytest

from footing.core.kinematics import differentiator
from footing.core.motion import Motion
from footing.core.windows import Windows

RANDOM = np.random.default_rng(7)
SHAPES = RANDOM.normal(size=(12, 2, 2))
WINDOWS = Windows.stacked(
    [
        Windows(np.array([0, 1]), RANDOM.normal(size=(2, 3)), 12),
        Windows(np.array([4, 7]), RANDOM.normal(size=(2, 5)), 12),
        Windows(np.array([11]), np.ones((1, 1)), 12),
    ],
    12,
)


def test_sums_are_those_of_the_matrix() -> None:
    values = RANDOM.normal(size=12)
    assert WINDOWS(values) == pytest.approx(WINDOWS.matrix @ values)
    assert WINDOWS.chosen(np.array([3, 0]))(values) == pytest.approx(WINDOWS(values)[[3, 0]])


@pytest.mark.parametrize("shapes", [None, SHAPES], ids=["round", "of any shape"])
def test_spread_is_that_of_the_full_covariance(shapes: np.ndarray | None) -> None:
    directions = RANDOM.normal(size=(2, 5))
    each = np.tile(np.eye(2), (12, 1, 1)) if shapes is None else shapes
    full = WINDOWS.matrix.toarray()
    by_errors = np.einsum("mn,am,nak->mnk", full, directions, each)
    expected = np.sqrt((by_errors**2).sum(axis=(1, 2)))
    assert WINDOWS.spread(directions, shapes) == pytest.approx(expected)


@pytest.mark.parametrize("shapes", [None, SHAPES], ids=["round", "of any shape"])
@pytest.mark.parametrize("key", ["v", "a", "s"])
def test_uncertainties_of_sizes_are_those_of_their_covariance(
    key: str, shapes: np.ndarray | None
) -> None:
    times = np.delete(np.arange(14), [5, 6]) * 0.1  # with a gap, which a distance crosses straight
    places = np.stack([3 * times, np.sin(4 * times)], axis=1)
    motion = Motion(
        times, places, heights=places[:, 1], position_uncertainty=0.01, error_shapes=shapes
    )
    covariance = motion.covariance(key)  # type: ignore[arg-type]
    assert covariance is not None
    expected = 0.01 * np.sqrt(np.diag(covariance.toarray()))
    assert motion.column(key).uncertainties == pytest.approx(expected)  # type: ignore[arg-type]


def test_a_stretch_without_values_has_no_windows() -> None:
    none = differentiator(np.array([0.0, 1.0]), order=1, window=3)
    assert none(np.array([1.0, 2.0])).shape == (0,)
    assert none.weights.shape == (0, 2)
