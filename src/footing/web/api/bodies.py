"""What can be asked about one body: two moments, a flight, pictures of it; working of numbers."""

from collections.abc import Callable

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response

from footing.store.reading import read_study
from footing.store.rows import Body
from footing.store.snapshot import StudyRows
from footing.studies.films import uploads
from footing.studies.queries import moments, strobe
from footing.studies.queries.working import working
from footing.web.routing import DatabaseRoute
from footing.web.security import SeenStudy, Visitor

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


@router.get("/studies/{study_id}/working")
def read_working(
    study: SeenStudy, visitor: Visitor, of: str, source: str | None = None
) -> JSONResponse:
    """How a derived number was worked out: formula, numbers put in, result, and from where."""
    return JSONResponse(working(study, visitor, of, source))


@router.get("/studies/{study_id}/bodies/{body}/strobe.jpg")
def read_strobe(request: Request, study: SeenStudy, body: int, every: int = 1) -> Response:
    """The body from many frames in one picture, as JPEG."""
    rows = read_study(study.id)
    row = rows.find(Body, body)
    picture = strobe.strobe(rows, row, every=every, picture=_frames(request, rows, row))
    return Response(picture, media_type="image/jpeg", headers=_FRESH)


@router.get("/studies/{study_id}/bodies/{body}/spot.jpg")
def read_spot(request: Request, study: SeenStudy, body: int) -> Response:
    """The spot that was marked first, with its surroundings, as a small JPEG."""
    rows = read_study(study.id)
    row = rows.find(Body, body)
    picture = strobe.spot(rows, row, picture=_frames(request, rows, row))
    return Response(picture, media_type="image/jpeg", headers=_FRESH)


def _frames(request: Request, rows: StudyRows, body: Body) -> Callable[[int], bytes]:
    stored = uploads.stored_media(rows.footage_of(body), request.app.state.settings)

    def picture(frame: int) -> bytes:
        found: bytes = request.app.state.frames.jpeg(stored, frame, "screen")
        return found

    return picture
