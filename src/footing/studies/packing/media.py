"""Films and pictures in archives, under the SHA-256 of their content."""

import tempfile
import zipfile
from collections.abc import Iterable
from pathlib import Path

from footing.settings import Settings
from footing.store.media import media_path
from footing.studies.films import uploads
from footing.studies.packing.archive import Opened

FOLDER = "media/"


def put_media(archive: zipfile.ZipFile, contents: Iterable[str], settings: Settings) -> None:
    """Put files into an archive, as they are and a piece at a time."""
    for content in sorted(set(contents)):
        path = media_path(settings.media_folder, content)
        archive.write(path, FOLDER + content, zipfile.ZIP_STORED)


def take_media(archive: Opened, content: str, settings: Settings) -> None:
    """Keep a file of an archive, looked at as any other that comes in.

    Raises
    ------
    Refused : if it is too large, cannot be read, or is not the one that it says.
    """
    most = settings.upload_megabytes * 2**20
    settings.made_folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=settings.made_folder) as folder:
        file = Path(folder, "file")
        if archive.unpack(FOLDER + content, file, most=most) != content:
            raise archive.refusal("a film is not the one that it says.")
        uploads.take_in(file, settings)
