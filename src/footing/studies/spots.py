"""Following a fixed spot of the background through the span of a footage."""

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np

from footing.core.following import Patch, matched
from footing.media.frames import decode_group
from footing.settings import Settings
from footing.studies.grounds import media_index
from footing.studies.uploads import stored_media

_ROOM = 220  # px around the spot within which the camera may move; bounds the memory


@dataclass(frozen=True)
class Followed:
    """Marks ``(frame, x, y)`` that were found, and a sentence about how it went."""

    marks: list[tuple[int, float, float]]
    said: str


def follow_spot(footage: Any, start: Any, settings: Settings) -> Followed:
    """Follow a spot from its mark ``start`` to the end of the span, then back to the beginning.

    It stays in place but for the camera's own movement, so each frame is searched around where it
    was in the one before. Where it cannot be found with certainty the frame is left out.
    """
    stored = stored_media(footage, settings)
    index = media_index(footage.media_id)
    wanted = range(footage.first, footage.last + 1)
    left, top = (max(round(value) - _ROOM, 0) for value in (start.x, start.y))
    window = np.s_[top : round(start.y) + _ROOM, left : round(start.x) + _ROOM]
    grey = {
        number: np.asarray(cv2.cvtColor(picture[window], cv2.COLOR_BGR2GRAY), dtype=np.uint8)
        for first, end in _groups(index, wanted)
        for number, picture in decode_group(
            stored.path, index, first, end, seconds=settings.decode_seconds
        )
        if number in wanted or number == start.frame
    }
    begin = (start.x - left, start.y - top)
    patch = Patch.around(grey[start.frame], begin)
    marks = []
    lost = 0
    for frames in (
        range(start.frame + 1, footage.last + 1),
        range(start.frame - 1, footage.first - 1, -1),
    ):
        at = begin
        for frame in frames:
            found = matched(grey[frame], patch, near=at) if frame in grey else None
            if found is None:
                lost += 1
                continue
            at = found
            marks.append((frame, float(at[0]) + left, float(at[1]) + top))
    said = f"The background spot was followed through {len(marks)} frames."
    if lost:
        said += f" In {lost} it could not be found; those frames do not count."
    return Followed(sorted(marks), said)


def _groups(index: Any, wanted: range) -> list[tuple[int, int]]:
    ends = (*index.keys[1:], index.frames)
    return [
        (first, end)
        for first, end in zip(index.keys, ends, strict=True)
        if first <= wanted[-1] and end > wanted[0]
    ]
