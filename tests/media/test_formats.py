"""Every kind of file that phones and cameras write: frames, times, size, and frame n shows n."""

import os
import struct
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from footing.media.frames import decode_group
from footing.media.index import MediaIndex, index_media
from tests.films import corner_is_red, number_in, numbered_film

LIMITS = {"seconds": 60.0, "frame_count": 10_000, "frame_pixels": 40_000_000}
X265 = {"crf": "22", "x265-params": "keyint=12:bframes=2:log-level=none"}


@dataclass(frozen=True)
class Kind:
    name: str
    ending: str = "mp4"
    frames: int = 30
    rate: int = 30
    times: tuple[float, ...] | None = None
    size: tuple[int, int] = (320, 180)
    rotation: int = 0
    film: dict[str, Any] = field(default_factory=dict)

    @property
    def due(self) -> np.ndarray:
        if self.times is None:
            return np.arange(self.frames) / self.rate
        return np.array(self.times) - self.times[0]


VARYING = tuple(np.cumsum([0.0, *([0.033, 0.050, 0.033, 0.021] * 8)])[:30].tolist())
KINDS = [
    Kind("h264-mp4"),
    Kind("h264-mov", "mov"),
    Kind("h264-mkv", "mkv"),
    Kind("h264-without-b-frames", film={"b_frames": 0}),
    Kind("h264-table-last", film={"table_first": False}),
    Kind("hevc-8-bit", film={"codec": "libx265", "encoder": X265}),
    Kind(
        "hevc-10-bit",
        "mov",
        film={"codec": "libx265", "encoder": X265, "pixel_format": "yuv420p10le"},
    ),
    Kind("vp8-webm", "webm", film={"codec": "libvpx", "encoder": {"g": "12", "b": "2M"}}),
    Kind(
        "vp9-webm",
        "webm",
        film={"codec": "libvpx-vp9", "encoder": {"g": "12", "crf": "24", "b": "0"}},
    ),
    Kind("av1-mkv", "mkv", film={"codec": "libsvtav1", "encoder": {"g": "12", "preset": "10"}}),
    Kind("av1-mp4", film={"codec": "libsvtav1", "encoder": {"g": "12", "preset": "10"}}),
    Kind(
        "mjpeg-avi",
        "avi",
        film={"codec": "mjpeg", "pixel_format": "yuvj420p", "encoder": {"q": "3"}},
    ),
    *(Kind(f"turned-{turn}", rotation=turn, size=(320, 180)) for turn in (90, 180, 270)),
    Kind("turned-mov", "mov", rotation=90),
    Kind("varying-rate", times=VARYING),
    Kind(
        "varying-rate-webm", "webm", times=VARYING, film={"codec": "libvpx", "encoder": {"g": "12"}}
    ),
    Kind("starts-late", times=tuple(1.4 + np.arange(30) / 30)),
    Kind("odd-size", "webm", size=(333, 187), film={"codec": "libvpx-vp9", "encoder": {"g": "9"}}),
    Kind("odd-h264", size=(333, 187), film={"pixel_format": "yuv444p"}),
    Kind("4k", frames=5, size=(3840, 2160), film={"encoder": {"preset": "ultrafast", "g": "3"}}),
    Kind("240-a-second", frames=120, rate=240),
]


def made(kind: Kind, folder: Path) -> Path:
    path = folder / f"{kind.name}.{kind.ending}"
    if not path.exists():
        numbered_film(
            path,
            frames=kind.frames,
            rate=kind.rate,
            times=None if kind.times is None else list(kind.times),
            size=kind.size,
            rotation=kind.rotation,
            **kind.film,
        )
    return path


def index(path: Path) -> MediaIndex:
    return index_media(path, **LIMITS)  # type: ignore[arg-type]


def numbers_shown(path: Path, known: MediaIndex) -> dict[int, int]:
    """What each frame says its number is, through every key-frame group; all must be upright."""
    found = {}
    for place, first in enumerate(known.keys):
        end = known.keys[place + 1] if place + 1 < len(known.keys) else known.frames
        for number, picture in decode_group(path, known, first, end, seconds=60):
            assert corner_is_red(picture)
            assert picture.shape[:2] == (known.height, known.width)
            found[number] = number_in(picture)
    return found


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.name)
def test_file_is_read_as_it_is(kind: Kind, films: Path) -> None:
    path = made(kind, films)
    known = index(path)
    assert known.frames == kind.frames
    assert known.times == pytest.approx(kind.due, abs=1e-3)
    assert (known.width, known.height) == kind.size
    assert known.rotation == kind.rotation
    assert numbers_shown(path, known) == {k: k for k in range(kind.frames)}


def with_edit_list(path: Path, *, skip: int, rate: int, frames: int) -> None:
    """Change the edit list of an MP4 so that a player begins ``skip`` frames later."""
    data = bytearray(path.read_bytes())
    media_header = data.index(b"mdhd") + 4
    media_scale = struct.unpack_from(">I", data, media_header + 12)[0]
    movie_scale = struct.unpack_from(">I", data, data.index(b"mvhd") + 4 + 12)[0]
    entry = data.index(b"elst") + 4 + 8  # behind version, flags and the number of entries
    begins = struct.unpack_from(">i", data, entry + 4)[0]
    struct.pack_into(
        ">Ii",
        data,
        entry,
        round((frames - skip) / rate * movie_scale),
        begins + round(skip / rate * media_scale),
    )
    path.write_bytes(bytes(data))


def test_an_edit_list_hides_the_frames_that_a_player_does_not_show(films: Path) -> None:
    path = numbered_film(films / "edit-list.mp4", frames=40, rate=25, keys_every=8)
    with_edit_list(path, skip=11, rate=25, frames=40)
    known = index(path)
    assert known.frames == 29
    assert known.times == pytest.approx(np.arange(29) / 25, abs=1e-3)
    assert numbers_shown(path, known) == {k: k + 11 for k in range(29)}


def test_the_capture_rate_that_a_phone_wrote_is_offered(films: Path) -> None:
    path = numbered_film(films / "slow.mp4", frames=12, rate=30, capture_rate=240)
    assert index(path).capture_rate == 240
    assert index(made(KINDS[0], films)).capture_rate is None


def test_a_film_that_is_made_leaves_the_process_no_more_urgent(tmp_path: Path) -> None:
    kind = next(kind for kind in KINDS if kind.name == "av1-mkv")
    made(kind, tmp_path)
    assert os.sched_getscheduler(0) == os.SCHED_OTHER
