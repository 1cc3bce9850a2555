import numpy as np
import pytest

from footing.core.kinematics import differentiator, gaps, mark_scatter
from footing.core.motion import Motion

UNEVEN = np.array([0.0, 0.03, 0.08, 0.10, 0.15, 0.19, 0.22, 0.28])


def test_three_even_marks_give_the_central_difference() -> None:
    times = np.arange(6) * 0.1
    x = np.array([0.0, 1.0, 4.0, 2.0, 7.0, 5.0])
    velocity = differentiator(times, order=1, window=3)(x)
    assert velocity[1:-1] == pytest.approx((x[2:] - x[:-2]) / 0.2, rel=1e-12)


@pytest.mark.parametrize("window", [3, 5, 7])
def test_a_parabola_is_differentiated_exactly_on_uneven_times(window: int) -> None:
    x = 2 + 3 * UNEVEN - 4.9 * UNEVEN**2
    velocity = differentiator(UNEVEN, order=1, window=window)(x)
    acceleration = differentiator(UNEVEN, order=2, window=window)(x)
    assert velocity == pytest.approx(3 - 9.8 * UNEVEN, abs=1e-9)
    assert acceleration == pytest.approx(np.full(8, -9.8), abs=1e-7)


def test_values_at_the_ends_are_marked() -> None:
    at_end = differentiator(UNEVEN, order=2, window=5).at_end
    assert at_end.tolist() == [True, True, False, False, False, False, True, True]


def test_no_derivative_crosses_a_gap() -> None:
    times = np.array([0, 1, 2, 3, 10, 11, 12], dtype=float)
    assert gaps(times).tolist() == [3]
    x = np.where(times < 5, 0.0, 100.0)
    assert differentiator(times, order=1, window=3)(x) == pytest.approx(np.zeros(7), abs=1e-9)


def test_two_marks_have_no_velocity() -> None:
    assert len(differentiator(np.array([0.0, 1.0]), order=1, window=3).index) == 0


def test_a_short_stretch_uses_the_largest_odd_window_that_fits() -> None:
    times = np.arange(4) * 0.1
    weights = differentiator(times, order=2, window=5).weights.toarray()
    assert (np.count_nonzero(weights, axis=1) == 3).all()


def test_marking_uncertainty_carries_over_to_the_scatter_of_velocities() -> None:
    derivative = differentiator(UNEVEN, order=1, window=3)
    rng = np.random.default_rng(2)
    noisy = rng.normal(scale=0.004, size=(20_000, len(UNEVEN)))
    scatter = np.array([derivative(one) for one in noisy]).std(axis=0)
    assert derivative.uncertainty(0.004) == pytest.approx(scatter, rel=0.05)


def test_speed_joins_both_components_and_its_covariance_follows_the_motion() -> None:
    times = np.arange(9) * 0.1
    positions = np.stack([3 * times, 4 * times], axis=1)
    motion = Motion(times, positions, heights=positions[:, 1], position_uncertainty=1e-5)
    speed = motion.column("v")
    assert speed.values == pytest.approx(np.full(9, 5.0))
    covariance = motion.covariance("v")
    along_x = motion.covariance("vx")
    assert covariance is not None
    assert along_x is not None
    assert covariance.toarray() == pytest.approx(along_x.toarray(), abs=1e-6)


@pytest.mark.parametrize("order", [0, 3])
def test_a_quadratic_has_no_other_derivative(order: int) -> None:
    with pytest.raises(ValueError, match=f"order {order}"):
        differentiator(UNEVEN, order=order, window=5)


@pytest.mark.parametrize("noise", [0.1, 0.5, 2.0])
def test_marks_show_how_far_they_scatter_whatever_the_motion(noise: float) -> None:
    rng = np.random.default_rng(4)
    times = np.cumsum(rng.uniform(0.02, 0.05, size=400))
    bounce = np.abs((times % 2.0) - 1.0) * 300
    path = np.stack([900 * times, bounce], axis=1) + rng.normal(scale=noise, size=(400, 2))
    variance, dof = mark_scatter(times, path)
    assert np.sqrt(variance) == pytest.approx(noise, rel=0.1)
    assert 200 < dof < 800


def test_positions_do_not_share_marks() -> None:
    motion = Motion(np.arange(5.0), np.zeros((5, 2)), heights=np.zeros(5), position_uncertainty=1)
    assert motion.covariance("y") is None
