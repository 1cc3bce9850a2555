"""Removing rows that nothing can need any more; each gives how many they were."""

from datetime import datetime
from typing import Any

from footing.store.cells import KEY_LENGTH
from footing.store.database import database
from footing.store.sql import asked
from footing.store.tables import (
    CONTENT,
    Edit,
    FailedSignIn,
    Follow,
    PhoneLink,
    SignIn,
    Study,
    StudyPlace,
    Upload,
)

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


def remove_sign_ins(*, now: datetime, failed_before: datetime) -> int:
    """Sessions that are over, and failures of long ago."""
    sessions: int = SignIn.delete().where(SignIn.expires < now).execute()
    failures: int = FailedSignIn.delete().where(FailedSignIn.at < failed_before).execute()
    return sessions + failures


def remove_uploads(before: datetime) -> int:
    """What became of files that arrived long ago."""
    over = (Upload.state != "arriving") & (Upload.started_at < before)
    count: int = Upload.delete().where(over).execute()
    return count


def remove_links(before: datetime) -> int:
    """Links that expired long ago and no upload names."""
    used = Upload.select(Upload.link).where(Upload.link.is_null(False))
    old = (PhoneLink.expires < before) & PhoneLink.id.not_in(used)
    count: int = PhoneLink.delete().where(old).execute()
    return count


def remove_studies(before: datetime) -> int:
    """Studies that somebody removed and nobody took back."""
    gone = [row.id for row in Study.select(Study.id).where(Study.removed_at < before)]
    remove_whole(gone)
    return len(gone)


def remove_whole(gone: list[int]) -> None:
    """Remove studies with all that belongs to them."""
    if not gone:
        return
    frozen = [row.id for row in Study.select(Study.id).where(Study.frozen_from.in_(gone))]
    remove_whole(frozen)  # what was handed in of them
    of_studies: tuple[Any, ...] = (Follow, Upload, PhoneLink, Edit, StudyPlace, *reversed(CONTENT))
    for table in of_studies:
        # a body that belongs to another, or a finding beside one, goes with the same statement
        table.delete().where(table.study.in_(gone)).execute()
    Study.delete().where(Study.id.in_(gone)).execute()


def remove_cells() -> int:
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


def unneeded_media() -> list[str]:
    """Files that no source uses and no edit can bring back, by content."""
    found = asked(
        f"""
        WITH reversible AS ({_REVERSIBLE})
        SELECT content FROM media AS m
        WHERE NOT EXISTS (SELECT FROM footage WHERE footage.content = m.content)
          AND NOT EXISTS (SELECT FROM reversible WHERE position(m.content IN changes) > 0)
        """
    )
    return [content for (content,) in found]


def forget_media(content: str) -> None:
    """Forget a file."""
    database.execute_sql("DELETE FROM media WHERE content = %s", (content,))
