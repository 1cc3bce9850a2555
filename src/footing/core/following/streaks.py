"""Motion blur: what a motion does to a picture while the shutter is open.

A body that moves by v in a frame's time, exposed for a share β of it, is smeared along β v. Two
pictures of it that were smeared along a and b look alike once the first is smeared along b as well,
and the second along a; so neither has to be sharpened.
"""

import cv2
import numpy as np
from numpy.typing import NDArray

from footing.core.arrays import FloatArray

Grey = NDArray[np.float32]

_SAMPLES = 4  # for each pixel of length


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
