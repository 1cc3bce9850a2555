"""Frames, the straightened view, and what the background can do with a footage."""

from anyio import to_thread
from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import JSONResponse, Response

from footing.core.errors import Busy, NotThere, Refused
from footing.media.cache import FrameSize
from footing.media.service import StoredMedia
from footing.store.database import connected
from footing.store.reading import read_study
from footing.store.rows import Body, Footage
from footing.studies.films import uploads
from footing.studies.films.follows import Control, FollowRequest, ask_follow, control
from footing.studies.model.grounds import grounded
from footing.studies.queries.straight import straightened
from footing.web.routing import DatabaseRoute
from footing.web.security import Asking, OwnStudy, SeenStudy, Visitor, check_sees_file

router = APIRouter(route_class=DatabaseRoute, tags=["footage"])

_MOST_WAITING = 200  # frames that are asked for
_FOR_EVER = {"Cache-Control": "private, max-age=31536000, immutable"}


@router.get("/studies/{study_id}/footage/{content}/frames/{frame}/{size}.jpg")
async def read_frame(
    request: Request, asking: Asking, study_id: int, content: str, frame: int, size: FrameSize
) -> Response:
    """A frame as JPEG: a thumbnail, at most 1280 pixels wide or high, or in full."""
    state = request.app.state

    def kept() -> tuple[StoredMedia, bytes | None]:
        with connected():
            check_sees_file(asking, study_id, content)
            media = uploads.stored_file(content, state.settings)
        return media, state.frames.kept(media, frame, size)

    media, picture = await run_in_threadpool(kept)
    if picture is None:
        if state.decoding.statistics().tasks_waiting >= _MOST_WAITING:
            raise Busy("Many frames are being decoded just now; this one is tried again.")
        # threads of their own: whoever waits for a frame holds neither an edit nor a connection
        picture = await to_thread.run_sync(
            state.frames.jpeg, media, frame, size, limiter=state.decoding
        )
    return Response(picture, media_type="image/jpeg", headers=_FOR_EVER)


@router.get("/studies/{study_id}/sources/{source}/straight.jpg")
def read_straight(request: Request, study: SeenStudy, source: int, frame: int) -> Response:
    """A frame with its oblique plane laid flat, as JPEG."""
    rows = read_study(study.id)
    footage = rows.find(Footage, source)
    stored = uploads.stored_media(footage, request.app.state.settings)
    picture = request.app.state.frames.jpeg(stored, frame, "screen")
    headers = {"Cache-Control": "no-store"}
    flat = straightened(grounded(footage, rows), picture)
    return Response(flat, media_type="image/jpeg", headers=headers)


@router.post("/studies/{study_id}/follows", status_code=202)
def follow(
    request: Request, study: OwnStudy, visitor: Visitor, wanted: FollowRequest
) -> JSONResponse:
    """Ask for bodies to be followed; their marks come as edits, how far it is as notices."""
    asked = ask_follow(study, visitor, wanted)
    request.app.state.jobs.ask("follow_bodies", once=f"follow {asked}", follow=asked)
    return JSONResponse({"follow": asked}, status_code=202)


@router.post("/studies/{study_id}/follows/{follow_id}/{what}")
def control_follow(
    request: Request, study: OwnStudy, follow_id: int, what: Control
) -> JSONResponse:
    """Pause or stop what is being followed, or let it go on."""
    if control(study, follow_id, what):
        request.app.state.jobs.ask("follow_bodies", once=f"follow {follow_id}", follow=follow_id)
    return JSONResponse({"follow": follow_id})


@router.post("/studies/{study_id}/bodies/{body}/follow-background", status_code=202)
def follow_background(
    request: Request, study: OwnStudy, visitor: Visitor, body: int
) -> JSONResponse:
    """Ask for a background spot to be followed from its first mark; its marks come as an edit."""
    rows = read_study(study.id)
    row = rows.find(Body, body)
    if not row.background:
        raise NotThere("The study has no such background spot.")
    if not rows.marks_of(row):
        raise Refused("Mark the spot in one frame first; it is followed from there.")
    request.app.state.jobs.ask(
        "follow_background",
        once=f"body {body}",
        study=study.id,
        body=body,
        role=visitor.role,
        person=visitor.id,
    )
    return JSONResponse({"asked": True}, status_code=202)
