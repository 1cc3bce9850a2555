"""Files that arrive: what was announced, what became of it, and the files that are kept."""

from datetime import datetime

from footing.store import tables
from footing.store.database import database
from footing.store.mapping import for_insertion
from footing.store.rows import Media, Surveyed, Upload
from footing.store.sql import asked, columns, rows_of


def announcing_one_by_one() -> None:
    """Let nobody else announce a file in this transaction."""
    database.execute_sql("SELECT pg_advisory_xact_lock(hashtext('footing uploads'))")


def arriving() -> list[Upload]:
    """What is on its way."""
    return rows_of(Upload, f"SELECT {columns(Upload)} FROM upload WHERE state = 'arriving'")


def given_up(before: datetime) -> list[Upload]:
    """What began to arrive long ago and never went on; it is forgotten."""
    over = f"state = 'arriving' AND started_at < %(before)s RETURNING {columns(Upload)}"
    return rows_of(Upload, f"DELETE FROM upload WHERE {over}", before=before)


def keep_media(media: Media) -> None:
    """Keep what is known about a file, unless it is known already."""
    tables.Media.insert(**for_insertion(media)).on_conflict_ignore().execute()


def keep_survey(content: str, survey: Surveyed) -> None:
    """Keep what looking through a file found."""
    tables.Media.update(survey=survey).where(tables.Media.content == content).execute()


def not_surveyed() -> list[str]:
    """Videos that nobody has looked through."""
    found = asked("SELECT content FROM media WHERE survey IS NULL AND kind = 'video'")
    return [content for (content,) in found]


def studies_with(content: str) -> list[int]:
    """The studies that use a file."""
    found = asked("SELECT DISTINCT study_id FROM footage WHERE content = %(of)s", of=content)
    return [study for (study,) in found]
