"""Removing what nothing can need any more, and saying what that freed.

Needed is what a row names, and what undo or redo can bring back: the changes of edits that stand,
and of undone ones until their person makes a new edit. What is younger than a day may be on its
way, and stays.
"""

import time
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from footing.settings import Settings
from footing.store import clearing
from footing.store.arrivals import arriving
from footing.store.database import transaction
from footing.store.media import media_path

_YOUNG = timedelta(days=1)
_KEPT = timedelta(days=30)  # what somebody may still ask about: links, and what became of uploads


@dataclass(frozen=True)
class Tidied:
    """How much of each kind was removed, and the bytes of files that it freed."""

    studies: int = 0
    media: int = 0
    cells: int = 0
    uploads: int = 0
    links: int = 0
    sign_ins: int = 0
    files: int = 0
    bytes_freed: int = 0

    def __str__(self) -> str:
        """For the log."""
        kinds = ("studies", "media", "cells", "uploads", "links", "sign_ins", "files")
        counts = ", ".join(f"{getattr(self, kind)} {kind.replace('_', '-')}" for kind in kinds)
        return f"tidied: {counts}; {self.bytes_freed / 1e6:.1f} MB freed"


def tidy(settings: Settings) -> Tidied:
    """Remove what nothing can need any more."""
    now = datetime.now(UTC)
    with transaction():
        sign_ins = clearing.remove_sign_ins(now=now, failed_before=now - _YOUNG)
        uploads = clearing.remove_uploads(now - _KEPT)
        links = clearing.remove_links(now - _KEPT)
        studies = clearing.remove_studies(now - _KEPT)
        cells = clearing.remove_cells()
    media, freed = _remove_media(settings)
    files, more = _remove_left_over(settings)
    return Tidied(studies, media, cells, uploads, links, sign_ins, files, freed + more)


def _remove_media(settings: Settings) -> tuple[int, int]:
    """Files that no source uses and no edit can bring back, with their frames."""
    with transaction():
        old = [
            one
            for one in clearing.unneeded_media()
            if _is_old(media_path(settings.media_folder, one))
        ]
        for content in old:
            clearing.forget_media(content)
    freed = 0
    for content in old:
        frames = settings.cache_folder / content[:2] / content
        for file in (media_path(settings.media_folder, content), *frames.rglob("*.jpg")):
            freed += _removed(file)
    return len(old), freed


def _remove_left_over(settings: Settings) -> tuple[int, int]:
    """Files without a row: arrivals that nobody knows, and what was never finished or fetched."""
    known = {row.id for row in arriving()}
    arrivals = (settings.media_folder / "arriving").glob("*")
    left = [file for file in arrivals if file.name not in known]
    left += [file for file in settings.cache_folder.rglob("*.*") if file.suffix != ".jpg"]
    left += settings.made_folder.glob("*")
    old = [file for file in left if file.is_file() and _is_old(file)]
    return len(old), sum(_removed(file) for file in old)


def _is_old(file: Path) -> bool:
    return not file.exists() or file.stat().st_mtime < time.time() - _YOUNG.total_seconds()


def _removed(file: Path) -> int:
    if not file.exists():
        return 0
    size = file.stat().st_size
    file.unlink(missing_ok=True)
    return size
