"""The one door for changes: every edit of every study comes in here.

An edit and its effect are written in one transaction, with a sequence number for the study. What
was acknowledged is therefore in the database, and can be taken back.
"""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, StringConstraints

from footing.core.errors import NotThere, Refused, Stale
from footing.store.changes import as_json, from_json, in_conflict
from footing.store.database import transaction
from footing.store.notices import notify
from footing.store.reading import keep, read_study
from footing.store.tables import Edit, Study
from footing.studies.edits import AnyEdit
from footing.studies.people import Person
from footing.studies.received import Received
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


class Accepted(BaseModel):
    """What became of an edit: the study's sequence number, and the key of the row it made.

    undone : what was taken back or made again, in words
    """

    seq: int
    made: str | None
    undone: str | None = None


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
        study: Any = Study.select().where(Study.id == study_id).for_update().first()
        if study is None:
            raise NotThere("There is no such study.")
        repeated: Any = Edit.get_or_none((Edit.study == study) & (Edit.token == request.token))
        if repeated is not None:
            return Accepted(seq=study.seq, made=None)
        rows = read_study(study_id)
        work = Work(rows.draft(), study.school_class.series_look)
        edit = request.edit
        target = None
        if isinstance(edit, Undo):
            target = _take_back(work, person)
            label = f"undo: {target.label}"
        elif isinstance(edit, Redo):
            target = _make_again(work, person)
            label = f"redo: {target.label}"
        else:
            edit.apply(work)
            label = edit.label
            _check_fresh(study_id, request.based_on, work.changes.touched)
        if not work.changes.made:
            return Accepted(seq=study.seq, made=None)
        work.changes.write()
        study.seq += 1
        study.save(only=["seq"])
        Edit.create(
            study=study,
            seq=study.seq,
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
            **person.as_columns,
        )
        notify(study_id, seq=study.seq)
        if target:
            notify(study_id, undone=label, by=person.name, token=request.token)
    keep(work.rows.finished(study.seq, request.token))
    return Accepted(seq=study.seq, made=work.changes.first_made, undone=label if target else None)


def undo_label(study_id: int, person: Person) -> str | None:
    """What undo would take back, or None."""
    edit = _undoable(_own(study_id, person, Edit.label))
    return edit.label if edit else None


def redo_label(study_id: int, person: Person) -> str | None:
    """What redo would make again, or None."""
    undo = _redoable(_own(study_id, person, Edit.seq, Edit.label))
    return undo.label.removeprefix("undo: ") if undo else None


def _take_back(work: Work, person: Person) -> Any:
    edit = _undoable(_own(work.study_id, person))
    if edit is None:
        raise Refused("There is nothing to undo.")
    together = _together(work.study_id, edit, standing=True)
    _check_untouched_since(work.study_id, together, "taken back")
    work.changes.reverse(from_json([change for one in together for change in one.changes]))
    _set_standing(together, standing=False)
    return edit


def _make_again(work: Work, person: Person) -> Any:
    undo = _redoable(_own(work.study_id, person))
    if undo is None:
        raise Refused("There is nothing to redo.")
    edit: Any = Edit.get((Edit.study == work.study_id) & (Edit.seq == undo.target))
    together = _together(work.study_id, edit, standing=False)
    _check_untouched_since(work.study_id, together, "made again")
    work.changes.reverse(from_json(undo.changes))
    _set_standing([undo], standing=False)
    _set_standing(together, standing=True)
    return edit


def _together(study_id: int, edit: Any, *, standing: bool) -> list[Any]:
    """An edit with those of the same run, in the order in which they were made."""
    if edit.run is None:
        return [edit]
    rows = Edit.select().where(
        (Edit.study == study_id) & (Edit.run == edit.run) & (Edit.standing == standing)
    )
    return list(rows.order_by(Edit.seq))


def _set_standing(edits: list[Any], *, standing: bool) -> None:
    for one in edits:
        one.standing = standing
        one.save(only=["standing"])


def _check_fresh(study_id: int, based_on: int, touched: set[str]) -> None:
    """Refuse an edit of something that changed since the state it was based on."""
    columns = (Edit.seq, Edit.touched, Edit.person_name, Edit.label)
    later = Edit.select(*columns).where((Edit.study == study_id) & (Edit.seq > based_on))
    for other in later.order_by(Edit.seq.desc()):
        if in_conflict(touched, other.touched):
            raise Stale(
                f"{other.person_name} has changed the same thing meanwhile ({other.label}), "
                "perhaps in another tab; this is the present state. Look at it and try again."
            )


def _check_untouched_since(study_id: int, edits: list[Any], what: str) -> None:
    """Refuse to reverse edits if a later one that still stands touched the same thing."""
    own = {edit.seq for edit in edits}
    columns = (Edit.seq, Edit.touched, Edit.person_name, Edit.label)
    later = Edit.select(*columns).where(
        (Edit.study == study_id)
        & (Edit.seq > min(own))
        & Edit.standing
        & Edit.kind.not_in(["undo", "redo"])
    )
    for other in later.order_by(Edit.seq):
        earlier = (edit for edit in edits if edit.seq < other.seq and other.seq not in own)
        if any(in_conflict(edit.touched, other.touched) for edit in earlier):
            raise Stale(
                f"“{edits[-1].label}” cannot be {what}: {other.person_name} has changed the same "
                f"thing since ({other.label})."
            )


def _own(study_id: int, person: Person, *columns: Any) -> Any:
    """Query of a person's edits of a study, latest first; all columns unless some are named."""
    who = Edit.teacher if person.role == "teacher" else Edit.student
    own = Edit.select(*columns).where((Edit.study == study_id) & (who == person.id))
    return own.order_by(Edit.seq.desc())


def _undoable(own: Any) -> Any:
    return own.where(Edit.kind.not_in(["undo", "redo"]) & Edit.standing).first()


def _redoable(own: Any) -> Any:
    """The latest undo that stands, unless a new edit was made after it."""
    undo = own.where((Edit.kind == "undo") & Edit.standing).first()
    if undo is None:
        return None
    newer = own.where(Edit.kind.not_in(["undo", "redo"]) & (Edit.seq > undo.seq))
    return None if newer.exists() else undo
