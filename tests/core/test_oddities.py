"""Odd marks: found where they matter at every frame rate, hardly ever where none is."""

import numpy as np
import pytest

from footing.core.arrays import FloatArray
from footing.core.oddities import oddities

SETTINGS = [(16, 30.0), (40, 60.0), (120, 240.0)]
TRACKS = 60


def throw(times: FloatArray) -> FloatArray:
    return np.stack([100 + 340 * times, 400 - 500 * times + 981 * times**2], axis=1)


def swing(times: FloatArray) -> FloatArray:
    return np.stack([200 * np.sin(5 * times), 30 * np.cos(10 * times)], axis=1)


def bounce(times: FloatArray) -> FloatArray:
    half, g = times[-1] / 2, 1962.0
    down, after = g / 2 * times**2, times - half
    up = g / 2 * half**2 - 0.8 * g * half * after + g / 2 * after**2
    return np.stack([100 * times, np.where(times < half, down, up)], axis=1)


def slips(times: FloatArray, pixels: FloatArray) -> list[int]:
    found = oddities(np.arange(len(times)), pixels, times, repeated=set())
    return [one.frame for one in found if one.kind == "slip"]


@pytest.mark.parametrize(("marks", "rate"), SETTINGS)
@pytest.mark.parametrize("noise", [0.1, 0.5])
def test_a_slip_of_five_pixels_in_a_throw_is_named_wherever_it_is(
    marks: int, rate: float, noise: float
) -> None:
    rng = np.random.default_rng(marks)
    times, named = np.arange(marks) / rate, 0
    for track in range(TRACKS):
        place = track % marks  # the first and the second mark, too
        pixels = throw(times) + rng.normal(scale=noise, size=(marks, 2))
        angle = rng.uniform(0, 2 * np.pi)
        pixels[place] += 5 * np.array([np.cos(angle), np.sin(angle)])
        named += place in slips(times, pixels)
    assert named / TRACKS >= 0.95


@pytest.mark.parametrize("path", [throw, swing, bounce])
@pytest.mark.parametrize(("marks", "rate"), SETTINGS)
def test_sound_marks_are_hardly_ever_called_slips(path, marks: int, rate: float) -> None:
    rng = np.random.default_rng(marks + 1)
    times = np.arange(marks) / rate
    alarms = sum(
        bool(slips(times, path(times) + rng.normal(scale=noise, size=(marks, 2))))
        for noise in (0.1, 0.5, 1.5, 2.0)
        for _ in range(40)
    )
    assert alarms / 160 <= 0.02 + 0.02  # the second is the chance of the simulation


@pytest.mark.parametrize("place", [0, 1, 7, 15])
def test_a_mark_far_off_is_named_at_the_ends_as_well(place: int) -> None:
    times = np.arange(16) / 30
    pixels = throw(times) + np.random.default_rng(3).normal(scale=0.5, size=(16, 2))
    pixels[place] += 100
    assert place in slips(times, pixels)


def test_several_slips_are_named_each() -> None:
    times = np.arange(60) / 60
    pixels = throw(times) + np.random.default_rng(3).normal(scale=0.3, size=(60, 2))
    for place in (10, 30, 50):
        pixels[place] += (8, -9)
    assert {10, 30, 50} == set(slips(times, pixels))
