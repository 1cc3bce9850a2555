"""A patch of a frame, and how it is seen.

A patch is held in its own coordinates; a pose says where its spot is in a frame, how much larger it
is seen there, and how it is turned.
"""

from dataclasses import dataclass, replace
from functools import cached_property
from math import hypot

import cv2
import numpy as np

from footing.core.arrays import FloatArray, Image
from footing.core.following.streaks import Grey, smeared

Point = tuple[float, float]

BEYOND = 24  # px around a patch that are kept with it
_SMOOTHING = 0.9  # px, deviation; makes sampling between pixels true
_MARGIN = 4  # px around what is smoothed
_CHANGES = (0.015, 0.04)  # by which size, and turn in radians, differ from what was foreseen
_NOISE = 30.0  # grey levels squared
_COARSE = 1.6  # px, deviation
_SHARP = 0.6  # of the reach: deviation of the weights around the spot


@dataclass(frozen=True)
class Pose:
    """Where the spot is (pixels), how many times larger it is seen, and how it is turned."""

    x: float
    y: float
    size: float = 1.0
    turn: float = 0.0

    @property
    def matrix(self) -> FloatArray:
        """From offsets within the patch to offsets in the frame."""
        c, s = self.size * np.cos(self.turn), self.size * np.sin(self.turn)
        return np.array([[c, -s], [s, c]])

    def moved(self, dx: float, dy: float) -> "Pose":
        """The same pose elsewhere."""
        return Pose(self.x + dx, self.y + dy, self.size, self.turn)


@dataclass(frozen=True)
class Patch:
    """Grey pixels ``(2 r + 1, 2 r + 1)``, smoothed, and where in them the spot is.

    spot : from the middle pixel
    weights : how much each pixel counts
    beyond : the patch with what lies around it, if that is known
    """

    grey: Grey
    spot: Point
    weights: Grey
    beyond: Grey | None = None

    @classmethod
    def around(cls, frame: Image, at: Point, *, reach: int) -> "Patch":
        """The patch around a place of a grey frame ``(height, width)``."""
        x, y = (round(value) for value in at)
        wide = reach + BEYOND
        beyond = smooth_area(frame, x - wide, y - wide, 2 * wide + 1)
        grey = np.ascontiguousarray(beyond[BEYOND:-BEYOND, BEYOND:-BEYOND])
        spot = (at[0] - x, at[1] - y)
        return cls(grey, spot, window_of(reach, spot), beyond)

    @property
    def reach(self) -> int:
        """Pixels on each side of the middle."""
        return self.grey.shape[0] // 2

    @cached_property
    def slopes(self) -> tuple[Grey, Grey]:
        """How the grey levels change to the right and downwards, grey levels/px."""
        rows, columns = np.gradient(self.grey)
        return np.asarray(columns, dtype=np.float32), np.asarray(rows, dtype=np.float32)

    @property
    def steepness(self) -> Grey:
        """How steep the grey levels are at each pixel, grey levels/px."""
        return np.asarray(np.hypot(*self.slopes), dtype=np.float32)

    @property
    def hold(self) -> float:
        """How firmly it can be placed: the smaller eigenvalue of its slopes, grey levels/px."""
        # what noise alone would hold on to is smoothed away
        y, x = np.gradient(cv2.GaussianBlur(self.grey, (0, 0), _COARSE))
        w = self.weights / self.weights.sum()
        xx, yy, xy = (float((w * a * b).sum()) for a, b in ((x, x), (y, y), (x, y)))
        return float(np.sqrt(max(np.linalg.eigvalsh([[xx, xy], [xy, yy]])[0], 0.0)))

    @cached_property
    def design(self) -> Grey:
        """Columns ``(n, 6)``: contrast, brightness; what moving, growing and turning changes."""
        gx, gy = (one.ravel() for one in self.slopes)
        axis = np.arange(-self.reach, self.reach + 1, dtype=np.float32)
        across, along = np.meshgrid(axis - self.spot[0], axis - self.spot[1])
        x, y = across.ravel(), along.ravel()
        parts = (self.grey.ravel(), np.ones(len(x)), -gx, -gy, -(gx * x + gy * y), gx * y - gy * x)
        return np.stack(parts, axis=1).astype(np.float32)

    @cached_property
    def design_in_rows(self) -> Grey:
        """The same, with a row for each unknown ``(6, n)``."""
        return np.ascontiguousarray(self.design.T)

    @cached_property
    def weights_in_a_row(self) -> Grey:
        """The weights ``(n,)`` in the order of the design's rows."""
        return self.weights.ravel()

    @cached_property
    def solver(self) -> "Solver":
        """The solver for the patch's own weights."""
        return self.solver_for(self.weights_in_a_row)

    def solver_for(self, weights: Grey) -> "Solver":
        """The solver for other weights ``(n,)`` of its pixels."""
        return solver(self.design, self.design_in_rows, weights)

    def smeared(self, streak: FloatArray) -> "Patch":
        """The patch as it looks when it moves along ``streak`` (px) while it is exposed."""
        if self.beyond is None:
            return replace(self, grey=smeared(self.grey, streak))
        grey = smeared(self.beyond, streak)[BEYOND:-BEYOND, BEYOND:-BEYOND]
        return replace(self, grey=np.ascontiguousarray(grey), beyond=None)

    def seen_at(self, pose: Pose) -> tuple[Grey, Grey]:
        """The patch and its weights as they would be seen at a pose, around its nearest pixel."""
        reach = max(round(self.reach * pose.size), 4)
        at = np.array([pose.x - round(pose.x), pose.y - round(pose.y)])
        inverse = np.linalg.inv(pose.matrix)
        middle = np.array(self.spot) + self.reach - inverse @ (at + reach)
        affine = np.column_stack([inverse, middle])
        size = (2 * reach + 1, 2 * reach + 1)
        how = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        grey = cv2.warpAffine(self.grey, affine, size, flags=how, borderMode=cv2.BORDER_REPLICATE)
        weights = cv2.warpAffine(self.weights, affine, size, flags=how)
        return np.asarray(grey, dtype=np.float32), np.asarray(weights, dtype=np.float32)


