"""Who is asking, and what they may see. Every route gets its rights from here.

`Visitor` needs a sign-in; `SeenStudy` needs a study that the visitor may look at, `OwnStudy` one
that they may change, `TaughtClass` and `TaughtLab` what they teach.
"""

import asyncio
from contextlib import suppress
from functools import cached_property
from typing import Annotated

from cachetools import LRUCache
from fastapi import Cookie, Depends, Request, Response
from fastapi.concurrency import run_in_threadpool

from footing.core.errors import FootingError, NotThere
from footing.settings import Settings
from footing.store import classes, hand_ins, teachers
from footing.store.access import ClassStudy
from footing.store.database import connected
from footing.store.rows import HandIn, Lab, SchoolClass
from footing.studies.films import phones
from footing.studies.films.uploads import Sender
from footing.studies.school import attempts, people
from footing.studies.school.joining import Device
from footing.studies.school.people import Person

COOKIE = "footing"
BROWSER_COOKIE = "footing-browser"


class SignInNeeded(FootingError):
    """Nobody is signed in, and this needs somebody."""

    def __init__(self) -> None:
        super().__init__("Please sign in first.")


class Session:
    """The session that a request came with, if any. Whom it stands for is looked up once.

    That needs the database: what asks for it runs in a thread, not in the loop of events.
    """

    def __init__(self, request: Request, token: str | None) -> None:
        self.token = token
        self._request = request

    @property
    def idle_hours(self) -> float:
        """How long a session may be unused."""
        settings: Settings = self._request.app.state.settings
        return settings.session_idle_hours

    @cached_property
    def person(self) -> Person | None:
        """Who is signed in."""
        if self.token is None:
            return None
        with connected():
            person = people.signed_in(self.token, idle_hours=self.idle_hours)
        if person is not None:
            self._request.state.who = f"{person.role} {person.id}"
        return person

    @property
    def is_told(self) -> bool:
        """Whether `person` is known without another look."""
        return self.token is None or "person" in vars(self)

    @property
    def visitor(self) -> Person:
        """Who is signed in, where that is needed."""
        if self.person is None:
            raise SignInNeeded
        return self.person


async def _session(
    request: Request, token: Annotated[str | None, Cookie(alias=COOKIE)] = None
) -> Session:
    return Session(request, token)


Asking = Annotated[Session, Depends(_session)]


def _visitor_or_none(asking: Asking) -> Person | None:
    return asking.person


AnyVisitor = Annotated[Person | None, Depends(_visitor_or_none)]


async def _visitor(asking: Asking) -> Person:
    return asking.visitor if asking.is_told else await run_in_threadpool(lambda: asking.visitor)


Visitor = Annotated[Person, Depends(_visitor)]


def _seen_study(study_id: int, asking: Asking) -> ClassStudy:
    with connected():
        return people.visible_study(asking.visitor, study_id)


SeenStudy = Annotated[ClassStudy, Depends(_seen_study)]


def _own_study(study_id: int, asking: Asking) -> ClassStudy:
    with connected():
        return people.own_study(asking.visitor, study_id)


OwnStudy = Annotated[ClassStudy, Depends(_own_study)]


def _taught_class(class_id: int, asking: Asking) -> SchoolClass:
    with connected():
        found = teachers.taught_class(asking.visitor.teacher_id, class_id)
    if found is None:
        raise NotThere("There is no such class here.")
    return found


TaughtClass = Annotated[SchoolClass, Depends(_taught_class)]


def _seen_class(class_id: int, asking: Asking) -> SchoolClass:
    with connected():
        found = next(
            (row for row in classes.classes_of(asking.visitor) if row.id == class_id), None
        )
    if found is None:
        raise NotThere("There is no such class here.")
    return found


SeenClass = Annotated[SchoolClass, Depends(_seen_class)]


def _seen_lab(lab_id: int, asking: Asking) -> Lab:
    with connected():
        found = classes.lab_seen_by(asking.visitor, lab_id)
    if found is None:
        raise NotThere("There is no such lab here.")
    return found


SeenLab = Annotated[Lab, Depends(_seen_lab)]


def _taught_lab(lab_id: int, asking: Asking) -> Lab:
    with connected():
        found = teachers.taught_lab(asking.visitor.teacher_id, lab_id)
    if found is None:
        raise NotThere("There is no such lab here.")
    return found


TaughtLab = Annotated[Lab, Depends(_taught_lab)]


