"""Live updates of a study."""

from functools import partial

from fastapi import APIRouter, Request
from sse_starlette.sse import EventSourceResponse

from footing.web.security import SeenStudy, session_sees

router = APIRouter(tags=["studies"])


@router.get("/studies/{study_id}/events")
async def read_events(request: Request, study: SeenStudy) -> EventSourceResponse:
    """Server-sent events: a new ``seq``, an ``upload`` on its way, a file ``surveyed``.

    They end with the session.
    """
    may_see = partial(session_sees, request, study.id)
    return EventSourceResponse(request.app.state.live.of_study(study.id, may_see=may_see))
