"""Brightness alone, frame after frame, for following: decoded once, forwards or backwards."""

import queue
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import av
import cv2
import numpy as np

from footing.core.arrays import Image
from footing.core.errors import FootingError
from footing.media.frames import LARGEST
from footing.media.index import MediaIndex
from footing.media.numbering import Numbering
from footing.media.opening import decoded, open_video, video_stream

# formats whose first plane is the brightness, a byte for each pixel
_PLANAR = {
    "yuv420p",
    "yuvj420p",
    "yuv422p",
    "yuvj422p",
    "yuv444p",
    "yuvj444p",
    "nv12",
    "nv21",
    "gray",
}
_AHEAD = 6  # frames that are decoded before they are asked for
_BLOCK = 160_000_000  # bytes of frames that are held to be given backwards
_LOOK_UP = 0.2  # seconds


def luma_frames(
    path: Path, index: MediaIndex, frames: range, *, seconds: float
) -> Iterator[tuple[int, Image]]:
    """Yield ``(number, (height, width) grey picture)``, upright, for rising or falling frames.

    Decoding runs ahead in a thread of its own. Frames that do not decode are left out.

    Raises
    ------
    Unreadable : if decoding takes longer than ``seconds`` in all.
    """
    deadline = time.monotonic() + seconds
    ordered = _forwards if frames.step > 0 else _backwards
    return _ahead(ordered(path, index, frames, deadline))


def _forwards(
    path: Path, index: MediaIndex, frames: range, deadline: float
) -> Iterator[tuple[int, Image]]:
    if not frames:
        return
    first, _ = index.group(frames[0])
    numbering = Numbering(index, first, frames[-1] + 1)
    with open_video(path, seconds=max(deadline - time.monotonic(), 0.1)) as container:
        stream = video_stream(container, frame_pixels=LARGEST * index.width * index.height)
        container.seek(index.pts[first], stream=stream, backward=True)
        for frame in decoded(container, stream, deadline=deadline):
            number = numbering.of(frame)
            if number is not None and number in frames:
                yield number, _upright(_brightness(frame), index)
            if numbering.done:
                return


def _backwards(
    path: Path, index: MediaIndex, frames: range, deadline: float
) -> Iterator[tuple[int, Image]]:
    """A block of frames after the other, each decoded forwards and given backwards."""
    size = max(_BLOCK // (index.width * index.height), 8)
    rising = frames[::-1]
    for end in range(len(rising), 0, -size):
        block = rising[max(end - size, 0) : end]
        held = [
            (number, np.ascontiguousarray(picture))
            for number, picture in _forwards(path, index, block, deadline)
        ]
        yield from reversed(held)


def _brightness(frame: av.VideoFrame) -> Image:
    if frame.format.name not in _PLANAR:
        return np.asarray(frame.to_ndarray(format="gray"), dtype=np.uint8)
    plane = frame.planes[0]
    rows = np.frombuffer(memoryview(plane), np.uint8).reshape(-1, plane.line_size)
    return rows[: frame.height, : frame.width]


def _upright(picture: Image, index: MediaIndex) -> Image:
    """Turn a stored picture upright, without copying it, and make its pixels square."""
    turned = np.rot90(picture, -index.rotation // 90)
    if turned.shape == (index.height, index.width):
        return turned
    size = (index.width, index.height)
    return np.asarray(cv2.resize(np.ascontiguousarray(turned), size), dtype=np.uint8)


def _ahead(frames: Iterator[tuple[int, Image]]) -> Iterator[tuple[int, Image]]:
    """The same frames, made in another thread before they are asked for."""
    ready: queue.Queue[tuple[int, Image] | FootingError | None] = queue.Queue(_AHEAD)
    stopping = threading.Event()

    def hand_on(item: tuple[int, Image] | FootingError | None) -> None:
        while not stopping.is_set():
            try:
                ready.put(item, timeout=_LOOK_UP)
            except queue.Full:
                continue
            return

    def decode() -> None:
        try:
            for item in frames:
                hand_on(item)
                if stopping.is_set():
                    break
            hand_on(None)
        except FootingError as error:
            hand_on(error)

    worker = threading.Thread(target=decode, name="luma", daemon=True)
    worker.start()
    try:
        while (item := ready.get()) is not None:
            if isinstance(item, FootingError):
                raise item
            yield item
    finally:
        stopping.set()
        worker.join()
