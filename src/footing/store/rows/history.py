"""What was done in a study."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from pydantic import JsonValue

from footing.store.rows.base import NEW, Row


@dataclass(frozen=True, slots=True, kw_only=True)
class Edit(Row):
    """One change of a study, with its inverse: the row changes, each with before and after.

    touched : names of what it changed or relied on, see `footing.store.changes`
    target : for an undo or a redo, the ``seq`` of the edit that it acts on
    standing : false once it was undone (an edit) or redone (an undo)
    token : chosen by the sender, so that a repeated request is not a second edit
    run : what several edits belong to that are undone together
    """

    id: int = NEW
    study_id: int
    seq: int
    teacher_id: int | None = None
    student_id: int | None = None
    person_name: str
    kind: str
    label: str
    payload: Mapping[str, JsonValue]
    changes: list[dict[str, JsonValue]]
    touched: list[str]
    based_on: int
    target: int | None = None
    standing: bool = True
    token: str
    run: str | None = None
    made_at: datetime
