"""Uploaded files on disk, known by their content."""

import hashlib
import os
from contextlib import AbstractContextManager
from pathlib import Path
from typing import BinaryIO, Self
from uuid import uuid4

from footing.core.errors import Refused


class IncomingFile(AbstractContextManager["IncomingFile"]):
    """A file that is arriving; leaves nothing behind unless `keep` was called.

    Parameters
    ----------
    folder : the media folder
    limit : largest accepted size in bytes
    """

    def __init__(self, folder: Path, *, limit: int) -> None:
        self._folder = folder
        self._limit = limit
        self._hash = hashlib.sha256()
        self.size = 0
        folder.mkdir(parents=True, exist_ok=True)
        self.path = folder / f"incoming-{uuid4().hex}"
        self._file: BinaryIO = self.path.open("wb")

    def __enter__(self) -> Self:
        """Begin."""
        return self

    def __exit__(self, *_: object) -> None:
        """Remove what was not kept."""
        self._file.close()
        self.path.unlink(missing_ok=True)

    def write(self, chunk: bytes) -> None:
        """Take the next bytes.

        Raises
        ------
        Refused : if the file is larger than the limit.
        """
        self.size += len(chunk)
        if self.size > self._limit:
            raise Refused(
                f"The file is larger than {self._limit // 2**20} MB; cut the video on the phone."
            )
        self._hash.update(chunk)
        self._file.write(chunk)

    def finish(self) -> None:
        """Make sure that the bytes are on disk."""
        self._file.flush()
        os.fsync(self._file.fileno())

    @property
    def content(self) -> str:
        """SHA-256 of what has arrived."""
        return self._hash.hexdigest()

    def keep(self) -> None:
        """Move the file to its place."""
        place = media_path(self._folder, self.content)
        place.parent.mkdir(parents=True, exist_ok=True)
        self.path.replace(place)


def media_path(folder: Path, content: str) -> Path:
    """Where the file with this content hash is."""
    return folder / content[:2] / content
