"""Who somebody is, how they are signed in, and which studies they may see."""

import hashlib
import secrets
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any, Literal

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from footing.core.errors import NotThere
from footing.store.tables import Group, SchoolClass, SignIn, Student, Study, Teacher

_NOBODY = PasswordHasher().hash(secrets.token_urlsafe())


@dataclass(frozen=True)
class Person:
    """A signed-in teacher or student."""

    role: Literal["teacher", "student"]
    id: int
    name: str

    @property
    def as_columns(self) -> dict[str, int | None]:
        """The pair of columns that stand for a person in a table."""
        is_teacher = self.role == "teacher"
        return {
            "teacher": self.id if is_teacher else None,
            "student": None if is_teacher else self.id,
        }


def teacher(row: Any) -> Person:
    """The person of a row of `Teacher`."""
    return Person("teacher", row.id, row.name)


def student(row: Any) -> Person:
    """The person of a row of `Student`."""
    return Person("student", row.id, row.name)


def add_teacher(name: str, password: str) -> Any:
    """Make an account for a teacher, or give an existing one a new password."""
    hashed = PasswordHasher().hash(password)
    row: Any = _teacher_named(name)
    if row is None:
        return Teacher.create(name=name, password_hash=hashed)
    row.password_hash = hashed
    row.save(only=["password_hash"])
    return row


def by_password(name: str, password: str) -> Person | None:
    """The teacher with this name and password, or None."""
    row = _teacher_named(name)
    try:
        # somebody unknown takes as long as somebody known
        PasswordHasher().verify(row.password_hash if row else _NOBODY, password)
    except (VerifyMismatchError, InvalidHashError):
        return None
    return teacher(row) if row else None


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


def signed_in(token: str) -> Person | None:
    """Who a session's token stands for, or None if it is unknown or has expired."""
    row: Any = SignIn.get_or_none(
        (SignIn.token_hash == _hash(token)) & (SignIn.expires > datetime.now(UTC))
    )
    if row is None:
        return None
    return teacher(row.teacher) if row.teacher_id else student(row.student)


def visible_studies(person: Person) -> Any:
    """Query of the studies that a person may see and change.

    A teacher: all of their classes. A student: those of their group.
    """
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
