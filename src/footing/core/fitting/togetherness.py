"""Marks that err together: a hand that drifts or lags puts neighbours off to the same side.

Errors are taken as a first-order autoregression, e_i = r e_(i−1) + noise. How likely each r is,
residual likelihood tells (D. A. Harville, JASA 72, 320, 1977); the variance of the parameters is
its mean over what is likely, of the plain estimate under such errors (the "sandwich" of H. White,
Econometrica 48, 817, 1980, with that covariance in the middle).
"""

import numpy as np
from scipy import fft

from footing.core.arrays import FloatArray
from footing.core.fitting.result import Fit

_CORRELATIONS = np.linspace(0.0, 0.95, 20)
_NO_CORRELATION = 1e-300  # instead of 0, whose logarithm is none
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
    basis, scale = np.linalg.qr(design / sizes)  # standard errors keep their ratios in any basis
    dof = n - len(moving)
    columns = np.column_stack([basis, fit.residuals[order]])
    products = _of_whitened(columns)
    grams, crosses, squares = products[:, :-1, :-1], products[:, :-1, -1], products[:, -1, -1]
    explained = np.linalg.solve(grams, crosses[:, :, None])[:, :, 0]
    left = squares - np.sum(crosses * explained, axis=1)
    alone = 1 - _CORRELATIONS**2
    log_determinants = -np.log(alone) + np.linalg.slogdet(grams)[1]
    likelihood = -0.5 * (dof * np.log(left) + log_determinants)
    variances = (left / dof / alone)[:, None, None] * _correlated(basis)
    weights = np.exp(likelihood - likelihood.max())
    weights[1:] *= (1 - _USUALLY_NONE) / _USUALLY_NONE / (len(weights) - 1)
    weights /= weights.sum()
    together = np.tensordot(weights, variances, axes=1)
    independent = variances[0]
    back = np.linalg.solve(scale, np.eye(len(moving)))
    ratio = np.sqrt(
        np.diag(back @ together @ back.T) / np.maximum(np.diag(back @ independent @ back.T), 1e-300)
    )
    plain[moving] = np.where(ratio > _NOTICEABLE, ratio, 1.0)
    return plain


def _of_whitened(columns: FloatArray) -> FloatArray:
    """Products ``(r, k, k)`` of columns ``(n, k)`` whose errors are made independent.

    For each correlation these are √(1 − r²) times the first row, and each other one less r times
    the row before.
    """
    by = _CORRELATIONS[:, None, None]
    first, rest, others = columns[:1], columns[1:], columns[:-1]
    across = rest.T @ others
    own = rest.T @ rest + first.T @ first
    return own - by * (across + across.T) + by**2 * (others.T @ others - first.T @ first)


def _correlated(columns: FloatArray) -> FloatArray:
    """Σ_ij r^|i−j| a_i b_j of each two columns of ``(n, k)``, as ``(r, k, k)``.

    By their products at each distance |i − j|, which are the same for every correlation.
    """
    n = len(columns)
    length = fft.next_fast_len(2 * n - 1, real=True)  # with room for distances either way
    waves = fft.rfft(columns, length, axis=0)
    either_way = fft.irfft(waves[:, :, None] * waves[:, None, :].conj(), length, axis=0)
    products = either_way[:n] + either_way[-np.arange(n)]
    products[0] /= 2
    far = np.arange(n)[None, :] * np.log(np.maximum(_CORRELATIONS, _NO_CORRELATION))[:, None]
    return np.tensordot(np.exp(far), products, axes=1)
