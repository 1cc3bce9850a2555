"""The one door for changes: every edit of every study comes in here.

An edit and its effect are written in one transaction, with a sequence number for the study. What
was acknowledged is therefore in the database, and can be taken back.
"""

from datetime import UTC, datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from footing.core.errors import NotThere, Refused, Stale
from footing.store import history
from footing.store.changes import as_json, from_json, in_conflict
from footing.store.database import transaction
from footing.store.notices import notify
from footing.store.reading import keep, read_study
from footing.store.rows import Edit
from footing.studies.edits import AnyEdit
from footing.studies.received import Received
from footing.studies.school.people import Person
from footing.studies.work import Work


class Undo(BaseModel):
    """Take back the person's own latest standing edit in this study."""

    kind: Literal["undo"] = "undo"


class Redo(BaseModel):
    """Make again what the person took back last, unless they made a new edit since."""

    kind: Literal["redo"] = "redo"


class EditRequest(Received):
    """One edit as it is sent.

    based_on : sequence number of the state that the person saw
    token : chosen by the sender; the same token again is not a second edit
    """

    edit: Annotated[AnyEdit | Undo | Redo, Field(discriminator="kind")]
    based_on: int
    token: Annotated[str, StringConstraints(min_length=8, max_length=64)]


class Undone(BaseModel):
    """What an undo took back, or a redo made again."""

    kind: Literal["undo", "redo"]
    label: str


class Accepted(BaseModel):
    """What became of an edit: the study's sequence number, and the key of the row it made."""

    seq: int
    made: str | None
    undone: Undone | None = None


def submit(
    study_id: int, person: Person, request: EditRequest, *, run: str | None = None
) -> Accepted:
    """Make an edit; edits of one ``run`` are taken back and made again together.

    Raises
    ------
    Refused : if the edit cannot be made.
    Stale : if what it touches has changed since ``based_on``.
    """
    with transaction():
        study = history.lock_study(study_id)
        if study is None:
            raise NotThere("There is no such study.")
        latest, is_known = history.latest_and_known(study_id, study.seq, request.token)
        if is_known:
            return Accepted(seq=study.seq, made=None)
        rows = read_study(study_id, at=(study.seq, latest))
        work = Work(rows.draft(), study.school_class.series_look)
        edit = request.edit
        target = undone = None
        if isinstance(edit, Undo | Redo):
            target = (_take_back if isinstance(edit, Undo) else _make_again)(work, person)
            undone = Undone(kind=edit.kind, label=target.label)
            label = f"{edit.kind}: {target.label}"
        else:
            edit.apply(work)
            label = edit.label
            _check_fresh(study_id, request.based_on, work.changes.touched)
        if not work.changes.made:
            return Accepted(seq=study.seq, made=None)
        work.changes.write()
        seq = study.seq + 1
        history.append(
            Edit(
                study_id=study_id,
                seq=seq,
                teacher_id=person.teacher_id,
                student_id=person.student_id,
                person_name=person.name,
                kind=edit.kind,
                label=label,
                payload=edit.model_dump(),
                changes=as_json(work.changes.made),
                touched=sorted(work.changes.touched),
                based_on=request.based_on,
                target=target.seq if target else None,
                token=request.token,
                run=run,
                made_at=datetime.now(UTC),
            )
        )
        if undone:
            notify(study_id, undone=undone.model_dump(), by=person.name, token=request.token)
    keep(work.rows.finished(seq, request.token))
    return Accepted(seq=seq, made=work.changes.first_made, undone=undone)


def undo_and_redo(study_id: int, person: Person) -> tuple[str | None, str | None]:
    """What undo would take back, and what redo would make again; None for nothing."""
    return history.labels(study_id, person)


def _take_back(work: Work, person: Person) -> Edit:
    edit = history.undoable(work.study_id, person)
    if edit is None:
        raise Refused("There is nothing to undo.")
    together = _together(edit, standing=True)
    _check_untouched_since(together, "taken back")
    work.changes.reverse(from_json([change for one in together for change in one.changes]))
    history.set_standing(together, standing=False)
    return edit


def _make_again(work: Work, person: Person) -> Edit:
    undo = history.redoable(work.study_id, person)
    if undo is None or undo.target is None:
        raise Refused("There is nothing to redo.")
    edit = history.numbered(work.study_id, undo.target)
    together = _together(edit, standing=False)
    _check_untouched_since(together, "made again")
    work.changes.reverse(from_json(undo.changes))
    history.set_standing([undo], standing=False)
    history.set_standing(together, standing=True)
    return edit


def _together(edit: Edit, *, standing: bool) -> list[Edit]:
    """An edit with those of the same run, in the order in which they were made."""
    if edit.run is None:
        return [edit]
    return history.of_run(edit.study_id, edit.run, standing=standing)


def _check_fresh(study_id: int, based_on: int, touched: set[str]) -> None:
    """Refuse an edit of something that changed since the state it was based on."""
    for other in reversed(history.later_than(study_id, based_on, only_standing=False)):
        if in_conflict(touched, other.touched):
            raise Stale(
                f"{other.person_name} has changed the same thing meanwhile ({other.label}), "
                "perhaps in another tab; this is the present state. Look at it and try again."
            )


def _check_untouched_since(edits: list[Edit], what: str) -> None:
    """Refuse to reverse edits if a later one that still stands touched the same thing."""
    own = {edit.seq for edit in edits}
    for other in history.later_than(edits[0].study_id, min(own), only_standing=True):
        earlier = (edit for edit in edits if edit.seq < other.seq and other.seq not in own)
        if any(in_conflict(edit.touched, other.touched) for edit in earlier):
            raise Stale(
                f"“{edits[-1].label}” cannot be {what}: {other.person_name} has changed the same "
                f"thing since ({other.label})."
            )
