"""Ranges of axes: everything is on them, their ends are round, and they do not mislead."""

from math import floor, log10

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from footing.core.axes import axis_range, rounded_out, typed_range

numbers = st.floats(-1e7, 1e7).map(lambda value: round(value, 6))
several = st.lists(numbers, min_size=1, max_size=40).map(np.array)


@given(values=several, include_zero=st.booleans(), uncertainty=st.floats(0, 100))
@example(values=np.array([0.0]), include_zero=False, uncertainty=5e-324)
def test_all_values_are_on_the_axis(
    values: np.ndarray, include_zero: bool, uncertainty: float
) -> None:
    shown = axis_range(values, include_zero=include_zero, uncertainty=uncertainty)
    slack = 1e-9 * (shown.high - shown.low)
    assert shown.low - slack <= values.min()
    assert values.max() <= shown.high + slack
    assert shown.low < shown.high
    if include_zero:
        assert shown.low <= 0 <= shown.high


@given(values=several)
def test_the_note_tells_where_an_axis_begins_that_does_not_show_zero(values: np.ndarray) -> None:
    shown = axis_range(values, include_zero=False)
    assert (shown.note is None) == (shown.low <= 0 <= shown.high)


@given(low=st.floats(-1e6, 1e6), size=st.floats(1e-3, 1e6))
def test_ends_are_multiples_of_a_round_step_except_at_zero(low: float, size: float) -> None:
    low, high = round(low, 6), round(low + size, 6)
    ends = rounded_out(low, high)
    power = 10.0 ** floor(log10((high - low) / 10))
    steps = [factor * power for factor in (1, 2, 5, 10)]

    def is_round(end: float) -> bool:
        return any(abs(end / step - round(end / step)) < 1e-6 for step in steps)

    assert all(is_round(end) for end, data in zip(ends, (low, high), strict=True) if data != 0)
    assert ends[1] - ends[0] < 1.8 * (high - low) + 1e-9


def test_zero_is_shown_where_it_costs_little_and_not_where_it_hides_the_data() -> None:
    assert axis_range(np.array([1.0, 3.0]), include_zero=False).note is None
    far = axis_range(np.array([98.0, 102.0]), include_zero=False)
    assert far.low > 90
    assert far.note is not None
    assert axis_range(np.array([98.0, 102.0]), include_zero=True).low < 0.1


def test_what_is_constant_within_its_uncertainty_is_not_blown_up() -> None:
    wiggles = 0.431 + np.array([0, 1, -1, 0.5]) * 1e-4
    honest = axis_range(wiggles, include_zero=False, uncertainty=1e-3)
    blown_up = axis_range(wiggles, include_zero=False)
    assert honest.high - honest.low >= 12e-3
    assert blown_up.high - blown_up.low < 1e-3
    one = axis_range(np.array([5.0]), include_zero=False)
    assert (one.low, one.high) != (5.0, 5.0)


def test_an_axis_without_data_runs_from_zero_to_one() -> None:
    assert axis_range(np.empty(0), include_zero=False) == typed_range(0.0, 1.0)


@pytest.mark.parametrize(
    ("low", "high", "note"), [(-1, 1, None), (0, 5, None), (2, 4, "2.00"), (-9, -3, "−3.00")]
)
def test_typed_ends_are_kept_as_they_are(low: float, high: float, note: str | None) -> None:
    shown = typed_range(low, high)
    assert (shown.low, shown.high, shown.note) == (low, high, note)
