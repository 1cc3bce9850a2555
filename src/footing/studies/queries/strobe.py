"""Pictures of a body: from many frames in one, and the spot that is marked."""

from collections.abc import Callable
from typing import Any

import cv2
import numpy as np

from footing.core.arrays import FloatArray, Image
from footing.core.errors import NotThere, Refused
from footing.store.rows import Body
from footing.store.snapshot import StudyRows
from footing.studies.model.grounds import media_index
from footing.studies.model.kinds import kind_of

_MOST = 60  # bodies in one picture
_QUALITY = 90
_SPOT, _SPOT_SHOWN = 24, 96  # px around the spot, and side of its picture
_LEAST_REACH = 24.0  # px
_SOFT = 0.25  # of the reach, over which a body fades into the picture
_CHANGED = 14.0  # grey levels

Pictured = Callable[[int], bytes]


def strobe(rows: StudyRows, body: Body, *, every: int, picture: Pictured) -> bytes:
    """A JPEG that shows a body where it was in each of its frames (or every n-th).

    What has changed around each mark, against a frame in which the body is elsewhere, is laid over
    that frame. ``picture`` gives a frame as JPEG of any size.
    """
    marks = rows.marks_of(body)[:: max(every, 1)]
    if len(marks) < 2:
        raise Refused("Mark the body in two frames or more first.", field="body")
    marks = marks[:: -(-len(marks) // _MOST)]
    ground = _decoded(picture(marks[0].frame)).astype(np.float32)
    other = _decoded(picture(marks[-1].frame)).astype(np.float32)
    factor = ground.shape[1] / media_index(rows.footage_of(body).content).width
    places = (np.array([(mark.x, mark.y) for mark in marks]) + 0.5) * factor - 0.5
    reach = max(_reach(places), _LEAST_REACH * factor)
    # the place of the first mark as it is without the body
    _lay(ground, other, places[0], reach, everything=True)
    empty = ground.copy()
    for mark, place in zip(marks, places, strict=True):
        seen = _decoded(picture(mark.frame)).astype(np.float32)
        _lay(ground, seen, place, reach, behind=empty)
    return _jpeg(np.clip(ground, 0, 255).astype(np.uint8))


def spot(rows: StudyRows, body: Body, *, picture: Pictured) -> bytes:
    """A small JPEG of what was marked first, with its surroundings."""
    mark = next((mark for mark in rows.marks_of(body) if mark.quality is None), None)
    if mark is None:
        raise NotThere("The body is not marked by hand yet.")
    index = media_index(rows.footage_of(body).content)
    seen = _decoded(picture(mark.frame if kind_of(index).has_time else 0))
    factor = seen.shape[1] / index.width
    x, y = ((value + 0.5) * factor - 0.5 for value in (mark.x, mark.y))
    k = _SPOT_SHOWN / (2 * _SPOT * factor)
    middle = (_SPOT_SHOWN - 1) / 2
    matrix = np.array([[k, 0, middle - k * x], [0, k, middle - k * y]])
    size = (_SPOT_SHOWN, _SPOT_SHOWN)
    return _jpeg(np.asarray(cv2.warpAffine(seen, matrix, size, borderMode=cv2.BORDER_REPLICATE)))


def _reach(places: FloatArray) -> float:
    """How far around a mark the body is looked for: most of the way to its neighbours."""
    steps = np.hypot(*np.diff(places, axis=0).T)
    return float(np.clip(1.2 * np.median(steps), 0, 90))


def _lay(
    ground: FloatArray | Any,
    seen: Any,
    place: FloatArray,
    reach: float,
    *,
    behind: Any = None,
    everything: bool = False,
) -> None:
    """Lay what is seen around a place over the ground; only what has changed, unless everything."""
    room = int(np.ceil(reach * (1 + _SOFT)))
    x, y = (round(float(value)) for value in place)
    rows = slice(max(y - room, 0), min(y + room + 1, ground.shape[0]))
    columns = slice(max(x - room, 0), min(x + room + 1, ground.shape[1]))
    down, across = np.mgrid[rows, columns]
    away = np.hypot(across - place[0], down - place[1])
    share = np.clip((reach * (1 + _SOFT) - away) / (reach * _SOFT), 0, 1)
    if not everything:
        change = np.abs(seen[rows, columns] - behind[rows, columns]).max(axis=2)
        body = cv2.dilate((change > _CHANGED).astype(np.float32), np.ones((3, 3)))
        share = share * cv2.GaussianBlur(body, (0, 0), 1.0)
    part = share[..., None].astype(np.float32)
    ground[rows, columns] = (1 - part) * ground[rows, columns] + part * seen[rows, columns]


def _decoded(picture: bytes) -> Image:
    seen = cv2.imdecode(np.frombuffer(picture, dtype=np.uint8), cv2.IMREAD_COLOR)
    assert seen is not None
    return np.asarray(seen, dtype=np.uint8)


def _jpeg(picture: Image) -> bytes:
    return cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, _QUALITY])[1].tobytes()
