"""Opening a student's file: what it is, its moving picture, and decoding under limits."""

import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import av
import av.error
import filetype

from footing.core.errors import Unreadable

# Containers that phones and cameras write. Anything else (playlists, picture series, text) is
# never handed to a demuxer, because some of those open further files.
_CONTAINERS = "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts"
PICTURE_KINDS = {"jpg", "png", "webp", "tif", "heic", "avif"}


@contextmanager
def open_video(path: Path, *, seconds: float) -> Iterator[av.container.InputContainer]:
    """A file, open with one of the allowed demuxers.

    Raises
    ------
    Unreadable : if it is not a video (the text says what it is instead), or if the codec library
        stumbles over it while it is open.
    """
    if path.stat().st_size == 0:
        raise Unreadable("The file is empty; copy it from the phone again.")
    try:
        container = av.open(
            str(path),
            options={"format_whitelist": _CONTAINERS, "protocol_whitelist": "file"},
            timeout=seconds,
            metadata_errors="replace",
        )
    except av.error.ExitError as error:
        raise Unreadable(f"Reading the file took longer than {seconds:g} s.") from error
    except av.error.FFmpegError as error:
        raise Unreadable(_what_it_is(path)) from error
    with container:
        try:
            yield container
        except av.error.FFmpegError as error:
            raise Unreadable("The video is damaged; copy it from the phone again.") from error


def video_stream(
    container: av.container.InputContainer, *, frame_pixels: int | None = None
) -> av.VideoStream:
    """The moving picture of a file; a cover picture of a sound file is none.

    The decoder refuses frames of more than ``frame_pixels``, whatever the container announced.

    Raises
    ------
    Unreadable : if there is none, or it is larger than that.
    """
    moving = [
        stream
        for stream in container.streams.video
        if not stream.disposition & av.stream.Disposition.attached_pic
        and stream.codec_context is not None  # of a kind that nothing here can decode
    ]
    if not moving:
        if container.streams.video:
            raise Unreadable("The video is of a kind that cannot be read; save it as MP4 (H.264).")
        if container.streams.audio:
            raise Unreadable("The file holds sound but no picture; choose the video itself.")
        raise Unreadable("No video was found in the file; it may be cut off.")
    stream = moving[0]
    if frame_pixels is not None:
        check_pixels(stream.codec_context.width, stream.codec_context.height, frame_pixels)
        stream.codec_context.options = {"max_pixels": str(frame_pixels)}
    return stream


def check_pixels(width: int, height: int, limit: int) -> None:
    """Refuse a picture that is too large to be decoded safely.

    Raises
    ------
    Unreadable : with the size and the limit.
    """
    if width * height > limit:
        raise Unreadable(
            f"The picture has {width} × {height} pixels; at most {limit / 1e6:.0f} million are "
            "accepted."
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


def picture_kind(path: Path) -> str | None:
    """Which of `PICTURE_KINDS` a file is, or None."""
    kind = filetype.guess(str(path))
    return kind.extension if kind is not None and kind.extension in PICTURE_KINDS else None


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
        return f"{name} pictures cannot be read; save it as JPEG or PNG."
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
