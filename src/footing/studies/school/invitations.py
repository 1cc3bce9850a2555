"""How teachers come in: the first one with the code that the start prints, others by a link."""

import secrets
from dataclasses import replace
from datetime import UTC, datetime, timedelta

from footing.core.errors import NotThere, Refused
from footing.store import records, teachers
from footing.store.rows import Invitation, SchoolClass
from footing.studies.school import people
from footing.studies.school.codes import token_hash
from footing.studies.school.people import Person

_FIRST = timedelta(days=1)
_OTHERS = timedelta(days=7)
_DIGITS = 8  # of the code of the first start, which is typed


def first_code() -> str | None:
    """A code for the first teacher's account, in place of those of earlier starts.

    None where somebody can sign in already.
    """
    if teachers.is_anybody_there():
        return None
    teachers.forget_first_invitations()
    code = "".join(secrets.choice("0123456789") for _ in range(_DIGITS))
    _add(code, Invitation(token_hash="", expires=datetime.now(UTC) + _FIRST))
    return f"{code[:4]} {code[4:]}"


def is_first_start() -> bool:
    """Whether nobody can sign in yet, so that the first account is to be made."""
    return not teachers.is_anybody_there()


def first_teacher(code: str, name: str, password: str) -> Person:
    """Make the first teacher's account.

    Raises
    ------
    Refused : if the code is not the one that was printed, or the password is a bad one.
    """
    standing = _standing("".join(code.split()))
    if standing is None or standing.teacher_id is not None or teachers.is_anybody_there():
        raise Refused(
            "This is not the code; it stands where Footing was started, and each start has its "
            "own.",
            field="code",
        )
    return _account(standing, name, password)


def invite(person: Person, *, class_id: int | None) -> str:
    """The token of a link by which another teacher makes an account, and may join a class."""
    token = secrets.token_urlsafe(24)
    _add(
        token,
        Invitation(
            token_hash="",
            teacher_id=person.id,
            school_class_id=class_id,
            expires=datetime.now(UTC) + _OTHERS,
        ),
    )
    return token


def invited_to(token: str) -> tuple[Invitation, SchoolClass | None]:
    """An invitation that stands, and the class that it is for.

    Raises
    ------
    NotThere : if it was used, has expired or was made up.
    """
    standing = _standing(token)
    if standing is None or standing.teacher_id is None:
        raise NotThere("This invitation was used or has expired; ask for another.")
    of_class = standing.school_class_id
    return standing, records.fetch(SchoolClass, of_class) if of_class else None


def accept(token: str, name: str, password: str) -> Person:
    """Make an account by an invitation.

    Raises
    ------
    Refused : if the name is taken or the password is a bad one.
    """
    standing, _ = invited_to(token)
    return _account(standing, name, password)


def accept_as(token: str, person: Person) -> None:
    """Take an invitation to a class with the account that one has."""
    standing, of_class = invited_to(token)
    if of_class is None or person.role != "teacher":
        raise Refused("This invitation is for somebody without an account.")
    teachers.add_co_teacher(of_class.id, person.id)
    _use(standing)


def _account(standing: Invitation, name: str, password: str) -> Person:
    person = people.new_teacher(name, password)
    if standing.school_class_id is not None:
        teachers.add_co_teacher(standing.school_class_id, person.id)
    _use(standing)
    return person


def _use(standing: Invitation) -> None:
    records.change(standing, replace(standing, used_at=datetime.now(UTC)))


def _standing(token: str) -> Invitation | None:
    return teachers.invitation(token_hash(token), now=datetime.now(UTC))


def _add(token: str, row: Invitation) -> None:
    records.add(replace(row, token_hash=token_hash(token)))
