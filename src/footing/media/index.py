"""What a video file holds: frame times, key-frame groups, size and rotation.

Only the first frame is decoded (to see that one can be, and which way up it is); everything else
comes from the container, so that indexing takes a fraction of a second whatever the length.
"""

import time
from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import av
import av.error
import filetype
import numpy as np

from footing.core.errors import Unreadable
from footing.core.timing import Cadence, cadence

# Containers that phones and cameras write. Anything else (playlists, picture series, text) is
# never handed to a demuxer, because some of those open further files.
_CONTAINERS = "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts"


@dataclass(frozen=True)
class VideoIndex:
    """What a file holds; stored as JSON beside the file's name.

    pts : presentation timestamps of the frames, rising, in ticks of the file's clock
    tick : seconds for each tick
    keys : frame numbers at which decoding can start, rising, the first is 0
    width, height : of the picture as it is to be shown (turned, square pixels)
    rotation : degrees clockwise that bring the stored picture upright
    notes : sentences to show, such as that the file is cut off
    """

    pts: tuple[int, ...]
    tick: float
    keys: tuple[int, ...]
    width: int
    height: int
    rotation: int
    codec: str
    notes: tuple[str, ...]

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


def open_video(path: Path, *, seconds: float) -> av.container.InputContainer:
    """Open a file with one of the allowed demuxers.

    Raises
    ------
    Unreadable : if it is not a video; the text says what it is instead.
    """
    if path.stat().st_size == 0:
        raise Unreadable("The file is empty; copy it from the phone again.")
    try:
        return av.open(
            str(path),
            options={"format_whitelist": _CONTAINERS, "protocol_whitelist": "file"},
            timeout=seconds,
        )
    except av.error.ExitError as error:
        raise Unreadable(f"Reading the file took longer than {seconds:g} s.") from error
    except av.error.FFmpegError as error:
        raise Unreadable(_what_it_is(path)) from error


def index_video(path: Path, *, seconds: float, frame_count: int, frame_pixels: int) -> VideoIndex:
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
        stream = video_stream(container)
        if stream.codec_context.width * stream.codec_context.height > frame_pixels:
            raise Unreadable(
                f"The picture has {stream.codec_context.width} × {stream.codec_context.height} "
                f"pixels; at most {frame_pixels / 1e6:.0f} million are accepted."
            )
        first = _first_frame(container, stream, deadline=deadline)
        begin, tick = first.pts, stream.time_base
        if begin is None or tick is None:
            raise Unreadable("The frames of the video carry no times.")
        if first.width * first.height > frame_pixels:
            raise Unreadable(f"The picture has {first.width} × {first.height} pixels; too many.")
        container.seek(0)
        shown: dict[int, bool] = {}
        read, cut_off = 0, False
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
            shown[packet.pts] = shown.get(packet.pts, False) or packet.is_keyframe
            if len(shown) > frame_count:
                raise Unreadable(f"The video has more than {frame_count:,} frames; cut it first.")
            if time.monotonic() > deadline:
                raise Unreadable(f"Reading the file took longer than {seconds:g} s.")
        cut_off = cut_off or read < stream.frames
        pts = tuple(sorted(pts for pts in shown if pts >= begin))
        if cut_off:
            pts = _readable(container, stream, pts, shown, deadline=deadline)
        if not pts:
            raise Unreadable("The file holds no frame that can be shown.")
        keys = tuple(number for number, at in enumerate(pts) if shown[at])
        width, height, rotation = _shown_size(first, stream)
        return VideoIndex(
            pts=pts,
            tick=float(tick),
            keys=keys if keys and keys[0] == 0 else (0, *keys),
            width=width,
            height=height,
            rotation=rotation,
            codec=stream.codec_context.name,
            notes=_notes(len(pts), cut_off=cut_off, of=stream.frames),
        )


def decoded(
    container: av.container.InputContainer, stream: av.VideoStream, *, deadline: float
) -> Iterator[av.VideoFrame]:
    """Decode from where the container stands; what does not decode is passed over.

    Raises
    ------
    Unreadable : at the first packet after ``deadline`` (on the monotonic clock), so that a file
        in which nothing decodes cannot hold a worker.
    """
    packets = container.demux(stream)
    while True:
        if time.monotonic() > deadline:
            raise Unreadable("Decoding the video took too long; cut it on the phone.")
        try:
            packet = next(packets)
        except StopIteration:
            return
        except av.error.FFmpegError:  # cut off here: what the decoder still holds can be shown
            yield from stream.codec_context.decode(None)
            return
        try:
            yield from packet.decode()
        except av.error.FFmpegError:
            continue


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


def _notes(frames: int, *, cut_off: bool, of: int) -> tuple[str, ...]:
    notes = []
    if cut_off:
        total = f" of {of}" if of > frames else ""
        notes.append(f"The file is cut off; the first {frames}{total} frames can be used.")
    if frames == 1:
        notes.append("The file holds a single frame; positions can be measured, motion cannot.")
    return tuple(notes)


def video_stream(container: av.container.InputContainer) -> av.VideoStream:
    """The moving picture of a file; a cover picture of a sound file is none.

    Raises
    ------
    Unreadable : if there is none.
    """
    moving = [
        stream
        for stream in container.streams.video
        if not stream.disposition & av.stream.Disposition.attached_pic
    ]
    if moving:
        return moving[0]
    if container.streams.audio:
        raise Unreadable("The file holds sound but no picture; choose the video itself.")
    raise Unreadable("No video was found in the file; it may be cut off.")


def _first_frame(
    container: av.container.InputContainer, stream: av.VideoStream, *, deadline: float
) -> av.VideoFrame:
    for frame in decoded(container, stream, deadline=deadline):
        if frame.pts is not None:
            return frame
    raise Unreadable("No frame of the video can be decoded; it is damaged or of an unknown kind.")


def _shown_size(frame: av.VideoFrame, stream: av.VideoStream) -> tuple[int, int, int]:
    """Width and height as shown, and degrees clockwise that bring the stored picture upright."""
    rotation = round(-frame.rotation / 90) * 90 % 360
    aspect = stream.sample_aspect_ratio
    width = round(frame.width * float(aspect)) if aspect else frame.width
    return (*((width, frame.height) if rotation % 180 == 0 else (frame.height, width)), rotation)


def _what_it_is(path: Path) -> str:
    """Say in a sentence what a file that is no video is instead."""
    kind = filetype.guess(str(path))
    if kind is None:
        sample = path.read_bytes()[:4096]
        if not sample.strip(b"\t\n\r\x20-\x7e") or _is_text(sample):
            return "This is a text file, not a video; choose the video itself."
        return "The file is damaged or not a video; copy it from the phone again."
    family, name = kind.mime.split("/")[0], kind.extension.upper()
    if family == "image":
        return f"This is a {name} picture, not a video; choose the video itself."
    if family == "audio":
        return f"This is a {name} sound recording, not a video; choose the video itself."
    if family == "video":
        return f"The {name} file is cut off before its table of frames, or damaged; copy it again."
    return f"This is a {name} file, not a video; choose the video itself."


def _is_text(sample: bytes) -> bool:
    try:
        return sample.decode("utf-8").isprintable() or "\x00" not in sample.decode("utf-8")
    except UnicodeDecodeError:
        return False
