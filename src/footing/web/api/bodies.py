"""What can be asked about one body: two moments, a flight, pictures of it."""

from collections.abc import Callable
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response

from footing.core.errors import NotThere
from footing.store.tables import Body
from footing.studies import moments, strobe, uploads
from footing.web.routing import DatabaseRoute
from footing.web.security import SeenStudy

router = APIRouter(route_class=DatabaseRoute, tags=["bodies"])

_FRESH = {"Cache-Control": "no-store"}


@router.get("/studies/{study_id}/bodies/{body}/between")
def read_between(study: SeenStudy, body: int, first: int, last: int) -> JSONResponse:
    """Displacement, time and average velocity between the marks in two frames."""
    return JSONResponse(moments.between(study, body, first, last))


@router.get("/studies/{study_id}/bodies/{body}/flight")
def read_flight(
    study: SeenStudy, body: int, launch: int, top: int | None = None, landing: int | None = None
) -> JSONResponse:
    """Launch speed and angle; time up and down from the frames of launch, top and landing."""
    return JSONResponse(moments.flight(study, body, launch, top, landing))


@router.get("/studies/{study_id}/bodies/{body}/strobe.jpg")
def read_strobe(request: Request, study: SeenStudy, body: int, every: int = 1) -> Response:
    """The body from many frames in one picture, as JPEG."""
    picture = strobe.strobe(study, body, every=every, picture=_frames(request, study, body))
    return Response(picture, media_type="image/jpeg", headers=_FRESH)


@router.get("/studies/{study_id}/bodies/{body}/spot.jpg")
def read_spot(request: Request, study: SeenStudy, body: int) -> Response:
    """The spot that was marked first, with its surroundings, as a small JPEG."""
    picture = strobe.spot(study, body, picture=_frames(request, study, body))
    return Response(picture, media_type="image/jpeg", headers=_FRESH)


def _frames(request: Request, study: Any, body: int) -> Callable[[int], bytes]:
    row: Any = Body.get_or_none((Body.id == body) & (Body.study == study.id))
    if row is None:
        raise NotThere("The study has no such body.")
    stored = uploads.stored_media(row.footage, request.app.state.settings)

    def picture(frame: int) -> bytes:
        found: bytes = request.app.state.frames.jpeg(stored, frame, "screen")
        return found

    return picture
