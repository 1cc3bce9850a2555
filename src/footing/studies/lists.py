"""Labs and studies to choose from, and starting a new study."""

import secrets
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from footing.core.errors import NotThere, Refused
from footing.store.tables import (
    Edit,
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
from footing.studies.people import Person, removed_studies, visible_studies

_LOOKED_AT, _FORMULAS = 300, 12  # latest fits with a formula, and formulas that are offered
_LONGEST_TITLE = 80
_LETTERS = "ABCDEFGHJKLMNPRSTUVWXYZ23456789"  # none that looks like another


@dataclass(frozen=True)
class StudyLine:
    """A study in a list; ``changed`` is when it was changed last, as it is shown."""

    id: int
    title: str
    group: str | None
    state: str
    changed: str


@dataclass(frozen=True)
class LabPart:
    """A lab with its studies; ``id`` is None for studies on questions of their own."""

    id: int | None
    title: str
    task: str
    studies: tuple[StudyLine, ...]


@dataclass(frozen=True)
class ClassPart:
    """A class with its labs, and the studies that were removed from it lately."""

    id: int
    name: str
    labs: tuple[LabPart, ...]
    removed: tuple[StudyLine, ...]


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
    gone = removed_studies(person).where(Study.school_class == row.id)
    removed = tuple(_line(study) for study in gone.order_by(Study.removed_at.desc()))
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
    return ClassPart(row.id, row.name, tuple(parts), removed)


def _line(study: Any) -> StudyLine:
    marks = Mark.select().where(Mark.study == study).count()
    if marks:
        state = f"{marks} marks"
    elif Footage.select().where(Footage.study == study).exists():
        state = "footage, no marks yet"
    else:
        rows = [sheet.rows for sheet in Sheet.select().where(Sheet.study == study)]
        state = f"tables with {sum(rows)} rows" if any(rows) else "empty"
    edits = Edit.select(Edit.made_at).where(Edit.study == study)
    latest = edits.order_by(Edit.seq.desc()).first()
    changed = (latest or study).made_at.astimezone()
    group = study.group.name if study.group_id else None
    return StudyLine(study.id, study.title, group, state, f"{changed.day} {changed:%b %Y, %H:%M}")


def rename_study(study: Any, title: str) -> None:
    """Give a study another title.

    Raises
    ------
    Refused : for one that is empty or too long.
    """
    title = title.strip()
    if not 0 < len(title) <= _LONGEST_TITLE:
        raise Refused(f"A title has 1 to {_LONGEST_TITLE} characters.", field="title")
    study.title = title
    study.save(only=["title"])


def remove_study(study: Any) -> None:
    """Take a study out of sight; it can be taken back until it is tidied away."""
    study.removed_at = datetime.now(UTC)
    study.save(only=["removed_at"])


def take_back_study(person: Person, study_id: int) -> None:
    """Bring a removed study back.

    Raises
    ------
    NotThere : if the person has removed none of this key.
    """
    study = removed_studies(person).where(Study.id == study_id).first()
    if study is None:
        raise NotThere("There is no such study here; it may belong to another group.")
    study.removed_at = None
    study.save(only=["removed_at"])


def own_formulas(person: Person) -> list[str]:
    """Formulas that were fitted in the studies that somebody sees, the latest first."""
    studies = [study.id for study in visible_studies(person)]
    rows = Fit.select(Fit.formula).where(Fit.study.in_(studies) & Fit.formula.is_null(False))
    latest = rows.order_by(Fit.id.desc()).limit(_LOOKED_AT)
    return list(dict.fromkeys(row.formula for row in latest if row.formula))[:_FORMULAS]
