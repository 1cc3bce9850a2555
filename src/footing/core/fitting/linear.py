"""Curves that are linear in their parameters, solved directly by QR.

Polynomials in a centred and scaled x, which keeps twelve digits where normal equations would lose
them (Golub and Van Loan, Matrix Computations, 4th ed., 5.3).
"""

from math import comb

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.curves import Curve
from footing.core.fitting.problem import Free, Points
from footing.core.fitting.result import Fit, result_of

_SAME = 1e-9  # relative difference of slopes below which a curve is linear in its parameters
_REFINEMENTS = 3


def solve_polynomial(points: Points, curve: Curve) -> Fit:
    """The fit of a polynomial with all its coefficients free."""
    p = len(curve.names)
    centre = float(points.x.mean())
    reach = float(np.ptp(points.x)) / 2 or 1.0
    design = np.vander((points.x - centre) / reach, p)
    scaled, inverse = _solve(points.whitened(design), points.whitened(points.y))
    unscale = _unscale(p, centre, reach)
    residuals = np.asarray(points.y - design @ scaled, dtype=float)
    shape = unscale @ (inverse @ inverse.T) @ unscale.T
    return result_of(points, curve, unscale @ scaled, shape, residuals, p)


def solve_linear(points: Points, free: Free) -> Fit | None:
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
    return result_of(points, curve, values, shape, residuals, len(free.places))


def solve_within(points: Points, free: Free) -> FloatArray:
    """Values inside their bounds of a curve that is linear in them: active sets, no search."""
    from scipy import optimize  # takes long to load, and few fits are bounded

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


def _unscale(p: int, centre: float, reach: float) -> FloatArray:
    """Matrix from coefficients in z = (x − centre)/reach to coefficients in x, highest first."""
    matrix = np.zeros((p, p))
    for power in range(p):
        for k in range(power + 1):
            matrix[p - 1 - k, p - 1 - power] = (
                comb(power, k) * (-centre) ** (power - k) / reach**power
            )
    return matrix
