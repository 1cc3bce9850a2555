"""Other ways to follow: what changed against the still background, and two general trackers.

They get the same frames and the same first mark, and are as good as is usual for them: none says
how sure it is.
"""

from collections.abc import Callable, Sequence
from typing import Any

import cv2
import numpy as np

from footing.core.arrays import AnyArray, Image
from footing.core.following.pictures import Picture

Point = tuple[float, float]
Marks = dict[int, Point]
Way = Callable[[Sequence[Picture], Point, float], Marks]

_CHANGED = 18.0  # grey levels
_SAMPLES = 15
_FARTHEST = 45.0  # px from where it was foreseen
_LEAST_AREA = 8
_MARGIN = 1.3  # of the size, that a tracker's box is wide


def by_change(frames: Sequence[Picture], at: Point, _size: float) -> Marks:
    """The piece that differs from the median of all frames, nearest to where it was foreseen."""
    step = max(len(frames) // _SAMPLES, 1)
    still = np.median(np.stack([frame.grey for frame in frames[::step]]), axis=0)
    marks = {0: at}
    place, velocity = np.array(at), np.zeros(2)
    for number, frame in enumerate(frames[1:], start=1):
        different = np.abs(frame.grey.astype(np.float32) - still)
        off = np.asarray(cv2.GaussianBlur(different, (0, 0), 1.0), dtype=np.float32)
        mask = cv2.morphologyEx((off > _CHANGED).astype(np.uint8), cv2.MORPH_CLOSE, np.ones((5, 5)))
        _, _, stats, centres = cv2.connectedComponentsWithStats(mask)
        there = [c for s, c in zip(stats[1:], centres[1:], strict=True) if s[4] >= _LEAST_AREA]
        if not there:
            continue
        near = min(there, key=lambda c: np.hypot(*(c - place - velocity)))
        if np.hypot(*(near - place - velocity)) > _FARTHEST:
            continue
        velocity, place = near - place, near
        marks[number] = (float(near[0]), float(near[1]))
    return marks


def _tracked(make: Callable[[], Any]) -> Way:
    def way(frames: Sequence[Picture], at: Point, size: float) -> Marks:
        tracker = make()
        half = max(_MARGIN * size / 2, 6.0)
        box = tuple(round(v) for v in (at[0] - half, at[1] - half, 2 * half, 2 * half))
        tracker.init(_coloured(frames[0]), box)
        middle = np.array([box[0] + box[2] / 2, box[1] + box[3] / 2])
        offset = np.array(at) - middle
        marks = {0: at}
        for number, frame in enumerate(frames[1:], start=1):
            found, (left, top, width, height) = tracker.update(_coloured(frame))
            if found:
                x, y = np.array([left + width / 2, top + height / 2]) + offset
                marks[number] = (float(x), float(y))
        return marks

    return way


def trackers() -> dict[str, Way]:
    """The two best general ones of the vision library's extra modules, where they are installed."""
    known: Any = cv2
    names = {"CSRT": "TrackerCSRT_create", "KCF": "TrackerKCF_create"}
    return {
        name: _tracked(getattr(known, make)) for name, make in names.items() if hasattr(known, make)
    }


def _coloured(frame: Picture) -> Image:
    if frame.chroma is None:
        return np.asarray(cv2.cvtColor(frame.grey, cv2.COLOR_GRAY2BGR), dtype=np.uint8)
    height, width = frame.grey.shape
    planes: list[AnyArray] = [frame.grey]
    for plane in (frame.chroma[1], frame.chroma[0]):
        planes.append(cv2.resize(plane, (width, height)))
    whole = np.dstack(planes).astype(np.uint8)
    return np.asarray(cv2.cvtColor(whole, cv2.COLOR_YCrCb2BGR), dtype=np.uint8)
