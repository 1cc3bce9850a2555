"""Reading all rows of a study, as of one moment.

What was read is kept and brought up to date by the row changes of the edits since, which the
history holds; so the tables are read once, and an edit costs its own rows only.
"""

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from threading import Lock
from typing import Any

from cachetools import LRUCache

from footing.core.errors import NotThere
from footing.store.changes import RowChange, apply_changes, from_json
from footing.store.database import database, plain_rows
from footing.store.mapping import CONTENT, KINDS, field_names
from footing.store.rows import Row
from footing.store.snapshot import StudyRows
from footing.store.sql import asked

_KEPT = 64  # studies
_AT_ONCE = 40  # edits that are caught up with; after more all rows are read anew
_kept: LRUCache[int, StudyRows] = LRUCache(_KEPT)
_lock = Lock()


def read_study(study_id: int, *, at: tuple[int, str | None] | None = None) -> StudyRows:
    """All rows of a study as they are now.

    at : number and token of its latest edit, for whoever knows them and has the study locked

    Raises
    ------
    NotThere : if there is no such study.
    """
    seq, token = at or _state(study_id)
    kept = _kept_of(study_id)
    if kept is not None and token is not None:
        if (kept.seq, kept.token) == (seq, token):
            return kept
        caught_up = _caught_up(kept, seq)
        if caught_up is not None:
            keep(caught_up)
            return caught_up
    with _one_moment():
        seq, token = _state(study_id)
        found = StudyRows(study_id, seq, token, _all_rows(study_id))
    keep(found)
    return found


def keep(rows: StudyRows) -> None:
    """Remember what a study holds. An older moment does no harm: it is caught up from there."""
    if rows.token is None:  # made by no edit, so nothing tells whether it is still the same
        return
    with _lock:
        _kept[rows.study_id] = rows


def forget() -> None:
    """Read everything anew, because rows were changed by something that is no edit."""
    with _lock:
        _kept.clear()


def _kept_of(study_id: int) -> StudyRows | None:
    with _lock:
        return _kept.get(study_id)


def _state(study_id: int) -> tuple[int, str | None]:
    """The number of the latest edit, and its token; None where there is no such edit."""
    found = asked(
        "SELECT study.seq, edit.token FROM study LEFT JOIN edit"
        " ON edit.study_id = study.id AND edit.seq = study.seq WHERE study.id = %(study)s",
        study=study_id,
    )
    if not found:
        raise NotThere("There is no such study.")
    ((seq, token),) = found
    return seq, token


def _caught_up(kept: StudyRows, seq: int) -> StudyRows | None:
    """What was kept, with the edits since; None where these do not follow from it."""
    if not kept.seq < seq <= kept.seq + _AT_ONCE:
        return None
    edits = asked(
        "SELECT seq, token, changes FROM edit WHERE study_id = %(study)s"
        " AND seq BETWEEN %(first)s AND %(last)s ORDER BY seq",
        study=kept.study_id,
        first=kept.seq,
        last=seq,
    )
    first, *later = edits or [(None, None, None)]
    if first[:2] != (kept.seq, kept.token) or [row[0] for row in later] != list(
        range(kept.seq + 1, seq + 1)
    ):
        return None
    draft = kept.draft()
    changes: list[RowChange] = []
    for _, _, stored in later:
        changes += from_json(stored)
    apply_changes(draft, changes)
    return draft.finished(seq, later[-1][1])


@contextmanager
def _one_moment() -> Iterator[None]:
    """All statements inside see the same; within a transaction it is the one that runs."""
    if database.in_transaction():
        yield
        return
    with database.atomic():
        database.execute_sql("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ, READ ONLY")
        yield


def _all_rows(study_id: int) -> Iterable[Row]:
    for kind in CONTENT:
        yield from _rows_of(kind, study_id)


def _rows_of(kind: type[Row], study_id: int) -> Iterator[Row]:
    table: Any = KINDS[kind]
    names = field_names(kind)
    for row in plain_rows(table.select().where(table.study == study_id)):
        yield kind(**{name: getattr(row, name) for name in names})
