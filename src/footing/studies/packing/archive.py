"""A zip file, written and read a piece at a time.

One that comes in is looked at before anything of it is used: how many entries it has, how large
they say they are and how large they are, and that no name is there twice. Names never become paths.
"""

import hashlib
import json
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import BinaryIO

from pydantic import JsonValue

from footing.core.errors import Refused

_MOST_ENTRIES = 20_000
_LARGEST_TEXT = 200 * 2**20  # bytes of one text, unpacked
_PIECE = 2**20
_COMPRESSION = {zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED}
_DAMAGED: tuple[type[Exception], ...] = (
    *(zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, zlib.error),
)


class Opened:
    """An archive that is read.

    Parameters
    ----------
    what : it should be, as errors say it
    """

    def __init__(self, archive: zipfile.ZipFile, what: str) -> None:
        self._archive = archive
        self.what = what
        entries = archive.infolist()
        self._entries = {entry.filename: entry for entry in entries}
        if len(entries) > _MOST_ENTRIES or len(self._entries) < len(entries):
            raise self.refusal()
        if any(entry.compress_type not in _COMPRESSION for entry in entries):
            raise self.refusal()

    def refusal(self, more: str = "") -> Refused:
        """The error that says what this is not."""
        said = f": {more}" if more else "."
        return Refused(f"This is no {self.what} of Footing, or it is damaged{said}", field="file")

    @property
    def names(self) -> tuple[str, ...]:
        """The names of its entries."""
        return tuple(self._entries)

    def plain(self, name: str) -> dict[str, JsonValue]:
        """An entry that holds one JSON object.

        Raises
        ------
        Refused : if it is not there, too large, or something else.
        """
        content = b"".join(self._pieces(name, most=_LARGEST_TEXT))
        try:
            plain = json.loads(content)
        except (ValueError, RecursionError) as error:
            raise self.refusal() from error
        if not isinstance(plain, dict):
            raise self.refusal()
        return plain

    def unpack(self, name: str, to: Path, *, most: int) -> str:
        """Write an entry to a file; give the SHA-256 of what it holds.

        Raises
        ------
        Refused : if it is not there, or larger than ``most``.
        """
        digest = hashlib.sha256()
        with to.open("wb") as file:
            for piece in self._pieces(name, most=most):
                digest.update(piece)
                file.write(piece)
        return digest.hexdigest()

    def _pieces(self, name: str, *, most: int) -> Iterator[bytes]:
        """What an entry holds. No more is unpacked than it says that it has (`zipfile`)."""
        entry = self._entries.get(name)
        if entry is None:
            raise self.refusal(f"{name} is missing.")
        if entry.file_size > most:
            raise Refused(f"{name} in this file is too large.", field="file")
        try:
            with self._archive.open(entry) as file:
                while piece := file.read(_PIECE):
                    yield piece
        except _DAMAGED as error:
            raise self.refusal() from error


@contextmanager
def opened(file: Path | BinaryIO, what: str) -> Iterator[Opened]:
    """Read an archive.

    Raises
    ------
    Refused : if it is none, or is not as one of ours could be.
    """
    try:
        archive = zipfile.ZipFile(file)
    except (zipfile.BadZipFile, NotImplementedError, ValueError, OSError) as error:
        raise Refused(f"This is no {what} of Footing, or it is damaged.", field="file") from error
    with archive:
        yield Opened(archive, what)
