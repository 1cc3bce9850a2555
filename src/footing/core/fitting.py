"""Least-squares fits with standard errors.

Polynomials are linear in their parameters and are solved directly by QR in a centred and scaled x,
which keeps twelve digits where normal equations would lose them (Golub and Van Loan, Matrix
Computations, 4th ed., 5.3). Where neighbouring values share marks, generalised least squares with
their covariance is used (Aitken, Proc. R. Soc. Edinburgh 55, 42, 1936).
"""

from dataclasses import dataclass
from math import comb, isinf

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray
from footing.core.curves import Curve


@dataclass(frozen=True)
class Fit:
    """A converged fit.

    values, covariance : (p,) and (p, p), parameters highest power first
    n, dof : number of points; degrees of freedom of the standard errors
    rss : sum of squared residuals, in y²
    scatter : √(rss/(n − p)), in y
    r_squared : 1 − rss/Σ(y − ȳ)²; None if all y are equal
    residuals : (n,) y minus curve
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

    @property
    def standard_errors(self) -> FloatArray:
        """Standard errors ``(p,)``."""
        return np.asarray(np.sqrt(np.diag(self.covariance)), dtype=float)

    def predict(self, x: FloatArray) -> FloatArray:
        """The curve at ``x``."""
        return np.asarray(np.polyval(self.values, x), dtype=float)

    def derivative_at(self, x: float, order: int) -> tuple[float, float]:
        """Value and standard error of a derivative of the curve (order 0: the curve) at ``x``."""
        p = len(self.values)
        gradient = np.zeros(p)
        for k in range(p):
            power = p - 1 - k
            if power >= order:
                factor = np.prod(np.arange(power, power - order, -1, dtype=float))
                gradient[k] = factor * x ** (power - order)
        variance = float(gradient @ self.covariance @ gradient)
        return float(gradient @ self.values), float(np.sqrt(max(variance, 0.0)))


@dataclass(frozen=True)
class NoFit:
    """An honest "not yet": the reason, as a sentence to show."""

    reason: str


def fit_polynomial(
    x: FloatArray, y: FloatArray, curve: Curve, *, covariance: FloatArray | None = None
) -> Fit | NoFit:
    """Fit a polynomial to ``(n,)`` points.

    Parameters
    ----------
    covariance : (n, n) covariance of y up to a common factor; None for independent y. It may be
        singular (derived values can depend on each other); directions without variance are left
        out and do not count as degrees of freedom.

    Returns
    -------
    Fit, or NoFit if there are fewer points than parameters + 1, or too few different x.
    """
    p = curve.degree + 1
    n = len(x)
    if n < p + 1:
        return NoFit(
            f"{n} {'point' if n == 1 else 'points'} here; a {curve.title} needs at least {p + 1}."
        )
    if len(np.unique(x)) < p:
        return NoFit(f"The points have too few different values of x for a {curve.title}.")
    centre, reach = float(x.mean()), float(np.ptp(x)) / 2
    design = np.vander((x - centre) / reach, p)
    whitened, target = design, y
    if covariance is not None:
        whitener = _whitener(covariance)
        whitened, target = whitener @ design, whitener @ y
    dof = len(target) - p
    if dof < 1:
        return NoFit(f"The points depend on too few marks for a {curve.title}.")
    q, r = np.linalg.qr(whitened)
    scaled = np.linalg.solve(r, q.T @ target)
    inverse = np.linalg.inv(r)
    variance = float(np.sum((target - whitened @ scaled) ** 2)) / dof
    unscale = _unscale(p, centre, reach)
    residuals = np.asarray(y - design @ scaled, dtype=float)
    rss = float(np.sum(residuals**2))
    total = float(np.sum((y - y.mean()) ** 2))
    return Fit(
        curve=curve,
        values=unscale @ scaled,
        covariance=variance * unscale @ (inverse @ inverse.T) @ unscale.T,
        n=n,
        dof=dof,
        rss=rss,
        scatter=float(np.sqrt(rss / (n - p))),
        r_squared=1 - rss / total if total > 0 else None,
        residuals=residuals,
    )


def interval_factor(dof: float, *, share: float = 0.95) -> float:
    """Student's t for a two-sided interval that holds ``share`` of the probability."""
    quantile = (1 + share) / 2
    return float(special.ndtri(quantile) if isinf(dof) else special.stdtrit(dof, quantile))


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
