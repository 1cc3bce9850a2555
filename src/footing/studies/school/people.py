"""Who somebody is, how they are signed in, and which studies they may see."""

import secrets
import threading
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cache
from pathlib import Path
from typing import Literal

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from footing.core.errors import Busy, NotThere, Refused
from footing.store import access, accounts, rows
from footing.store.access import ClassStudy, session, study_seen_by
from footing.store.database import connected
from footing.store.records import add, fetch
from footing.studies.school.codes import token_hash

_hashing = threading.BoundedSemaphore(2)  # each takes 64 MB and a tenth of a second
_WAIT_FOR_HASHING = 5.0  # seconds
_GUESSES = 8  # for a name from an address, in the time that follows
_GUESSES_OF_AN_ADDRESS = 40  # a class may sit behind one address
_GUESS_TIME = timedelta(minutes=1)
_NOTED_AFTER = timedelta(minutes=10)  # between two notes that a session is used
_SHORTEST_PASSWORD = 8
_LONGEST_NAME = 60
_WELL_KNOWN = frozenset(
    Path(__file__).with_name("known_passwords.txt").read_text(encoding="utf-8").split()
)


Role = Literal["teacher", "student", "guest"]


@dataclass(frozen=True)
class Person:
    """A signed-in teacher or student, or a guest: whoever has a link by which a study is seen."""

    role: Role
    id: int
    name: str

    @property
    def teacher_id(self) -> int | None:
        """The key of the teacher, if it is one."""
        return self.id if self.role == "teacher" else None

    @property
    def student_id(self) -> int | None:
        """The key of the student, if it is one."""
        return self.id if self.role == "student" else None

    @property
    def link_id(self) -> int | None:
        """The key of the link, if it is somebody with a link."""
        return self.id if self.role == "guest" else None


def teacher(row: rows.Teacher) -> Person:
    """The person of a row of `Teacher`."""
    return Person("teacher", row.id, row.name)


def student(row: rows.Student) -> Person:
    """The person of a row of `Student`."""
    return Person("student", row.id, row.name)


def guest(link_id: int) -> Person:
    """Whoever has a link by which a study is looked at."""
    return Person("guest", link_id, "a reader")


def person(role: Role, key: int) -> Person:
    """A teacher or a student by their key."""
    if role == "teacher":
        found: rows.Teacher | rows.Student | None = fetch(rows.Teacher, key)
    else:
        found = fetch(rows.Student, key)
    if found is None:
        raise NotThere("This person is not there any more.")
    return Person(role, found.id, found.name)


def person_of(row: rows.Upload | rows.Follow | rows.PhoneLink) -> Person:
    """Who asked for something, as its row says."""
    if row.teacher_id is not None:
        return person("teacher", row.teacher_id)
    return person("student", row.student_id or 0)


def add_teacher(name: str, password: str) -> Person:
    """Make an account for a teacher, or give an existing one a new password."""
    check_password(password, name=name)
    hashed = PasswordHasher().hash(password)
    row = _teacher_named(name)
    if row is None:
        return teacher(add(rows.Teacher(name=name, password_hash=hashed)))
    accounts.set_password(row, hashed)
    return teacher(row)


def new_teacher(name: str, password: str) -> Person:
    """Make an account for a teacher.

    Raises
    ------
    Refused : if the name is taken or empty, or the password is easily guessed.
    """
    name = " ".join(name.split())
    if not 0 < len(name) <= _LONGEST_NAME:
        raise Refused(f"A name has 1 to {_LONGEST_NAME} letters.", field="name")
    if _teacher_named(name) is not None:
        raise Refused(f"There is an account for {name} already; add a letter.", field="name")
    check_password(password, name=name)
    return teacher(add(rows.Teacher(name=name, password_hash=PasswordHasher().hash(password))))


def change_password(person: Person, *, old: str, new: str) -> None:
    """Give oneself another password; all sessions of the account end.

    Raises
    ------
    Refused : if the old one is wrong, or the new one is easily guessed.
    """
    row = fetch(rows.Teacher, person.teacher_id or 0)
    if row is None or row.password_hash is None:
        raise Refused("This account has no password.", field="old")
    try:
        PasswordHasher().verify(row.password_hash, old)
    except (VerifyMismatchError, InvalidHashError):
        raise Refused("This is not the present password.", field="old") from None
    check_password(new, name=row.name)
    accounts.set_password(row, PasswordHasher().hash(new))


