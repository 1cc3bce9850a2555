"""Teachers and students, their sessions, and sign-ins that failed."""

from datetime import datetime

from footing.store import tables
from footing.store.records import add, as_row
from footing.store.rows import SignIn, Student, Teacher
from footing.store.sql import asked, columns, rows_of


def teachers_with_password() -> list[Teacher]:
    """The teachers who can sign in by a password."""
    wanted = "password_hash IS NOT NULL ORDER BY id"
    return rows_of(Teacher, f"SELECT {columns(Teacher)} FROM teacher WHERE {wanted}")


def set_password(teacher: Teacher, password_hash: str) -> None:
    """Keep another password; whoever knew the old one is signed out."""
    of = tables.Teacher
    of.update(password_hash=password_hash).where(of.id == teacher.id).execute()
    tables.SignIn.delete().where(tables.SignIn.teacher == teacher.id).execute()


def begin_session(sign_in: SignIn) -> None:
    """Keep a new session."""
    add(sign_in)


def note_use(token_hash: str, now: datetime) -> None:
    """Note that a session is used."""
    here = tables.SignIn.token_hash == token_hash
    tables.SignIn.update(used_at=now).where(here).execute()


def end_session(token_hash: str) -> None:
    """Forget a session."""
    tables.SignIn.delete().where(tables.SignIn.token_hash == token_hash).execute()


def failures(name: str, address: str, *, since: datetime) -> tuple[int, int]:
    """How many sign-ins from an address failed lately: for a name, and for any."""
    ((of_name, of_any),) = asked(
        "SELECT count(*) FILTER (WHERE name = %(name)s), count(*) FROM failed_sign_in"
        " WHERE at > %(since)s AND address = %(address)s",
        name=name,
        address=address,
        since=since,
    )
    return of_name, of_any


def note_failure(name: str, address: str) -> None:
    """Note a sign-in that failed."""
    tables.FailedSignIn.insert(name=name, address=address).execute()


def first_of_class() -> tuple[Teacher, Student | None] | None:
    """The teacher of the first class and its first student, if there are any."""
    of_class = tables.SchoolClass.select().order_by(tables.SchoolClass.id).first()
    if of_class is None:
        return None
    members = tables.Student.select().join(tables.Group)
    first = members.where(tables.Group.school_class == of_class).order_by(tables.Student.id).first()
    teacher = as_row(Teacher, of_class.teacher)
    return teacher, None if first is None else as_row(Student, first)
