"""One place that turns an error into a response: JSON for the API, a page for people."""

from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, RedirectResponse, Response
from starlette.exceptions import HTTPException

from footing.core.errors import FootingError, NotThere, Refused, Stale, Unreadable
from footing.web.security import SignInNeeded
from footing.web.templating import templates

_STATUS: dict[type[FootingError], int] = {
    SignInNeeded: 401,
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


def _footing_error(request: Request, error: Any) -> Response:
    status = next((code for kind, code in _STATUS.items() if isinstance(error, kind)), 500)
    if status == 401 and not _wants_json(request):
        return RedirectResponse("/", status_code=303)
    return _answer(request, status, str(error), field=getattr(error, "field", None))


def _invalid(request: Request, error: Any) -> Response:
    first = error.errors()[0]
    place = [str(part) for part in first["loc"] if isinstance(part, str)]
    field = place[-1] if place else "request"
    return _answer(
        request, 422, f"{field.replace('_', ' ').capitalize()}: {first['msg']}.", field=field
    )


def _http_error(request: Request, error: Any) -> Response:
    text = "There is no such page here." if error.status_code == 404 else str(error.detail)
    return _answer(request, error.status_code, text, field=None)


def _answer(request: Request, status: int, text: str, *, field: str | None) -> Response:
    if _wants_json(request):
        return JSONResponse({"error": text, "field": field}, status_code=status)
    return templates.TemplateResponse(
        request, "error.html", {"text": text, "status": status}, status_code=status
    )


def _wants_json(request: Request) -> bool:
    return request.url.path.startswith("/api/")
