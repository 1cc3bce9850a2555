"""Covariances as bands, against the same in full."""

import numpy as np
import pytest
from scipy import sparse

from footing.core.covariances import Covariance
from footing.core.kinematics import differentiator
from footing.core.motion import Motion

TIMES = np.cumsum(np.random.default_rng(1).uniform(0.02, 0.05, size=40))
SUMMED = sparse.csr_array(np.tri(40) @ np.diag(TIMES))
KINDS = {
    "velocities": differentiator(TIMES, order=1, window=3).weights,
    "accelerations": differentiator(TIMES, order=2, window=5).weights,
    "sums": SUMMED,
    "products of sums": sparse.diags_array(TIMES) @ SUMMED,
    "each by itself": sparse.diags_array(TIMES),
}


def least_squares(design: np.ndarray, y: np.ndarray, full: np.ndarray) -> np.ndarray:
    """Values and covariance of generalised least squares by the pseudo-inverse."""
    inverse = np.linalg.pinv(full, rcond=1e-10, hermitian=True)
    normal = design.T @ inverse @ design
    return np.concatenate(
        [np.linalg.solve(normal, design.T @ inverse @ y), np.linalg.inv(normal).ravel()]
    )


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("rows", [np.arange(40), np.arange(5, 31), np.arange(1, 40, 3)])
def test_whitened_least_squares_are_those_with_the_full_covariance(
    kind: str, rows: np.ndarray
) -> None:
    slopes = KINDS[kind]
    covariance = Covariance.of_slopes(slopes).chosen(rows)
    full = (slopes @ slopes.T).toarray()[np.ix_(rows, rows)]
    assert covariance.toarray() == pytest.approx(full, rel=1e-9, abs=1e-9 * full.max())
    assert covariance.variances == pytest.approx(np.diag(full), rel=1e-9)
    # what those of the marks can be: a straight line in time
    marks = np.random.default_rng(3).normal(size=slopes.shape[1])
    design = (slopes @ np.stack([np.ones(slopes.shape[1]), TIMES, TIMES**2], axis=1))[rows]
    design = design[:, np.abs(design).max(axis=0) > 1e-9]
    y = (slopes @ marks)[rows]
    white = covariance.whitener()
    found = least_squares(white(design), white(y), np.eye(white.count))
    assert found == pytest.approx(least_squares(design, y, full), rel=1e-5, abs=1e-7)


def test_values_that_others_determine_say_nothing_new() -> None:
    weights = KINDS["accelerations"]  # the first three, and the last, are of one parabola
    white = Covariance.of_slopes(weights).whitener()
    assert white.count == np.linalg.matrix_rank(weights.toarray()) == 36


def test_parts_that_are_added_up_and_parts_that_are_not_go_together() -> None:
    sums, each = (Covariance.of_slopes(KINDS[kind]) for kind in ("sums", "each by itself"))
    assert sums.summed
    assert not each.summed
    together = sums.plus(each).scaled(TIMES)
    expected = (sums.toarray() + each.toarray()) * np.outer(TIMES, TIMES)
    assert together.toarray() == pytest.approx(expected)
    white = together.chosen(np.arange(3, 20)).whitener()
    assert white(np.eye(17)) @ expected[3:20, 3:20] @ white(np.eye(17)).T == pytest.approx(
        np.eye(17), abs=1e-6
    )


def test_columns_of_a_long_film_stay_narrow() -> None:
    """A dense covariance of 20 000 marks would be 3 GB."""
    n = 20_000
    times = np.arange(n) / 240
    path = np.stack([500 * times, 80 * np.sin(times)], axis=1)
    motion = Motion(times, path, heights=path[:, 1], position_uncertainty=0.5)
    for key in ("vx", "v", "ay", "s", "mx"):
        covariance = motion.covariance(key)  # type: ignore[arg-type]
        assert covariance is not None
        assert covariance.whitener().lower.size < 40 * n
