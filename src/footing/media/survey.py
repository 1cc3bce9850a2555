"""Looking through a whole file: which frames are damaged or repeated, and when it begins to move.

This decodes every frame once, so it is work for the background.
"""

import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import av
import av.error
import cv2
import numpy as np

from footing.core.arrays import FloatArray, Image
from footing.core.errors import Unreadable
from footing.media.frames import LARGEST
from footing.media.index import MediaIndex
from footing.media.numbering import Numbering
from footing.media.opening import open_video, video_stream

_SIDE = 240  # px, long side of the pictures that are compared
_SAME = 2.0  # grey levels of change under which a picture can be the one before
_AROUND = 8  # steps to each side with which one is compared
_USUAL = 85  # percentile of them that is a step with motion, if every fourth has some
_FAR_LESS, _AS_USUAL = 0.05, 0.3  # of that: no motion, and motion
_MOST_REPEATS = 3  # in a row
_STILL = 6  # frames whose differences tell the noise
_OUT_OF_NOISE = 5.0
_LEAST = 4.0  # grey levels
_STAYS = 3  # frames in a row that must have moved
_SHARE = 0.0008  # of the picture that has to change


@dataclass(frozen=True)
class Survey:
    """What was found. Frame numbers are those of the index.

    damaged : frames that do not decode, or not without errors
    repeated : frames that show the picture before once more
    moves_from : first frame that differs from the beginning, or None if nothing moves
    """

    damaged: tuple[int, ...]
    repeated: tuple[int, ...]
    moves_from: int | None


def survey(path: Path, index: MediaIndex, *, seconds: float) -> Survey:
    """Look through a video.

    Raises
    ------
    Unreadable : if it takes longer than ``seconds``.
    """
    deadline = time.monotonic() + seconds
    small: dict[int, Image] = {}
    faulty: set[int] = set()
    for number, picture in _strictly_decoded(path, index, deadline=deadline):
        if picture is None:
            faulty.add(number)
        else:
            small[number] = picture
    return Survey(
        damaged=tuple(sorted(faulty | (set(range(index.frames)) - set(small)))),
        repeated=_repeated(small),
        moves_from=_moves_from(small),
    )


def _strictly_decoded(
    path: Path, index: MediaIndex, *, deadline: float
) -> Iterator[tuple[int, Image | None]]:
    """Number and small grey picture of each frame; None where the decoder found an error.

    One thread, so that an error belongs to the packet that was handed in.
    """
    seconds = max(deadline - time.monotonic(), 0.1)
    with open_video(path, seconds=seconds) as container:
        stream = video_stream(container, frame_pixels=LARGEST * index.width * index.height)
        context = stream.codec_context
        context.thread_count = 1
        context.options = context.options | {"err_detect": "explode"}
        packets = container.demux(stream)
        numbering = Numbering(index, 0, index.frames)
        numbers = {pts: number for number, pts in enumerate(index.pts)}
        while True:
            if time.monotonic() > deadline:
                raise Unreadable("Looking through the video took too long.")
            try:
                packet = next(packets)
            except StopIteration:
                return
            except av.error.FFmpegError:
                return
            try:
                frames = packet.decode()
            except av.error.FFmpegError:
                if packet.pts in numbers:
                    yield numbers[packet.pts], None
                continue
            for frame in frames:
                number = numbering.of(frame)
                if number is not None:
                    yield number, _small(frame)
                    if frame.is_corrupt:
                        yield number, None


def _small(frame: av.VideoFrame) -> Image:
    side = max(frame.width, frame.height)
    factor = min(1.0, _SIDE / side)
    size = (max(round(frame.width * factor), 1), max(round(frame.height * factor), 1))
    grey = np.asarray(frame.to_ndarray(format="gray"), dtype=np.uint8)
    return np.asarray(cv2.resize(grey, size, interpolation=cv2.INTER_AREA), dtype=np.uint8)


def _repeated(small: dict[int, Image]) -> tuple[int, ...]:
    """Frames whose picture is the one before, in the middle of a motion.

    They hardly differ from it, far less than frames around there do, and what comes before and
    after them moves as usual. A body that turns round slows down before, and one that rests does so
    for longer than a few frames.
    """
    numbers = sorted(small)
    steps = np.array([_step(small, k) for k in numbers[1:]])
    if not len(steps):
        return ()
    finite = np.where(np.isfinite(steps), steps, 0.0)
    around = np.array(
        [
            np.percentile(finite[max(k - _AROUND, 0) : k + _AROUND + 1], _USUAL)
            for k in range(len(steps))
        ]
    )
    same = (steps < np.minimum(_FAR_LESS * around, _SAME)) & (around > _LEAST)
    moves = np.concatenate([[True], steps >= _AS_USUAL * around, [True]])  # unknown at the ends
    found: list[int] = []
    ends = np.flatnonzero(np.diff(np.concatenate([[False], same, [False]])))
    for first, behind in zip(ends[::2], ends[1::2], strict=True):
        if behind - first <= _MOST_REPEATS and first > 0 and moves[first] and moves[behind + 1]:
            found += range(first, behind)
    return tuple(numbers[k + 1] for k in found)


def _step(small: dict[int, Image], number: int) -> float:
    """How much a frame differs from the one before; infinite where that is not there."""
    before = small.get(number - 1)
    if before is None:
        return float("inf")
    return _change(_blurred(small[number]), _blurred(before))


def _moves_from(small: dict[int, Image]) -> int | None:
    """First frame from which a part of the picture differs from the beginning, and goes on to."""
    numbers = sorted(small)
    if len(numbers) <= _STILL:
        return None
    first = [_blurred(small[k]) for k in numbers[:_STILL]]
    reference = first[0]
    noise = max(_change(picture, reference) for picture in first[1:3])
    threshold = max(_LEAST, min(_OUT_OF_NOISE * noise, noise + 2 * _LEAST))
    run = 0
    for k in numbers[1:]:
        run = run + 1 if _change(_blurred(small[k]), reference) > threshold else 0
        if run == _STAYS:
            return k - _STAYS + 1
    return None


def _blurred(picture: Image) -> FloatArray:
    return np.asarray(cv2.GaussianBlur(picture.astype(np.float32), (0, 0), 1.0), dtype=float)


def _change(picture: FloatArray, reference: FloatArray) -> float:
    """How much the most changed small share of the picture changed, in grey levels."""
    different = np.abs(picture - reference).ravel()
    place = max(round(len(different) * _SHARE), 4)
    return float(np.partition(different, -place)[-place])
