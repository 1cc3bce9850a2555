"""What one process has worked out lies on a shelf on disk, where every other process finds it.

Whoever wants something that is not there claims it, works it out and puts it there; the others
wait for that. Names tell everything that the result rests on, so nothing ever gets out of date;
the oldest is thrown away.
"""

import fcntl
import hashlib
import logging
import os
import pickle
import shutil
import threading
from collections.abc import Callable
from contextlib import ExitStack, suppress
from pathlib import Path
from typing import Any, TypeVar

log = logging.getLogger("footing.shelf")

_KEPT = 400  # results
_ROOM = 200_000_000  # bytes
_LOOKED_AFTER = 50  # results that one process puts there, until it looks how many there are
_CLAIM_LENGTH = 3  # digits: so many results are told apart while they are worked out

Result = TypeVar("Result")


class Shelf:
    """Results below ``folder``, which no other program writes to; at most ``room`` bytes or so."""

    def __init__(self, folder: Path, *, room: int = _ROOM) -> None:
        self._folder = folder
        self._room = room
        self._claims = folder / "claims"
        self._claims.mkdir(parents=True, exist_ok=True)
        self._put = 0

    def shared(self, name: str, make: Callable[[], Result]) -> Result:
        """What has this name; made by one process only, however many ask for it at once."""
        path = self._path(name)
        found: tuple[Result] | None = self._read(path)
        if found is not None:
            return found[0]
        with ExitStack() as stack:
            with suppress(OSError):  # on a full disk everybody works it out
                claim = stack.enter_context((self._claims / path.name[:_CLAIM_LENGTH]).open("w"))
                fcntl.flock(claim, fcntl.LOCK_EX)
            found = self._read(path)
            if found is not None:
                return found[0]
            made = make()
            self._write(path, made)
        return made

    def put(self, name: str, made: object) -> None:
        """Put something there that is worked out already."""
        self._write(self._path(name), made)

    def found(self, name: str) -> Any:
        """What has this name, if somebody has put it there; None if nobody has."""
        found: tuple[Any] | None = self._read(self._path(name))
        return found[0] if found else None

    def _path(self, name: str) -> Path:
        return self._folder / f"{hashlib.sha256(name.encode()).hexdigest()}.pickle"

    @staticmethod
    def _read(path: Path) -> tuple[Result] | None:
        """The result, in a tuple because it may be None itself."""
        try:
            with path.open("rb") as file:
                result: Result = pickle.load(file)
        except (OSError, EOFError, pickle.UnpicklingError):
            return None
        return (result,)

    def _write(self, path: Path, result: object) -> None:
        partial = path.with_suffix(f".{os.getpid()}-{threading.get_ident()}.part")
        try:
            partial.write_bytes(pickle.dumps(result, pickle.HIGHEST_PROTOCOL))
            partial.replace(path)
        except OSError as error:
            partial.unlink(missing_ok=True)
            log.warning("a result could not be put on the shelf: %s", error)
        self._put += 1
        if self._put % _LOOKED_AFTER == 0:
            self._drop_oldest()

    def _drop_oldest(self) -> None:
        files: list[tuple[float, int, Path]] = []
        for file in self._folder.iterdir():
            with suppress(FileNotFoundError):  # another process may just have dropped it
                if file.is_file():
                    status = file.stat()
                    files.append((status.st_mtime, status.st_size, file))
        taken = 0
        for place, (_, size, file) in enumerate(sorted(files, reverse=True)):
            taken += size
            if place >= _KEPT or taken > self._room:
                file.unlink(missing_ok=True)


_opened: list[Shelf] = []


def open_shelf(folder: Path) -> None:
    """Share results below ``folder`` from now on."""
    _opened[:] = [Shelf(folder)]


def clear_shelf(folder: Path) -> None:
    """Throw everything away: another version of the program may have put it there."""
    shutil.rmtree(folder, ignore_errors=True)


def found(name: str) -> Any:
    """What has this name and lies on the shelf; None if nothing does."""
    return _opened[0].found(name) if _opened else None


def put(name: str, made: object) -> None:
    """Put something on the shelf that is worked out already."""
    if _opened:
        _opened[0].put(name, made)


def shared(name: str, make: Callable[[], Result]) -> Result:
    """What has this name, from the shelf; made on the spot in a process that has opened none."""
    return _opened[0].shared(name, make) if _opened else make()
