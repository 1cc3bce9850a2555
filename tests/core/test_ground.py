import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from footing.core.errors import Refused
from footing.core.ground import Axes, KnownLength, combined_scale, scale_of

POLE = KnownLength((100.0, 50.0), (400.0, 450.0), 2.0, 0.006)
pixel = st.floats(-5000, 5000)


def test_scale_is_length_over_pixels() -> None:
    assert scale_of(POLE).value == pytest.approx(2.0 / 500, rel=1e-12)


def test_scale_uncertainty_equals_the_scatter_of_noisy_draws() -> None:
    rng = np.random.default_rng(4)
    n = 10_000
    ends = np.array([POLE.start, POLE.end]) + rng.normal(scale=0.5, size=(n, 2, 2))
    lengths = 2.0 + rng.normal(scale=0.006, size=n)
    scales = lengths / np.hypot(*(ends[:, 1] - ends[:, 0]).T)
    assert scale_of(POLE).uncertainty == pytest.approx(scales.std(), rel=0.05)


def test_ends_in_one_place_are_refused() -> None:
    with pytest.raises(Refused, match="one place"):
        scale_of(KnownLength((5.0, 5.0), (5.2, 5.0), 1.0, 0.01))


def test_no_known_length_gives_no_scale() -> None:
    assert combined_scale([]) is None


def test_two_known_lengths_combine_by_weight() -> None:
    rough = KnownLength((0.0, 0.0), (100.0, 0.0), 0.4, 0.02)
    both = combined_scale([POLE, rough])
    alone = scale_of(POLE)
    assert both is not None
    assert both.uncertainty < alone.uncertainty
    assert both.value == pytest.approx(alone.value, rel=0.001)
    assert not both.disagree


def test_known_lengths_that_differ_too_much_disagree() -> None:
    wrong = KnownLength((0.0, 0.0), (500.0, 0.0), 2.2, 0.006)
    both = combined_scale([POLE, wrong])
    assert both is not None
    assert both.disagree


def test_plain_axes_have_y_up() -> None:
    world = Axes(zero=(100.0, 200.0)).to_world(np.array([[103.0, 196.0]]), scale=0.5)
    assert world.tolist() == [[1.5, 2.0]]


def test_axes_along_a_slope_put_the_slope_on_x() -> None:
    slope = np.radians(-12)  # downhill to the right
    down = np.array([np.cos(slope), -np.sin(slope)])  # in pixels, y down
    axes = Axes(zero=(10.0, 20.0), angle=slope)
    world = axes.to_world(np.array([[10.0, 20.0]]) + 300 * down, scale=0.01)
    assert world == pytest.approx(np.array([[3.0, 0.0]]), abs=1e-12)


def test_each_flip_turns_its_own_axis_only() -> None:
    point = np.array([[103.0, 196.0]])
    plain = Axes((100.0, 200.0)).to_world(point)
    down = Axes((100.0, 200.0), flip_y=True).to_world(point)
    left = Axes((100.0, 200.0), flip_x=True).to_world(point)
    assert down.tolist() == (plain * [1, -1]).tolist()
    assert left.tolist() == (plain * [-1, 1]).tolist()


@given(
    zero=st.tuples(pixel, pixel),
    angle=st.floats(-7, 7),
    flips=st.tuples(st.booleans(), st.booleans()),
    scale=st.floats(1e-5, 10),
    point=st.tuples(pixel, pixel),
)
def test_world_and_pixels_are_inverse(zero, angle, flips, scale, point) -> None:
    axes = Axes(zero, angle, *flips)
    world = axes.to_world(np.array([point]), scale=scale)
    back = axes.to_pixels(world, scale=scale)
    assert back == pytest.approx(np.array([point]), abs=1e-8)
    distance = np.hypot(*(np.array(point) - zero))
    assert np.hypot(*world[0]) == pytest.approx(scale * distance, abs=1e-9, rel=1e-9)
