"""Indexing, decoding, and the memory that they need."""

import statistics
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import av
import cv2
import numpy as np

from footing.bench.measuring import line, seconds
from footing.core.arrays import Image
from footing.demo.filming import write_video
from footing.demo.render import CLIPS
from footing.media.cache import FrameCache
from footing.media.index import MediaIndex, index_video
from footing.media.service import FrameService, StoredMedia
from footing.media.survey import survey
from footing.settings import Settings

CLIP = CLIPS / "sled-run.mp4"
_GIGABYTE = 10**9
_NOISE = (1080, 1920)

# Indexes a file in a process of its own and prints the most memory that it had, in megabytes.
_INDEX_ALONE = """
import resource, sys
from pathlib import Path
from footing.media.index import index_video
index_video(Path(sys.argv[1]), seconds=60, frame_count=10**6, frame_pixels=10**8)
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
"""


def measure(settings: Settings, folder: Path) -> None:
    """Everything about files."""
    _index(settings)
    _index_memory(folder)
    _frames(folder)
    _survey(settings)


def long_film(path: Path, codec: str) -> None:
    """10 s of 1080p at 30 frames/s, with the grain of a sensor over a moving picture."""
    preset: dict[str, object] = {"preset": "ultrafast", "g": "30", "crf": "26"}
    if codec == "libx265":
        preset = {"preset": "ultrafast", "crf": "28", "x265-params": "keyint=30:log-level=none"}
    write_video(path, _grainy(300), rate=30, encoder=preset, codec=codec)


def phone_film(path: Path) -> None:
    """5 s of 1080p at 30 frames/s with the coding of a phone, and its 15 Mbit/s."""
    # one slice for each frame, as phones write them; several threads would write one each
    encoder: dict[str, object] = {"preset": "faster", "g": "30", "crf": "17", "threads": "1"}
    write_video(path, _street(150), rate=30, encoder=encoder)


def _street(frames: int) -> Iterator[Image]:
    """Something with a texture that moves by 8 px a frame, and the grain of a sensor over it."""
    rng = np.random.default_rng(6)
    size = (_NOISE[0] // 4, (_NOISE[1] + 8 * frames) // 4)
    coarse = rng.integers(60, 190, size=(*size, 3), dtype=np.uint8)
    wide = cv2.resize(coarse, None, fx=4, fy=4, interpolation=cv2.INTER_CUBIC)
    grain = rng.integers(0, 9, size=(_NOISE[0], 2 * _NOISE[1], 3), dtype=np.uint8)
    for number in range(frames):
        at = int(rng.integers(0, _NOISE[1]))
        seen = wide[:, 8 * number : 8 * number + _NOISE[1]]
        yield np.asarray(cv2.add(seen, grain[:, at : at + _NOISE[1]]), dtype=np.uint8)


def _grainy(frames: int) -> Iterator[Image]:
    rng = np.random.default_rng(5)
    wide = rng.integers(90, 160, size=(_NOISE[0], _NOISE[1] + 8 * frames, 3), dtype=np.uint8)
    for number in range(frames):
        yield np.ascontiguousarray(wide[:, 8 * number : 8 * number + _NOISE[1]])


def _indexed(settings: Settings, path: Path) -> MediaIndex:
    return index_video(
        path,
        seconds=settings.decode_seconds,
        frame_count=settings.frame_count,
        frame_pixels=settings.frame_pixels,
    )


def _index(settings: Settings) -> None:
    megabytes = CLIP.stat().st_size / 1e6
    taken = statistics.median(seconds(lambda: _indexed(settings, CLIP)) for _ in range(7))
    line(
        f"index {megabytes:.1f} MB, {_indexed(settings, CLIP).frames} frames",
        1000 * taken,
        "ms",
        200,
    )
    line("index, for each megabyte", 1000 * taken / megabytes, "ms/MB", 100)


def _frames(folder: Path) -> None:
    """Every frame once through the frame service, against decoding alone with PyAV."""
    index = _indexed(Settings(data=folder), CLIP)

    def decode_alone() -> None:
        with av.open(str(CLIP)) as container:
            for frame in container.decode(video=0):
                frame.to_ndarray(format="bgr24")

    alone = min(seconds(decode_alone) for _ in range(3))
    cache = FrameCache(folder / "bench-frames", limit=2**30)
    service = FrameService(cache, seconds=60)
    video = StoredMedia("bench", CLIP, index)
    served = seconds(lambda: [service.jpeg(video, n, "screen") for n in range(index.frames)])
    line("plain decode to BGR, 1280 × 720", index.frames / alone, "frames/s", 0, at_least=True)
    line(
        "frame service, first time: its rate ÷ plain decode",
        alone / served,
        "",
        0.25,
        at_least=True,
    )
    again = seconds(lambda: [service.jpeg(video, n, "screen") for n in range(index.frames)])
    line("frame service, cached: its rate ÷ plain decode", alone / again, "", 5, at_least=True)
    service.close()


def _index_memory(folder: Path) -> None:
    """The same frames in a small file and in one of a gigabyte."""
    small, large = folder / "small.mp4", folder / "large.mp4"
    repeated_film(small, 2 * 10**7)
    repeated_film(large, _GIGABYTE)
    least, most = (_memory(path) for path in (small, large))
    taken = seconds(lambda: _memory(large))
    line("memory to index 20 MB (Python and libraries)", least, "MB", 400)
    line("more memory to index 1 GB", most - least, "MB", 50)
    line("index 1 GB, with starting Python", taken, "s", 10)
    for path in (small, large):
        path.unlink()


def _memory(path: Path) -> float:
    command = [sys.executable, "-c", _INDEX_ALONE, str(path)]
    done = subprocess.run(command, capture_output=True, text=True, check=True)
    return float(done.stdout)


def repeated_film(path: Path, size: int) -> None:
    """A valid file of about a size: a few intra frames, written again and again."""
    rng = np.random.default_rng(7)
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=30)
        stream.width, stream.height, stream.pix_fmt = _NOISE[1], _NOISE[0], "yuv420p"
        stream.options = {"preset": "ultrafast", "crf": "1", "g": "1", "bf": "0"}
        packets = []
        for _ in range(3):
            picture = rng.integers(0, 255, size=(*_NOISE, 3), dtype=np.uint8)
            packets += stream.encode(av.VideoFrame.from_ndarray(picture, format="bgr24"))
        packets += stream.encode(None)
        contents = [bytes(packet) for packet in packets]
        written = number = 0
        while written < size:
            packet = av.Packet(contents[number % len(contents)])
            packet.stream, packet.time_base = stream, packets[0].time_base
            packet.pts = packet.dts = number
            packet.is_keyframe = True
            container.mux(packet)
            written += packet.size
            number += 1


def _survey(settings: Settings) -> None:
    index = _indexed(settings, CLIP)
    taken = seconds(lambda: survey(CLIP, index, seconds=60))

    def decode_alone() -> None:
        with av.open(str(CLIP)) as container:
            container.streams.video[0].codec_context.thread_count = 1
            for frame in container.decode(video=0):
                frame.to_ndarray(format="gray")

    alone = min(seconds(decode_alone) for _ in range(3))
    line(
        "looking through: its rate ÷ decoding on one thread", alone / taken, "", 0.5, at_least=True
    )
