"""Films made for tests: every frame carries its number in the picture."""

import os
from pathlib import Path
from typing import Any

import av
import numpy as np

from footing.demo.filming import write_video

_BITS = 10


def numbered_picture(number: int, *, width: int = 320, height: int = 180) -> np.ndarray:
    """A picture that says a number in black and white bars, with a red top-left corner."""
    picture = np.full((height, width, 3), 120, dtype=np.uint8)
    bar = width // (_BITS + 2)
    for bit in range(_BITS):
        colour = 235 if number >> bit & 1 else 20
        picture[height // 3 : 2 * height // 3, (bit + 1) * bar : (bit + 2) * bar] = colour
    picture[: height // 6, : width // 8] = (30, 30, 220)
    return picture


def number_in(picture: np.ndarray) -> int:
    """The number that a picture of `numbered_picture` says; it must be upright."""
    height, width = picture.shape[:2]
    bar = width // (_BITS + 2)
    row = picture[height // 2].mean(axis=1)
    middles = [int((bit + 1.5) * bar) for bit in range(_BITS)]
    return sum(int(row[x] > 128) << bit for bit, x in enumerate(middles))


def corner_is_red(picture: np.ndarray) -> bool:
    """Whether the top-left corner is where it should be."""
    blue, green, red = picture[5, 5].astype(int)
    return bool(red > 150 and blue < 100 and green < 100)


def numbered_film(
    path: Path,
    *,
    frames: int,
    rate: int = 25,
    keys_every: int = 12,
    rotation: int = 0,
    times: list[float] | None = None,
    b_frames: int = 2,
    size: tuple[int, int] = (320, 180),
    table_first: bool = True,
    codec: str = "libx264",
    pixel_format: str = "yuv420p",
    encoder: dict[str, object] | None = None,
    capture_rate: float | None = None,
) -> Path:
    """Write a film of numbered frames; H.264 with B-frames, as phones do, unless said otherwise."""
    write_video(
        path,
        (numbered_picture(number, width=size[0], height=size[1]) for number in range(frames)),
        rate=rate,
        rotation=rotation,
        times=None if times is None else np.array(times),
        encoder=encoder
        or {
            "crf": "20",
            "g": str(keys_every),
            "x264-params": f"bframes={b_frames}:b-adapt=0:scenecut=0",
        },
        codec=codec,
        pixel_format=pixel_format,
        table_first=table_first,
        capture_rate=capture_rate,
    )
    # run by root, the AV1 encoder takes its caller to real time, and with it every process that is
    # started later: a browser that leaves no time to what it waits for
    os.sched_setscheduler(0, os.SCHED_OTHER, os.sched_param(0))
    return path


def scrambled_film(path: Path, *, frames: int) -> Path:
    """A film of numbered frames whose packets carry the times at which they are decoded.

    Its pictures are stored in another order than they are shown in, as H.264 does with B-frames.
    """
    with av.open(str(path), "w") as container:
        stream: Any = container.add_stream("libx264", rate=25)
        stream.width, stream.height, stream.pix_fmt = 320, 180, "yuv420p"
        stream.options = {"bf": "3", "g": "12", "x264-params": "b-adapt=0:scenecut=0"}
        pictures = [
            av.VideoFrame.from_ndarray(numbered_picture(number), format="bgr24")
            for number in range(frames)
        ]
        packets = [packet for one in (*pictures, None) for packet in stream.encode(one)]
        delay = packets[0].dts
        for packet in packets:
            packet.dts = packet.pts = packet.dts - delay
            container.mux(packet)
    return path


def sound_film(path: Path) -> Path:
    """A file with sound only."""
    with av.open(str(path), "w") as container:
        stream: Any = container.add_stream("aac", rate=44_100)
        samples = np.zeros((1, 4096), dtype=np.float32)
        for _ in range(4):
            frame = av.AudioFrame.from_ndarray(samples, format="fltp", layout="mono")
            frame.sample_rate = 44_100
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    return path


def noisy_film(path: Path, numbers: list[int]) -> Path:
    """A film of numbered frames with the grain of a sensor, so that every frame has its bits."""
    rng = np.random.default_rng(2)
    grain = [rng.normal(0, 6, size=(180, 320, 3)) for _ in range(max(numbers) + 1)]
    pictures = (
        np.clip(numbered_picture(number) + grain[number], 0, 255).astype(np.uint8)
        for number in numbers
    )
    write_video(path, pictures, rate=25, encoder={"crf": "16", "g": "12"})
    return path


def damage(path: Path, packet: int) -> int:
    """Overwrite part of a packet; give the number of the frame that it holds."""
    with av.open(str(path)) as container:
        packets = [(p.pos, p.size, p.pts) for p in container.demux(video=0) if p.size]
    position, size, pts = packets[packet]
    data = bytearray(path.read_bytes())
    middle = (position or 0) + size // 2
    data[middle : middle + 60] = np.random.default_rng(1).bytes(60)
    path.write_bytes(data)
    return sorted(at for _, _, at in packets if at is not None).index(pts or 0)
