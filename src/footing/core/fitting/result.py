"""What a fit found: values with standard errors, and how far the points scatter about it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import Enum, auto
from math import inf, isinf

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray
from footing.core.covariances import Covariance
from footing.core.curves import Curve
from footing.core.fitting.problem import Free, Given, Points

_STEP = 1e-6  # of the reach of x, over which the slope of a curve is taken
_BY_CHANCE = 0.01  # probability of a sum of squares above which it is no sign of other errors


@dataclass(frozen=True)
class Fit:
    """A converged fit.

    values, covariance : (p,) and (p, p), in the order of the curve's parameters; a fixed parameter
        has no variance
    n, dof : number of points; degrees of freedom of the standard errors, infinite where they come
        from stated errors of the points
    rss : sum of squared residuals, in y²
    scatter : √(rss/(n − p)) with p the number of parameters that were free, in y
    r_squared : 1 − rss/Σ(y − ȳ)²; None if all y are equal
    residuals : (n,) y minus curve
    white_rss, white_count : sum of squares and number of the independent values (where points share
        marks, after whitening)
    weighing : covariance by which the points were weighed; None where each counts alike
    chi_squared : the sum of squares in units of the stated errors; None where none were used
    widened : by how much the standard errors are larger than those stated give, because the points
        scatter more than these explain
    at_bound : parameters that would go on beyond their bounds
    rival : (p,) other values that describe the points as well, if a search met some
    """

    curve: Curve
    values: FloatArray
    covariance: FloatArray
    n: int
    dof: float
    rss: float
    scatter: float
    r_squared: float | None
    residuals: FloatArray
    at_bound: tuple[str, ...] = ()
    rival: FloatArray | None = None
    white_rss: float = 0.0
    white_count: int = 0
    weighing: Covariance | None = None
    chi_squared: float | None = None
    widened: float = 1.0

    @property
    def standard_errors(self) -> FloatArray:
        """Standard errors ``(p,)``."""
        return np.asarray(np.sqrt(np.maximum(np.diag(self.covariance), 0.0)), dtype=float)

    @property
    def correlations(self) -> FloatArray:
        """Correlations ``(p, p)``; 0 with a fixed parameter."""
        errors = self.standard_errors
        sizes = np.outer(errors, errors)
        return np.divide(self.covariance, sizes, out=np.zeros_like(sizes), where=sizes > 0)

    def predict(self, x: FloatArray) -> FloatArray:
        """The curve at ``x``."""
        return self.curve.values(x, self.values)

    def slope(self, x: FloatArray) -> FloatArray:
        """The slope of the curve by x at ``x``; 0 where there is none."""
        step = _STEP * (float(np.ptp(x)) or 1.0)
        with np.errstate(all="ignore"):
            slope = (self.predict(x + step) - self.predict(x - step)) / (2 * step)
        return np.where(np.isfinite(slope), slope, 0.0)


class Hindrance(Enum):
    """Why a curve cannot be fitted to points."""

    TOO_FEW_POINTS = auto()
    TOO_FEW_X = auto()
    TOO_FEW_MARKS = auto()
    NO_UNCERTAINTY = auto()
    UNDEFINED = auto()
    UNDEFINED_AT_FIRST = auto()
    NOT_TOLD_APART = auto()
    NO_END = auto()


@dataclass(frozen=True)
class NoFit:
    """An honest "not yet".

    points : how many there are; needed : how many the curve needs at least
    """

    why: Hindrance
    curve: Curve
    points: int
    needed: int

    @classmethod
    def of(cls, why: Hindrance, free: Free, points: int) -> "NoFit":
        """Of a curve with some of its parameters free, to so many points."""
        return cls(why, free.curve, points, len(free.places) + 1)


def rescaled(fit: Fit, parameters: Sequence[float], y: float) -> Fit:
    """A fit in other units: so large is the new unit of each parameter, and that of y."""
    sizes = np.asarray(parameters, dtype=float)
    return replace(
        fit,
        values=fit.values / sizes,
        covariance=fit.covariance / np.outer(sizes, sizes),
        rss=fit.rss / y**2,
        scatter=fit.scatter / y,
        residuals=fit.residuals / y,
        rival=None if fit.rival is None else fit.rival / sizes,
    )


def interval_factor(dof: float, *, share: float = 0.95) -> float:
    """Student's t for a two-sided interval that holds ``share`` of the probability."""
    quantile = (1 + share) / 2
    return float(special.ndtri(quantile) if isinf(dof) else special.stdtrit(dof, quantile))


def finished(points: Points, free: Free, values: FloatArray) -> Fit | NoFit:
    """A fit from its values: standard errors from the slopes there."""
    curve = free.curve
    with np.errstate(all="ignore"):
        there, slopes = curve.slopes(points.x, values)
    p = len(values)
    shape = np.zeros((p, p))
    at_bound = tuple(
        name
        for name in (curve.names[place] for place in free.places)
        if _is_at(values[curve.names.index(name)], free.of(name))
    )
    moving = np.array([k for k in free.places if curve.names[k] not in at_bound], dtype=int)
    # a parameter that stays where it is may have no slope
    if not (np.isfinite(there).all() and np.isfinite(slopes[:, moving]).all()):
        return NoFit.of(Hindrance.UNDEFINED, free, len(points.x))
    if len(moving):
        columns = points.whitened(slopes[:, moving])
        sizes = np.linalg.norm(columns, axis=0)
        if not np.all(sizes > 0) or np.linalg.matrix_rank(columns / sizes) < len(sizes):
            return NoFit.of(Hindrance.NOT_TOLD_APART, free, len(points.x))
        inverse = np.linalg.inv(np.linalg.qr(columns / sizes)[1]) / sizes[:, None]
        shape[np.ix_(moving, moving)] = inverse @ inverse.T
    return result_of(points, curve, values, shape, points.y - there, len(free.places), at_bound)


def result_of(
    points: Points,
    curve: Curve,
    values: FloatArray,
    shape: FloatArray,
    residuals: FloatArray,
    p: int,
    at_bound: tuple[str, ...] = (),
) -> Fit:
    """A fit whose covariance is ``shape`` times the variance of the independent values."""
    n, dof = len(points.y), points.count - p
    white_rss = float(np.sum(points.whitened(residuals) ** 2))
    variance = white_rss / dof
    if points.known:
        by_chance = special.chdtrc(dof, white_rss) > _BY_CHANCE
        variance = 1.0 if by_chance else max(variance, 1.0)
    rss = float(np.sum(residuals**2))
    total = float(np.sum((points.y - points.y.mean()) ** 2))
    return Fit(
        curve=curve,
        values=values,
        covariance=variance * shape,
        n=n,
        dof=inf if points.known and variance == 1.0 else dof,
        rss=rss,
        scatter=float(np.sqrt(rss / (n - p))),
        r_squared=1 - rss / total if total > 0 else None,
        residuals=residuals,
        at_bound=at_bound,
        white_rss=white_rss,
        white_count=points.count,
        chi_squared=white_rss if points.known else None,
        widened=float(np.sqrt(variance)) if points.known else 1.0,
    )


def _is_at(value: float, given: Given) -> bool:
    ends = [end for end in (given.low, given.high) if not isinf(end)]
    return any(abs(value - end) <= 1e-6 * max(abs(end), 1e-12) for end in ends)
