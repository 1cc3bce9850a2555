"""What a file holds: frame times, key-frame groups, size and rotation.

Only the first frame is decoded (to see that one can be, and which way up it is); everything else
comes from the container, so that indexing takes a fraction of a second whatever the length.
"""

import time
from bisect import bisect_right
from dataclasses import dataclass
from itertools import islice
from math import inf
from pathlib import Path
from typing import Literal

import av
import av.error
import numpy as np

from footing.core.errors import Unreadable
from footing.core.timing import Cadence, cadence
from footing.media.opening import check_pixels, decoded, open_video, picture_kind, video_stream
from footing.media.pictures import measured_picture

_CAPTURE_RATE_TAGS = ("com.android.capture.fps",)  # written by phones into slow-motion files
_PROBED = 120  # pictures in which times that go back are looked for
_FASTEST = 100_000  # frames/s; a larger capture rate is no capture rate


@dataclass(frozen=True)
class MediaIndex:
    """What a file holds; stored as JSON beside the file's name. A picture is a single frame.

    pts : presentation timestamps of the frames, rising, in ticks of the file's clock
    tick : seconds for each tick
    keys : frame numbers at which decoding can start, rising, the first is 0
    width, height : of the picture as it is to be shown (turned, square pixels)
    rotation : degrees clockwise that bring the stored picture upright
    notes : sentences to show, such as that the file is cut off
    capture_rate : frames for each second of true time, if the camera wrote that it was faster
    by_order : whether the times of the file do not belong to its pictures, so that these are taken
        in the order in which they are decoded
    """

    pts: tuple[int, ...]
    tick: float
    keys: tuple[int, ...]
    width: int
    height: int
    rotation: int
    codec: str
    notes: tuple[str, ...]
    kind: Literal["video", "picture"] = "video"
    capture_rate: float | None = None
    by_order: bool = False

    @property
    def frames(self) -> int:
        """Number of frames."""
        return len(self.pts)

    @property
    def times(self) -> np.ndarray:
        """File times ``(n,)`` in seconds, the first is 0."""
        return (np.array(self.pts, dtype=np.int64) - self.pts[0]) * self.tick

    @property
    def cadence(self) -> Cadence:
        """Rate, duration and whether the rate varies."""
        return cadence(self.times, tick=self.tick)

    def group(self, frame: int) -> tuple[int, int]:
        """First frame of the key-frame group of ``frame``, and of the next group."""
        place = bisect_right(self.keys, frame)
        end = self.keys[place] if place < len(self.keys) else self.frames
        return self.keys[place - 1], end


def index_media(path: Path, *, seconds: float, frame_count: int, frame_pixels: int) -> MediaIndex:
    """Index a video or a picture; parameters and errors as for `index_video`."""
    if picture_kind(path) is None:
        limits = {"frame_count": frame_count, "frame_pixels": frame_pixels}
        return index_video(path, seconds=seconds, **limits)
    width, height, kind, notes = measured_picture(path, frame_pixels=frame_pixels)
    return MediaIndex((0,), 1.0, (0,), width, height, 0, kind, notes, kind="picture")


