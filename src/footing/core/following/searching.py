"""Looking for a patch in an area of a frame: where the correlation coefficient peaks.

The coefficient does not change with brightness or contrast (Lewis, Fast Normalized
Cross-Correlation, 1995).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from footing.core.arrays import AnyArray, Image
from footing.core.following.patches import Patch, Pose, smooth_area
from footing.core.following.streaks import Grey

_COARSE_FROM = 26  # px; wider areas are searched at half size first


@dataclass(frozen=True)
class Peak:
    """A place where a patch may be, and its correlation coefficient."""

    pose: Pose
    score: float


def peaks(frame: Image, patch: Patch, near: Pose, *, radius: int, most: int = 4) -> list[Peak]:
    """The best places of a patch within ``radius`` pixels of a pose, best first.

    They are whole pixels apart from where the pose put it, and at least half a patch from each
    other.
    """
    seen, weights = patch.seen_at(near)
    reach = seen.shape[0] // 2
    x, y = round(near.x), round(near.y)
    area = smooth_area(frame, x - radius - reach, y - radius - reach, 2 * (radius + reach) + 1)
    factor = 2 if radius >= _COARSE_FROM else 1
    if factor == 2:
        area, seen, weights = (_halved(one) for one in (area, seen, weights))
    scores = cv2.matchTemplate(area, seen, cv2.TM_CCOEFF_NORMED, mask=weights)
    scores[~np.isfinite(scores)] = -1
    apart = max(reach // (2 * factor), 2)
    found = []
    for _ in range(most):
        _, score, _, (column, row) = cv2.minMaxLoc(scores)
        if score <= 0:
            break
        middle = (np.array(scores.shape) - 1) / 2
        moved = (column - middle[1]) * factor, (row - middle[0]) * factor
        found.append(Peak(near.moved(*(float(one) for one in moved)), float(score)))
        scores[
            max(row - apart, 0) : row + apart + 1, max(column - apart, 0) : column + apart + 1
        ] = -1
    return found


def beyond_highest(scores: AnyArray, place: int) -> float:
    """By which part of a pixel a peak lies beyond its highest value: of a parabola through it."""
    if not 0 < place < len(scores) - 1:
        return 0.0
    before, here, after = (float(one) for one in scores[place - 1 : place + 2])
    bend = before - 2 * here + after
    return 0.0 if bend >= 0 else float(np.clip(0.5 * (before - after) / bend, -0.5, 0.5))


def _halved(picture: Grey) -> Grey:
    return np.asarray(
        cv2.resize(picture, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA), dtype=np.float32
    )
