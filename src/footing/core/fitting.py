"""Least-squares fits with standard errors.

Curves that are linear in their parameters are solved directly by QR; polynomials in a centred and
scaled x, which keeps twelve digits where normal equations would lose them (Golub and Van Loan,
Matrix Computations, 4th ed., 5.3). Others are searched for by Levenberg and Marquardt's method
(lmfit, on MINPACK) with exact slopes. Where neighbouring values share marks, generalised least
squares with their covariance is used (Aitken, Proc. R. Soc. Edinburgh 55, 42, 1936).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import comb, inf, isinf
from typing import Any

import numpy as np
from scipy import optimize, special

from footing.core.arrays import FloatArray, IntArray
from footing.core.curves import Curve
from footing.core.starting import starts

_CLOSE = 1e-15  # relative change at which a search ends
_OFF_BOUND = 0.01  # share of the room between bounds by which a start stays off them
_STEPS = 4000
_SAME = 1e-9  # relative difference of slopes below which a curve is linear in its parameters
_REFINEMENTS = 3


@dataclass(frozen=True)
class Given:
    """What is said about one parameter: where to start, that it is fixed, or its bounds."""

    start: float | None = None
    fixed: bool = False
    low: float = -inf
    high: float = inf


@dataclass(frozen=True)
class Fit:
    """A converged fit.

    values, covariance : (p,) and (p, p), in the order of the curve's parameters; a fixed parameter
        has no variance
    n, dof : number of points; degrees of freedom of the standard errors
    rss : sum of squared residuals, in y²
    scatter : √(rss/(n − p)) with p the number of parameters that were free, in y
    r_squared : 1 − rss/Σ(y − ȳ)²; None if all y are equal
    residuals : (n,) y minus curve
    at_bound : parameters that would go on beyond their bounds
    """

    curve: Curve
    values: FloatArray
    covariance: FloatArray
    n: int
    dof: int
    rss: float
    scatter: float
    r_squared: float | None
    residuals: FloatArray
    at_bound: tuple[str, ...] = ()

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


@dataclass(frozen=True)
class NoFit:
    """An honest "not yet": the reason, as a sentence to show."""

    reason: str


@dataclass(frozen=True)
class _Points:
    """Points with what makes them independent of each other.

    whitener : (r, n) matrix that turns y into r independent values; None where they are
    """

    x: FloatArray
    y: FloatArray
    whitener: FloatArray | None

    @property
    def count(self) -> int:
        """Number of independent values."""
        return len(self.y) if self.whitener is None else len(self.whitener)

    def whitened(self, values: FloatArray) -> FloatArray:
        """Values or columns ``(n, …)`` as independent ones."""
        return values if self.whitener is None else np.asarray(self.whitener @ values)


@dataclass
class _Free:
    """Which parameters of a curve are free, and what the others are."""

    curve: Curve
    given: Mapping[str, Given]
    places: IntArray = field(init=False)

    def __post_init__(self) -> None:
        free = [not self.of(name).fixed for name in self.curve.names]
        self.places = np.flatnonzero(free)

    def of(self, name: str) -> Given:
        return self.given.get(name, Given())

    @property
    def bounded(self) -> bool:
        """Whether a free parameter may not go everywhere."""
        free = (self.of(self.curve.names[place]) for place in self.places)
        return any(not (isinf(one.low) and isinf(one.high)) for one in free)

    def holds(self, values: FloatArray) -> bool:
        """Whether values are inside their bounds."""
        bounds = [self.of(name) for name in self.curve.names]
        return all(
            one.fixed or one.low <= value <= one.high
            for one, value in zip(bounds, values, strict=True)
        )

    def filled(self, values: FloatArray) -> FloatArray:
        """Values with those put in that are fixed."""
        full = np.array(values, dtype=float)
        for place, name in enumerate(self.curve.names):
            given = self.of(name)
            if given.fixed:
                full[place] = given.start if given.start is not None else 0.0
        return full


def fit_curve(
    x: FloatArray,
    y: FloatArray,
    curve: Curve,
    *,
    given: Mapping[str, Given] | None = None,
    covariance: FloatArray | None = None,
) -> Fit | NoFit:
    """Fit a curve to ``(n,)`` points.

    Parameters
    ----------
    given : by parameter, what is fixed, bounded or started from
    covariance : (n, n) covariance of y up to a common factor; None for independent y. It may be
        singular (derived values can depend on each other); directions without variance are left
        out and do not count as degrees of freedom.

    Returns
    -------
    Fit, or NoFit if there are fewer points than free parameters + 1, too few different x, if the
    curve is undefined at the points, or if the search does not converge.
    """
    free = _Free(curve, given or {})
    p, n = len(free.places), len(x)
    if n < p + 1:
        return NoFit(
            f"{n} {'point' if n == 1 else 'points'} here; {_article(curve)} needs at least {p + 1}."
        )
    if len(np.unique(x)) < p:
        return NoFit(f"The points have too few different values of x for {_article(curve)}.")
    points = _Points(x, y, None if covariance is None else _whitener(covariance))
    if points.count - p < 1:
        return NoFit(f"The points depend on too few marks for {_article(curve)}.")
    if p == 0:
        return _finished(points, free, free.filled(np.zeros(len(curve.names))))
    if curve.degree is not None and p == len(curve.names) and not free.bounded:
        return _polynomial(points, curve)
    linear = _linear(points, free)
    if linear is None:
        return _searched(points, free)
    return linear if free.holds(linear.values) else _finished(points, free, _within(points, free))


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
    )


def interval_factor(dof: float, *, share: float = 0.95) -> float:
    """Student's t for a two-sided interval that holds ``share`` of the probability."""
    quantile = (1 + share) / 2
    return float(special.ndtri(quantile) if isinf(dof) else special.stdtrit(dof, quantile))


