"""Removing what nothing can need any more, and saying what that freed.

Needed is what a row names, and what undo or redo can bring back: the changes of edits that stand,
and of undone ones until their person makes a new edit. What is younger than a day may be on its
way, and stays.
"""

import time
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from footing.settings import Settings
from footing.store.cells import KEY_LENGTH
from footing.store.database import database, transaction
from footing.store.media import media_path
from footing.store.tables import (
    CONTENT,
    Edit,
    FailedSignIn,
    Follow,
    PhoneLink,
    SignIn,
    Study,
    Upload,
)

_YOUNG = timedelta(days=1)
_KEPT = timedelta(days=30)  # what somebody may still ask about: links, and what became of uploads

# the edits whose changes undo or redo can still make
_REVERSIBLE = """
    SELECT changes::text AS changes FROM edit AS e
    WHERE standing AND kind <> 'redo' AND (kind <> 'undo' OR NOT EXISTS (
        SELECT FROM edit AS newer
        WHERE newer.study_id = e.study_id AND newer.seq > e.seq
          AND newer.kind NOT IN ('undo', 'redo')
          AND newer.teacher_id IS NOT DISTINCT FROM e.teacher_id
          AND newer.student_id IS NOT DISTINCT FROM e.student_id))
"""


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
        sign_ins = SignIn.delete().where(SignIn.expires < now).execute()
        sign_ins += FailedSignIn.delete().where(FailedSignIn.at < now - _YOUNG).execute()
        over = (Upload.state != "arriving") & (Upload.started_at < now - _KEPT)
        uploads = Upload.delete().where(over).execute()
        used = Upload.select(Upload.link).where(Upload.link.is_null(False))
        old = (PhoneLink.expires < now - _KEPT) & PhoneLink.id.not_in(used)
        links = PhoneLink.delete().where(old).execute()
        studies = _remove_studies(now - _KEPT)
        cells = _remove_cells()
    media, freed = _remove_media(settings)
    files, more = _remove_left_over(settings)
    return Tidied(studies, media, cells, uploads, links, sign_ins, files, freed + more)


def _remove_studies(before: datetime) -> int:
    """Studies that somebody removed and nobody took back."""
    gone = [row.id for row in Study.select(Study.id).where(Study.removed_at < before)]
    tables: tuple[Any, ...] = (Follow, Upload, PhoneLink, Edit, *reversed(CONTENT))
    for table in tables:
        # a body that belongs to another, or a finding beside one, goes with the same statement
        table.delete().where(table.study.in_(gone)).execute()
    Study.delete().where(Study.id.in_(gone)).execute()
    return len(gone)


def _remove_cells() -> int:
    """Blocks of cells that no column names and no edit can bring back."""
    cursor = database.execute_sql(
        f"""
        WITH reversible AS ({_REVERSIBLE}),
        named AS (
            SELECT left(jsonb_array_elements_text(to_jsonb(blocks)), {KEY_LENGTH}) AS key
            FROM sheet_column
            UNION
            SELECT found[1] FROM reversible,
                regexp_matches(changes, '"([0-9a-f]{{{KEY_LENGTH}}})', 'g') AS found
        )
        DELETE FROM cells WHERE made_at < now() - interval '1 day'
            AND NOT EXISTS (SELECT FROM named WHERE named.key = cells.key)
        """
    )
    return int(cursor.rowcount)


def _remove_media(settings: Settings) -> tuple[int, int]:
    """Files that no source uses and no edit can bring back, with their frames."""
    with transaction():
        unnamed = [
            content
            for (content,) in database.execute_sql(
                f"""
                WITH reversible AS ({_REVERSIBLE})
                SELECT content FROM media AS m
                WHERE NOT EXISTS (SELECT FROM footage WHERE footage.content = m.content)
                  AND NOT EXISTS (SELECT FROM reversible WHERE position(m.content IN changes) > 0)
                """
            )
        ]
        old = [one for one in unnamed if _is_old(media_path(settings.media_folder, one))]
        for content in old:
            database.execute_sql("DELETE FROM media WHERE content = %s", (content,))
    freed = 0
    for content in old:
        frames = settings.cache_folder / content[:2] / content
        for file in (media_path(settings.media_folder, content), *frames.rglob("*.jpg")):
            freed += _removed(file)
    return len(old), freed


def _remove_left_over(settings: Settings) -> tuple[int, int]:
    """Files without a row: arrivals that nobody knows, and what was never finished or fetched."""
    known = {row.id for row in Upload.select(Upload.id).where(Upload.state == "arriving")}
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
