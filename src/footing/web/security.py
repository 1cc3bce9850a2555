"""Who is asking, and what they may see. Every route gets its rights from here.

`Visitor` needs a sign-in; `SeenStudy` needs a study that the visitor may see.
"""

from contextlib import suppress
from typing import Annotated

from fastapi import Cookie, Depends, Request, Response

from footing.core.errors import FootingError, NotThere
from footing.settings import Settings
from footing.store.access import ClassStudy
from footing.store.database import connected
from footing.studies.films import phones
from footing.studies.films.uploads import Sender
from footing.studies.school import people
from footing.studies.school.people import Person

COOKIE = "footing"


class SignInNeeded(FootingError):
    """Nobody is signed in, and this needs somebody."""

    def __init__(self) -> None:
        super().__init__("Please sign in first.")


def _visitor_or_none(
    request: Request, token: Annotated[str | None, Cookie(alias=COOKIE)] = None
) -> Person | None:
    if token is None:
        return None
    with connected():
        person = people.signed_in(token, idle_hours=request.app.state.settings.session_idle_hours)
    if person is not None:
        request.state.who = f"{person.role} {person.id}"
    return person


AnyVisitor = Annotated[Person | None, Depends(_visitor_or_none)]


async def _visitor(visitor: AnyVisitor) -> Person:
    if visitor is None:
        raise SignInNeeded
    return visitor


Visitor = Annotated[Person, Depends(_visitor)]


def _seen_study(study_id: int, visitor: Visitor) -> ClassStudy:
    with connected():
        return people.visible_study(visitor, study_id)


SeenStudy = Annotated[ClassStudy, Depends(_seen_study)]


def seen_file(
    request: Request,
    study_id: int,
    content: str,
    token: Annotated[str | None, Cookie(alias=COOKIE)] = None,
) -> str:
    """A file, by its content, that is a source of a study which the visitor may see."""
    hours = request.app.state.settings.session_idle_hours
    with connected():
        stands, sees = (
            people.sees_file(token, study_id, content, idle_hours=hours)
            if token is not None
            else (False, False)
        )
    if not stands:
        raise SignInNeeded
    if not sees:
        raise NotThere("There is no such study here; it may belong to another group.")
    return content


SeenFile = Annotated[str, Depends(seen_file)]


def session_sees(request: Request, study_id: int) -> bool:
    """Whether the session that a request came with still stands and may see a study."""
    person = _visitor_or_none(request, request.cookies.get(COOKIE))
    if person is None:
        return False
    with suppress(NotThere), connected():
        people.visible_study(person, study_id)
        return True
    return False


async def study_sender(study: SeenStudy, visitor: Visitor) -> Sender:
    """A signed-in person who sends files into a study that they may see."""
    return Sender(study.id, visitor)


def phone_sender(token: str) -> Sender:
    """A phone with a link that is valid."""
    with connected():
        return phones.sender_of(token)


Phone = Annotated[Sender, Depends(phone_sender)]


def begin_session(request: Request, response: Response, person: Person) -> None:
    """Sign a person in: a token in a cookie that scripts cannot read.

    Whoever was signed in in this browser is signed out.
    """
    settings: Settings = request.app.state.settings
    if before := request.cookies.get(COOKIE):
        people.sign_out(before)
    token = people.sign_in(person, days=settings.session_days)
    response.set_cookie(
        COOKIE,
        token,
        max_age=settings.session_days * 86400,
        httponly=True,
        samesite="lax",
        secure=_is_secure(request),
    )


def _is_secure(request: Request) -> bool:
    """Whether the browser speaks TLS, to us or to what stands before us."""
    return "https" in (request.url.scheme, request.headers.get("x-forwarded-proto"))


def end_session(request: Request, response: Response) -> None:
    """Sign out."""
    token = request.cookies.get(COOKIE)
    if token:
        people.sign_out(token)
    response.delete_cookie(COOKIE)
