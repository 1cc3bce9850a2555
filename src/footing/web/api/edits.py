"""A study's state, its one door for changes, and its history."""

from typing import Any

from fastapi import APIRouter, Request

from footing.core.errors import Stale
from footing.store import history
from footing.studies.door import EditRequest, submit
from footing.studies.model.keys import made_key
from footing.studies.school import places
from footing.studies.school.people import visible_study
from footing.studies.views.view import study_view
from footing.web.answers import StateResponse
from footing.web.news import ByPage, news
from footing.web.routing import DatabaseRoute
from footing.web.security import OwnStudy, SeenStudy, Visitor

router = APIRouter(route_class=DatabaseRoute, tags=["studies"])


@router.get("/studies/{study_id}")
def read_study(study: SeenStudy, visitor: Visitor, source: str | None = None) -> StateResponse:
    """The state of a study as seen from one of its sources, with everything that follows."""
    return StateResponse(study_view(study, visitor, source=source))


@router.get("/studies/{study_id}/news")
def read_news(request: Request, study: SeenStudy, visitor: Visitor, seen: ByPage) -> StateResponse:
    """What is new since the state that a page has (`since`), and the cards of a step.

    Without a state that is known here, all of it.
    """
    view = study_view(study, visitor, source=seen.source, shown=seen.shown)
    return StateResponse(news(request, study, view, seen, visitor))


@router.post("/studies/{study_id}/edits")
def make_edit(
    request: Request, study: OwnStudy, visitor: Visitor, asked: EditRequest, seen: ByPage
) -> StateResponse:
    """Make an edit and answer with the new state, as seen from a source; see `read_news`.

    A refused edit answers 422; one based on a state that has changed since answers 409, with the
    present state. The same token sent again is not a second edit.
    """
    try:
        accepted = submit(study.id, visitor, asked)
    except Stale as error:
        study = visible_study(visitor, study.id)
        present = study_view(study, visitor, source=seen.source, shown=seen.shown)
        told = news(request, study, present, seen, visitor)
        return StateResponse({"error": str(error), "field": None, **told}, status_code=409)
    view = study_view(study, visitor, source=seen.source, shown=seen.shown)
    made = {"made": accepted.made, "made_key": made_key(accepted.made)}
    undone = accepted.undone and accepted.undone.model_dump()
    told = news(request, study, view, seen, visitor)
    return StateResponse(made | {"undone": undone} | told)


@router.put("/studies/{study_id}/place", status_code=204)
def put_place(study: OwnStudy, visitor: Visitor, place: places.Place) -> None:
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
