"""Decoding: the frames of one key-frame group, upright and with square pixels; or a picture."""

import time
from collections.abc import Iterator
from pathlib import Path

import cv2
import numpy as np

from footing.core.arrays import Image
from footing.media.index import MediaIndex
from footing.media.numbering import Numbering
from footing.media.opening import decoded, open_video, video_stream
from footing.media.pictures import read_picture

LARGEST = 4  # times the indexed size: what a frame inside the file may grow to
_TURNS = {
    90: cv2.ROTATE_90_CLOCKWISE,
    180: cv2.ROTATE_180,
    270: cv2.ROTATE_90_COUNTERCLOCKWISE,
}


def decode_group(
    path: Path, index: MediaIndex, first: int, end: int, *, seconds: float
) -> Iterator[tuple[int, Image]]:
    """Yield ``(frame number, (height, width, 3) BGR picture)`` for frames first … end − 1.

    ``first`` must be a key frame of the index. Frames that do not decode are left out.

    Raises
    ------
    Unreadable : if decoding takes longer than ``seconds``.
    """
    if index.kind == "picture":
        yield 0, read_picture(path)
        return
    numbering = Numbering(index, first, end)
    with open_video(path, seconds=seconds) as container:
        stream = video_stream(container, frame_pixels=LARGEST * index.width * index.height)
        container.seek(index.pts[first], stream=stream, backward=True)
        for frame in decoded(container, stream, deadline=time.monotonic() + seconds):
            number = numbering.of(frame)
            if number is not None:
                picture = np.asarray(frame.to_ndarray(format="bgr24"), dtype=np.uint8)
                yield number, upright(picture, index)
            if numbering.done:
                return


def upright(picture: Image, index: MediaIndex) -> Image:
    """Turn a stored picture upright and make its pixels square."""
    if index.rotation:
        picture = np.asarray(cv2.rotate(picture, _TURNS[index.rotation]), dtype=np.uint8)
    if picture.shape[:2] != (index.height, index.width):
        size = (index.width, index.height)
        picture = np.asarray(cv2.resize(picture, size), dtype=np.uint8)
    return picture