def _seen_hand_in(hand_in_id: int, asking: Asking) -> HandIn:
    with connected():
        found = hand_ins.seen_by(asking.visitor, hand_in_id)
    if found is None:
        raise NotThere("There is no such report here; it may belong to another group.")
    return found


SeenHandIn = Annotated[HandIn, Depends(_seen_hand_in)]


async def _taught_hand_in(hand_in: SeenHandIn, visitor: Visitor) -> HandIn:
    if visitor.role != "teacher":
        raise NotThere("This is for teachers.")
    return hand_in


TaughtHandIn = Annotated[HandIn, Depends(_taught_hand_in)]


async def _teacher(visitor: Visitor) -> Person:
    if visitor.role != "teacher":
        raise NotThere("This page is for teachers.")
    return visitor


SomeTeacher = Annotated[Person, Depends(_teacher)]


async def _student(visitor: Visitor) -> Person:
    if visitor.role != "student":
        raise NotThere("This is for students of a class.")
    return visitor


SomeStudent = Annotated[Person, Depends(_student)]


_KNOWN = "footing-known"  # of which students a browser shows that they came from it
_MOST_KNOWN = 12
_FIVE_YEARS = 5 * 365 * 86400  # seconds


def _device(request: Request) -> Device:
    """The browser that asks; one without a token gets it with the answer (`keep_device`)."""
    token = request.cookies.get(BROWSER_COOKIE, "")
    with connected():
        if not attempts.is_browser(token):
            token = attempts.new_browser()
        shown = [one.partition(".") for one in request.cookies.get(_KNOWN, "").split("|")]
        known = frozenset(
            int(key)
            for key, _, mark in shown[:_MOST_KNOWN]
            if key.isascii() and key.isdigit() and attempts.is_known(int(key), token, mark)
        )
    return Device(token, request.client.host if request.client else "", known)


AnyDevice = Annotated[Device, Depends(_device)]

_AT_ONCE = 8  # tries of a class code from one address that wait beside each other
_waiting: LRUCache[str, asyncio.Semaphore] = LRUCache(1000)  # by address


def _pause_of(address: str) -> float:
    with connected():
        return attempts.pause_before_code(address)


async def _patient(request: Request) -> None:
    """Whoever types a class code where very many were wrong lately waits a little."""
    address = request.client.host if request.client else ""
    pause = await run_in_threadpool(_pause_of, address)
    if pause:
        async with _waiting.setdefault(address, asyncio.Semaphore(_AT_ONCE)):
            await asyncio.sleep(pause)


Patient = Depends(_patient)


def keep_device(
    request: Request, response: Response, device: Device, *, student_id: int | None = None
) -> None:
    """Have a browser keep its token, and that a student came from it."""
    known = device.known | ({student_id} if student_id else set())
    marks = [f"{key}.{attempts.known_mark(key, device.browser)}" for key in sorted(known)]
    for name, value in ((BROWSER_COOKIE, device.browser), (_KNOWN, "|".join(marks[-_MOST_KNOWN:]))):
        if value and request.cookies.get(name) != value:
            response.set_cookie(
                name,
                value,
                max_age=_FIVE_YEARS,
                httponly=True,
                samesite="lax",
                secure=_is_secure(request),
            )


def check_sees_file(asking: Session, study_id: int, content: str) -> None:
    """Pass whoever may see a study of which a file, by its content, is a source.

    The connection must be held already.

    Raises
    ------
    SignInNeeded, NotThere : for everybody else.
    """
    stands, sees = (
        people.sees_file(asking.token, study_id, content, idle_hours=asking.idle_hours)
        if asking.token is not None
        else (False, False)
    )
    if not stands:
        raise SignInNeeded
    if not sees:
        raise NotThere("There is no such study here; it may belong to another group.")


def session_sees(request: Request, study_id: int) -> bool:
    """Whether the session that a request came with still stands and may see a study."""
    person = Session(request, request.cookies.get(COOKIE)).person
    if person is None:
        return False
    with suppress(NotThere), connected():
        people.visible_study(person, study_id)
        return True
    return False


def session_in_class(request: Request, class_id: int) -> bool:
    """Whether the session that a request came with still stands and belongs to a class."""
    person = Session(request, request.cookies.get(COOKIE)).person
    if person is None:
        return False
    with connected():
        return class_id in {row.id for row in classes.classes_of(person)}


async def study_sender(study: OwnStudy, visitor: Visitor) -> Sender:
    """A signed-in person who sends files into a study of theirs."""
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
