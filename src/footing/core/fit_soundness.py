"""Soundness of fits: what residuals, points and intercepts give away.

Runs test: A. Wald and J. Wolfowitz, Ann. Math. Stat. 11, 147, 1940. Outliers: the externally
studentised residual against t with n − p − 1 degrees of freedom (docs/physics.md, Fits).
"""

from dataclasses import dataclass
from math import sqrt

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray, IntArray
from footing.core.curves import Curve
from footing.core.dimensions import METRE, SECOND, Unit
from footing.core.fitting import Fit, interval_factor
from footing.core.kinematics import mark_scatter
from footing.core.soundness import Check

_SURE = 0.01
_FEWEST_FOR_RUNS = 12
_DRIFTING = 2.0  # times larger uncertainties, from which it is said
_FEW = 2  # points beyond the parameters, up to which a fit says little
_SUDDEN = 0.35  # of the largest speed
_SMOOTH = 5  # parameters of the smooth curve with which a kink is compared
_KINKED = 7  # parameters of two parabolas, with the moment
_FASTEST = 90  # percentile of the speeds that counts as the largest; marks scatter
_BESIDE = 4  # marks on each side of a kink at least
_AT_ONCE = 100_000  # marks in all, for which kinks are computed at once
_MOMENTS = 120  # that are tried first
_AS_SCATTERED = 2.5  # times the variance that neighbours show, up to which a kink explains it all
_FEWEST_FOR_IMPACT = 8


@dataclass(frozen=True)
class PointsEnough(Check):
    """Whether there are clearly more points (``n``) than parameters of the curve."""

    key = "points"
    curve: Curve
    n: int

    @property
    def sound(self) -> bool:
        """Whether more are left than a few."""
        return self.n - len(self.curve.names) > _FEW


@dataclass(frozen=True)
class Pattern(Check):
    """Whether residuals come in runs, so that the curve misses something.

    chance : of so few runs by accident; number : of the point with the largest residual
    """

    key = "pattern"
    curve: Curve
    chance: float
    number: int | None

    @property
    def sound(self) -> bool:
        """Whether they scatter without a pattern."""
        return self.chance >= _SURE


@dataclass(frozen=True)
class ErringTogether(Check):
    """Whether neighbouring marks err to the same side, so that there are fewer than it seems.

    factor : by which the uncertainties grow by that
    """

    key = "together"
    factor: float

    @property
    def sound(self) -> bool:
        """Whether they err independently."""
        return self.factor <= _DRIFTING


@dataclass(frozen=True)
class Outliers(Check):
    """Points too far from a curve: how many, and the worst in standard errors, with its number."""

    key = "outliers"
    curve: Curve
    count: int = 0
    worst: float = 0.0
    number: int | None = None

    @property
    def sound(self) -> bool:
        """Whether there is none."""
        return self.count == 0


@dataclass(frozen=True)
class ImpactInside(Check):
    """Whether a fit crosses a moment at which the velocity changes at once: before ``number``."""

    key = "impact"
    number: int | None

    @property
    def sound(self) -> bool:
        """Whether it crosses none."""
        return self.number is None


@dataclass(frozen=True)
class ThroughZero(Check):
    """Whether a line that goes through zero for a motion from rest does.

    apart : of the intercept from zero, in standard errors; 0 where they cannot tell
    """

    key = "intercept"
    apart: float
    sound_up_to: float

    @property
    def sound(self) -> bool:
        """Whether the intercept is zero within its uncertainty."""
        return self.apart <= self.sound_up_to


@dataclass(frozen=True)
class UnitsTogether(Check):
    """Graphs whose series, and columns whose formulas, have units that do not fit.

    graphs : their titles; columns : pairs of name and what is wrong
    """

    key = "units"
    graphs: tuple[str, ...]
    columns: tuple[tuple[str, str], ...]

    @property
    def sound(self) -> bool:
        """Whether all of them fit."""
        return not self.graphs and not self.columns


@dataclass(frozen=True)
class AxisLimits(Check):
    """How many points the typed limits of axes leave out of sight."""

    key = "axis"
    hidden: int

    @property
    def sound(self) -> bool:
        """Whether all are seen."""
        return self.hidden == 0


def runs(residuals: FloatArray) -> float | None:
    """Probability of so few runs of equal signs by chance; None for fewer than 12 residuals."""
    signs = residuals[residuals != 0] > 0
    n = len(signs)
    above = int(signs.sum())
    below = n - above
    if n < _FEWEST_FOR_RUNS or above == 0 or below == 0:
        return None
    found = 1 + int(np.sum(signs[1:] != signs[:-1]))
    expected = 1 + 2 * above * below / n
    variance = (expected - 1) * (expected - 2) / (n - 1)
    return float(special.ndtr((found + 0.5 - expected) / sqrt(variance))) if variance > 0 else None


def pattern(fit: Fit, x: FloatArray, numbers: IntArray) -> Pattern | None:
    """Look for runs in the residuals of independent points at ``x``."""
    order = np.argsort(x, kind="stable")
    chance = runs(fit.residuals[order])
    if chance is None:
        return None
    worst = int(numbers[int(np.argmax(np.abs(fit.residuals)))])
    return Pattern(fit.curve, chance, worst if chance < _SURE else None)


