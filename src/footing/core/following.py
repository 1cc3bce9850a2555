"""Finding a patch of one frame in another: normalised cross-correlation, to a part of a pixel.

The correlation coefficient does not change with brightness or contrast (Lewis, Fast Normalized
Cross-Correlation, 1995). Its peak is placed between pixels by the top of the paraboloid fitted by
least squares to it and its eight neighbours.
"""

from dataclasses import dataclass

import numpy as np

from footing.core.arrays import FloatArray, Image

REACH = 15  # px of a patch around its middle
SEARCH = 24  # px around the last place
SURE = 0.8  # least correlation that counts as found

_Y, _X = (axis.ravel() for axis in np.mgrid[-1:2, -1:2].astype(float))
_PARABOLOID = np.linalg.pinv(np.stack([np.ones(9), _X, _Y, _X**2, _X * _Y, _Y**2], axis=1))


@dataclass(frozen=True)
class Patch:
    """A grey patch ``(2 r + 1, 2 r + 1)``, and where in it the spot is, from its middle pixel."""

    grey: FloatArray
    offset: tuple[float, float]

    @classmethod
    def around(cls, frame: Image, at: tuple[float, float], *, reach: int = REACH) -> "Patch":
        """The patch around a place of a grey frame ``(height, width)``."""
        x, y = (round(value) for value in at)
        padded = np.pad(frame.astype(float), reach, mode="edge")
        grey = padded[y : y + 2 * reach + 1, x : x + 2 * reach + 1]
        return cls(np.asarray(grey, dtype=float), (at[0] - x, at[1] - y))


def matched(
    frame: Image, patch: Patch, *, near: tuple[float, float], search: int = SEARCH
) -> tuple[float, float] | None:
    """Where the patch's spot is in a grey frame, or None where that is not sure.

    Not sure is a correlation below `SURE`, or a best place at the edge of the search area.
    """
    reach = patch.grey.shape[0] // 2
    x, y = (round(value) for value in near)
    room = reach + search
    padded = np.pad(frame.astype(float), room, mode="edge")
    area = padded[y : y + 2 * room + 1, x : x + 2 * room + 1]
    if area.shape != (2 * room + 1, 2 * room + 1):
        return None
    scores = correlation(area, patch.grey)
    row, column = (int(k) for k in np.unravel_index(np.argmax(scores), scores.shape))
    inside = 0 < row < scores.shape[0] - 1 and 0 < column < scores.shape[1] - 1
    if not inside or scores[row, column] < SURE:
        return None
    dx, dy = _vertex(scores[row - 1 : row + 2, column - 1 : column + 2])
    return x + column - search + dx + patch.offset[0], y + row - search + dy + patch.offset[1]


def correlation(area: FloatArray, patch: FloatArray) -> FloatArray:
    """Correlation coefficient of a patch at every place in an area where it fits whole."""
    views = np.lib.stride_tricks.sliding_window_view(area, patch.shape)
    flat = patch - patch.mean()
    norm = float(np.sqrt(np.sum(flat**2)))
    products = np.einsum("ijkl,kl->ij", views, flat)
    sums = views.sum(axis=(2, 3))
    squares = np.einsum("ijkl,ijkl->ij", views, views)
    spread = np.sqrt(np.maximum(squares - sums**2 / patch.size, 1e-9))
    return np.asarray(products / (spread * (norm or 1.0)), dtype=float)


def _vertex(nine: FloatArray) -> tuple[float, float]:
    """Place (x, y) of the top of the paraboloid fitted to values ``(3, 3)``, within a pixel.

    The mixed term matters: the peak of a slanting texture is a slanting ridge.
    """
    _, along_x, along_y, xx, xy, yy = _PARABOLOID @ nine.ravel()
    bend = np.array([[2 * xx, xy], [xy, 2 * yy]])
    if xx >= 0 or np.linalg.det(bend) <= 0:  # no top
        return 0.0, 0.0
    x, y = np.clip(np.linalg.solve(bend, [-along_x, -along_y]), -1.0, 1.0)
    return float(x), float(y)
