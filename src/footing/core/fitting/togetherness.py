"""Marks that err together: a hand that drifts or lags puts neighbours off to the same side.

Errors are taken as a first-order autoregression, e_i = r e_(i−1) + noise. How likely each r is,
residual likelihood tells (D. A. Harville, JASA 72, 320, 1977); the variance of the parameters is
its mean over what is likely, of the plain estimate under such errors (the "sandwich" of H. White,
Econometrica 48, 817, 1980, with that covariance in the middle).
"""

import numpy as np
from scipy import signal

from footing.core.arrays import FloatArray
from footing.core.fitting.result import Fit

_CORRELATIONS = np.linspace(0.0, 0.95, 20)
_USUALLY_NONE = 0.8  # prior probability that errors are independent
_FEWEST = 8  # points
_NOTICEABLE = 1.02  # times the plain standard errors, from which it counts


def widened(fit: Fit, x: FloatArray) -> FloatArray:
    """By how much the standard errors ``(p,)`` of a fit of independent points are to be larger.

    ``x`` are the points, in any order; they are taken in rising x. Gives the factors; 1 where
    nothing speaks for errors that go together.
    """
    n, p = len(x), len(fit.values)
    moving = np.flatnonzero(np.diag(fit.covariance) > 0)
    plain = np.ones(p)
    if n < _FEWEST or n - len(moving) < 3 or not fit.rss > 0 or not len(moving):
        return plain
    order = np.argsort(x, kind="stable")
    design = fit.curve.slopes(x[order], fit.values)[1][:, moving]
    sizes = np.linalg.norm(design, axis=0)
    if not np.all(sizes > 0) or not np.isfinite(design).all():
        return plain
    basis, _ = np.linalg.qr(design / sizes)  # standard errors keep their ratios in any basis
    residuals = fit.residuals[order]
    dof = n - len(moving)
    likelihood, variances = [], []
    for r in _CORRELATIONS:
        white = _whitened(residuals, r)
        across, triangle = np.linalg.qr(_whitened(basis, r))
        remains = white - across @ (across.T @ white)
        left = float(remains @ remains)
        log_determinants = -np.log(1 - r**2) + 2 * np.sum(np.log(np.abs(np.diag(triangle))))
        likelihood.append(-0.5 * (dof * np.log(left) + log_determinants))
        middle = basis.T @ _correlated(basis, r)
        variances.append(left / dof / (1 - r**2) * middle)
    weights = np.exp(np.array(likelihood) - max(likelihood))
    weights[1:] *= (1 - _USUALLY_NONE) / _USUALLY_NONE / (len(weights) - 1)
    weights /= weights.sum()
    together = np.tensordot(weights, np.array(variances), axes=1)
    independent = variances[0]
    back = np.linalg.solve(np.linalg.qr(design / sizes)[1], np.eye(len(moving)))
    ratio = np.sqrt(
        np.diag(back @ together @ back.T) / np.maximum(np.diag(back @ independent @ back.T), 1e-300)
    )
    plain[moving] = np.where(ratio > _NOTICEABLE, ratio, 1.0)
    return plain


def _whitened(values: FloatArray, r: float) -> FloatArray:
    """Values or columns as independent ones, if errors are so correlated."""
    rest = values[1:] - r * values[:-1]
    return np.concatenate([values[:1] * np.sqrt(1 - r**2), rest])


def _correlated(columns: FloatArray, r: float) -> FloatArray:
    """Σ_j r^|i−j| of columns ``(n, k)``, by the recursion y_i = r y_(i−1) + x_i from each side."""
    forward = signal.lfilter([1.0], [1.0, -r], columns, axis=0)
    backward = signal.lfilter([1.0], [1.0, -r], columns[::-1], axis=0)[::-1]
    return np.asarray(forward + backward - columns, dtype=float)
