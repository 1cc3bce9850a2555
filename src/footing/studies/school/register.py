"""The teacher's register: who is in a class, in which group, and by which code they come in."""

import random
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta

from footing.core.errors import NotThere, Refused
from footing.store import clearing, pupils, records
from footing.store.rows import Group, SchoolClass, Student
from footing.studies.school import joining
from footing.studies.school.codes import new_class_code
from footing.studies.school.people import Person

FORMER = "a former student"
_LONGEST_LIST = 100  # names at once
_LONGEST_CLASS_NAME = 60
_BIRDS = (
    *("Heron", "Wren", "Dipper", "Siskin", "Plover", "Linnet", "Merlin", "Osprey", "Curlew"),
    *("Bunting", "Lapwing", "Sandpiper", "Kestrel", "Avocet", "Redwing", "Fieldfare", "Whimbrel"),
    *("Turnstone", "Goldcrest", "Nuthatch", "Pipit", "Wigeon", "Teal", "Pintail", "Gannet"),
    *("Fulmar", "Tern", "Dunlin", "Brambling", "Crossbill", "Hoopoe", "Wryneck"),
)


@dataclass(frozen=True)
class Register:
    """The students of a class in their groups; ``alone`` are in none."""

    groups: tuple[tuple[Group, tuple[Student, ...]], ...]
    alone: tuple[Student, ...]

    @property
    def students(self) -> int:
        """How many they are."""
        return len(self.alone) + sum(len(members) for _, members in self.groups)


def register(class_id: int) -> Register:
    """The register of a class."""
    students = pupils.students_of(class_id)
    groups = tuple(
        (group, tuple(one for one in students if one.group_id == group.id))
        for group in pupils.groups_of(class_id)
    )
    return Register(groups, tuple(one for one in students if one.group_id is None))


def new_class(person: Person, name: str) -> SchoolClass:
    """Make a class with a code of its own.

    Raises
    ------
    Refused : if the name is bad.
    """
    return records.add(
        SchoolClass(teacher_id=person.id, name=_class_name(name), code=new_class_code())
    )


def rename_class(row: SchoolClass, name: str) -> None:
    """Give a class another name."""
    records.change(row, replace(row, name=_class_name(name)))


def _class_name(name: str) -> str:
    name = " ".join(name.split())
    if not 0 < len(name) <= _LONGEST_CLASS_NAME:
        raise Refused(f"The name of a class has 1 to {_LONGEST_CLASS_NAME} letters.", field="name")
    return name


def set_joining(row: SchoolClass, *, minutes: int | None, joining: bool) -> None:
    """Open or close a class to newcomers; open for a lesson of so many minutes, or until closed."""
    until = datetime.now(UTC) + timedelta(minutes=minutes) if joining and minutes else None
    records.change(row, replace(row, joining=joining, joining_until=until))


def renew_code(row: SchoolClass) -> None:
    """Give a class another code; whoever has joined stays."""
    records.change(row, replace(row, code=new_class_code()))


def set_own_groups(row: SchoolClass, *, own: bool) -> None:
    """Say whether students choose their groups."""
    records.change(row, replace(row, own_groups=own))


def set_hides_names(row: SchoolClass, *, hides: bool) -> None:
    """Say whether the board leaves out who is who."""
    records.change(row, replace(row, hides_names=hides))


def show_to_all(row: SchoolClass, study_id: int | None) -> None:
    """Have everybody in a class look at a study, or at none any more."""
    records.change(row, replace(row, shown_study_id=study_id))


def add_names(class_id: int, text: str) -> int:
    """Put names on the list, one a line, so that students only pick theirs; how many are new.

    Raises
    ------
    Refused : for a name that is too long, or too many.
    """
    names = [" ".join(line.split()) for line in text.splitlines()]
    names = list({name.casefold(): name for name in reversed(names) if name}.values())[::-1]
    if len(names) > _LONGEST_LIST:
        raise Refused(f"At most {_LONGEST_LIST} names at once.", field="names")
    known = {one.name.casefold() for one in pupils.students_of(class_id)}
    new = [joining.checked_name(name) for name in names if name.casefold() not in known]
    for name in new:
        records.add(Student(school_class_id=class_id, name=name))
    return len(new)


