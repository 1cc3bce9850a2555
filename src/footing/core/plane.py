"""An oblique view: the plane of the motion seen at a slant, laid flat by a homography.

The eight numbers of H come from points whose places in the plane are known: the four corners of a
rectangle, or more. With four points they are solved for exactly; with more the sum of the squared
residuals *in the plane* is least (Gauss–Newton, started from the direct linear transformation with
normalised coordinates; Hartley and Zisserman, Multiple View Geometry, 2nd ed., 4.1 and 4.4).
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray
from footing.core.errors import Refused

_ROUNDS = 30
_CONVERGED = 1e-13
_MISFIT = 0.01  # chance below which residuals are larger than all that is known explains
_FLATTEST = 1e-9  # of the area spanned, below which points count as lying on one line

Point = tuple[float, float]


@dataclass(frozen=True)
class Plane:
    """The plane of the motion.

    matrix : (3, 3) H, the last element 1 in normalised coordinates
    covariance : (8, 8) of the numbers of H, from placing the points with u_px
    residuals : (n, 2) in units of length; zero for four points
    """

    matrix: FloatArray
    covariance: FloatArray
    residuals: FloatArray
    _centre: FloatArray
    _size: float

    def flat(self, pixels: FloatArray) -> FloatArray:
        """Places in the plane ``(n, 2)`` of pixels ``(n, 2)``."""
        return _apply(self.matrix, (pixels - self._centre) / self._size)

    def pixels(self, flat: FloatArray) -> FloatArray:
        """Pixels of places in the plane."""
        return _apply(np.linalg.inv(self.matrix), flat) * self._size + self._centre

    def per_pixel(self, at: FloatArray) -> float:
        """Length that a pixel stands for near the places ``(n, 2)``, root mean square."""
        if len(at) == 0:
            return float("nan")
        areas = np.abs(np.linalg.det(_slopes(self.matrix, (at - self._centre) / self._size)))
        return float(np.sqrt(np.mean(areas)) / self._size)

    def error_shapes(self, at: FloatArray) -> FloatArray:
        """How errors of a pixel at the places ``(n, 2)`` lie in the plane, ``(n, 2, 2)``.

        Columns are errors along and across the picture, in units of `per_pixel`.
        """
        slopes = _slopes(self.matrix, (at - self._centre) / self._size) / self._size
        return np.asarray(slopes / self.per_pixel(at), dtype=float)

    def relative_uncertainty(self, at: FloatArray) -> float:
        """Relative uncertainty of lengths around the places ``(n, 2)``, along the side where it is
        larger, from placing the points and from what was typed.
        """
        here = (at - self._centre) / self._size
        inverse = np.asarray(np.linalg.inv(_slopes(self.matrix, here)), dtype=float)
        found = [self._along_a_side(here, inverse[:, :, side], side) for side in (0, 1)]
        return max(found)

    def _along_a_side(self, here: FloatArray, steps: FloatArray, side: int) -> float:
        """Relative uncertainty of steps ``(n, 2)`` in the picture, of a unit along a side."""

        def logarithm(numbers: FloatArray) -> float:
            slopes = _slopes(_as_matrix(numbers), here)
            lengths = np.einsum("nj,nj->n", slopes[:, side, :], steps)
            return float(np.log(np.mean(np.abs(lengths))))

        slope = _gradient(logarithm, self.matrix.ravel()[:8])
        return float(np.sqrt(slope @ self.covariance @ slope))

    def place_uncertainty(self, at: Point) -> float:
        """Standard uncertainty of a place in the plane (its larger axis), in units of length."""
        here = (np.array([at]) - self._centre) / self._size
        parts = _derivatives(self.matrix, here).reshape(2, 8)
        return float(np.sqrt(np.linalg.eigvalsh(parts @ self.covariance @ parts.T).max()))

    @property
    def scatter(self) -> float | None:
        """√(rss / (2n − 8)) of the residuals, or None for four points."""
        spare = self.residuals.size - 8
        return float(np.sqrt(np.sum(self.residuals**2) / spare)) if spare > 0 else None


@lru_cache(maxsize=64)
def fitted_plane(
    pixels: tuple[Point, ...],
    places: tuple[Point, ...],
    *,
    pixel_uncertainty: float,
    side_uncertainties: tuple[float, float] = (0.0, 0.0),
    further_uncertainties: tuple[Point, ...] = (),
) -> Plane:
    """The plane through points with known places.

    The first four are the corners of a rectangle, whose sides are known as well as
    ``side_uncertainties`` say; the places of further points have uncertainties of their own. Where
    points leave larger residuals than all that explains (χ², below one in a hundred), everything is
    taken to be as uncertain as the residuals say.

    Raises
    ------
    Refused : for fewer than four points, points on one line, or places that no camera could see
        where they were marked (corners out of order).
    """
    if len(pixels) < 4:
        raise Refused(f"Mark four points; there are {len(pixels)} so far.", field="plane")
    seen, known = np.array(pixels, dtype=float), np.array(places, dtype=float)
    for points, where in ((seen, "the picture"), (known, "the plane")):
        if _lie_on_a_line(points):
            raise Refused(
                f"Three of the points lie on one line in {where}; mark the corners of a rectangle.",
                field="plane",
            )
    centre, size = seen.mean(axis=0), float(np.abs(seen - seen.mean(axis=0)).max())
    here = (seen - centre) / size
    matrix = _refined(_direct(here, known), here, known)
    depths = np.hstack([here, np.ones((len(here), 1))]) @ matrix[2]
    if np.any(depths <= 0) or not np.all(np.isfinite(matrix)):
        raise Refused(
            "These corners cannot be a rectangle seen by a camera; go round it in order, beginning "
            "at the lower left.",
            field="plane",
        )
    jacobian = _derivatives(matrix, here)
    solved = np.linalg.pinv(jacobian)
    slopes = _slopes(matrix, here) * (pixel_uncertainty / size)
    noise = np.zeros((2 * len(here), 2 * len(here)))
    for k, slope in enumerate(slopes):
        noise[2 * k : 2 * k + 2, 2 * k : 2 * k + 2] = slope @ slope.T
    noise += _of_places(known, side_uncertainties, further_uncertainties)
    residuals = known - _apply(matrix, here)
    covariance = solved @ noise @ solved.T
    return Plane(matrix, covariance * _misfit(residuals, noise), residuals, centre, size)


def _of_places(
    known: FloatArray, sides: tuple[float, float], further: tuple[Point, ...]
) -> FloatArray:
    """Covariance ``(2n, 2n)`` of places: corners move with their sides, others by themselves."""
    n = len(known)
    by_sides = np.zeros((2 * n, 2))
    for corner, (x, y) in enumerate(((0, 0), (1, 0), (1, 1), (0, 1))):
        by_sides[2 * corner, 0], by_sides[2 * corner + 1, 1] = x * sides[0], y * sides[1]
    covariance = by_sides @ by_sides.T
    own = np.zeros(2 * n)
    own[8 : 8 + 2 * len(further)] = np.array(further, dtype=float).ravel() ** 2
    return np.asarray(covariance + np.diag(own), dtype=float)


def _misfit(residuals: FloatArray, noise: FloatArray) -> float:
    """By how much variances are larger than was thought, where residuals say so; else 1."""
    spare = residuals.size - 8
    if spare <= 0:
        return 1.0
    chi_squared = float(residuals.ravel() @ np.linalg.pinv(noise) @ residuals.ravel())
    if special.chdtrc(spare, chi_squared) >= _MISFIT:
        return 1.0
    few = float(special.stdtrit(spare, 0.975) / special.ndtri(0.975))
    return max(chi_squared / spare, 1.0) * few**2


def rectangle(across: float, along: float) -> tuple[Point, ...]:
    """Corners of a rectangle, counter-clockwise from the lower left."""
    return (0.0, 0.0), (across, 0.0), (across, along), (0.0, along)


def _apply(matrix: Any, points: FloatArray) -> FloatArray:
    spread = np.hstack([points, np.ones((len(points), 1))]) @ matrix.T
    return np.asarray(spread[:, :2] / spread[:, 2:], dtype=float)


def _slopes(matrix: FloatArray, points: FloatArray) -> FloatArray:
    """∂(place)/∂(pixel), ``(n, 2, 2)``."""
    depth = np.hstack([points, np.ones((len(points), 1))]) @ matrix[2]
    places = _apply(matrix, points)
    return np.asarray(
        (matrix[None, :2, :2] - places[:, :, None] * matrix[None, 2:, :2]) / depth[:, None, None],
        dtype=float,
    )


def _derivatives(matrix: FloatArray, points: FloatArray) -> FloatArray:
    """∂(place)/∂(the eight numbers of H), ``(2n, 8)``."""
    ones = np.ones((len(points), 1))
    spread = np.hstack([points, ones])
    row = spread / (spread @ matrix[2])[:, None]
    places = _apply(matrix, points)
    found = np.zeros((len(points), 2, 8))
    found[:, 0, 0:3] = row
    found[:, 1, 3:6] = row
    found[:, :, 6:8] = -places[:, :, None] * row[:, None, :2]
    return found.reshape(-1, 8)


def _as_matrix(numbers: Any) -> FloatArray:
    return np.append(numbers, 1.0).reshape(3, 3)


def _direct(points: FloatArray, places: FloatArray) -> FloatArray:
    rows: list[FloatArray] = []
    for (x, y), (u, v) in zip(points, places, strict=True):
        rows.append(np.array([x, y, 1, 0, 0, 0, -u * x, -u * y]))
        rows.append(np.array([0, 0, 0, x, y, 1, -v * x, -v * y]))
    numbers = np.linalg.lstsq(np.array(rows), places.ravel(), rcond=None)[0]
    return _as_matrix(numbers)


def _refined(matrix: FloatArray, points: FloatArray, places: FloatArray) -> FloatArray:
    for _ in range(_ROUNDS):
        residuals = (places - _apply(matrix, points)).ravel()
        step = np.linalg.lstsq(_derivatives(matrix, points), residuals, rcond=None)[0]
        matrix = matrix + np.append(step, 0.0).reshape(3, 3)
        if np.abs(step).max() <= _CONVERGED * np.abs(matrix).max():
            break
    return matrix


def _gradient(function: Callable[[FloatArray], float], at: FloatArray) -> FloatArray:
    """Central differences, each step a share of the number's size."""
    found = np.empty(len(at))
    for k, value in enumerate(at):
        step = 1e-6 * max(abs(float(value)), 1e-3)
        above, below = at.copy(), at.copy()
        above[k] += step
        below[k] -= step
        found[k] = (function(above) - function(below)) / (2 * step)
    return found


def _lie_on_a_line(points: FloatArray) -> bool:
    """Whether any three of the first four points lie on one line."""
    spread = np.ptp(points, axis=0).max() or 1.0
    first: Sequence[FloatArray] = list((points[:4] - points.mean(axis=0)) / spread)
    for left_out in range(4):
        a, b, c = (point for k, point in enumerate(first) if k != left_out)
        if abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) < _FLATTEST:
            return True
    return False
