"""A study's state, its one door for changes, and its history."""

from typing import Any

from fastapi import APIRouter

from footing.core.errors import Stale
from footing.store import history
from footing.studies import places
from footing.studies.door import EditRequest, submit
from footing.studies.keys import made_key
from footing.studies.people import visible_study
from footing.studies.view import study_view
from footing.web.answers import StateResponse
from footing.web.routing import DatabaseRoute
from footing.web.security import SeenStudy, Visitor

router = APIRouter(route_class=DatabaseRoute, tags=["studies"])


@router.get("/studies/{study_id}")
def read_study(study: SeenStudy, visitor: Visitor, source: str | None = None) -> StateResponse:
    """The state of a study as seen from one of its sources, with everything that follows."""
    return StateResponse(study_view(study, visitor, source=source))


@router.post("/studies/{study_id}/edits")
def make_edit(
    study: SeenStudy, visitor: Visitor, request: EditRequest, source: str | None = None
) -> StateResponse:
    """Make an edit and answer with the new state, as seen from a source.

    A refused edit answers 422; one based on a state that has changed since answers 409, with the
    present state. The same token sent again is not a second edit.
    """
    try:
        accepted = submit(study.id, visitor, request)
    except Stale as error:
        present = study_view(visible_study(visitor, study.id), visitor, source=source)
        return StateResponse({"error": str(error), "field": None, "view": present}, status_code=409)
    view = study_view(study, visitor, source=source)
    made = {"made": accepted.made, "made_key": made_key(accepted.made)}
    return StateResponse(made | {"undone": accepted.undone, "view": view})


@router.put("/studies/{study_id}/place", status_code=204)
def put_place(study: SeenStudy, visitor: Visitor, place: places.Place) -> None:
    """Note where somebody is in a study, so that they can go on there later."""
    places.leave_off(study, visitor, place)


@router.get("/studies/{study_id}/history")
def read_history(study: SeenStudy) -> list[dict[str, Any]]:
    """Who changed what and when, latest first."""
    return [
        {
            "seq": row.seq,
            "person": row.person_name,
            "kind": row.kind,
            "label": row.label,
            "standing": row.standing,
            "made_at": row.made_at.isoformat(),
        }
        for row in history.all_of(study.id)
    ]