def _article(curve: Curve) -> str:
    if curve.key == "own":
        return "this formula"
    return f"{'an' if curve.title[0] in 'aeiou' else 'a'} {curve.title}"


def _polynomial(points: _Points, curve: Curve) -> Fit:
    p = len(curve.names)
    centre = float(points.x.mean())
    reach = float(np.ptp(points.x)) / 2 or 1.0
    design = np.vander((points.x - centre) / reach, p)
    scaled, inverse = _solve(points.whitened(design), points.whitened(points.y))
    unscale = _unscale(p, centre, reach)
    residuals = np.asarray(points.y - design @ scaled, dtype=float)
    shape = unscale @ (inverse @ inverse.T) @ unscale.T
    return _result(points, curve, unscale @ scaled, shape, residuals, p)


def _linear(points: _Points, free: _Free) -> Fit | None:
    """The fit of a curve that is linear in its free parameters, or None where it is not."""
    curve = free.curve
    p = len(curve.names)
    with np.errstate(all="ignore"):
        at_zero, design = curve.slopes(points.x, free.filled(np.zeros(p)))
        design = design[:, free.places]
        for probe in (np.full(p, 0.7), np.linspace(-1.3, 2.1, p)):
            there, others = curve.slopes(points.x, free.filled(probe))
            size = np.max(np.abs(design)) if design.size else 0.0
            expected = at_zero + design @ probe[free.places]
            if (
                not np.isfinite(design).all()
                or np.max(np.abs(others[:, free.places] - design)) > _SAME * size
                or np.max(np.abs(there - expected)) > _SAME * np.max(np.abs(expected) + size)
            ):
                return None
    sizes = np.linalg.norm(design, axis=0)
    if not np.all(sizes > 0):
        return None
    target = points.whitened(points.y - at_zero)
    columns = points.whitened(design / sizes)
    if np.linalg.matrix_rank(columns) < len(sizes):
        return None
    scaled, inverse = _solve(columns, target)
    values = free.filled(np.zeros(p))
    values[free.places] = scaled / sizes
    shape = np.zeros((p, p))
    unscaled = inverse / sizes[:, None]
    shape[np.ix_(free.places, free.places)] = unscaled @ unscaled.T
    residuals = np.asarray(points.y - at_zero - design @ values[free.places], dtype=float)
    return _result(points, curve, values, shape, residuals, len(free.places))


