"""Students of a class and their groups."""

from datetime import datetime

from footing.store import tables
from footing.store.rows import Group, Student
from footing.store.sql import asked, columns, rows_of


def students_of(class_id: int) -> list[Student]:
    """The students of a class by name, with those on the list whom nobody has taken yet."""
    wanted = "school_class_id = %(of)s ORDER BY lower(name), id"
    return rows_of(Student, f"SELECT {columns(Student)} FROM student WHERE {wanted}", of=class_id)


def student_named(class_id: int, name: str) -> Student | None:
    """The student of a class with a name, however it is capitalised."""
    found = rows_of(
        Student,
        f"SELECT {columns(Student)} FROM student"
        " WHERE school_class_id = %(of)s AND lower(name) = lower(%(name)s)",
        of=class_id,
        name=name,
    )
    return found[0] if found else None


def groups_of(class_id: int) -> list[Group]:
    """The groups of a class as they are now, by name."""
    wanted = "school_class_id = %(of)s AND dissolved_at IS NULL ORDER BY lower(name), id"
    return rows_of(Group, f"SELECT {columns(Group)} FROM student_group WHERE {wanted}", of=class_id)


def every_group_of(class_id: int) -> list[Group]:
    """The groups of a class, those of earlier days among them."""
    wanted = "school_class_id = %(of)s ORDER BY id"
    return rows_of(Group, f"SELECT {columns(Group)} FROM student_group WHERE {wanted}", of=class_id)


def dissolve_groups(class_id: int, *, now: datetime) -> None:
    """Nobody is in a group any more; studies keep the groups that they were made by."""
    of = tables.Group
    there = (of.school_class == class_id) & of.dissolved_at.is_null()
    of.update(dissolved_at=now, hand_at=None).where(there).execute()
    pupil = tables.Student
    pupil.update(group=None).where(pupil.school_class == class_id).execute()


def move(student_ids: list[int], group_id: int | None) -> None:
    """Put students into a group, or into none."""
    of = tables.Student
    of.update(group=group_id).where(of.id.in_(student_ids)).execute()


def sign_out_everywhere(student_id: int) -> None:
    """End all sessions of a student."""
    tables.SignIn.delete().where(tables.SignIn.student == student_id).execute()


def note_members(study_id: int, student_ids: list[int]) -> None:
    """Note who works on a study; some may be noted already."""
    rows = [{"study": study_id, "student": student} for student in student_ids]
    if rows:
        tables.StudyMember.insert_many(rows).on_conflict_ignore().execute()


def forget_name(student_id: int, *, instead: str) -> None:
    """Take a student's name out of what they did, which stays."""
    of = tables.Edit
    of.update(person_name=instead).where(of.student == student_id).execute()


def studies_only_of(student_id: int) -> list[int]:
    """The studies on which nobody else worked."""
    found = asked(
        "SELECT study_id FROM study_member AS own WHERE student_id = %(of)s AND NOT EXISTS ("
        " SELECT FROM study_member AS other WHERE other.study_id = own.study_id"
        " AND other.student_id <> own.student_id)",
        of=student_id,
    )
    return [study for (study,) in found]


def remove_student(student_id: int) -> None:
    """Remove a student; sessions, places and memberships go with them."""
    tables.Student.delete().where(tables.Student.id == student_id).execute()


def names_at_work(study_id: int, group_id: int | None) -> list[str]:
    """The names of those in a group, and of whoever worked on a study, by name."""
    found = asked(
        "SELECT DISTINCT name FROM student WHERE group_id = %(group)s OR id IN"
        " (SELECT student_id FROM study_member WHERE study_id = %(study)s) ORDER BY name",
        study=study_id,
        group=group_id,
    )
    return [name for (name,) in found]
