"""The straightened preview of an oblique view: the plane of the motion, laid flat."""

import cv2
import numpy as np

from footing.core.errors import Refused
from footing.studies.model.grounds import Grounded

_LONG_SIDE = 640
_AROUND = 0.35  # of the rectangle's sides, shown on every side of it
_QUALITY = 85
_PAPER = (244, 249, 251)


def straightened(ground: Grounded, picture: bytes) -> bytes:
    """A JPEG of a frame, given as JPEG of any size, with the plane laid flat, y upwards.

    Raises
    ------
    Refused : if the source has no complete oblique view.
    """
    plane = ground.plane
    if plane is None:
        raise Refused(ground.plane_problem or "This source has no oblique view.", field="plane")
    seen = cv2.imdecode(np.frombuffer(picture, dtype=np.uint8), cv2.IMREAD_COLOR)
    assert seen is not None
    factor = seen.shape[1] / ground.index.width
    corners = plane.flat(np.array([(one.x, one.y) for one in ground.plane_points[:4]]))
    low, high = corners.min(axis=0), corners.max(axis=0)
    low, high = low - _AROUND * (high - low), high + _AROUND * (high - low)
    per_unit = _LONG_SIDE / float(np.max(high - low))
    width, height = (max(round(float(side) * per_unit), 8) for side in high - low)
    flat = np.array([[low[0], high[1]], [high[0], high[1]], [high[0], low[1]], [low[0], low[1]]])
    from_pixels = (plane.pixels(flat) + 0.5) * factor - 0.5
    to_pixels = np.array([[0, 0], [width - 1, 0], [width - 1, height - 1], [0, height - 1]])
    matrix = cv2.getPerspectiveTransform(
        from_pixels.astype(np.float32), to_pixels.astype(np.float32)
    )
    laid = cv2.warpPerspective(seen, matrix, (width, height), borderValue=_PAPER)
    return cv2.imencode(".jpg", laid, [cv2.IMWRITE_JPEG_QUALITY, _QUALITY])[1].tobytes()
