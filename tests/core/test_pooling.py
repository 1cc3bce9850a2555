"""Pooling against values that are worked out elsewhere, and against simulation."""

import numpy as np
import pytest
from scipy import stats

from footing.core.pooling import bins, outliers, pool

# velocity of light, km/s, as measured by three classic experiments (value, standard uncertainty);
# the weighted mean and χ² below were worked out by hand from Σx/u², Σ1/u²
VALUES = [299_990.0, 299_860.0, 299_796.0]
UNCERTAINTIES = [200.0, 30.0, 4.0]


def test_mean_and_its_errors_are_those_of_the_textbook() -> None:
    # 2, 4, 4, 4, 5, 5, 7, 9: mean 5, squares of the differences add up to 32
    found = pool([2, 4, 4, 4, 5, 5, 7, 9], [1] * 8)
    assert found.number == 8
    assert found.mean == pytest.approx(5)
    assert found.standard_deviation == pytest.approx((32 / 7) ** 0.5)
    assert found.standard_error == pytest.approx((32 / 7 / 8) ** 0.5)
    assert found.half_width == pytest.approx((32 / 7 / 8) ** 0.5 * stats.t.ppf(0.975, 7))


def test_the_weighted_mean_goes_with_the_most_certain() -> None:
    found = pool(VALUES, UNCERTAINTIES).weighted
    assert found is not None
    weights = [1 / 200**2, 1 / 30**2, 1 / 4**2]
    mean = sum(w * x for w, x in zip(weights, VALUES, strict=True)) / sum(weights)
    assert found.mean == pytest.approx(mean, abs=1e-6)
    assert found.uncertainty == pytest.approx(sum(weights) ** -0.5)
    chi = sum(w * (x - mean) ** 2 for w, x in zip(weights, VALUES, strict=True))
    assert found.chi_squared == pytest.approx(chi)
    assert (found.dof, found.probability) == (2, pytest.approx(stats.chi2.sf(chi, 2)))
    assert found.widened == pytest.approx(found.uncertainty * (chi / 2) ** 0.5)


def test_uncertainties_that_are_large_enough_are_not_widened() -> None:
    found = pool([1.0, 1.1, 0.9], [0.5, 0.5, 0.5]).weighted
    assert found is not None
    assert found.widened == found.uncertainty


def test_the_interval_of_the_mean_holds_the_truth_as_often_as_it_says() -> None:
    random = np.random.default_rng(20261129)
    held = 0
    for _ in range(2000):
        found = pool(list(random.normal(3.2, 0.3, 8)), [0.3] * 8)
        assert found.half_width is not None
        held += abs(found.mean - 3.2) <= found.half_width
    assert 0.935 < held / 2000 < 0.965


def test_of_a_single_value_there_is_no_scatter_and_of_none_there_is_nothing() -> None:
    found = pool([3.0], [0.1])
    assert (found.mean, found.standard_error, found.weighted) == (3.0, None, None)
    with pytest.raises(ValueError, match="nothing"):
        pool([], [])


def test_without_an_uncertainty_nothing_is_weighted() -> None:
    assert pool([1.0, 2.0], [0.1, 0.0]).weighted is None


def test_what_stands_out_is_named_and_nothing_else() -> None:
    honest = [1.62, 1.58, 1.65, 1.60, 1.57, 1.63, 1.61]
    assert outliers([*honest, 3.21]) == (7,)
    assert outliers(honest) == ()
    assert outliers([1.6, 1.6, 1.6, 1.6, 1.6, 2.4]) == (5,)
    assert outliers([1.6, 1.6, 1.6, 1.6, 1.6]) == ()
    assert outliers([1.6, 1.61, 9.0]) == ()  # of three nobody can say


def test_a_histogram_counts_every_value_once() -> None:
    values = list(np.random.default_rng(3).normal(0, 1, 40))
    found = bins(values)
    assert sum(count for *_, count in found) == 40
    assert [low for low, _, _ in found[1:]] == [high for _, high, _ in found[:-1]]
    assert len(bins([2.0])) >= 3
    assert sum(count for *_, count in bins([1.0, 1.0, 1.0, 50.0])) == 4
