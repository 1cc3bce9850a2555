"""Teachers and students, their sessions, and sign-ins that failed."""

from datetime import datetime

from footing.store import tables
from footing.store.records import add
from footing.store.rows import SignIn, Student, Teacher
from footing.store.sql import asked, columns, row_of, rows_of


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


def first_of_class() -> Teacher | None:
    """The teacher of the first class, if there is one."""
    found = rows_of(
        Teacher,
        f"SELECT {columns(Teacher)} FROM teacher JOIN school_class ON teacher_id = teacher.id"
        " ORDER BY school_class.id LIMIT 1",
    )
    return found[0] if found else None


def of_the_demo() -> tuple[list[tuple[Teacher, str]], list[tuple[Student, str]]]:
    """The teachers with their first classes; the first students of the first three groups."""
    teachers = asked(
        f"SELECT DISTINCT ON (teacher.id) {columns(Teacher)}, school_class.name FROM teacher"
        " JOIN school_class ON teacher_id = teacher.id ORDER BY teacher.id, school_class.id"
    )
    students = asked(
        f"SELECT DISTINCT ON (student_group.id) {columns(Student)}, student_group.name FROM student"
        " JOIN student_group ON student_group.id = group_id"
        " ORDER BY student_group.id, student.id LIMIT 3"
    )
    return (
        [(row_of(Teacher, one[:-1]), one[-1]) for one in teachers],
        [(row_of(Student, one[:-1]), one[-1]) for one in students],
    )
