"""Who somebody is, how they are signed in, and which studies they may see."""

import hashlib
import secrets
import threading
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any, Literal

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from footing.core.errors import Busy, NotThere, Refused
from footing.store.database import connected
from footing.store.rows import Follow, PhoneLink, Upload
from footing.store.tables import (
    FailedSignIn,
    Group,
    SchoolClass,
    SignIn,
    Student,
    Study,
    Teacher,
)

_NOBODY = PasswordHasher().hash(secrets.token_urlsafe())
_hashing = threading.BoundedSemaphore(2)  # each takes 64 MB and a tenth of a second
_WAIT_FOR_HASHING = 5.0  # seconds
_GUESSES = 8  # for a name from an address, in the time that follows
_GUESSES_OF_AN_ADDRESS = 40  # a class may sit behind one address
_GUESS_TIME = timedelta(minutes=1)
_NOTED_AFTER = timedelta(minutes=10)  # between two notes that a session is used
_SHORTEST_PASSWORD = 8
_WELL_KNOWN = frozenset(
    Path(__file__).with_name("known_passwords.txt").read_text(encoding="utf-8").split()
)


Role = Literal["teacher", "student"]


@dataclass(frozen=True)
class Person:
    """A signed-in teacher or student."""

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
    def as_columns(self) -> dict[str, int | None]:
        """The pair of columns that stand for a person in a table."""
        return {"teacher": self.teacher_id, "student": self.student_id}


def teacher(row: Any) -> Person:
    """The person of a row of `Teacher`."""
    return Person("teacher", row.id, row.name)


def student(row: Any) -> Person:
    """The person of a row of `Student`."""
    return Person("student", row.id, row.name)


def person(role: Role, key: int) -> Person:
    """A teacher or a student by their key."""
    if role == "teacher":
        return teacher(Teacher.get_by_id(key))
    return student(Student.get_by_id(key))


def person_of(row: Upload | Follow | PhoneLink) -> Person:
    """Who asked for something, as its row says."""
    if row.teacher_id is not None:
        return person("teacher", row.teacher_id)
    return person("student", row.student_id or 0)


def add_teacher(name: str, password: str) -> Any:
    """Make an account for a teacher, or give an existing one a new password."""
    check_password(password, name=name)
    hashed = PasswordHasher().hash(password)
    row: Any = _teacher_named(name)
    if row is None:
        return Teacher.create(name=name, password_hash=hashed)
    row.password_hash = hashed
    row.save(only=["password_hash"])
    SignIn.delete().where(SignIn.teacher == row).execute()  # whoever knew the old one is out
    return row


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


def by_password(name: str, password: str) -> Person | None:
    """The teacher with this name and password, or None."""
    with connected():
        row = _teacher_named(name)
    if not _hashing.acquire(timeout=_WAIT_FOR_HASHING):
        raise Busy("Many people sign in just now; try again in a moment.")
    try:
        # somebody unknown takes as long as somebody known
        PasswordHasher().verify(row.password_hash if row else _NOBODY, password)
    except (VerifyMismatchError, InvalidHashError):
        return None
    finally:
        _hashing.release()
    return teacher(row) if row else None


def guessed_too_often(name: str, address: str) -> bool:
    """Whether too many sign-ins failed lately, for this name from this address or from it at all.

    Failures from elsewhere never keep anybody out.
    """
    since = FailedSignIn.at > datetime.now(UTC) - _GUESS_TIME
    here = FailedSignIn.select().where(since & (FailedSignIn.address == address))
    return bool(
        here.where(FailedSignIn.name == name.casefold()).count() >= _GUESSES
        or here.count() >= _GUESSES_OF_AN_ADDRESS
    )


def note_failure(name: str, address: str) -> None:
    """Note a sign-in that failed."""
    FailedSignIn.create(name=name.casefold()[:200], address=address)


def _teacher_named(name: str) -> Any:
    with_password = Teacher.select().where(Teacher.password_hash.is_null(False))
    wanted = name.casefold()
    return next((row for row in with_password if row.name.casefold() == wanted), None)


def sign_in(person: Person, *, days: int) -> str:
    """Begin a session and give its token; the database keeps only a hash of it."""
    token = secrets.token_urlsafe(32)
    SignIn.insert(
        token_hash=_hash(token),
        expires=datetime.now(UTC) + timedelta(days=days),
        **person.as_columns,
    ).execute()
    return token


def sign_out(token: str) -> None:
    """End a session."""
    SignIn.delete().where(SignIn.token_hash == _hash(token)).execute()


def signed_in(token: str, *, idle_hours: float) -> Person | None:
    """Who a session's token stands for, or None if it is unknown, over, or long unused."""
    now = datetime.now(UTC)
    row: Any = SignIn.get_or_none(
        (SignIn.token_hash == _hash(token))
        & (SignIn.expires > now)
        & (SignIn.used_at > now - timedelta(hours=idle_hours))
    )
    if row is None:
        return None
    if row.used_at < now - _NOTED_AFTER:
        SignIn.update(used_at=now).where(SignIn.token_hash == row.token_hash).execute()
    return teacher(row.teacher) if row.teacher_id else student(row.student)


def visible_studies(person: Person) -> Any:
    """Query of the studies that a person may see and change.

    A teacher: all of their classes. A student: those of their group. Removed ones are not among
    them.
    """
    return _own_studies(person).where(Study.removed_at.is_null())


def removed_studies(person: Person) -> Any:
    """Query of those that were removed and can be taken back."""
    return _own_studies(person).where(Study.removed_at.is_null(False))


def _own_studies(person: Person) -> Any:
    if person.role == "teacher":
        return Study.select().join(SchoolClass).where(SchoolClass.teacher == person.id)
    return Study.select().join(Group).join(Student).where(Student.id == person.id)


def visible_study(person: Person, study_id: int) -> Any:
    """A study that the person may see.

    Raises
    ------
    NotThere : if there is none, or it is not for this person; which of the two is not told.
    """
    study = visible_studies(person).where(Study.id == study_id).first()
    if study is None:
        raise NotThere("There is no such study here; it may belong to another group.")
    return study


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
