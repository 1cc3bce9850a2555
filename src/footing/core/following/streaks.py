"""Motion blur: what a motion does to a picture while the shutter is open.

A body that moves by v in a frame's time, exposed for a share β of it, is smeared along β v. Two
pictures of it that were smeared along a and b look alike once the first is smeared along b as well,
and the second along a; so neither has to be sharpened.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from footing.core.arrays import FloatArray

Grey = NDArray[np.float32]

_SAMPLES = 4  # for each pixel of length
_USUAL_SHARE = 0.35  # of a frame's time, that a phone is exposed by daylight
_AT_FIRST = 400.0  # how certain that is: as one streak of 20 px that is known to a pixel
_FADES = 0.95  # certainty that stays, from streak to streak
_FAST = 12.0  # px/frame, from which a streak is told from a soft edge


@dataclass(frozen=True)
class Streak:
    """How long a streak was measured to be, px, and how certainly: inverse variance, 1/px²."""

    length: float
    certainty: float


@dataclass(frozen=True)
class Exposure:
    """For what share of a frame's time the shutter is open, and how certainly that is known.

    certainty : inverse variance of the share
    """

    share: float = _USUAL_SHARE
    certainty: float = _AT_FIRST

    def after(self, streak: Streak, speed: float) -> "Exposure":
        """With a streak more, of a body of some speed, px/frame; slow ones tell nothing."""
        if speed < _FAST:
            return self
        measured = min(max(streak.length / speed, 0.0), 1.0)
        weight = streak.certainty * speed**2
        certainty = self.certainty + weight
        share = (self.certainty * self.share + weight * measured) / certainty
        return Exposure(share, _FADES * certainty)


def kernel(streak: FloatArray) -> Grey:
    """A line along ``streak`` (px, as x and y), of sum 1, to be convolved with."""
    length = float(np.hypot(*streak))
    half = int(np.ceil(length / 2)) + 1
    steps = np.linspace(-0.5, 0.5, max(int(_SAMPLES * length), 2))[:, None] * streak + half
    found = np.zeros((2 * half + 1, 2 * half + 1), dtype=np.float32)
    low = np.floor(steps).astype(int)
    x, y = (steps - low).T
    for dx, dy, share in (
        (0, 0, (1 - x) * (1 - y)),
        (1, 0, x * (1 - y)),
        (0, 1, (1 - x) * y),
        (1, 1, x * y),
    ):
        np.add.at(found, (low[:, 1] + dy, low[:, 0] + dx), share.astype(np.float32))
    return np.asarray(found / found.sum(), dtype=np.float32)


def smeared(grey: Grey, streak: FloatArray) -> Grey:
    """A picture, smeared along ``streak``."""
    return np.asarray(
        cv2.filter2D(grey, -1, kernel(streak), borderType=cv2.BORDER_REPLICATE), dtype=np.float32
    )
