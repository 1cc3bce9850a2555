"""Who is asking, and what they may see. Every route gets its rights from here.

`Visitor` needs a sign-in; `SeenStudy` needs a study that the visitor may see.
"""

import time
from typing import Annotated, Any

from fastapi import Cookie, Depends, Request, Response

from footing.core.errors import FootingError
from footing.settings import Settings
from footing.store.database import connected
from footing.studies import people, phones
from footing.studies.people import Person
from footing.studies.uploads import Sender

COOKIE = "footing"
_GUESSES, _GUESS_SECONDS = 8, 60.0


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
    request: Request, token: Annotated[str | None, Cookie(alias=COOKIE)] = None
) -> Person | None:
    if token is None:
        return None
    with connected():
        person = people.signed_in(token)
    if person is not None:
        request.state.who = f"{person.role} {person.id}"
    return person


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
