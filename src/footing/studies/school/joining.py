"""How students come into a class, and come back on another device."""

from dataclasses import dataclass, replace
from datetime import UTC, datetime

from footing.core.errors import NotThere, Refused
from footing.store import pupils, records, teachers
from footing.store.rows import Group, SchoolClass, Student
from footing.studies.school import attempts
from footing.studies.school.codes import (
    SecretKind,
    as_code,
    checked_secret,
    hashed_secret,
    is_secret,
)
from footing.studies.school.people import Person, student

LONGEST_NAME = 40
_LARGEST_CLASS = 200


@dataclass(frozen=True)
class Device:
    """The browser that somebody sits at, and the network that it is in.

    known : whether a student has come from this browser before, by their key
    """

    browser: str
    address: str
    known: frozenset[int] = frozenset()


def is_open(school_class: SchoolClass) -> bool:
    """Whether new students may join a class just now."""
    until = school_class.joining_until
    return school_class.joining and (until is None or until > datetime.now(UTC))


def enter_code(typed: str, device: Device) -> SchoolClass:
    """The class that a code belongs to; those who have joined may come back when it is closed.

    Raises
    ------
    Refused : if there is none, or too many wrong ones came from this device.
    """
    attempts.check_code_attempts(device.browser)
    found = teachers.class_with_code(as_code(typed))
    if found is None:
        attempts.note_wrong_code(device.browser, device.address)
        raise Refused(
            "No class has this code. Look at the board again: it is two words and a number.",
            field="code",
        )
    return found


def names_to_pick(school_class: SchoolClass) -> tuple[list[Student], list[Student]]:
    """Who may come in by picking a name: those on the list who are new, and those who joined."""
    everyone = pupils.students_of(school_class.id)
    waiting = [one for one in everyone if one.joined_at is None]
    return waiting if is_open(school_class) else [], [one for one in everyone if one.joined_at]


def join(
    school_class: SchoolClass, name: str, *, kind: SecretKind, secret: str, device: Device
) -> Person:
    """Come into a class under a name: for the first time, or back with the PIN or pictures.

    Raises
    ------
    Refused : if the secret is wrong or none, the class is closed to new names, or a name is bad.
    """
    name = checked_name(name)
    present = pupils.student_named(school_class.id, name)
    if present is not None and present.secret_hash is not None:
        return _come_back(present, secret, device)
    if not is_open(school_class):
        raise Refused(
            "This class is closed to newcomers just now; ask your teacher to open it.", field="name"
        )
    hashed, now = hashed_secret(checked_secret(kind, secret)), datetime.now(UTC)
    if present is not None:
        joined = replace(
            present, secret_hash=hashed, secret_kind=kind, joined_at=present.joined_at or now
        )
        return student(records.change(present, joined))
    if len(pupils.students_of(school_class.id)) >= _LARGEST_CLASS:
        raise Refused("This class is full; ask your teacher.", field="name")
    return student(
        records.add(
            Student(
                school_class_id=school_class.id,
                name=name,
                secret_hash=hashed,
                secret_kind=kind,
                joined_at=now,
            )
        )
    )


def _come_back(present: Student, secret: str, device: Device) -> Person:
    known = present.id in device.known
    attempts.check_secret_attempts(present.id, device.browser, known=known)
    if not is_secret(secret, present.secret_hash or ""):
        attempts.note_wrong_secret(present.id, device.browser)
        what = "PIN" if present.secret_kind == "pin" else "four pictures"
        raise Refused(
            f"{present.name} is here already, and this is not their {what}. If you are somebody "
            "else, add a letter to your name.",
            field="secret",
        )
    return student(present)


def checked_name(name: str) -> str:
    """A display name without spaces around it.

    Raises
    ------
    Refused : if it is empty or too long.
    """
    name = " ".join(name.split())
    if not 0 < len(name) <= LONGEST_NAME:
        raise Refused(f"A name has 1 to {LONGEST_NAME} letters.", field="name")
    return name


def join_group(person: Person, group_id: int) -> Group:
    """Go into a group of one's class.

    Raises
    ------
    Refused : where the teacher makes the groups.
    NotThere : if there is no such group.
    """
    row, school_class = _student_and_class(person)
    _check_own_groups(school_class)
    there = (group for group in pupils.groups_of(school_class.id) if group.id == group_id)
    group = next(there, None)
    if group is None:
        raise NotThere("There is no such group in this class any more.")
    pupils.move([row.id], group.id)
    return group


def make_group(person: Person, name: str) -> Group:
    """Make a group of one's class and go into it.

    Raises
    ------
    Refused : where the teacher makes the groups, or one has this name.
    """
    row, school_class = _student_and_class(person)
    _check_own_groups(school_class)
    group = add_group(school_class.id, name)
    pupils.move([row.id], group.id)
    return group


def add_group(class_id: int, name: str) -> Group:
    """Make a group.

    Raises
    ------
    Refused : if the name is bad or taken.
    """
    name = checked_name(name)
    if name.casefold() in {group.name.casefold() for group in pupils.groups_of(class_id)}:
        raise Refused(f"There is a group {name} already; choose it, or another name.", field="name")
    return records.add(Group(school_class_id=class_id, name=name))


def _check_own_groups(school_class: SchoolClass) -> None:
    if not school_class.own_groups:
        raise Refused("In this class the teacher makes the groups.")


def _student_and_class(person: Person) -> tuple[Student, SchoolClass]:
    row = records.fetch(Student, person.student_id or 0)
    school_class = records.fetch(SchoolClass, row.school_class_id) if row else None
    if row is None or school_class is None:
        raise NotThere("Only students go into groups.")
    return row, school_class
