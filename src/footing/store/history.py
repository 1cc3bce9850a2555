"""The history of studies: what was done, by whom, and whether it still stands."""

import json
from collections.abc import Sequence
from dataclasses import dataclass

from footing.store import tables
from footing.store.access import Doer
from footing.store.database import database
from footing.store.mapping import field_names, values
from footing.store.notices import CHANNEL, notice
from footing.store.rows import Edit, SchoolClass
from footing.store.sql import asked, columns, row_of, rows_of

_OWN = """
    study_id = %(study)s AND teacher_id IS NOT DISTINCT FROM %(teacher)s
    AND student_id IS NOT DISTINCT FROM %(student)s
"""
_UNDOABLE = f"{_OWN} AND kind NOT IN ('undo', 'redo') AND standing ORDER BY seq DESC LIMIT 1"
_REDOABLE = f"""{_OWN} AND kind = 'undo' AND standing AND NOT EXISTS (
    SELECT FROM edit AS newer WHERE newer.seq > edit.seq AND newer.kind NOT IN ('undo', 'redo')
    AND newer.study_id = edit.study_id
    AND newer.teacher_id IS NOT DISTINCT FROM edit.teacher_id
    AND newer.student_id IS NOT DISTINCT FROM edit.student_id
    ) ORDER BY seq DESC LIMIT 1
"""


_IN_JSON = ("payload", "changes")
_WRITTEN = [name for name in field_names(Edit) if name not in ("id", "made_at")]
_APPEND = f"""
    WITH written AS (
        INSERT INTO edit ({", ".join(_WRITTEN)}) VALUES
        ({", ".join(f"%({name})s{'::jsonb' if name in _IN_JSON else ''}" for name in _WRITTEN)})
    )
    UPDATE study SET seq = %(seq)s WHERE id = %(study_id)s
    RETURNING pg_notify(%(channel)s, %(notice)s)
"""


@dataclass(frozen=True)
class Touched:
    """What a later edit touched, whose it is and what it is called."""

    seq: int
    touched: list[str]
    person_name: str
    label: str


@dataclass(frozen=True)
class Locked:
    """A study that nobody else changes in this transaction."""

    seq: int
    school_class: SchoolClass


def lock_study(study_id: int) -> Locked | None:
    """Keep everybody else from changing a study until the transaction ends; None without one."""
    found = asked(
        f"SELECT study.seq, {columns(SchoolClass)} FROM study JOIN school_class"
        " ON school_class.id = study.school_class_id WHERE study.id = %(study)s"
        " FOR UPDATE OF study",
        study=study_id,
    )
    return Locked(found[0][0], row_of(SchoolClass, found[0][1:])) if found else None


def is_known(study_id: int, token: str) -> bool:
    """Whether an edit with this token was made already."""
    statement = "SELECT FROM edit WHERE study_id = %(study)s AND token = %(token)s"
    return bool(asked(statement, study=study_id, token=token))


def latest_and_known(study_id: int, seq: int, token: str) -> tuple[str | None, bool]:
    """The token of the edit numbered ``seq``, and whether one with ``token`` was made already."""
    ((latest, known),) = asked(
        "SELECT (SELECT token FROM edit WHERE study_id = %(study)s AND seq = %(seq)s),"
        " EXISTS (SELECT FROM edit WHERE study_id = %(study)s AND token = %(token)s)",
        study=study_id,
        seq=seq,
        token=token,
    )
    return latest, known


def append(edit: Edit) -> None:
    """Write an edit down as the latest of its study, and tell everybody who has that open."""
    given = values(edit) | {name: json.dumps(getattr(edit, name)) for name in _IN_JSON}
    told = notice(edit.study_id, seq=edit.seq)
    database.execute_sql(_APPEND, given | {"channel": CHANNEL, "notice": told})


def labels(study_id: int, who: Doer) -> tuple[str | None, str | None]:
    """What undo would take back, and what redo would make again; None for nothing."""
    ((undo, redo),) = asked(
        f"SELECT (SELECT label FROM edit WHERE {_UNDOABLE}),"
        " (SELECT label FROM edit WHERE study_id = %(study)s AND seq ="
        f" (SELECT target FROM edit WHERE {_REDOABLE}))",
        study=study_id,
        teacher=who.teacher_id,
        student=who.student_id,
    )
    return undo, redo


def undoable(study_id: int, who: Doer) -> Edit | None:
    """A person's latest edit that stands."""
    return _own(_UNDOABLE, study_id, who)


def redoable(study_id: int, who: Doer) -> Edit | None:
    """A person's latest undo that stands, unless they made a new edit after it."""
    return _own(_REDOABLE, study_id, who)


def numbered(study_id: int, seq: int) -> Edit:
    """An edit by its number."""
    (edit,) = _edits("seq = %(seq)s", study=study_id, seq=seq)
    return edit


def of_run(study_id: int, run: str, *, standing: bool) -> list[Edit]:
    """The edits of a run that stand, or that do not, in the order in which they were made."""
    chosen = "run = %(run)s AND standing = %(standing)s ORDER BY seq"
    return _edits(chosen, study=study_id, run=run, standing=standing)


def all_of(study_id: int) -> list[Edit]:
    """The whole history of a study, latest first."""
    return _edits("true ORDER BY seq DESC", study=study_id)


def set_standing(edits: Sequence[Edit], *, standing: bool) -> None:
    """Keep whether edits stand."""
    ids = [edit.id for edit in edits]
    tables.Edit.update(standing=standing).where(tables.Edit.id.in_(ids)).execute()


def later_than(study_id: int, seq: int, *, only_standing: bool) -> list[Touched]:
    """What edits after a certain one touched; undo and redo among them, or those that stand."""
    kept = "AND standing AND kind NOT IN ('undo', 'redo')" if only_standing else ""
    found = asked(
        "SELECT seq, touched, person_name, label FROM edit"
        f" WHERE study_id = %(study)s AND seq > %(seq)s {kept} ORDER BY seq",
        study=study_id,
        seq=seq,
    )
    return [Touched(*values) for values in found]


def was_taken_back(study_id: int, run: str) -> bool:
    """Whether an edit of a run was taken back."""
    statement = "SELECT FROM edit WHERE study_id = %(study)s AND run = %(run)s AND NOT standing"
    return bool(asked(statement, study=study_id, run=run))


def _own(chosen: str, study_id: int, who: Doer) -> Edit | None:
    found = rows_of(
        Edit,
        f"SELECT {columns(Edit)} FROM edit WHERE {chosen}",
        study=study_id,
        teacher=who.teacher_id,
        student=who.student_id,
    )
    return found[0] if found else None


def _edits(chosen: str, **named: object) -> list[Edit]:
    return rows_of(
        Edit, f"SELECT {columns(Edit)} FROM edit WHERE study_id = %(study)s AND {chosen}", **named
    )
