"""Uploaded files on disk: arriving piece by piece, then known by their content."""

import errno
import fcntl
import hashlib
import os
import shutil
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import BinaryIO

from footing.core.errors import Refused, Stale


class Arrival:
    """A file that is arriving: what has been written so far is kept between connections.

    Parameters
    ----------
    folder : the media folder
    key : the upload's key, a name of our own making
    size : bytes announced
    """

    def __init__(self, folder: Path, key: str, *, size: int) -> None:
        self.path = folder / "arriving" / key
        self._folder = folder
        self._size = size

    def begin(self) -> None:
        """Make the empty file."""
        self.path.parent.mkdir(parents=True, exist_ok=True)
        self.path.touch()

    @property
    def received(self) -> int:
        """Bytes that have arrived."""
        return self.path.stat().st_size if self.path.exists() else 0

    @property
    def complete(self) -> bool:
        """Whether all of it has arrived."""
        return self.received == self._size

    @contextmanager
    def appending(self, offset: int) -> Iterator["Appending"]:
        """Write what comes next; it is on disk when the block is left, however that happens.

        Raises
        ------
        Stale : if the sender and the file disagree about how far it is, or another connection
            is writing.
        """
        if not self.path.exists():
            raise Stale("This upload was given up; choose the file again.")
        with self.path.open("ab") as file:
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except BlockingIOError as error:
                raise Stale("This file is being sent from another place already.") from error
            if self.received != offset:
                raise Stale(f"{self.received} bytes have arrived, not {offset}.")
            try:
                yield Appending(file, left=self._size - offset)
            except BaseException:
                with suppress(OSError):  # what went wrong first is what is said
                    _safely(file)
                raise
            with _room_needed():
                _safely(file)

    def content(self) -> str:
        """SHA-256 of what has arrived."""
        with self.path.open("rb") as file:
            return hashlib.file_digest(file, "sha256").hexdigest()

    def keep(self, content: str) -> None:
        """Put the file in its place, too; what has arrived stays until it is `discard`ed.

        So whoever is killed between this and writing it down has lost nothing.
        """
        place = media_path(self._folder, content)
        place.parent.mkdir(parents=True, exist_ok=True)
        with suppress(FileExistsError):
            place.hardlink_to(self.path)

    def discard(self) -> None:
        """Remove what has arrived."""
        self.path.unlink(missing_ok=True)


class Appending:
    """The end of an arriving file."""

    def __init__(self, file: BinaryIO, *, left: int) -> None:
        self._file = file
        self._left = left

    def write(self, chunk: bytes) -> None:
        """Take the next bytes.

        Raises
        ------
        Refused : if they are more than was announced.
        """
        self._left -= len(chunk)
        if self._left < 0:
            raise Refused("More bytes came than were announced; choose the file again.")
        with _room_needed():
            self._file.write(chunk)
            self._file.flush()


@contextmanager
def _room_needed() -> Iterator[None]:
    """Say in a sentence that the disk is full."""
    try:
        yield
    except OSError as error:
        if error.errno not in (errno.ENOSPC, errno.EDQUOT):
            raise
        raise Refused(
            "The disk of this Footing is full. Ask whoever runs it to make room, then choose the "
            "file again; it goes on where it stopped."
        ) from error


def _safely(file: BinaryIO) -> None:
    file.flush()
    os.fsync(file.fileno())


def check_disk(folder: Path, size: int, *, reserve: int, promised: int = 0) -> None:
    """Refuse a file, before it comes, for which the disk has no room.

    Parameters
    ----------
    size, reserve : bytes that will come, and that must be left then
    promised : bytes that other files on their way will need
    """
    folder.mkdir(parents=True, exist_ok=True)
    free = max(shutil.disk_usage(folder).free - promised, 0)
    if free - size < reserve:
        raise Refused(
            f"The disk of this Footing is nearly full: {free / 1e6:.0f} MB are free, and the file "
            f"has {size / 1e6:.0f} MB. Ask whoever runs it to make room."
        )


def media_path(folder: Path, content: str) -> Path:
    """Where the file with this content hash is."""
    return folder / content[:2] / content
