import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from footing.core.errors import Refused
from footing.core.ground import (
    Axes,
    KnownLength,
    Square,
    axes_along,
    combined_scale,
    direction_of_line,
    heights,
    scale_of,
    turned_view,
    up_from_line,
)

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


def test_what_is_nearer_than_the_motion_is_corrected_by_the_ratio_of_distances() -> None:
    nearer = KnownLength(POLE.start, POLE.end, 2.0, 0.006, nearer=1.0, camera_distance=5.0)
    assert scale_of(nearer).value == pytest.approx(2.0 / 500 * 5 / 4, rel=1e-12)


def test_depth_matters_only_with_the_distance_of_the_camera() -> None:
    assert scale_of(KnownLength(POLE.start, POLE.end, 2.0, 0.006, nearer=1.0)) == scale_of(POLE)


def test_a_known_length_behind_the_camera_is_refused() -> None:
    with pytest.raises(Refused, match="behind"):
        scale_of(KnownLength(POLE.start, POLE.end, 2.0, 0.006, nearer=5.0, camera_distance=5.0))


def test_disagreement_names_how_far_the_odd_one_lies() -> None:
    odd = KnownLength((0.0, 0.0), (500.0, 0.0), 2.2, 0.006)
    twin = KnownLength((0.0, 9.0), (500.0, 9.0), 2.0, 0.006)
    both = combined_scale([POLE, twin, odd])
    assert both is not None
    assert np.argmax(np.abs(both.apart)) == 2
    own = [scale_of(one) for one in (POLE, twin, odd)]
    rest = combined_scale([POLE, twin])
    assert rest is not None
    expected = (own[2].value - rest.value) / np.hypot(own[2].uncertainty, rest.uncertainty)
    assert both.apart[2] == pytest.approx(expected, rel=1e-9)


def world_by_complex_numbers(p, zero, *, scale, angle, flips, quarter, mirror):
    """The same mapping, written independently: y up, turned clockwise by multiplying with −i."""
    offset = complex(p[0] - zero[0], -(p[1] - zero[1]))
    if mirror:
        offset = complex(-offset.real, offset.imag)
    offset *= (-1j) ** (quarter // 90)
    turned = scale * offset * np.exp(-1j * angle)
    return [turned.real * (-1 if flips[0] else 1), turned.imag * (-1 if flips[1] else 1)]


def test_plain_axes_have_y_up() -> None:
    world = Axes(zero=(100.0, 200.0)).to_world(np.array([[103.0, 196.0]]), Square(0.5))
    assert world.tolist() == [[1.5, 2.0]]


def test_axes_along_a_slope_put_the_slope_on_x() -> None:
    slope = np.radians(-12)  # downhill to the right
    down = np.array([np.cos(slope), -np.sin(slope)])  # in pixels, y down
    axes = Axes(zero=(10.0, 20.0), angle=slope)
    world = axes.to_world(np.array([[10.0, 20.0]]) + 300 * down, Square(0.01))
    assert world == pytest.approx(np.array([[3.0, 0.0]]), abs=1e-12)


def test_each_flip_turns_its_own_axis_only() -> None:
    point = np.array([[103.0, 196.0]])
    plain = Axes((100.0, 200.0)).to_world(point, Square())
    down = Axes((100.0, 200.0), flip_y=True).to_world(point, Square())
    left = Axes((100.0, 200.0), flip_x=True).to_world(point, Square())
    assert down.tolist() == (plain * [1, -1]).tolist()
    assert left.tolist() == (plain * [-1, 1]).tolist()


def test_a_quarter_turn_clockwise_takes_the_top_to_the_right() -> None:
    assert (turned_view(90, mirror=False) @ [0.0, -1.0]).tolist() == [1.0, 0.0]


def test_a_mirror_changes_left_and_right_only() -> None:
    assert (turned_view(0, mirror=True) @ [3.0, 4.0]).tolist() == [-3.0, 4.0]


@given(
    zero=st.tuples(pixel, pixel),
    angle=st.floats(-7, 7),
    flips=st.tuples(st.booleans(), st.booleans()),
    scale=st.floats(1e-5, 10),
    point=st.tuples(pixel, pixel),
    quarter=st.sampled_from([0, 90, 180, 270]),
    mirror=st.booleans(),
)
def test_ground_arithmetic_is_exact(zero, angle, flips, scale, point, quarter, mirror) -> None:
    axes, flattening = Axes(zero, angle, *flips), Square(scale, quarter, mirror)
    world = axes.to_world(np.array([point]), flattening)
    exact = world_by_complex_numbers(
        point, zero, scale=scale, angle=angle, flips=flips, quarter=quarter, mirror=mirror
    )
    assert world[0] == pytest.approx(exact, rel=1e-9, abs=1e-9)
    assert axes.to_pixels(world, flattening) == pytest.approx(np.array([point]), abs=1e-8)


def test_height_is_height_whatever_the_axes_do() -> None:
    point, zero = np.array([[250.0, 40.0]]), (10.0, 140.0)
    height = heights(point, Square(0.01), up=np.pi / 2, zero=zero)
    assert height.tolist() == pytest.approx([1.0])


def test_height_along_a_levelled_up() -> None:
    tilt = np.radians(5.0)  # the camera leant: level runs up to the right
    level = (10.0, 140.0), (10.0 + 100 * np.cos(tilt), 140.0 - 100 * np.sin(tilt))
    up, kind = up_from_line(direction_of_line(*level, Square()))
    assert kind == "level"
    along = np.array([level[1]])
    assert heights(along, Square(), up=up, zero=level[0]) == pytest.approx([0.0], abs=1e-9)
    above = np.array([[10.0 - 100 * np.sin(tilt), 140.0 - 100 * np.cos(tilt)]])
    assert heights(above, Square(), up=up, zero=level[0]) == pytest.approx([100.0])


@pytest.mark.parametrize("direction", [80.0, -100.0])
def test_a_plumb_line_points_up_whichever_way_it_was_drawn(direction: float) -> None:
    up, kind = up_from_line(np.radians(direction))
    assert kind == "plumb"
    assert up == pytest.approx(np.radians(80.0))


@pytest.mark.parametrize(("drawn", "turn"), [(-12.0, -12.0), (168.0, -12.0), (100.0, -80.0)])
def test_axes_turn_along_a_drawn_line_by_the_smaller_angle(drawn: float, turn: float) -> None:
    assert axes_along(np.radians(drawn)) == pytest.approx(np.radians(turn))
