"""Live updates of a study and of a class."""

from functools import partial

from fastapi import APIRouter, Request
from sse_starlette.sse import EventSourceResponse

from footing.web.security import SeenClass, SeenStudy, session_in_class, session_sees

router = APIRouter(tags=["studies"])


@router.get("/studies/{study_id}/events")
async def read_events(request: Request, study: SeenStudy) -> EventSourceResponse:
    """Server-sent events: a new ``seq``, an ``upload`` on its way, a file ``surveyed``.

    They end with the session.
    """
    may_see = partial(session_sees, request, study.id)
    live = request.app.state.live
    return EventSourceResponse(live.of_study(study.id, study.school_class.id, may_see=may_see))


@router.get("/classes/{class_id}/events")
async def read_class_events(
    request: Request, school_class: SeenClass, studies: bool = False
) -> EventSourceResponse:
    """Server-sent events of a class: what is told to it, with ``studies`` that one changed."""
    may_see = partial(session_in_class, request, school_class.id)
    live = request.app.state.live
    return EventSourceResponse(live.of_class(school_class.id, studies=studies, may_see=may_see))
