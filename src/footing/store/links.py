"""Links by which phones send files or a study is looked at, and the key that signs them."""

from datetime import datetime

from footing.store import tables
from footing.store.access import Doer
from footing.store.rows import PhoneLink, StudyLink
from footing.store.sql import columns, rows_of

_THE_KEY = 1  # there is one row


def open_link(study_id: int, who: Doer, *, now: datetime) -> PhoneLink | None:
    """The latest link of somebody for a study that has neither expired nor been revoked."""
    found = rows_of(
        PhoneLink,
        f"SELECT {columns(PhoneLink)} FROM phone_link WHERE study_id = %(study)s"
        " AND teacher_id IS NOT DISTINCT FROM %(teacher)s"
        " AND student_id IS NOT DISTINCT FROM %(student)s"
        " AND NOT revoked AND expires > %(now)s ORDER BY id DESC LIMIT 1",
        study=study_id,
        teacher=who.teacher_id,
        student=who.student_id,
        now=now,
    )
    return found[0] if found else None


def revoke(study_id: int) -> None:
    """Revoke every link of a study."""
    tables.PhoneLink.update(revoked=True).where(tables.PhoneLink.study == study_id).execute()


def signing_key(new: str) -> str:
    """The key with which links are signed; ``new`` from now on where there is none yet."""
    keys = tables.SigningKey
    keys.insert(id=_THE_KEY, key=new).on_conflict_ignore().execute()
    return str(keys.get_by_id(_THE_KEY).key)


def open_to_look(study_id: int) -> StudyLink | None:
    """The link by which a study can be looked at, if one is not closed."""
    found = rows_of(
        StudyLink,
        f"SELECT {columns(StudyLink)} FROM study_link WHERE study_id = %(study)s"
        " AND closed_at IS NULL ORDER BY id DESC LIMIT 1",
        study=study_id,
    )
    return found[0] if found else None


def close_to_look(study_id: int, *, now: datetime) -> None:
    """Close every link by which a study can be looked at."""
    of = tables.StudyLink
    of.update(closed_at=now).where((of.study == study_id) & of.closed_at.is_null()).execute()