def outliers(fit: Fit, x: FloatArray, numbers: IntArray) -> Outliers | None:
    """Look for single points too far from a curve through independent points at ``x``."""
    n, p = fit.n, len(fit.values)
    dof = n - p - 1
    if dof < _FEW or fit.rss <= 0 or fit.curve.has_units:
        return None
    slopes = fit.curve.slopes(x, fit.values)[1]
    basis = np.linalg.qr(slopes / np.linalg.norm(slopes, axis=0))[0]
    left = np.clip(1 - np.sum(basis**2, axis=1), 1e-12, 1.0)
    others = np.maximum(fit.rss - fit.residuals**2 / left, 1e-12 * fit.rss) / dof
    t = np.abs(fit.residuals) / np.sqrt(others * left)
    chances = 2 * special.stdtr(dof, -t)
    far = np.flatnonzero(chances < _SURE / n)
    if len(far) == 0:
        return Outliers(fit.curve)
    worst = int(far[np.argmax(t[far])])
    return Outliers(fit.curve, len(far), float(t[worst]), int(numbers[worst]))


def impact(times: FloatArray, values: FloatArray, numbers: IntArray) -> ImpactInside | None:
    """Whether a velocity changes at once within a fitted stretch of a coordinate.

    Two parabolas, with another velocity behind a moment, are compared with smooth curves of as
    many parameters; they must leave over no more than the scatter that the values show. None where
    there are too few points, or several at one time: these are of more motions than one.
    """
    n = len(times)
    if n < max(_FEWEST_FOR_IMPACT, 2 * _BESIDE + 1):
        return None
    order = np.argsort(times)
    times, values, numbers = times[order], values[order], numbers[order]
    if not np.all(np.diff(times) > 0):
        return None
    t = (times - times[0]) / (times[-1] - times[0])
    scatter, _ = mark_scatter(times, values[:, None])
    smooth = _left_over(np.vander(t, _SMOOTH), values)
    inside = np.arange(_BESIDE, n - _BESIDE)
    _, about, _ = _best_kink(t, values, inside[:: max(len(inside) // _MOMENTS, 1)])
    near = np.arange(
        max(about - n // _MOMENTS, _BESIDE), min(about + n // _MOMENTS + 1, n - _BESIDE)
    )
    least, best, change = _best_kink(t, values, near)
    dof = n - _KINKED
    gain = (smooth - least) / max(least / dof, 1e-12 * float(np.ptp(values)) ** 2)
    chance = float(special.fdtrc(_KINKED - 2, dof, max(gain, 0.0) / (_KINKED - 2)))
    fastest = float(np.percentile(np.abs(np.diff(values) / np.diff(t)), _FASTEST))
    size = abs(change)
    sure = chance * n < _SURE and least / dof < _AS_SCATTERED * max(scatter, 1e-300)
    found = sure and size > _SUDDEN * fastest
    return ImpactInside(int(numbers[best]) if found else None)


def _best_kink(t: FloatArray, values: FloatArray, moments: IntArray) -> tuple[float, int, float]:
    """The least that two parabolas leave over, before which mark, and the jump of slope there.

    One parabola goes up to mark k and one from there, for each k of ``moments``. They need not
    meet at a mark: the moment lies somewhere between two.
    """
    at_once = max(_AT_ONCE // len(t), 1)
    parts = [moments[begin : begin + at_once] for begin in range(0, len(moments), at_once)]
    return min(_kinks(t, values, part) for part in parts)


def _kinks(t: FloatArray, values: FloatArray, moments: IntArray) -> tuple[float, int, float]:
    """The same, for all moments at once.

    Each side by its normal equations, in times from the moment on in units of the side's length.
    """
    between = (t[moments - 1] + t[moments]) / 2
    offsets = t[None, :] - between[:, None]
    before = offsets < 0
    left, slopes = np.zeros(len(moments)), []
    for side, length in ((before, between - t[0]), (~before, t[-1] - between)):
        u = np.where(side, offsets / length[:, None], 0.0)
        rows = np.stack([side.astype(float), u, u**2], axis=1)
        columns = rows.transpose(0, 2, 1)
        factors = np.linalg.solve(rows @ columns, rows @ values[:, None])
        left += np.sum((values * side - (columns @ factors)[:, :, 0]) ** 2, axis=1)
        slopes.append(factors[:, 1, 0] / length)
    best = int(np.argmin(left))
    return float(left[best]), int(moments[best]), float(slopes[1][best] - slopes[0][best])


def _left_over(design: FloatArray, values: FloatArray) -> float:
    factors = np.linalg.lstsq(design, values, rcond=None)[0]
    return float(np.sum((values - design @ factors) ** 2))


def through_zero(fit: Fit, x: Unit, y: Unit) -> ThroughZero | None:
    """Look at the intercept of a line whose axes are d and t², or d and v²; None for others."""
    distance, time, speed = (
        METRE.dimension,
        (SECOND**2).dimension,
        ((METRE / SECOND) ** 2).dimension,
    )
    pairs = [{distance, speed}, {distance, time}]
    if fit.curve.key != "line" or {y.dimension, x.dimension} not in pairs:
        return None
    value, error = float(fit.values[-1]), float(fit.standard_errors[-1])
    if not error > 0:
        return ThroughZero(0.0, 0.0)
    return ThroughZero(abs(value) / error, interval_factor(fit.dof, share=1 - _SURE))


def axis_limits(hidden: int) -> AxisLimits | None:
    """Whether the limits of an axis leave points out of sight."""
    return AxisLimits(hidden) if hidden else None
