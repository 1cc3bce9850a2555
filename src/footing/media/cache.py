"""Decoded frames on disk as JPEG, limited in size, the longest unused dropped first."""

import logging
import os
import threading
from pathlib import Path
from typing import Literal

import cv2
import numpy as np

from footing.core.arrays import Image

log = logging.getLogger("footing.frames")

FrameSize = Literal["thumb", "screen", "full"]

LONG_SIDE: dict[FrameSize, int] = {"thumb": 128, "screen": 1280}
_QUALITY: dict[FrameSize, int] = {"thumb": 70, "screen": 90, "full": 95}
_KEEP_SHARE = 0.9  # how full the cache is after dropping, so that it is not done at every write


class FrameCache:
    """JPEG files below ``folder``, at most ``limit`` bytes of them."""

    def __init__(self, folder: Path, *, limit: int) -> None:
        self._folder = folder
        self._limit = limit
        self._lock = threading.Lock()
        for left in folder.rglob("*.*"):
            if left.is_file() and left.suffix != ".jpg":  # begun by a process that was killed
                left.unlink(missing_ok=True)
        self._size = sum(file.stat().st_size for file in folder.rglob("*.jpg"))

    def path(self, content: str, frame: int, size: FrameSize) -> Path:
        """Where a frame of the file with this content hash is, or would be."""
        return self._folder / content[:2] / content / size / f"{frame}.jpg"

    def read(self, content: str, frame: int, size: FrameSize) -> bytes | None:
        """The JPEG, or None if it is not there. Counts as a use."""
        path = self.path(content, frame, size)
        try:
            picture = path.read_bytes()
            os.utime(path)
        except FileNotFoundError:
            return None
        return picture

    def write(self, content: str, frame: int, size: FrameSize, picture: Image) -> bytes | None:
        """Encode and keep a picture; a reader sees all of it or nothing.

        What cannot be kept, because the disk is full, is given back.
        """
        path = self.path(content, frame, size)
        quality = [cv2.IMWRITE_JPEG_QUALITY, _QUALITY[size]]
        encoded = cv2.imencode(".jpg", shrunk(picture, size), quality)[1].tobytes()
        partial = path.with_suffix(f".{threading.get_ident()}")
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            partial.write_bytes(encoded)
            partial.replace(path)
        except OSError as error:
            partial.unlink(missing_ok=True)
            log.warning("a frame could not be kept: %s", error)
            return encoded
        with self._lock:
            self._size += len(encoded)
            if self._size > self._limit:
                self._drop_longest_unused()
        return None

    def _drop_longest_unused(self) -> None:
        files = sorted(
            (
                (file.stat().st_mtime, file.stat().st_size, file)
                for file in self._folder.rglob("*.jpg")
            ),
            key=lambda entry: entry[0],
        )
        self._size = sum(size for _, size, _ in files)
        for _, size, file in files:
            if self._size <= self._limit * _KEEP_SHARE:
                break
            file.unlink(missing_ok=True)
            self._size -= size


def shrunk(picture: Image, size: FrameSize) -> Image:
    """Shrink so that the long side fits the size; never enlarge."""
    long_side = max(picture.shape[:2])
    limit = LONG_SIDE.get(size, long_side)
    if long_side <= limit:
        return picture
    factor = limit / long_side
    shape = (max(round(picture.shape[1] * factor), 1), max(round(picture.shape[0] * factor), 1))
    resized = cv2.resize(picture, shape, interpolation=cv2.INTER_AREA)
    return np.asarray(resized, dtype=np.uint8)