def index_video(path: Path, *, seconds: float, frame_count: int, frame_pixels: int) -> MediaIndex:
    """Index a video file.

    Parameters
    ----------
    seconds : time limit
    frame_count, frame_pixels : largest accepted number of frames and of pixels in a frame

    Raises
    ------
    Unreadable : if no frame of it can be shown, or it is over a limit.
    """
    deadline = time.monotonic() + seconds
    with open_video(path, seconds=seconds) as container:
        stream = video_stream(container, frame_pixels=frame_pixels)
        first = _first_frame(container, stream, deadline=deadline)
        begin, tick = first.pts, stream.time_base
        if begin is None or tick is None:
            raise Unreadable("The frames of the video carry no times.")
        check_pixels(first.width, first.height, frame_pixels)
        container.seek(0)
        shown: dict[int, bool] = {}
        read, cut_off, rising = 0, False, True
        latest: float = -inf
        packets = container.demux(stream)
        while True:
            try:
                packet = next(packets)
            except StopIteration:
                break
            except av.error.FFmpegError:
                cut_off = True
                break
            if packet.pts is None or packet.size == 0:
                continue
            if packet.is_corrupt:
                cut_off = True
                continue
            read += 1
            if packet.is_discard:  # an edit list leaves this frame out
                continue
            rising, latest = rising and packet.pts > latest, packet.pts
            shown[packet.pts] = shown.get(packet.pts, False) or packet.is_keyframe
            if len(shown) > frame_count:
                raise Unreadable(f"The video has more than {frame_count:,} frames; cut it first.")
            if time.monotonic() > deadline:
                raise Unreadable(f"Reading the file took longer than {seconds:g} s.")
        cut_off = cut_off or read < stream.frames
        reorders = rising and stream.codec_context.has_b_frames
        by_order = reorders and _is_scrambled(container, stream, deadline=deadline)
        begin = min(shown) if by_order else begin
        pts = tuple(sorted(pts for pts in shown if pts >= begin))
        if cut_off:
            pts = _readable(container, stream, pts, shown, deadline=deadline)
        if not pts:
            raise Unreadable("The file holds no frame that can be shown.")
        keys = tuple(number for number, at in enumerate(pts) if shown[at])
        width, height, rotation = _shown_size(first, stream)
        check_pixels(width, height, frame_pixels)
        return MediaIndex(
            pts=pts,
            tick=float(tick),
            keys=keys if keys and keys[0] == 0 else (0, *keys),
            width=width,
            height=height,
            rotation=rotation,
            codec=stream.codec_context.name,
            notes=_notes(len(pts), cut_off=cut_off, of=stream.frames, by_order=by_order),
            capture_rate=_capture_rate(container, stream),
            by_order=by_order,
        )


def _is_scrambled(
    container: av.container.InputContainer, stream: av.VideoStream, *, deadline: float
) -> bool:
    """Whether pictures come out of the decoder with times that go back.

    So it is where a file gives its packets the times at which they are decoded, although pictures
    are shown in another order.
    """
    container.seek(0)
    latest: int | None = None
    for frame in islice(decoded(container, stream, deadline=deadline), _PROBED):
        if frame.pts is None:
            continue
        if latest is not None and frame.pts < latest:
            return True
        latest = frame.pts
    return False


def _readable(
    container: av.container.InputContainer,
    stream: av.VideoStream,
    pts: tuple[int, ...],
    shown: dict[int, bool],
    *,
    deadline: float,
) -> tuple[int, ...]:
    """The frames of a cut-off file that decode; only its last key-frame group can be incomplete."""
    last_key = max((at for at in pts if shown[at]), default=pts[0] if pts else 0)
    container.seek(last_key, stream=stream, backward=True)
    there = {frame.pts for frame in decoded(container, stream, deadline=deadline)}
    return tuple(at for at in pts if at < last_key or at in there)


def _notes(frames: int, *, cut_off: bool, of: int, by_order: bool) -> tuple[str, ...]:
    notes = []
    if by_order:
        notes.append(
            "The times in the file do not belong to its pictures and would show them in a wrong "
            "order; they are taken in the order in which they were recorded."
        )
    if cut_off:
        total = f" of {of}" if of > frames else ""
        notes.append(f"The file is cut off; the first {frames}{total} frames can be used.")
    if frames == 1:
        notes.append("The file holds a single frame; positions can be measured, motion cannot.")
    return tuple(notes)


def _first_frame(
    container: av.container.InputContainer, stream: av.VideoStream, *, deadline: float
) -> av.VideoFrame:
    for frame in decoded(container, stream, deadline=deadline):
        if frame.pts is not None:
            return frame
    raise Unreadable("No frame of the video can be decoded; it is damaged or of an unknown kind.")


def _capture_rate(container: av.container.InputContainer, stream: av.VideoStream) -> float | None:
    """The capture rate that the camera wrote, if it is one."""
    for tags in (container.metadata, stream.metadata):
        for name in _CAPTURE_RATE_TAGS:
            try:
                rate = float(tags.get(name, "nan"))
            except ValueError:
                continue
            if 1 <= rate <= _FASTEST:
                return rate
    return None


def _shown_size(frame: av.VideoFrame, stream: av.VideoStream) -> tuple[int, int, int]:
    """Width and height as shown, and degrees clockwise that bring the stored picture upright."""
    rotation = round(-frame.rotation / 90) * 90 % 360
    aspect = stream.sample_aspect_ratio
    width = round(frame.width * float(aspect)) if aspect else frame.width
    return (*((width, frame.height) if rotation % 180 == 0 else (frame.height, width)), rotation)
