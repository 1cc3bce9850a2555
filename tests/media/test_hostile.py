"""Damaged and hostile files: a sentence or readable frames, within limits of time and memory."""

import json
import os
import subprocess
import sys
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import pytest
from PIL import Image as Pillow

from footing.core.errors import Unreadable
from footing.media.index import index_media
from tests.films import numbered_film, numbered_picture

LIMITS = {"seconds": 20.0, "frame_count": 1000, "frame_pixels": 4_000_000}
_PROJECT = Path(__file__).parents[2]
MUTATIONS = 200
SECONDS, MEGABYTES = 30.0, 400.0


def test_mutated_files_never_crash_stick_or_fill_the_memory(tmp_path: Path) -> None:
    numbered_film(tmp_path / "a.mp4", frames=30)
    numbered_film(tmp_path / "b.mov", frames=30, rotation=90)
    numbered_film(
        tmp_path / "c.mkv",
        frames=30,
        codec="libx265",
        encoder={"x265-params": "keyint=12:log-level=none"},
    )
    numbered_film(tmp_path / "d.webm", frames=30, codec="libvpx-vp9", encoder={"g": "12"})
    numbered_film(
        tmp_path / "e.avi", frames=12, codec="mjpeg", pixel_format="yuvj420p", encoder={"q": "3"}
    )
    picture = Pillow.fromarray(np.random.default_rng(1).integers(0, 255, (90, 120, 3), np.uint8))
    for name in ("f.jpg", "g.png", "h.tif", "i.heic"):
        picture.save(tmp_path / name)
    command = [sys.executable, "-m", "tests.media.mutations", str(tmp_path), str(MUTATIONS)]
    done = subprocess.run(
        command,
        capture_output=True,
        text=True,
        timeout=500,
        cwd=_PROJECT,
        env=os.environ | {"PYTHONPATH": f"{_PROJECT / 'src'}"},
        check=False,
    )
    assert done.returncode == 0, done.stderr[-2000:]
    found = json.loads(done.stdout)
    assert found["readable"] + found["refused"] == MUTATIONS
    assert found["refused"] > 10
    assert found["readable"] > 10
    assert found["slowest_seconds"] < SECONDS
    assert found["more_megabytes"] < MEGABYTES


def test_a_video_that_announces_an_absurd_size_is_refused(tmp_path: Path) -> None:
    path = numbered_film(tmp_path / "absurd.mp4", frames=5)
    data = path.read_bytes()
    entry = data.index(b"avc1") + 4 + 24  # width and height in the sample description
    path.write_bytes(data[:entry] + b"\xff\xff\xff\xff" + data[entry + 4 :])
    try:
        index = index_media(path, **LIMITS)  # type: ignore[arg-type]
        found = f"{index.width} × {index.height}"
    except Unreadable as error:
        found = str(error)
    assert found == "320 × 180" or "65535 × 65535" in found  # the picture itself, or a refusal


def test_frames_that_grow_inside_the_file_are_not_decoded(tmp_path: Path) -> None:
    """The container announces a small picture; what it holds is larger than is accepted."""
    path = numbered_film(tmp_path / "grows.mp4", frames=3, size=(2560, 1800))
    with pytest.raises(Unreadable, match="2560 × 1800"):
        index_media(path, **LIMITS)  # type: ignore[arg-type]
    data = path.read_bytes()
    entry = data.index(b"avc1") + 4 + 24
    path.write_bytes(data[:entry] + b"\x01\x40\x00\xb4" + data[entry + 4 :])
    with pytest.raises(Unreadable):
        index_media(path, **LIMITS)  # type: ignore[arg-type]


def test_pixels_that_are_drawn_far_out_of_shape_are_refused(tmp_path: Path) -> None:
    """A small film may say that each of its pixels is 100 times as wide as high."""
    path = tmp_path / "wide.mp4"
    with av.open(str(path), "w") as container:
        stream: Any = container.add_stream("libx264", rate=25)
        stream.width, stream.height, stream.pix_fmt = 320, 180, "yuv420p"
        stream.codec_context.sample_aspect_ratio = Fraction(100, 1)
        picture = av.VideoFrame.from_ndarray(numbered_picture(1), format="bgr24")
        container.mux(stream.encode(picture))
        container.mux(stream.encode(None))
    with pytest.raises(Unreadable, match=f"{320 * 100} × 180"):
        index_media(path, **LIMITS)  # type: ignore[arg-type]