def check_password(password: str, *, name: str) -> None:
    """Refuse a password that is easily guessed.

    Raises
    ------
    Refused : if it is short, known to be used everywhere, or the name itself.
    """
    plain = password.casefold()
    if len(password) < _SHORTEST_PASSWORD:
        raise Refused(f"A password has at least {_SHORTEST_PASSWORD} characters.", field="password")
    if plain in _WELL_KNOWN or plain == name.casefold() or len(set(plain)) < 3:
        raise Refused("This password is guessed at once; choose another.", field="password")


@cache
def _nobody() -> str:
    """The hash of a password that nobody knows."""
    return PasswordHasher().hash(secrets.token_urlsafe())


def by_password(name: str, password: str) -> Person | None:
    """The teacher with this name and password, or None."""
    with connected():
        row = _teacher_named(name)
    if not _hashing.acquire(timeout=_WAIT_FOR_HASHING):
        raise Busy("Many people sign in just now; try again in a moment.")
    try:
        # somebody unknown takes as long as somebody known
        nobody, known = _nobody(), row.password_hash if row else None
        PasswordHasher().verify(known or nobody, password)
    except (VerifyMismatchError, InvalidHashError):
        return None
    finally:
        _hashing.release()
    return teacher(row) if row else None


def guessed_too_often(name: str, address: str) -> bool:
    """Whether too many sign-ins failed lately, for this name from this address or from it at all.

    Failures from elsewhere never keep anybody out.
    """
    since = datetime.now(UTC) - _GUESS_TIME
    of_name, of_any = accounts.failures(name.casefold(), address, since=since)
    return of_name >= _GUESSES or of_any >= _GUESSES_OF_AN_ADDRESS


def note_failure(name: str, address: str) -> None:
    """Note a sign-in that failed."""
    accounts.note_failure(name.casefold()[:200], address)


def _teacher_named(name: str) -> rows.Teacher | None:
    known, wanted = accounts.teachers_with_password(), name.casefold()
    return next((row for row in known if row.name.casefold() == wanted), None)


def sign_in(person: Person, *, days: int) -> str:
    """Begin a session and give its token; the database keeps only a hash of it."""
    token = secrets.token_urlsafe(32)
    now = datetime.now(UTC)
    accounts.begin_session(
        rows.SignIn(
            token_hash=token_hash(token),
            teacher_id=person.teacher_id,
            student_id=person.student_id,
            study_link_id=person.link_id,
            expires=now + timedelta(days=days),
            used_at=now,
        )
    )
    return token


def sign_out(token: str) -> None:
    """End a session."""
    accounts.end_session(token_hash(token))


def signed_in(token: str, *, idle_hours: float) -> Person | None:
    """Who a session's token stands for, or None if it is unknown, over, or long unused."""
    now = datetime.now(UTC)
    found = session(token_hash(token), now=now, used_after=now - timedelta(hours=idle_hours))
    if found is None:
        return None
    sign_in, of_teacher, of_student = found
    if sign_in.used_at < now - _NOTED_AFTER:
        accounts.note_use(sign_in.token_hash, now)
    if of_teacher is not None:
        return teacher(of_teacher)
    if of_student is not None:
        return student(of_student)
    return guest(sign_in.study_link_id) if sign_in.study_link_id is not None else None


def sees_file(token: str, study_id: int, content: str, *, idle_hours: float) -> tuple[bool, bool]:
    """Whether a session's token stands for somebody, and whether they may see a file of a study."""
    now = datetime.now(UTC)
    used_after = now - timedelta(hours=idle_hours)
    return access.sees_file(token_hash(token), study_id, content, now=now, used_after=used_after)


def own_study(person: Person, study_id: int) -> ClassStudy:
    """A study that the person may change.

    Raises
    ------
    NotThere : as for `visible_study`.
    Refused : if they may only look at it.
    """
    study = visible_study(person, study_id)
    if study.is_frozen:
        raise Refused("This is what was handed in; nobody changes it any more.")
    if not study.mine:
        if person.role == "guest":
            raise Refused("By this link a study is looked at, not changed.")
        raise Refused("This study is shown to the class; only its own group changes it.")
    return study


def visible_study(person: Person, study_id: int) -> ClassStudy:
    """A study that the person may see.

    Raises
    ------
    NotThere : if there is none, or it is not for this person; which of the two is not told.
    """
    study = study_seen_by(person, study_id)
    if study is None:
        raise NotThere("There is no such study here; it may belong to another group.")
    return study
