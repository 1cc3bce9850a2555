"""Uploads and frames."""

from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import JSONResponse, Response

from footing.core.errors import NotThere
from footing.media.cache import FrameSize
from footing.settings import Settings
from footing.store.database import connected
from footing.store.media import IncomingFile
from footing.store.tables import Footage
from footing.studies import uploads
from footing.studies.people import Person, visible_study
from footing.studies.view import study_view
from footing.web.routing import DatabaseRoute
from footing.web.security import SeenStudy, Visitor

router = APIRouter(route_class=DatabaseRoute, tags=["footage"])


@router.post("/studies/{study_id}/footage")
async def upload(
    request: Request,
    study: SeenStudy,
    visitor: Visitor,
    name: Annotated[str, Query(min_length=1, max_length=400)],
    based_on: int,
) -> JSONResponse:
    """Upload a video: the bytes of the file are the body of the request.

    The file becomes the study's footage by an edit, which can be undone. A file that cannot be
    used is refused with the reason, and nothing of it is kept.
    """
    settings: Settings = request.app.state.settings
    await run_in_threadpool(_check_room, study.id)
    with uploads.incoming(settings) as file:
        async for chunk in request.stream():
            await run_in_threadpool(file.write, chunk)
        view = await run_in_threadpool(_use, file, settings, study.id, visitor, name, based_on)
    return JSONResponse({"made": None, "view": view})


@router.get("/studies/{study_id}/footage/{content}/frames/{frame}/{size}.jpg")
def read_frame(
    request: Request, study: SeenStudy, content: str, frame: int, size: FrameSize
) -> Response:
    """A frame as JPEG: a thumbnail, at most 1280 pixels wide or high, or in full."""
    footage: Any = Footage.get_or_none((Footage.study == study.id) & (Footage.media == content))
    if footage is None:
        raise NotThere("The study has no such footage.")
    video = uploads.video_of(footage, request.app.state.settings)
    return Response(
        request.app.state.frames.jpeg(video, frame, size),
        media_type="image/jpeg",
        headers={"Cache-Control": "private, max-age=31536000, immutable"},
    )


def _check_room(study_id: int) -> None:
    with connected():
        uploads.check_room(study_id)


def _use(
    file: IncomingFile,
    settings: Settings,
    study_id: int,
    visitor: Person,
    name: str,
    based_on: int,
) -> dict[str, Any]:
    with connected():
        content = uploads.keep_media(file, settings)
        uploads.add_footage(study_id, visitor, content, name, based_on=based_on)
        return study_view(visible_study(visitor, study_id), visitor)
