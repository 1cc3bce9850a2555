"""Interval honesty: over simulated tracks 95 % intervals hold the truth as often as they say.

One table of what is printed with a ±, the settings in which it is tried, and the share that holds.
Lengths are pixels where nothing else is said; times are frames divided by the rate.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import pytest

from footing.core.arrays import FloatArray
from footing.core.covariances import Covariance
from footing.core.curves import CURVES
from footing.core.dimensions import read_unit
from footing.core.findings import Contribution, combine
from footing.core.fitting import Fit, fit_curve, interval_factor
from footing.core.formulas.computing import compute
from footing.core.formulas.parsing import parse
from footing.core.meaning import readings
from footing.core.measured import MeasuredSymbols
from footing.core.motion import Motion
from footing.core.quantities import ON_FOOTAGE
from footing.core.reading import Variable

TIME = Variable("time", "t", read_unit("s"))


@dataclass(frozen=True)
class Film:
    """How a body is filmed: marks, frames a second, scatter of a coordinate in pixels."""

    marks: int
    rate: float
    noise: float = 0.5

    @property
    def times(self) -> FloatArray:
        return np.arange(self.marks) / self.rate

    def marked(self, path: FloatArray, rng: np.random.Generator) -> Motion:
        positions = path + rng.normal(scale=self.noise, size=path.shape)
        return Motion(
            self.times, positions, heights=positions[:, 1], position_uncertainty=self.noise
        )


Hits = Callable[[np.random.Generator], dict[str, bool]]  # one track: what holds the truth


def within(value: float, uncertainty: float, dof: float, truth: float) -> bool:
    return abs(value - truth) <= interval_factor(dof) * uncertainty


def fitted(x: FloatArray, y: FloatArray, curve: str, covariance: Covariance | None = None) -> Fit:
    fit = fit_curve(x, y, CURVES[curve], covariance=covariance)
    assert isinstance(fit, Fit)
    return fit


def of_a_throw(key: str, curve: str, order: int, truth: float) -> Hits:
    """A finding from a coordinate or a velocity, with a scale that is wrong by an unknown share."""
    film, g, start, wrong_by = Film(14, 30, 0.004), truth if order else 0.0, 1.7, 0.006

    def hits(rng: np.random.Generator) -> dict[str, bool]:
        times, wrong = film.times, 1 + rng.normal(scale=wrong_by)
        fall = wrong * (start * times + g / 2 * times**2)
        motion = film.marked(np.stack([np.zeros(film.marks), fall], axis=1), rng)
        column = motion.column("vy" if key == "vy" else "y")
        covariance = motion.covariance("vy") if key == "vy" else None
        fit = fitted(times[column.index], column.values, curve, covariance)
        along = Variable("y", "y", read_unit("m/s" if key == "vy" else "m"), int(key == "vy"))
        said = readings(fit, TIME, along, start=0, end=1)
        name = "acceleration" if order else "velocity"
        one = next(reading for reading in said if reading.key == name)
        parts = (
            Contribution("fit", one.standard_error, fit.dof),
            Contribution("scale", abs(one.value) * wrong_by),
        )
        result = combine(one.value, parts)
        return {name: abs(result.value - truth) <= result.half_width}

    return hits


def straight(film: Film, step: float) -> FloatArray:
    """A steady path of ``step`` pixels a frame, not along an axis."""
    along = step * np.arange(film.marks)
    return np.stack([along * np.cos(0.3), along * np.sin(0.3)], axis=1)


FORMULAS: dict[str, Callable[[float, float], float]] = {  # of the true speed and the time
    "s": lambda v, t: v * t,
    "mean(v)": lambda v, _: v,
    "mean(v^2)": lambda v, _: v * v,
    "mean(vx^2 + vy^2)": lambda v, _: v * v,
}


def of_a_slow_body(film: Film, step: float) -> Hits:
    """Speed, distance and what is made of them, of a body that moves steadily."""
    speed = step * film.rate

    def hits(rng: np.random.Generator) -> dict[str, bool]:
        motion = film.marked(straight(film, step), rng)
        found = {}
        for key, curve in (("v", "level"), ("s", "line")):
            column = motion.column(key)  # type: ignore[arg-type]
            covariance = motion.covariance(key)  # type: ignore[arg-type]
            fit = fitted(film.times[column.index], column.values, curve, covariance)
            found[f"{curve} through {key}"] = within(
                fit.values[0], fit.standard_errors[0], fit.dof, speed
            )
        symbols = MeasuredSymbols(motion, ON_FOOTAGE, length="px")
        for text, truth in FORMULAS.items():
            if "vx" in text and step < 0.5:  # slower than its noise: says too much uncertainty
                continue
            made = compute(parse(text), symbols, rows=film.marks)
            true = truth(speed, film.times[-1])
            found[text] = within(made.values[-1], made.uncertainties[-1], np.inf, true)
        return found

    return hits


SLOW, LONG = Film(15, 30), Film(60, 60)
# true steps in pixels a frame of 0.1 to 0.8 m/s at 5 mm to a pixel
STEPS = [(SLOW, 2 / 3), (SLOW, 4 / 3), (LONG, 1 / 3), (LONG, 8 / 3)]
TABLE: dict[str, tuple[Hits, int]] = {
    "slope of x(t)": (of_a_throw("y", "line", 0, 1.7), 2000),
    "slope of v(t)": (of_a_throw("vy", "line", 1, -9.81), 2000),
    "quadratic of y(t)": (of_a_throw("y", "quadratic", 1, -9.81), 2000),
    **{
        f"{film.marks} marks, {step:.2f} px a frame": (of_a_slow_body(film, step), 250)
        for film, step in STEPS
    },
}


@pytest.mark.parametrize("setting", TABLE)
def test_intervals_hold_the_truth_as_often_as_they_say(setting: str) -> None:
    hits, tracks = TABLE[setting]
    rng = np.random.default_rng(sum(map(ord, setting)))
    all_tracks = [hits(rng) for _ in range(tracks)]
    for what in all_tracks[0]:
        share = sum(one[what] for one in all_tracks) / tracks
        by_chance = 1.5 * (0.95 * 0.05 / tracks) ** 0.5  # of the simulation itself
        assert 0.93 - by_chance <= share <= 0.97 + by_chance, what
