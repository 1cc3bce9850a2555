"""Filming a painted scene: exposure, sensor noise, and H.264 as a phone writes it."""

import struct
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np

from footing.core.arrays import FloatArray, Image

_SUB_EXPOSURES = 5
_MATRICES = {0: (1, 0, 0, 1), 90: (0, 1, -1, 0), 180: (-1, 0, 0, -1), 270: (0, -1, 1, 0)}


@dataclass(frozen=True)
class Camera:
    """How a scene is filmed.

    rate : frames for each second; shutter : exposure time in seconds
    noise : deviation of the sensor noise, in grey levels
    rotation : degrees clockwise that a player must turn the stored picture (an upright phone: 90)
    plays_at : rate at which the file plays, for slow motion; the file then names the capture rate
    """

    rate: int
    frames: int
    shutter: float
    noise: float
    rotation: int = 0
    quality: int = 23
    plays_at: int | None = None

    def mid_exposures(self) -> FloatArray:
        """Time of the middle of each exposure, the first is 0."""
        return np.arange(self.frames) / self.rate


Painter = Callable[[float], FloatArray]


def film(painter: Painter, camera: Camera, rng: np.random.Generator) -> Iterator[Image]:
    """Expose a scene: a frame is the mean of what ``painter`` gives while the shutter is open."""
    offsets = (np.arange(_SUB_EXPOSURES) + 0.5) / _SUB_EXPOSURES - 0.5
    for moment in camera.mid_exposures():
        exposed = np.mean([painter(moment + k * camera.shutter) for k in offsets], axis=0)
        grain = cv2.GaussianBlur(rng.normal(size=exposed.shape), (0, 0), 0.6)
        noisy = exposed + camera.noise * 1.6 * grain
        yield np.clip(np.round(noisy), 0, 255).astype(np.uint8)


def write_video(
    path: Path,
    pictures: Iterator[Image],
    *,
    rate: int,
    rotation: int = 0,
    times: FloatArray | None = None,
    encoder: dict[str, object],
    codec: str = "libx264",
    pixel_format: str = "yuv420p",
    table_first: bool = True,
    capture_rate: float | None = None,
) -> None:
    """Write pictures ``(height, width, 3)``, BGR and upright, as a phone does.

    Parameters
    ----------
    rotation : the picture is stored turned, and the file says so (MP4 and MOV only)
    times : timestamps in seconds; None for an even rate
    encoder : options of the encoder, such as quality and distance of key frames
    table_first : whether the table of frames stands before the frames
    capture_rate : frames for each second of true time, written as phones write it
    """
    back = {
        90: cv2.ROTATE_90_COUNTERCLOCKWISE,
        180: cv2.ROTATE_180,
        270: cv2.ROTATE_90_CLOCKWISE,
    }
    flags = ("+faststart" if table_first else "") + ("+use_metadata_tags" if capture_rate else "")
    options = {"movflags": flags} if flags and path.suffix in (".mp4", ".mov") else {}
    with av.open(str(path), "w", options=options) as container:
        if capture_rate:
            container.metadata["com.android.capture.fps"] = f"{capture_rate:g}"
        stream: Any = container.add_stream(codec, rate=rate)
        stream.pix_fmt = pixel_format
        stream.time_base = Fraction(1, 90_000)
        stream.codec_context.time_base = Fraction(1, 90_000)
        stream.options = encoder
        for number, picture in enumerate(pictures):
            stored = cv2.rotate(picture, back[rotation]) if rotation else picture
            if number == 0:
                stream.height, stream.width = stored.shape[:2]
            frame = av.VideoFrame.from_ndarray(
                np.ascontiguousarray(stored, dtype=np.uint8), format="bgr24"
            )
            moment = number / rate if times is None else float(times[number])
            frame.pts = round(moment * 90_000)
            frame.time_base = Fraction(1, 90_000)
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    if rotation:
        _declare_rotation(path, rotation)


def _declare_rotation(path: Path, rotation: int) -> None:
    """Write the display matrix into the track header (ISO/IEC 14496-12, 8.3.2)."""
    data = bytearray(path.read_bytes())
    header = data.index(b"tkhd") + 4
    long_form = data[header] == 1
    matrix = header + 4 + (32 if long_form else 20) + 16
    a, b, c, d = _MATRICES[rotation]
    one = 0x10000
    struct.pack_into(
        ">9i", data, matrix, a * one, b * one, 0, c * one, d * one, 0, 0, 0, 0x40000000
    )
    path.write_bytes(bytes(data))
