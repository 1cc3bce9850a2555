"""Who is asking, and what they may see. Every route gets its rights from here.

`Visitor` needs a sign-in; `SeenStudy` needs a study that the visitor may see. Writes are accepted
from our own pages only, and every response forbids what a page of ours does not need.
"""

import time
from typing import Annotated, Any
from urllib.parse import urlsplit

from fastapi import Cookie, Depends, Request, Response
from starlette.middleware.base import RequestResponseEndpoint
from starlette.responses import PlainTextResponse

from footing.core.errors import FootingError
from footing.settings import Settings
from footing.store.database import connected
from footing.studies import people, phones
from footing.studies.people import Person
from footing.studies.uploads import Sender

COOKIE = "footing"
_GUESSES, _GUESS_SECONDS = 8, 60.0
_SAFE_METHODS = {"GET", "HEAD", "OPTIONS"}
_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' blob: "
    "data:; media-src 'self' blob:; font-src 'self'; connect-src 'self'; form-action 'self'; "
    "base-uri 'none'; frame-ancestors 'none'"
)


class Throttle:
    """Slows down who guesses passwords: so many failures for a name in a minute."""

    def __init__(self) -> None:
        self._failures: dict[str, list[float]] = {}

    def count(self, name: str) -> None:
        """Note a failure."""
        self._failures.setdefault(name.casefold(), []).append(time.monotonic())

    def too_often(self, name: str) -> bool:
        """Whether there were too many lately."""
        since = time.monotonic() - _GUESS_SECONDS
        lately = [at for at in self._failures.pop(name.casefold(), []) if at > since]
        if lately:
            self._failures[name.casefold()] = lately
        return len(lately) >= _GUESSES


class SignInNeeded(FootingError):
    """Nobody is signed in, and this needs somebody."""

    def __init__(self) -> None:
        super().__init__("Please sign in first.")


def _visitor_or_none(
    token: Annotated[str | None, Cookie(alias=COOKIE)] = None,
) -> Person | None:
    if token is None:
        return None
    with connected():
        return people.signed_in(token)


AnyVisitor = Annotated[Person | None, Depends(_visitor_or_none)]


def _visitor(visitor: AnyVisitor) -> Person:
    if visitor is None:
        raise SignInNeeded
    return visitor


Visitor = Annotated[Person, Depends(_visitor)]


def _seen_study(study_id: int, visitor: Visitor) -> Any:
    with connected():
        return people.visible_study(visitor, study_id)


SeenStudy = Annotated[Any, Depends(_seen_study)]


def study_sender(study: SeenStudy, visitor: Visitor) -> Sender:
    """A signed-in person who sends files into a study that they may see."""
    return Sender(study.id, visitor)


def phone_sender(token: str) -> Sender:
    """A phone with a link that is valid."""
    with connected():
        return phones.sender_of(token)


Phone = Annotated[Sender, Depends(phone_sender)]


def begin_session(response: Response, person: Person, settings: Settings) -> None:
    """Sign a person in: a token in a cookie that scripts cannot read."""
    token = people.sign_in(person, days=settings.session_days)
    response.set_cookie(
        COOKIE, token, max_age=settings.session_days * 86400, httponly=True, samesite="lax"
    )


def end_session(request: Request, response: Response) -> None:
    """Sign out."""
    token = request.cookies.get(COOKIE)
    if token:
        people.sign_out(token)
    response.delete_cookie(COOKIE)


async def guard(request: Request, call_next: RequestResponseEndpoint) -> Response:
    """Refuse writes that come from other sites, and set the protective headers."""
    if request.method not in _SAFE_METHODS and not _from_own_page(request):
        return PlainTextResponse("This request came from another site.", status_code=403)
    response = await call_next(request)
    response.headers.setdefault("Content-Security-Policy", _POLICY)
    response.headers.setdefault("X-Content-Type-Options", "nosniff")
    response.headers.setdefault("Referrer-Policy", "same-origin")
    return response


def _from_own_page(request: Request) -> bool:
    origin = request.headers.get("origin")
    if origin is None:
        return request.headers.get("sec-fetch-site", "same-origin") in ("same-origin", "none")
    return urlsplit(origin).netloc == request.headers.get("host")
