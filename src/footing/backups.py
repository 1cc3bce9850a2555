"""A whole school as one file, and a Footing as it was when that was made.

The file is a zip: ``backup.json`` says what it is, ``database.dump`` is the database (in
PostgreSQL's custom format), ``media/`` the films and pictures under the SHA-256 of their content.
Backing up goes beside a Footing that runs; restoring needs it stopped.
"""

import hashlib
import json
import os
import shutil
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from datetime import UTC, datetime
from pathlib import Path

from pydantic import AwareDatetime, BaseModel, ConfigDict, ValidationError

from footing import __version__
from footing.core.errors import Refused
from footing.databases import alone, any_database, open_database
from footing.settings import Settings
from footing.store import dumping
from footing.store.database import connected
from footing.store.media import media_path
from footing.store.migrations import apply_migrations
from footing.store.shelf import clear_shelf

FORMAT = 1
_SAID, _DATABASE, _MEDIA = "backup.json", "database.dump", "media/"
_PIECE = 2**20
_NO_BACKUP = "This is no backup of Footing, or it is damaged"
_DAMAGED: tuple[type[Exception], ...] = (
    *(zipfile.BadZipFile, NotImplementedError, EOFError, zlib.error, KeyError),
)


class BackupFile(BaseModel):
    """What ``backup.json`` says. migration : the latest one of its database"""

    model_config = ConfigDict(extra="forbid")

    format: int
    made_by: str
    made_at: AwareDatetime
    migration: str
    files: int
    bytes: int


def back_up(settings: Settings, file: Path) -> BackupFile:
    """Write all that a Footing holds to a new file.

    Raises
    ------
    Refused : if the file is there already, or cannot be written; nothing of it is left then.
    """
    if file.exists():
        raise Refused(f"{file} is there already; choose another name.", field="file")
    partial = file.with_name(f"{file.name}.part")
    with any_database(settings) as url, _room_needed(f"The backup {file}"):
        try:
            said = _write(partial, url, settings)
            partial.rename(file)
        except BaseException:
            with suppress(OSError):
                partial.unlink(missing_ok=True)
            raise
    return said


def _write(partial: Path, url: str, settings: Settings) -> BackupFile:
    with partial.open("xb") as out:
        with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
            with (
                dumping.dump(url) as database,
                archive.open(_DATABASE, "w", force_zip64=True) as entry,
            ):
                shutil.copyfileobj(database, entry, _PIECE)
            with connected():
                contents = dumping.contents()
            size = 0
            for content in contents:
                path = media_path(settings.media_folder, content)
                archive.write(path, _MEDIA + content)
                size += path.stat().st_size
            said = BackupFile(
                format=FORMAT,
                made_by=__version__,
                made_at=datetime.now(UTC),
                migration=dumping.latest_migration(),
                files=len(contents),
                bytes=size,
            )
            archive.writestr(_SAID, said.model_dump_json(indent=1))
        out.flush()
        os.fsync(out.fileno())
    return said


def restore(settings: Settings, file: Path, *, replace: bool) -> BackupFile:
    """Have a Footing be as it was when a backup was made.

    Parameters
    ----------
    replace : whether what is there now may go

    Raises
    ------
    Refused : if it is no backup, is of a newer Footing, or does not fit on the disk; or if there is
        something and ``replace`` is not said. All is as it was then.
    """
    with _archive(file) as archive:
        said = _said(archive)
        with alone(settings.data), open_database(settings) as url:
            with connected():
                in_use = dumping.is_in_use()
            if in_use and not replace:
                raise Refused(
                    f"There are people and studies in {settings.data} already. With --replace they "
                    "go, and the backup takes their place; back them up first."
                )
            _check_room(settings, said)
            with _room_needed("What is in the backup"), _new_files() as new:
                for name in archive.namelist():
                    if name.startswith(_MEDIA):
                        _unpack_media(archive, name, settings, new)
                with tempfile.NamedTemporaryFile(dir=settings.data, suffix=".dump") as dump:
                    with archive.open(_DATABASE) as entry:
                        shutil.copyfileobj(entry, dump, _PIECE)
                    dump.flush()
                    dumping.replace(url, Path(dump.name))
            apply_migrations()
    clear_shelf(settings.shelf_folder)
    return said


@contextmanager
def _archive(file: Path) -> Iterator[zipfile.ZipFile]:
    try:
        with zipfile.ZipFile(file) as archive:
            yield archive
    except FileNotFoundError as error:
        if error.filename != str(file):
            raise
        raise Refused(f"There is no file {file}.", field="file") from error
    except _DAMAGED as error:
        raise Refused(f"{_NO_BACKUP}.", field="file") from error


def _said(archive: zipfile.ZipFile) -> BackupFile:
    """What a backup says that it is.

    Raises
    ------
    Refused : if this Footing cannot read it.
    """
    try:
        plain = json.loads(archive.read(_SAID))
        newer = isinstance(plain, dict) and plain.get("format", FORMAT) != FORMAT
        said = None if newer else BackupFile.model_validate(plain)
    except (ValidationError, ValueError) as error:
        raise Refused(f"{_NO_BACKUP}.", field="file") from error
    if said is None or said.migration > dumping.latest_migration():
        made_by = plain.get("made_by", "?")
        raise Refused(
            f"This backup was made by a newer Footing ({made_by}) than this one ({__version__}); "
            "update this one first.",
            field="file",
        )
    return said


def _check_room(settings: Settings, said: BackupFile) -> None:
    """Refuse what cannot fit, before anything is written."""
    free = shutil.disk_usage(settings.data).free
    if said.bytes > free:
        raise Refused(
            f"The films of this backup need {said.bytes / 1e6:.0f} MB, and {settings.data} has "
            f"{free / 1e6:.0f} MB left."
        )


@contextmanager
def _new_files() -> Iterator[list[Path]]:
    """Files that are there only if all goes well."""
    new: list[Path] = []
    try:
        yield new
    except BaseException:
        for path in new:
            path.unlink(missing_ok=True)
        raise


def _unpack_media(archive: zipfile.ZipFile, name: str, settings: Settings, new: list[Path]) -> None:
    content = name.removeprefix(_MEDIA)
    if len(content) != 64 or not set(content) <= set("0123456789abcdef"):
        raise Refused(f"{_NO_BACKUP}.", field="file")
    place = media_path(settings.media_folder, content)
    if place.exists():
        return
    place.parent.mkdir(parents=True, exist_ok=True)
    partial = place.with_suffix(".part")
    new.append(partial)
    digest = hashlib.sha256()
    with archive.open(name) as entry, partial.open("wb") as out:
        while piece := entry.read(_PIECE):
            digest.update(piece)
            out.write(piece)
    if digest.hexdigest() != content:
        raise Refused(f"{_NO_BACKUP}: a film is not the one that it says.", field="file")
    new.append(place)
    partial.rename(place)


@contextmanager
def _room_needed(what: str) -> Iterator[None]:
    """Say in a sentence what could not be written, and why."""
    try:
        yield
    except OSError as error:
        raise Refused(
            f"{what} could not be written: {error.strerror}. Nothing was changed."
        ) from error
