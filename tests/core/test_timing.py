import numpy as np
import pytest

from footing.core.timing import (
    Clock,
    cadence,
    frame_position,
    playing_rate,
    slow_motion,
    study_times,
    two_moments,
)

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


def test_slow_motion_runs_faster_than_it_plays() -> None:
    clock = Clock(slow_motion(240, 30))
    times = study_times(np.arange(9) / 30, 4, clock)
    assert times.tolist() == pytest.approx([(k - 4) / 240 for k in range(9)], abs=1e-12)


def test_a_clock_for_a_stretch_leaves_the_other_steps_alone() -> None:
    times = study_times(np.arange(6) * 1.0, 0, Clock(0.25, first=2, last=4))
    assert times.tolist() == pytest.approx([0, 1, 2, 2.25, 2.5, 3.5])


def test_two_moments_set_the_clock_and_its_uncertainty() -> None:
    file_times = np.arange(61) / 30
    k, relative = two_moments(0.5, 0.003, file_times, 0, 60)
    assert k == pytest.approx(0.25)
    rng = np.random.default_rng(5)
    n = 200_000
    true = rng.normal(0.5, 0.003, n)
    half = 1 / 60
    apart = 2.0 + rng.uniform(-half, half, n) - rng.uniform(-half, half, n)
    assert relative == pytest.approx(np.std(true / apart) / 0.25, rel=0.02)


@pytest.mark.parametrize("rate", [30, 60, 120])
def test_the_rate_of_a_file_that_counts_milliseconds_is_that_of_the_whole(rate: int) -> None:
    times = np.round(np.arange(300) / rate, 3)
    found, relative = playing_rate(times, first=0, last=299, tick=0.001)
    assert found == pytest.approx(rate, rel=3 * relative)
    assert relative < 3e-4
    assert 1 / np.median(np.diff(times)) != pytest.approx(rate, rel=5 * relative)
