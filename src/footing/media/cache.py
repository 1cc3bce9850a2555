"""Decoded frames on disk as JPEG, limited in size, the longest unused dropped first."""

import fcntl
import hashlib
import logging
import os
import threading
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager, suppress
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
_COUNTED_AFTER = 0.02  # of the limit that was written, since others write, too
_CLAIM_LENGTH = 3  # digits: so many groups are told apart, and no more files are left


class FrameCache:
    """JPEG files below ``folder``, at most ``limit`` bytes of them."""

    def __init__(self, folder: Path, *, limit: int) -> None:
        self._folder = folder
        self._limit = limit
        self._lock = threading.Lock()
        self._begun = folder / "begun"
        self._begun.mkdir(parents=True, exist_ok=True)
        for left in self._begun.glob("*.part"):
            if not Path("/proc", left.name.partition("-")[0]).exists():  # its process was killed
                left.unlink(missing_ok=True)
        self._size = sum(size for _, size, _ in self._files())
        self._counted = self._size

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
        partial = self._begun / f"{os.getpid()}-{threading.get_ident()}.part"
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
            if self._size > min(self._limit, self._counted + _COUNTED_AFTER * self._limit):
                self._drop_longest_unused()
        return None

    @contextmanager
    def claimed(self, content: str, first: int, size: FrameSize) -> Iterator[None]:
        """Only one process at a time decodes a group of frames; the others wait for it here."""
        name = hashlib.sha256(f"{content} {first} {size}".encode()).hexdigest()[:_CLAIM_LENGTH]
        with ExitStack() as stack:
            with suppress(OSError):  # on a full disk everybody decodes
                claim = stack.enter_context((self._begun / f"{name}.lock").open("w"))
                fcntl.flock(claim, fcntl.LOCK_EX)
            yield

    def holds(self, content: str, frames: range, size: FrameSize) -> bool:
        """Whether all of these frames are there."""
        return all(self.path(content, frame, size).exists() for frame in frames)

    def _drop_longest_unused(self) -> None:
        """Count what is there, which other processes write, too, and drop what is too much."""
        files = sorted(self._files(), key=lambda entry: entry[0])
        self._size = sum(size for _, size, _ in files)
        over = self._size > self._limit
        for _, size, file in files:
            if not over or self._size <= self._limit * _KEEP_SHARE:
                break
            file.unlink(missing_ok=True)
            self._size -= size
        self._counted = self._size

    def _files(self) -> Iterator[tuple[float, int, Path]]:
        """Time of last use, size and place of each frame."""
        for file in self._folder.rglob("*.jpg"):
            with suppress(FileNotFoundError):  # another process may just have dropped it
                status = file.stat()
                yield status.st_mtime, status.st_size, file


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