def distance(one: Point, other: Point) -> float:
    """Between two places, px."""
    return hypot(one[0] - other[0], one[1] - other[1])


@dataclass(frozen=True)
class Solver:
    """What turns pixels into the six unknowns of a design, by weighted least squares.

    weighted : the design's columns with their weights ``(6, n)``; inverse : of the normal equations
    back : what pulls size and turn to the foreseen ``(6, 2)``
    """

    weighted: Grey
    inverse: FloatArray
    back: FloatArray

    def solved(self, sample: Grey) -> FloatArray:
        """The unknowns ``(6,)`` for what is seen ``(n,)``."""
        return np.asarray(self.inverse @ (self.weighted @ sample))


def solver(design: Grey, in_rows: Grey, weights: Grey) -> Solver:
    """The solver for a design ``(n, 6)``, which is given turned ``(6, n)`` too, and its weights."""
    weighted = in_rows * weights
    normal = (weighted @ design).astype(float)
    stiff = _NOISE / np.square(_CHANGES)
    normal[4, 4] += stiff[0]
    normal[5, 5] += stiff[1]
    normal.flat[::7] += 1e-9 * np.trace(normal)  # its diagonal
    # much quicker than numpy's for a matrix as small as this
    inverse = np.asarray(cv2.invert(normal)[1], dtype=float)
    return Solver(weighted, inverse, inverse[:, 4:] * stiff)


def window_of(reach: int, spot: Point) -> Grey:
    """Weights of a patch of which nothing is known: less, the farther from the spot."""
    axis = np.arange(-reach, reach + 1, dtype=float)
    x, y = np.meshgrid(axis - spot[0], axis - spot[1])
    return np.exp(-(x**2 + y**2) / (2 * (_SHARP * reach) ** 2)).astype(np.float32)


def smooth_area(frame: Image, left: int, top: int, side: int) -> Grey:
    """A square of a grey frame, smoothed; outside the frame its edges are repeated."""
    area = square(frame, left - _MARGIN, top - _MARGIN, side + 2 * _MARGIN)
    smooth = cv2.GaussianBlur(area.astype(np.float32, order="C"), (0, 0), _SMOOTHING)
    return np.ascontiguousarray(smooth[_MARGIN:-_MARGIN, _MARGIN:-_MARGIN])


def square(frame: Image, left: int, top: int, side: int) -> Image:
    """A square of a frame ``(side, side)``; outside the frame its edges are repeated."""
    height, width = frame.shape
    if left >= 0 and top >= 0 and left + side <= width and top + side <= height:
        return frame[top : top + side, left : left + side]
    first_row, rows, above = _within(top, side, height)
    first_column, columns, before = _within(left, side, width)
    part = frame[first_row : first_row + rows, first_column : first_column + columns]
    below, after = side - rows - above, side - columns - before
    return np.asarray(cv2.copyMakeBorder(part, above, below, before, after, cv2.BORDER_REPLICATE))


def _within(first: int, side: int, size: int) -> tuple[int, int, int]:
    """What of a stretch lies within a size: its beginning, its length, what is missing before.

    Of one that lies wholly outside, what is next to it.
    """
    begin = min(max(first, 0), size - 1)
    length = max(min(first + side, size) - begin, 1)
    return begin, length, min(max(-first, 0), side - 1)
