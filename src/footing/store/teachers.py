"""Who teaches a class, and invitations to teach."""

from datetime import datetime

from footing.store import tables
from footing.store.rows import Invitation, Lab, SchoolClass, Teacher
from footing.store.sql import asked, columns, rows_of


def taught_class(teacher_id: int | None, class_id: int) -> SchoolClass | None:
    """A class if a teacher teaches it."""
    found = rows_of(
        SchoolClass,
        f"SELECT {columns(SchoolClass)} FROM school_class"
        " JOIN teaches ON teaches.school_class_id = school_class.id"
        " WHERE school_class.id = %(of)s AND teaches.teacher_id = %(teacher)s",
        of=class_id,
        teacher=teacher_id,
    )
    return found[0] if found else None


def taught_lab(teacher_id: int | None, lab_id: int) -> Lab | None:
    """A lab of a class that a teacher teaches."""
    found = rows_of(
        Lab,
        f"SELECT {columns(Lab)} FROM lab"
        " JOIN teaches ON teaches.school_class_id = lab.school_class_id"
        " WHERE lab.id = %(of)s AND teaches.teacher_id = %(teacher)s AND removed_at IS NULL",
        of=lab_id,
        teacher=teacher_id,
    )
    return found[0] if found else None


def teachers_of(class_id: int) -> list[Teacher]:
    """The teachers of a class."""
    return rows_of(
        Teacher,
        f"SELECT {columns(Teacher)} FROM teacher JOIN teaches ON teaches.teacher_id = teacher.id"
        " WHERE school_class_id = %(of)s ORDER BY name",
        of=class_id,
    )


def class_with_code(code: str) -> SchoolClass | None:
    """The class with a code."""
    found = rows_of(
        SchoolClass,
        f"SELECT {columns(SchoolClass)} FROM school_class WHERE lower(code) = %(c)s",
        c=code,
    )
    return found[0] if found else None


def add_co_teacher(class_id: int, teacher_id: int) -> None:
    """Let somebody teach a class; whoever does already goes on."""
    row = {"school_class": class_id, "teacher": teacher_id}
    tables.CoTeacher.insert(row).on_conflict_ignore().execute()


def remove_co_teacher(class_id: int, teacher_id: int) -> None:
    """Somebody who was invited teaches a class no more."""
    of = tables.CoTeacher
    of.delete().where((of.school_class == class_id) & (of.teacher == teacher_id)).execute()


def invitation(token_hash: str, *, now: datetime) -> Invitation | None:
    """An invitation that stands; nobody else takes it in this transaction."""
    found = rows_of(
        Invitation,
        f"SELECT {columns(Invitation)} FROM invitation WHERE token_hash = %(token)s"
        " AND used_at IS NULL AND expires > %(now)s FOR UPDATE",
        token=token_hash,
        now=now,
    )
    return found[0] if found else None


def forget_first_invitations() -> None:
    """A code of an earlier start is worth nothing any more."""
    of = tables.Invitation
    of.delete().where(of.teacher.is_null()).execute()


def is_anybody_there() -> bool:
    """Whether there is any teacher who can sign in."""
    return bool(asked("SELECT FROM teacher WHERE password_hash IS NOT NULL LIMIT 1"))
