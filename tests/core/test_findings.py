from math import inf, sqrt

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from footing.core import findings
from footing.core.findings import Contribution, number, numbers


@pytest.mark.parametrize(
    ("value", "uncertainty", "unit", "text"),
    [
        (-9.793, 0.0531, "m/s²", "−9.79 ± 0.05 m/s²"),
        (-9.793, 0.0961, "m/s²", "−9.79 ± 0.10 m/s²"),
        (2.0, 0.0123, "m", "2.000 ± 0.012 m"),
        (99.96, 0.5, "", "100.0 ± 0.5"),
        (123456, 1234, "m", "(1.235 ± 0.012)×10⁵ m"),
        (0.0001234, 0.0000019, "", "(1.234 ± 0.019)×10⁻⁴"),
        (0.0, 3, "px", "0 ± 3 px"),
        (-0.001, 0.3, "m", "0.0 ± 0.3 m"),
        (5.4321, 0, "m", "5.432 m"),
    ],
)
def test_value_is_rounded_to_its_uncertainty(value, uncertainty, unit, text) -> None:
    assert findings.measured(value, uncertainty, unit) == text


@pytest.mark.parametrize(
    ("value", "uncertainty", "text"),
    [
        (9.81, 0.03, "0.03"),
        (-1.5017, 0.0012, "0.0012"),
        (0.00002, 0.0003, "3×10⁻⁴"),
        (6.02e23, 4e20, "0.004×10²³"),
        (9.81, 0.0, ""),
        (9.81, inf, ""),
    ],
)
def test_an_uncertainty_alone_has_the_digits_that_it_has_beside_its_value(
    value: float, uncertainty: float, text: str
) -> None:
    assert findings.stated(value, uncertainty) == text


def test_contributions_combine_in_squares() -> None:
    result = findings.combine(9.8, (Contribution("fit", 0.03, 10), Contribution("scale", 0.04)))
    assert result.uncertainty == pytest.approx(0.05)


def test_effective_degrees_of_freedom_widen_the_interval() -> None:
    """JCGM 100 G.4.1: u⁴/(u₁⁴/ν₁) = 0.05⁴/(0.03⁴/3) = 23.1; t(0.95; 23.1) = 2.067."""
    result = findings.combine(9.8, (Contribution("fit", 0.03, 3), Contribution("scale", 0.04)))
    assert result.half_width / result.uncertainty == pytest.approx(2.067, abs=0.002)


def test_scale_alone_has_the_normal_interval() -> None:
    result = findings.combine(1.0, (Contribution("scale", 0.1),))
    assert result.half_width == pytest.approx(0.196, abs=1e-4)


@pytest.mark.parametrize(
    ("value", "verdict"), [(9.9, "agrees"), (9.93, "doubtful"), (9.97, "disagrees")]
)
def test_agreement_is_judged_in_uncertainties(value: float, verdict: str) -> None:
    measured = findings.combine(value, (Contribution("fit", 0.05),))
    assert findings.compare(measured, 9.81).verdict == verdict


def test_the_accepted_uncertainty_counts_too() -> None:
    measured = findings.combine(10.1, (Contribution("fit", 0.03),))
    compared = findings.compare(measured, 10.0, accepted_uncertainty=0.04)
    assert compared.distance == pytest.approx(0.1 / sqrt(0.03**2 + 0.04**2))


def test_percent_error_keeps_its_sign_and_uses_the_size_of_the_accepted_value() -> None:
    low = findings.combine(-9.7, (Contribution("fit", 0.05),))
    compared = findings.compare(low, -10.0)
    assert compared.percent_error == pytest.approx(3)
    assert not compared.opposite_sign
    assert findings.compare(low, 10.0).opposite_sign


def test_no_percent_error_for_an_accepted_zero() -> None:
    measured = findings.combine(0.1, (Contribution("fit", 0.05),))
    assert findings.compare(measured, 0.0).percent_error is None


def test_exact_values_that_differ_are_infinitely_far_apart() -> None:
    assert findings.compare(findings.combine(1.0, ()), 2.0).distance == inf


@pytest.mark.parametrize(
    ("values", "uncertainty", "decimals"),
    [([0.001, 0.002], 0.0004, 4), ([1.5, 3.0], 0.02, 2), ([500.0], 3.0, 0)],
)
def test_digits_of_a_column_follow_its_uncertainty(values, uncertainty, decimals) -> None:
    u = np.full(len(values), uncertainty)
    assert findings.column_decimals(np.array(values), u) == decimals


def test_a_column_of_small_values_never_shows_as_zeros() -> None:
    values = np.array([0.000012, 0.000034])
    decimals = findings.column_decimals(values, np.zeros(2))
    assert findings.number(values[0], decimals) != findings.number(0.0, decimals)


@given(
    values=st.lists(st.floats(-1e6, 1e6) | st.just(-0.0) | st.just(-0.0004), max_size=30),
    decimals=st.integers(-2, 9),
)
def test_many_numbers_are_printed_like_one(values: list[float], decimals: int) -> None:
    assert numbers(values, decimals) == [number(value, decimals) for value in values]


def test_few_degrees_of_freedom_make_the_verdict_as_careful_as_the_interval() -> None:
    """A true value is called wrong about as often with five marks as with many."""
    rng = np.random.default_rng(6)
    for marks in (5, 8, 60):
        said = []
        for _ in range(3000):
            sample = rng.normal(loc=9.81, scale=0.2, size=marks)
            part = Contribution("fit", float(sample.std(ddof=1)) / np.sqrt(marks), marks - 1)
            said.append(
                findings.compare(findings.combine(float(sample.mean()), (part,)), 9.81).verdict
            )
        assert said.count("disagrees") / len(said) < 0.008
        assert 0.93 < said.count("agrees") / len(said) < 0.975


def test_what_is_no_number_says_so() -> None:
    assert findings.significant(float("nan")) == "undefined"
    assert findings.measured(3.0, float("inf")) == "3.000 ± ∞"
    assert findings.measured(float("-inf"), 1.0, "m") == "−∞ m"


@pytest.mark.parametrize(
    ("value", "uncertainty", "digits", "said"),
    [
        (-9.7987, 0.0512, 5, "−9.7987 ± 0.0512"),
        (-9.7987, 0.0512, 2, "−9.8 ± 0.05"),
        (1.2345e-7, 2e-10, 3, "(1.23 ± 0.002)×10⁻⁷"),
        (123456.0, 0.0, 4, "1.235×10⁵"),
    ],
)
def test_chosen_digits(value: float, uncertainty: float, digits: int, said: str) -> None:
    assert findings.measured_to(value, uncertainty, digits) == said
