import numpy as np
import pytest

from footing.core.timing import cadence, frame_position, study_times

TICK = 1 / 90_000


def test_even_frames_have_a_rate_and_do_not_vary() -> None:
    rhythm = cadence(np.arange(31) / 30, tick=TICK)
    assert rhythm.rate == pytest.approx(30)
    assert rhythm.duration == pytest.approx(1)
    assert not rhythm.variable


def test_rounding_to_the_files_clock_is_no_variation() -> None:
    coarse = 0.01  # at 30 frames/s the steps are 30 and 40 ms
    rhythm = cadence(np.round(np.arange(31) / 30 / coarse) * coarse, tick=coarse)
    assert not rhythm.variable


def test_a_step_a_fifth_longer_is_variation() -> None:
    steps = np.full(20, 1 / 30)
    steps[7] *= 1.2
    times = np.concatenate([[0], np.cumsum(steps)])
    assert cadence(times, tick=TICK).variable


def test_a_single_frame_has_no_rate() -> None:
    assert cadence(np.zeros(1), tick=TICK).rate == 0


def test_study_time_is_zero_at_the_zero_frame() -> None:
    times = study_times(np.array([0.0, 0.04, 0.10]), 1)
    assert times.tolist() == pytest.approx([-0.04, 0, 0.06])


def test_half_frames_lie_between_uneven_frames() -> None:
    assert frame_position(np.array([0.0, 0.04, 0.10]), 1.5) == pytest.approx(0.07)
