"""Brightness alone, frame after frame, for following: decoded once, forwards or backwards."""

import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TypeVar

import av
import cv2
import numpy as np

from footing.core.arrays import Image
from footing.core.following.ahead import ahead
from footing.core.following.pictures import Picture
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
_HALVED = {"yuv420p", "yuvj420p"}  # formats with chroma planes of half the size

T = TypeVar("T")


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
    return ahead(ordered(path, index, frames, deadline, _grey), most=_AHEAD)


def pictures(
    path: Path, index: MediaIndex, frames: range, *, seconds: float
) -> Iterator[tuple[int, Picture]]:
    """The same with colour: yield ``(number, picture)``."""
    deadline = time.monotonic() + seconds
    ordered = _forwards if frames.step > 0 else _backwards
    return ahead(ordered(path, index, frames, deadline, _picture), most=_AHEAD)


def _forwards(
    path: Path,
    index: MediaIndex,
    frames: range,
    deadline: float,
    made: Callable[[av.VideoFrame, MediaIndex], T],
) -> Iterator[tuple[int, T]]:
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
                yield number, made(frame, index)
            if numbering.done:
                return


def _backwards(
    path: Path,
    index: MediaIndex,
    frames: range,
    deadline: float,
    made: Callable[[av.VideoFrame, MediaIndex], T],
) -> Iterator[tuple[int, T]]:
    """A block of frames after the other, each decoded forwards and given backwards."""
    size = max(_BLOCK // (index.width * index.height), 8)
    rising = frames[::-1]
    for end in range(len(rising), 0, -size):
        block = rising[max(end - size, 0) : end]
        held = list(_forwards(path, index, block, deadline, made))
        yield from reversed(held)


def _brightness(frame: av.VideoFrame) -> Image:
    if frame.format.name not in _PLANAR:
        return np.asarray(frame.to_ndarray(format="gray"), dtype=np.uint8)
    return _plane(frame, 0)


def _grey(frame: av.VideoFrame, index: MediaIndex) -> Image:
    return _upright(_brightness(frame), index.rotation, (index.width, index.height))


def _picture(frame: av.VideoFrame, index: MediaIndex) -> Picture:
    planar = frame if frame.format.name in _HALVED else frame.reformat(format="yuv420p")
    half = ((index.width + 1) // 2, (index.height + 1) // 2)
    blue, red = (_upright(_plane(planar, plane), index.rotation, half) for plane in (1, 2))
    return Picture(_grey(frame, index), (blue, red))


def _plane(frame: av.VideoFrame, number: int) -> Image:
    plane = frame.planes[number]
    rows = np.frombuffer(memoryview(plane), np.uint8).reshape(-1, plane.line_size)
    return rows[: plane.height, : plane.width]


def _upright(picture: Image, rotation: int, size: tuple[int, int]) -> Image:
    """Turn a stored picture upright and make its pixels square; ``size`` is width and height.

    What stands upright is given as the decoder made it, without a copy: no later frame is written
    over it as long as somebody holds it.
    """
    turned = np.rot90(picture, -rotation // 90)
    if turned.shape == size[::-1]:
        return turned if rotation == 0 else np.ascontiguousarray(turned)
    return np.asarray(cv2.resize(np.ascontiguousarray(turned), size), dtype=np.uint8)
