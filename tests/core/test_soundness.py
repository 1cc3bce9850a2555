import numpy as np
import pytest

from footing.core import soundness
from footing.core.ground import KnownLength, combined_scale


def scale(*lengths_px: float, length: float = 2.0):
    known = [KnownLength((0.0, 0.0), (px, 0.0), length, 0.006) for px in lengths_px]
    found = combined_scale(known)
    assert found is not None
    return found


def test_pixels_are_shaky() -> None:
    assert not soundness.ScaleKnown(False).sound
    assert soundness.ScaleKnown(True).sound


@pytest.mark.parametrize(("px", "sound"), [(600.0, True), (60.0, False)])
def test_a_short_known_length_asks_for_a_longer_object(px: float, sound: bool) -> None:
    check = soundness.length_size(scale(px), px, 1280)
    assert check.sound is sound
    assert check.share == pytest.approx(px / 1280)
    assert not check.by_digits


def test_a_length_typed_with_few_digits_is_shaky_by_its_digits() -> None:
    rough = [KnownLength((0.0, 0.0), (600.0, 0.0), 0.8, 0.03)]
    found = combined_scale(rough)
    assert found is not None
    check = soundness.length_size(found, 600.0, 1280, typing=0.03 / 0.8)
    assert not check.sound
    assert check.by_digits


def test_known_lengths_that_disagree_are_shaky() -> None:
    assert soundness.lengths_together(scale(500.0, 500.5)).sound
    assert not soundness.lengths_together(scale(500.0, 540.0)).sound


@pytest.mark.parametrize("slower", [2, 3, 4, 5, 8])
def test_a_fall_in_slow_motion_is_recognised(slower: int) -> None:
    check = soundness.clock_plausible(
        sign=None,
        clock_set=False,
        falls=[soundness.Fall(-9.75 / slower**2, 0.02 / slower**2, 0.0, 0.01)],
    )
    assert not check.sound
    assert check.slower == slower


@pytest.mark.parametrize(
    "fall",
    [
        soundness.Fall(-9.81, 0.05, 0.0, 0.02, flies=True),
        soundness.Fall(1.46, 0.01, 0.0, 0.02),
        soundness.Fall(0.0, 0.02),
        soundness.Fall(30.0, 0.1, 0.0, 0.1),
        soundness.Fall(-2.4, 0.01, 0.0, 0.01),  # near g/4, and honest
        soundness.Fall(-0.66, 0.01, 2.45, 0.01, flies=True),  # on a plane of 15°
        soundness.Fall(-2.45, 0.01, 4.25, 0.01, flies=True),  # on one of 30°
        soundness.Fall(-0.06, 0.03, 0.01, 0.03),  # on a level track
    ],
)
def test_other_accelerations_do_not_accuse_the_clock(fall: soundness.Fall) -> None:
    assert soundness.clock_plausible(sign=None, clock_set=False, falls=[fall]).sound


@pytest.mark.parametrize("slower", [1.5, 2.0, 3.0, 5.0, 8.0])
def test_a_throw_tells_any_slow_motion(slower: float) -> None:
    fall = soundness.Fall(-9.7 / slower**2, 0.1 / slower**2, 0.02, 0.02, flies=True)
    check = soundness.clock_plausible(sign=None, clock_set=False, falls=[fall])
    assert not check.sound
    assert check.slower == pytest.approx(slower, rel=0.01)


def test_a_file_that_names_slow_motion_is_shaky_until_the_clock_is_set() -> None:
    def check(clock_set: bool) -> bool:
        shot = soundness.CaptureRate(240, 30)
        return soundness.clock_plausible(sign=shot, clock_set=clock_set, falls=[]).sound

    assert not check(clock_set=False)
    assert check(clock_set=True)


@pytest.mark.parametrize(
    ("tilt", "angle", "sound"), [(3.0, 0.0, False), (0.5, 0.0, True), (3.0, 3.0, True)]
)
def test_up_is_compared_with_the_axes(tilt: float, angle: float, sound: bool) -> None:
    check = soundness.up_level(up=np.radians(90 + tilt), levelled=True, angle=np.radians(angle))
    assert check is not None
    assert check.sound is sound
    assert soundness.up_level(up=0.0, levelled=False, angle=0.0) is None


def test_a_span_without_motion_is_shaky() -> None:
    still = soundness.span_chosen(marks=0, outside=0, moving=False)
    outside = soundness.span_chosen(marks=0, outside=7, moving=True)
    assert still is not None
    assert outside is not None
    assert not still.sound
    assert not outside.sound
    assert soundness.span_chosen(marks=0, outside=0, moving=None) is None


def test_row_readout_is_compared_with_the_stated_uncertainty() -> None:
    effect = soundness.readout_effect(speed_px=1200, seconds_per_row=0.02 / 1080)
    assert effect == pytest.approx(3 * 1200 * 0.02 / 1080)
    assert not soundness.Readout(effect, 0.01).sound
    assert soundness.Readout(effect, 0.10).sound


def test_depth_is_sound_once_it_is_corrected() -> None:
    assert not soundness.Depth(0.25, 0.01, corrected=False).sound
    assert soundness.Depth(0.25, 0.01, corrected=True).sound
    assert soundness.Depth(0.002, 0.01, corrected=False).sound
