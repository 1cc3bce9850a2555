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

from footing.core.arrays import FloatArray
from footing.core.errors import Refused

_ROUNDS = 30
_CONVERGED = 1e-13
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

    def relative_uncertainty(self, at: FloatArray) -> float:
        """Relative uncertainty of lengths around the places ``(n, 2)``, from placing the points."""
        here = (at - self._centre) / self._size

        def logarithm(numbers: FloatArray) -> float:
            areas = np.abs(np.linalg.det(_slopes(_as_matrix(numbers), here)))
            return float(0.5 * np.log(np.mean(areas)))

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
    pixels: tuple[Point, ...], places: tuple[Point, ...], *, pixel_uncertainty: float
) -> Plane:
    """The plane through points with known places.

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
    return Plane(matrix, solved @ noise @ solved.T, known - _apply(matrix, here), centre, size)


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
