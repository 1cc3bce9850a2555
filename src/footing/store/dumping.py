"""The whole database as one stream, out and in, by PostgreSQL's own programs.

What goes out is one moment of it (``pg_dump``); what comes in replaces all of it in one
transaction, so that it is either the old or the new one, whatever happens meanwhile.
"""

import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import IO

from footing.core.errors import Refused
from footing.store.cluster import newest_binaries
from footing.store.migrations import known_migrations
from footing.store.reading import forget
from footing.store.sql import asked

_SCHEMAS = ("public", "jobs")
_PIECE = 2**20


@contextmanager
def dump(url: str) -> Iterator[IO[bytes]]:
    """All of a database as it is now, to be read.

    Raises
    ------
    Refused : if it could not be read to its end.
    """
    command = _program("pg_dump", "--format=custom", "--no-owner", "--no-privileges")
    command += [f"--schema={schema}" for schema in _SCHEMAS]
    with tempfile.TemporaryFile() as said:
        with subprocess.Popen([*command, url], stdout=subprocess.PIPE, stderr=said) as process:
            assert process.stdout is not None
            try:
                yield process.stdout
            except BaseException:
                process.kill()
                raise
        if process.returncode:
            raise Refused(f"The database could not be read: {_last_line(said)}")


def replace(url: str, file: Path) -> None:
    """Put a database that was dumped in the place of the one that is there.

    Raises
    ------
    Refused : if it cannot be; the database is then as it was.
    """
    read = _program("pg_restore", "--no-owner", "--no-privileges", "--file=-", str(file))
    write = _program("psql", "--quiet", "--no-psqlrc", "--single-transaction")
    write += ["--variable=ON_ERROR_STOP=1", "--output=/dev/null", url]
    with tempfile.TemporaryFile() as read_said, tempfile.TemporaryFile() as write_said:
        with (
            subprocess.Popen(read, stdout=subprocess.PIPE, stderr=read_said) as reading,
            subprocess.Popen(write, stdin=subprocess.PIPE, stderr=write_said) as writing,
        ):
            assert reading.stdout is not None
            assert writing.stdin is not None
            with suppress(BrokenPipeError):  # psql says why
                for schema in _SCHEMAS:
                    writing.stdin.write(f"DROP SCHEMA IF EXISTS {schema} CASCADE;\n".encode())
                while piece := reading.stdout.read(_PIECE):
                    writing.stdin.write(piece)
                if reading.wait():
                    writing.kill()  # before it commits half of it
                writing.stdin.close()
        if reading.returncode > 0 or writing.returncode:
            line = _last_line(read_said if reading.returncode > 0 else write_said)
            raise Refused(f"This backup could not be put in: {line}", field="file")
    forget()


def _program(name: str, *arguments: str) -> list[str]:
    return [str(newest_binaries() / name), *arguments]


def latest_migration() -> str:
    """The latest migration that this program knows."""
    return known_migrations()[-1]


def is_in_use() -> bool:
    """Whether somebody has an account in the database."""
    return bool(asked("SELECT FROM teacher LIMIT 1"))


def contents() -> list[str]:
    """The files that the database knows, by content."""
    return [content for (content,) in asked("SELECT content FROM media ORDER BY content")]


def _last_line(said: IO[bytes]) -> str:
    said.seek(0)
    lines = said.read().decode(errors="replace").strip().splitlines()
    return lines[-1] if lines else "it said nothing"
