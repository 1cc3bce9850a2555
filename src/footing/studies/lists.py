"""Labs and studies to choose from, and starting a new study."""

import secrets
from dataclasses import dataclass
from typing import Any

from footing.core.errors import NotThere
from footing.store.tables import (
    Fit,
    Footage,
    Group,
    Lab,
    Mark,
    SchoolClass,
    Sheet,
    Student,
    Study,
)
from footing.studies.people import Person, visible_studies

_LOOKED_AT, _FORMULAS = 300, 12  # latest fits with a formula, and formulas that are offered
_LETTERS = "ABCDEFGHJKLMNPRSTUVWXYZ23456789"  # none that looks like another


@dataclass(frozen=True)
class StudyLine:
    """A study in a list."""

    id: int
    title: str
    group: str | None
    state: str


@dataclass(frozen=True)
class LabPart:
    """A lab with its studies; ``id`` is None for studies on questions of their own."""

    id: int | None
    title: str
    task: str
    studies: tuple[StudyLine, ...]


@dataclass(frozen=True)
class ClassPart:
    """A class with its labs."""

    id: int
    name: str
    labs: tuple[LabPart, ...]


def classes_of(person: Person) -> list[ClassPart]:
    """The classes of a person, with labs and the studies that the person may see."""
    if person.role == "teacher":
        rows = SchoolClass.select().where(SchoolClass.teacher == person.id)
    else:
        rows = SchoolClass.select().join(Group).join(Student).where(Student.id == person.id)
    return [_class_part(row, person) for row in rows.order_by(SchoolClass.name)]


def first_class(teacher: Any, name: str) -> None:
    """Give a teacher a class, if they have none yet."""
    if not SchoolClass.select().where(SchoolClass.teacher == teacher).exists():
        code = "-".join("".join(secrets.choice(_LETTERS) for _ in range(4)) for _ in range(2))
        SchoolClass.create(teacher=teacher, name=name, code=code)


def start_study(person: Person, class_id: int, *, lab_id: int | None) -> int:
    """Start an empty study: of the student's group, or of the class's teacher.

    Raises
    ------
    NotThere : if the class or the lab is not the person's.
    """
    if class_id not in {part.id for part in classes_of(person)}:
        raise NotThere("There is no such class here.")
    lab: Any = Lab.get_or_none((Lab.id == lab_id) & (Lab.school_class == class_id))
    if lab_id is not None and lab is None:
        raise NotThere("There is no such lab in this class.")
    group = Student.get_by_id(person.id).group if person.role == "student" else None
    title = lab.title if lab else "A question of our own"
    study: Any = Study.create(school_class=class_id, lab=lab, group=group, title=title)
    return int(study.id)


def _class_part(row: Any, person: Person) -> ClassPart:
    studies = list(visible_studies(person).where(Study.school_class == row.id).order_by(Study.id))
    labs = list(Lab.select().where(Lab.school_class == row).order_by(Lab.id))
    parts = [
        LabPart(
            lab.id,
            lab.title,
            lab.task,
            tuple(_line(study) for study in studies if study.lab_id == lab.id),
        )
        for lab in labs
    ]
    own = tuple(_line(study) for study in studies if study.lab_id is None)
    parts.append(LabPart(None, "Questions of our own", "Anything that moves.", own))
    return ClassPart(row.id, row.name, tuple(parts))


def _line(study: Any) -> StudyLine:
    marks = Mark.select().where(Mark.study == study).count()
    if marks:
        state = f"{marks} marks"
    elif Footage.select().where(Footage.study == study).exists():
        state = "footage, no marks yet"
    else:
        rows = [sheet.rows for sheet in Sheet.select().where(Sheet.study == study)]
        state = f"tables with {sum(rows)} rows" if any(rows) else "empty"
    return StudyLine(study.id, study.title, study.group.name if study.group_id else None, state)


def own_formulas(person: Person) -> list[str]:
    """Formulas that were fitted in the studies that somebody sees, the latest first."""
    studies = [study.id for study in visible_studies(person)]
    rows = Fit.select(Fit.formula).where(Fit.study.in_(studies) & Fit.formula.is_null(False))
    latest = rows.order_by(Fit.id.desc()).limit(_LOOKED_AT)
    return list(dict.fromkeys(row.formula for row in latest if row.formula))[:_FORMULAS]