def _within(points: _Points, free: _Free) -> FloatArray:
    """Values inside their bounds of a curve that is linear in them: active sets, no search."""
    at_zero, design = free.curve.slopes(points.x, free.filled(np.zeros(len(free.curve.names))))
    columns = points.whitened(design[:, free.places])
    sizes = np.linalg.norm(columns, axis=0)
    bounds = [free.of(free.curve.names[place]) for place in free.places]
    low, high = (np.array([getattr(one, end) for one in bounds]) for end in ("low", "high"))
    found = optimize.lsq_linear(
        columns / sizes,
        points.whitened(points.y - at_zero),
        bounds=(low * sizes, high * sizes),
        method="bvls",
    )
    values = free.filled(np.zeros(len(free.curve.names)))
    values[free.places] = np.clip(found.x / sizes, low, high)
    return values


def _solve(design: FloatArray, target: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Solution ``(p,)`` of least squares and the inverse of R, refined for what rounding lost."""
    q, r = np.linalg.qr(design)
    solution = np.linalg.solve(r, q.T @ target)
    exact = design.astype(np.longdouble)
    for _ in range(_REFINEMENTS):
        remains = target.astype(np.longdouble) - exact @ solution.astype(np.longdouble)
        solution = solution + np.linalg.solve(r, q.T @ remains.astype(float))
    return solution, np.linalg.inv(r)


def _searched(points: _Points, free: _Free) -> Fit | NoFit:
    """The best of the searches from all starting values."""
    curve = free.curve
    own_start = all(free.of(name).start is not None for name in curve.names)
    guesses = [np.zeros(len(curve.names))] if own_start else starts(curve, points.x, points.y)
    best: FloatArray | None = None
    least = inf
    defined = False
    for guess in guesses:
        begin = _started(free, guess)
        with np.errstate(all="ignore"):
            defined = defined or bool(np.isfinite(curve.values(points.x, begin)).all())
        found = _search(points, free, begin)
        if found is not None and found[1] < least * (1 - 1e-9):
            best, least = found
    if best is None and not defined:
        return NoFit(
            f"“{curve.title}” is undefined at some of the points; leave those out, or give other "
            "starting values."
        )
    if best is None:
        return NoFit("No values were found at which this curve settles; give starting values.")
    return _finished(points, free, best)


def _started(free: _Free, guess: FloatArray) -> FloatArray:
    """A guess with the starting values put in that were given, inside the bounds."""
    begin = free.filled(guess)
    for place in free.places:
        given = free.of(free.curve.names[place])
        wanted = begin[place] if given.start is None else given.start
        begin[place] = _inside(wanted, given.low, given.high)
    return begin


def _inside(value: float, low: float, high: float) -> float:
    """A start inside bounds; on a bound itself the search would see no slope and stay there."""
    reach = high - low if not isinf(high - low) else max(abs(value), 1.0)
    return min(max(value, low + _OFF_BOUND * reach), high - _OFF_BOUND * reach)


def _search(points: _Points, free: _Free, begin: FloatArray) -> tuple[FloatArray, float] | None:
    """Values at which the sum of squares is least, with that sum, from one start; None if none."""
    import lmfit  # takes most of a second, and only curves that are searched for need it

    curve = free.curve
    parameters = lmfit.Parameters()
    for place in free.places:
        given = free.of(curve.names[place])
        parameters.add(f"p{place}", value=begin[place], min=given.low, max=given.high)

    def full(asked: Any) -> FloatArray:
        values = begin.copy()
        values[free.places] = [asked[f"p{place}"].value for place in free.places]
        return values

    def remains(asked: Any) -> FloatArray:
        return points.whitened(curve.values(points.x, full(asked)) - points.y)

    def slopes(asked: Any) -> FloatArray:
        _, by = curve.slopes(points.x, full(asked))
        return points.whitened(by[:, free.places])

    minimizer = lmfit.Minimizer(remains, parameters, nan_policy="raise", calc_covar=False)
    try:
        with np.errstate(all="ignore"):
            found: Any = minimizer.leastsq(
                Dfun=slopes, col_deriv=0, ftol=_CLOSE, xtol=_CLOSE, gtol=0.0, max_nfev=_STEPS
            )
    except (ValueError, np.linalg.LinAlgError):  # not a number on the way
        return None
    values = full(found.params)
    if not found.success or not np.isfinite(values).all():
        return None
    return values, float(np.sum(remains(found.params) ** 2))


def _finished(points: _Points, free: _Free, values: FloatArray) -> Fit | NoFit:
    """A fit from its values: standard errors from the slopes there."""
    curve = free.curve
    with np.errstate(all="ignore"):
        there, slopes = curve.slopes(points.x, values)
    if not (np.isfinite(there).all() and np.isfinite(slopes).all()):
        return NoFit(f"“{curve.title}” is undefined at some of the points.")
    p = len(values)
    shape = np.zeros((p, p))
    at_bound = tuple(
        name
        for name in (curve.names[place] for place in free.places)
        if _is_at(values[curve.names.index(name)], free.of(name))
    )
    moving = np.array([k for k in free.places if curve.names[k] not in at_bound], dtype=int)
    if len(moving):
        columns = points.whitened(slopes[:, moving])
        sizes = np.linalg.norm(columns, axis=0)
        if not np.all(sizes > 0) or np.linalg.matrix_rank(columns / sizes) < len(sizes):
            return NoFit("The points do not tell these parameters apart; fix one of them.")
        inverse = np.linalg.inv(np.linalg.qr(columns / sizes)[1]) / sizes[:, None]
        shape[np.ix_(moving, moving)] = inverse @ inverse.T
    return _result(points, curve, values, shape, points.y - there, len(free.places), at_bound)


def _is_at(value: float, given: Given) -> bool:
    ends = [end for end in (given.low, given.high) if not isinf(end)]
    return any(abs(value - end) <= 1e-6 * max(abs(end), 1e-12) for end in ends)


def _result(
    points: _Points,
    curve: Curve,
    values: FloatArray,
    shape: FloatArray,
    residuals: FloatArray,
    p: int,
    at_bound: tuple[str, ...] = (),
) -> Fit:
    """A fit whose covariance is ``shape`` times the variance of the independent values."""
    n, dof = len(points.y), points.count - p
    variance = float(np.sum(points.whitened(residuals) ** 2)) / dof
    rss = float(np.sum(residuals**2))
    total = float(np.sum((points.y - points.y.mean()) ** 2))
    return Fit(
        curve=curve,
        values=values,
        covariance=variance * shape,
        n=n,
        dof=dof,
        rss=rss,
        scatter=float(np.sqrt(rss / (n - p))),
        r_squared=1 - rss / total if total > 0 else None,
        residuals=residuals,
        at_bound=at_bound,
    )


def _whitener(covariance: FloatArray) -> FloatArray:
    """Matrix ``(r, n)`` that turns values of this covariance into r independent ones."""
    variances, directions = np.linalg.eigh(covariance)
    kept = variances > 1e-9 * variances[-1]
    return np.asarray((directions[:, kept] / np.sqrt(variances[kept])).T, dtype=float)


def _unscale(p: int, centre: float, reach: float) -> FloatArray:
    """Matrix from coefficients in z = (x − centre)/reach to coefficients in x, highest first."""
    matrix = np.zeros((p, p))
    for power in range(p):
        for k in range(power + 1):
            matrix[p - 1 - k, p - 1 - power] = (
                comb(power, k) * (-centre) ** (power - k) / reach**power
            )
    return matrix
