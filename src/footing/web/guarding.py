"""What every request passes: where it comes from, how long it may take to arrive, and its log line.

Plain ASGI and outermost, so that refusals and faults have the protective headers, too.
"""

import asyncio
import logging
import time
from typing import Any
from urllib.parse import unquote_plus, urlsplit
from uuid import uuid4

from starlette.datastructures import Headers, MutableHeaders
from starlette.exceptions import HTTPException
from starlette.requests import ClientDisconnect
from starlette.responses import JSONResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from footing.core.texts import cleaned

log = logging.getLogger("footing.requests")

_SAFE_METHODS = {"GET", "HEAD", "OPTIONS"}
_LARGEST_BODY = 16_000_000  # bytes of an ordinary request
_LARGEST_TABLE = 200_000_000  # of a table that is brought in
_WAIT_FOR_BODY = 30.0  # seconds for the next part of a body
_HEADERS = {
    "Content-Security-Policy": (
        "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; "
        "img-src 'self' blob: data:; media-src 'self' blob:; font-src 'self'; "
        "connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cache-Control": "private, no-cache",  # no proxy keeps what belongs to somebody
}


class Guard:
    """The outermost layer around the application."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request through, or answer it."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        began = time.monotonic()
        status = 0

        async def answered(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
                headers = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    headers.setdefault(name, value)
            await send(message)

        refusal = _refusal(scope)
        try:
            if refusal is not None:
                await refusal(scope, receive, answered)
            else:
                await self._app(scope, _Body(scope, receive), answered)
        except ClientDisconnect:
            status = status or 499
        except Exception:
            number = uuid4().hex[:8]
            log.exception("fault %s in %s %s", number, scope["method"], scope["path"])
            if status == 0:
                await fault_answer(number)(scope, receive, answered)
        finally:
            _write_log(scope, status, time.monotonic() - began)


class _Body:
    """Receives the body of a request, as much and as slowly as is allowed."""

    def __init__(self, scope: Scope, receive: Receive) -> None:
        self._receive = receive
        self._most = self._left = _room(scope)
        self._complete = False
        announced = Headers(scope=scope).get("content-length", "")
        self._announced = int(announced) if announced.isdigit() else 0

    async def __call__(self) -> Message:
        if self._complete:  # now only for the connection to end, which may take for ever
            return await self._receive()
        if self._most is not None and self._announced > self._most:
            raise _too_large(self._most)
        try:
            message = await asyncio.wait_for(self._receive(), _WAIT_FOR_BODY)
        except TimeoutError:
            raise HTTPException(
                408, "The rest of this request did not come; send it again."
            ) from None
        if message["type"] == "http.request":
            self._complete = not message.get("more_body", False)
            if self._left is not None:
                self._left -= len(message.get("body", b""))
                if self._left < 0:
                    raise _too_large(self._most or 0)
        return message


def _room(scope: Scope) -> int | None:
    """How many bytes a request may have; those of films and archives are counted as they come."""
    if scope["method"] == "PATCH" or (scope["method"], scope["path"][-5:]) == ("POST", "/file"):
        return None
    table = scope["method"] == "POST" and scope["path"].endswith("/tables")
    return _LARGEST_TABLE if table else _LARGEST_BODY


def _too_large(most: int) -> HTTPException:
    return HTTPException(
        413, f"This is too much at once; {most // 1_000_000} MB at most are taken."
    )


def _refusal(scope: Scope) -> Response | None:
    """The answer to what is not even looked at."""
    headers = Headers(scope=scope)
    if scope["method"] not in _SAFE_METHODS and not _from_own_page(headers):
        return _said(403, "This request came from another site.")
    asked = scope["path"] + unquote_plus(scope["query_string"].decode("latin-1"))
    if cleaned(asked) != asked:
        return _said(
            422, "This address has characters that nobody can see; they mean nothing here."
        )
    return None


def _from_own_page(headers: Headers) -> bool:
    origin = headers.get("origin")
    if origin is None:
        return headers.get("sec-fetch-site", "same-origin") in ("same-origin", "none")
    return urlsplit(origin).netloc == headers.get("host")


def fault_answer(number: str) -> Response:
    """The answer where something is wrong with the program itself."""
    text = f"Something went wrong here (error {number}); it is in the log. Nothing stored was lost."
    return JSONResponse({"error": text, "field": None, "number": number}, status_code=500)


def _said(status: int, text: str) -> Response:
    return JSONResponse({"error": text, "field": None}, status_code=status)


def _write_log(scope: Scope, status: int, seconds: float) -> None:
    state: dict[str, Any] = scope.get("state", {})
    said = state.get("refusal")
    log.log(
        logging.WARNING if status >= 500 else logging.INFO,
        "%s %s %s %d %.0f ms%s",
        state.get("who", "nobody"),
        scope["method"],
        scope["path"],
        status,
        1000 * seconds,
        f" {said}" if said else "",
    )
