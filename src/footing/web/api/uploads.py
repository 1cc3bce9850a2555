"""Files that come in pieces: an upload goes on where a lost connection left it.

The protocol is tus 1.0.0 (core, creation, termination), an open standard for resumable uploads.
The same routes exist for a signed-in person and for a phone with a link.
"""

import base64
import binascii
import time
from collections.abc import Callable
from contextlib import suppress
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Header, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import JSONResponse
from starlette.requests import ClientDisconnect

from footing.core.errors import Refused
from footing.core.texts import cleaned
from footing.settings import Settings
from footing.store.database import connected
from footing.studies.films import uploads
from footing.studies.films.uploads import Announced, Sender
from footing.web.routing import DatabaseRoute
from footing.web.security import phone_sender, study_sender

_VERSION = {"Tus-Resumable": "1.0.0"}
_PIECE = 2**20  # bytes that are written at once
_LONGEST_KEY = 9  # digits
_TELL_AFTER = 0.3  # seconds between two words about the progress


def routes(sender: Any) -> APIRouter:
    """The routes of an upload for one kind of sender."""
    router = APIRouter(route_class=DatabaseRoute, tags=["uploads"])
    who = Annotated[Sender, Depends(sender)]

    @router.post("/uploads")
    def announce(
        request: Request,
        sender: who,
        upload_length: Annotated[int, Header(ge=0)],
        upload_metadata: Annotated[str, Header()] = "",
    ) -> Response:
        """Announce a file: its size, and in the metadata its name and what it replaces."""
        said = _metadata(upload_metadata)
        replaces = said.get("replaces", "")
        announced = Announced(cleaned(said.get("name", "video")), upload_length, _key(replaces))
        key = uploads.begin(sender, announced, request.app.state.settings)
        place = f"{request.url.path}/{key}"
        return Response(status_code=201, headers=_VERSION | {"Location": place})

    @router.head("/uploads/{key}")
    def ask(request: Request, sender: who, key: str) -> Response:
        """Ask how much of a file has arrived."""
        row = uploads.find(sender, key)
        content = uploads.went_on(row, request.app.state.settings)
        if content is not None:
            request.app.state.jobs.ask("look_through", once=content, content=content)
        row = uploads.find(sender, key)
        file = uploads.arrival(key, row.size, request.app.state.settings)
        received = file.received if row.state == "arriving" else row.size
        told = {"Upload-Offset": str(received), "Upload-Length": str(row.size)}
        return Response(headers=_VERSION | told | {"Cache-Control": "no-store"})

    @router.get("/uploads/{key}")
    def state(sender: who, key: str) -> JSONResponse:
        """What became of a file: arriving, used (as which source) or refused (why)."""
        row = uploads.find(sender, key)
        return JSONResponse({"state": row.state, "reason": row.reason, "made": row.made})

    @router.patch("/uploads/{key}")
    async def go_on(
        request: Request,
        sender: who,
        key: str,
        upload_offset: Annotated[int, Header(ge=0)],
    ) -> Response:
        """Send the next bytes. With the last ones the file becomes a source of the study."""
        settings: Settings = request.app.state.settings
        received = await _receive(request, sender, key, upload_offset, settings)
        row = await run_in_threadpool(_held(uploads.find), sender, key)
        if received == row.size and row.state == "arriving":
            content = await run_in_threadpool(_held(uploads.finish), row, settings)
            request.app.state.jobs.ask("look_through", once=content, content=content)
        return Response(status_code=204, headers=_VERSION | {"Upload-Offset": str(received)})

    @router.delete("/uploads/{key}")
    def give_up(request: Request, sender: who, key: str) -> Response:
        """Give an upload up."""
        row = uploads.find(sender, key)
        uploads.give_up(row, request.app.state.settings)
        return Response(status_code=204, headers=_VERSION)

    return router


async def _receive(
    request: Request, sender: Sender, key: str, offset: int, settings: Settings
) -> int:
    """Append the body of a request to the file; give how much of the file is there then."""
    row = await run_in_threadpool(_held(uploads.find), sender, key)
    file = uploads.arrival(key, row.size, settings)
    told = 0.0
    with file.appending(offset) as end:
        gathered = bytearray()
        with suppress(ClientDisconnect):  # what has come is kept; the sender asks how much that is
            async for chunk in request.stream():
                gathered += chunk
                late = time.monotonic() - told > _TELL_AFTER
                if len(gathered) < _PIECE and not late:
                    continue
                await run_in_threadpool(end.write, bytes(gathered))
                offset += len(gathered)
                gathered.clear()
                if late:
                    told = time.monotonic()
                    await run_in_threadpool(_held(uploads.tell), row, offset)
        await run_in_threadpool(end.write, bytes(gathered))
    return file.received


def _held(function: Callable[..., Any]) -> Callable[..., Any]:
    """The function with a database connection of the thread that it runs in."""

    def holding(*arguments: Any) -> Any:
        with connected():
            return function(*arguments)

    return holding


def _key(text: str) -> int | None:
    """The key of a row, if the text can be one."""
    return int(text) if text.isdecimal() and len(text) <= _LONGEST_KEY else None


def _metadata(header: str) -> dict[str, str]:
    """Read ``name base64,name base64``."""
    found = {}
    for part in filter(None, header.split(",")):
        name, _, encoded = part.strip().partition(" ")
        try:
            found[name] = base64.b64decode(encoded, validate=True).decode()
        except (binascii.Error, UnicodeDecodeError) as error:
            raise Refused(f"The metadata {name!r} of the upload cannot be read.") from error
    return found


router = APIRouter()
router.include_router(routes(study_sender), prefix="/studies/{study_id}")
router.include_router(routes(phone_sender), prefix="/phone/{token}")
