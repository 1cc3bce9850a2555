"""Where a prediction stops matching, and which of two does better."""

import numpy as np
import pytest

from footing.core.prediction.judging import compared, rms, stops_matching

SIGMA = 0.002


def test_noise_is_seldom_taken_for_a_misfit() -> None:
    rng = np.random.default_rng(1)
    named = sum(
        stops_matching(rng.normal(scale=SIGMA, size=(60, 2)), SIGMA**2) is not None
        for _ in range(1000)
    )
    assert named <= 20  # 1 % is meant


def test_the_first_mark_that_leaves_the_noise_is_named() -> None:
    rng = np.random.default_rng(2)
    left = rng.normal(scale=SIGMA, size=(80, 2))
    left[50:, 1] += np.linspace(0, 0.05, 30)
    first = stops_matching(left, SIGMA**2)
    assert first is not None
    assert 50 <= first <= 57


def test_what_a_prediction_rests_on_is_allowed_for() -> None:
    rng = np.random.default_rng(3)
    left = rng.normal(scale=SIGMA, size=(60, 2)) + np.array([0.003, 0.0])
    assert stops_matching(left, SIGMA**2) is not None
    own = np.full((60, 2), 0.003**2)
    assert stops_matching(left, SIGMA**2, own) is None


def test_nothing_is_said_of_nothing() -> None:
    assert stops_matching(np.empty((0, 2)), 1.0) is None
    assert stops_matching(np.ones((5, 2)), 0.0) is None
    assert compared(np.ones((3, 2)), np.ones((3, 2)), 1.0) is None


def test_the_distance_is_what_is_averaged() -> None:
    assert rms(np.array([[3.0, 4.0], [0.0, 0.0]])) == pytest.approx(5 / np.sqrt(2))


def test_the_closer_prediction_is_told_where_they_differ_by_more_than_noise() -> None:
    rng = np.random.default_rng(4)
    noise = rng.normal(scale=SIGMA, size=(50, 2))
    bent = noise + np.stack([np.zeros(50), np.linspace(0, 0.02, 50)], axis=1)
    found = compared(bent, noise, SIGMA**2)
    assert found is not None
    assert found.differ
    assert found.z > 0
    turned = compared(noise, bent, SIGMA**2)
    assert turned is not None
    assert turned.z == pytest.approx(-found.z)
    same = compared(noise, noise, SIGMA**2)
    assert same is not None
    assert not same.differ


def test_predictions_closer_than_noise_are_seldom_told_apart() -> None:
    rng = np.random.default_rng(5)
    apart = 0
    for _ in range(500):
        noise = rng.normal(scale=SIGMA, size=(40, 2))
        found = compared(noise, noise + np.array([1e-5, 0.0]), SIGMA**2)
        assert found is not None
        apart += found.differ
    assert apart <= 15