def pupil(class_id: int, student_id: int) -> Student:
    """A student of a class.

    Raises
    ------
    NotThere : if the class has none with this key.
    """
    found = records.fetch(Student, student_id)
    if found is None or found.school_class_id != class_id:
        raise NotThere("There is no such student in this class.")
    return found


def rename(student: Student, name: str) -> None:
    """Give a student another name.

    Raises
    ------
    Refused : if another of the class has it.
    """
    name = joining.checked_name(name)
    other = pupils.student_named(student.school_class_id, name)
    if other is not None and other.id != student.id:
        raise Refused(f"There is a {name} in this class already.", field="name")
    records.change(student, replace(student, name=name))


def reset_secret(student: Student) -> None:
    """Have a student choose a new PIN; sessions with the old one end."""
    records.change(student, replace(student, secret_hash=None, secret_kind=None))
    pupils.sign_out_everywhere(student.id)


def remove(student: Student, *, with_work: bool) -> None:
    """Remove a student. What was done together stays, under no name.

    with_work : also remove the studies on which nobody else worked
    """
    alone = pupils.studies_only_of(student.id) if with_work else []
    pupils.forget_name(student.id, instead=FORMER)
    pupils.remove_student(student.id)
    clearing.remove_whole(alone)


def put(student: Student, group_id: int | None) -> None:
    """Put a student into a group of the class, or into none.

    Raises
    ------
    NotThere : if the class has no such group.
    """
    groups = {group.id for group in pupils.groups_of(student.school_class_id)}
    if group_id is not None and group_id not in groups:
        raise NotThere("There is no such group in this class any more.")
    pupils.move([student.id], group_id)


def new_group(class_id: int) -> Group:
    """Make one more group, with a name that none has."""
    return joining.add_group(class_id, _free_names(class_id)[0])


def rename_group(group: Group, name: str) -> None:
    """Give a group another name.

    Raises
    ------
    Refused : if another has it.
    """
    name = joining.checked_name(name)
    others = {
        one.name.casefold() for one in pupils.groups_of(group.school_class_id) if one != group
    }
    if name.casefold() in others:
        raise Refused(f"There is a group {name} already.", field="name")
    records.change(group, replace(group, name=name))


def make_groups(class_id: int, *, size: int, joined_only: bool) -> None:
    """Make groups anew, at random; yesterday's studies stay with those who worked on them.

    Nobody is alone where it can be helped: sizes differ by one at most.

    joined_only : leave out names on the list that nobody has taken yet

    Raises
    ------
    Refused : for a size that is none.
    """
    if not 1 <= size <= 10:
        raise Refused("A group has 1 to 10 students.", field="size")
    students = [
        one for one in pupils.students_of(class_id) if one.joined_at is not None or not joined_only
    ]
    pupils.dissolve_groups(class_id, now=datetime.now(UTC))
    random.SystemRandom().shuffle(students)
    number = max(round(len(students) / size), 1) if students else 0
    for index, name in enumerate(_free_names(class_id)[:number]):
        group = records.add(Group(school_class_id=class_id, name=name))
        pupils.move([one.id for one in students[index::number]], group.id)


def group_of(class_id: int, group_id: int) -> Group:
    """A group of a class.

    Raises
    ------
    NotThere : if the class has none with this key.
    """
    found = records.fetch(Group, group_id)
    if found is None or found.school_class_id != class_id:
        raise NotThere("There is no such group in this class.")
    return found


def _free_names(class_id: int) -> list[str]:
    taken = {group.name for group in pupils.groups_of(class_id)}
    birds = [name for name in _BIRDS if name not in taken]
    return birds + [name for n in range(1, 100) if (name := f"Group {n}") not in taken]
