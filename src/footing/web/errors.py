"""One place that turns an error into a response: JSON for the API, a page for people."""

import logging
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, RedirectResponse, Response
from starlette.exceptions import HTTPException

from footing.core.errors import Busy, FootingError, NotThere, Refused, Stale, Unreadable
from footing.store.database import DATABASE_AWAY, NOT_STORABLE
from footing.web.security import SignInNeeded
from footing.web.templating import templates

log = logging.getLogger("footing.requests")

_RETRY_AFTER = 2  # seconds
_STATUS: dict[type[FootingError], int] = {
    SignInNeeded: 401,
    Busy: 503,
    NotThere: 404,
    Stale: 409,
    Refused: 422,
    Unreadable: 422,
}


def install(app: FastAPI) -> None:
    """Make the application answer errors this way."""
    app.add_exception_handler(FootingError, _footing_error)
    app.add_exception_handler(RequestValidationError, _invalid)
    app.add_exception_handler(HTTPException, _http_error)
    for kind in DATABASE_AWAY:
        app.add_exception_handler(kind, _database_away)
    app.add_exception_handler(NOT_STORABLE, _not_storable)


def _footing_error(request: Request, error: Any) -> Response:
    status = next((code for kind, code in _STATUS.items() if isinstance(error, kind)), 500)
    if status == 401 and not _wants_json(request):
        return RedirectResponse("/", status_code=303)
    return _answer(request, status, str(error), field=getattr(error, "field", None))


def _database_away(request: Request, error: Any) -> Response:
    log.warning("the database did not answer: %s", error)
    text = "Footing is too busy, or its database is away for a moment; this is tried again."
    return _answer(request, 503, text, field=None)


def _not_storable(request: Request, error: Any) -> Response:
    log.info("not storable: %s", error)
    text = "A number or a text in this request is too large to be looked up or stored."
    return _answer(request, 422, text, field=None)


def _invalid(request: Request, error: Any) -> Response:
    first = error.errors()[0]
    place = [str(part) for part in first["loc"] if isinstance(part, str)]
    field = place[-1] if place else "request"
    return _answer(
        request,
        422,
        f"{field.replace('_', ' ').capitalize()}: {first['msg'].removeprefix('Value error, ')}.",
        field=field,
    )


def _http_error(request: Request, error: Any) -> Response:
    text = "There is no such page here." if error.status_code == 404 else str(error.detail)
    return _answer(request, error.status_code, text, field=None)


def _answer(request: Request, status: int, text: str, *, field: str | None) -> Response:
    request.state.refusal = text
    headers = {"Retry-After": str(_RETRY_AFTER)} if status == 503 else None
    if _wants_json(request):
        return JSONResponse({"error": text, "field": field}, status_code=status, headers=headers)
    return templates.TemplateResponse(
        request,
        "error.html",
        {"text": text, "status": status},
        status_code=status,
        headers=headers,
    )


def _wants_json(request: Request) -> bool:
    """The API, and forms whose page stays and shows what was wrong beside them."""
    return request.url.path.startswith("/api/") or "hx-request" in request.headers
