"""Labs and studies to choose from, and starting a new study."""

import secrets
from dataclasses import dataclass, replace
from datetime import UTC, datetime

from footing.core.errors import NotThere, Refused
from footing.store import classes, records
from footing.store.access import ClassStudy
from footing.store.classes import Listed
from footing.store.rows import SchoolClass, Study
from footing.studies.school.people import Person

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
    return [_class_part(row, person) for row in classes.classes_of(person)]


def first_class(teacher: Person, name: str) -> None:
    """Give a teacher a class, if they have none yet."""
    if not classes.has_class(teacher.id):
        code = "-".join("".join(secrets.choice(_LETTERS) for _ in range(4)) for _ in range(2))
        records.add(SchoolClass(teacher_id=teacher.id, name=name, code=code))


def start_study(person: Person, class_id: int, *, lab_id: int | None) -> int:
    """Start an empty study: of the student's group, or of the class's teacher.

    Raises
    ------
    NotThere : if the class or the lab is not the person's.
    """
    if class_id not in {row.id for row in classes.classes_of(person)}:
        raise NotThere("There is no such class here.")
    lab = next((lab for lab in classes.labs_of(class_id) if lab.id == lab_id), None)
    if lab_id is not None and lab is None:
        raise NotThere("There is no such lab in this class.")
    study = Study(
        school_class_id=class_id,
        lab_id=lab_id,
        group_id=classes.group_of(person.id) if person.role == "student" else None,
        title=lab.title if lab else "A question of our own",
        made_at=datetime.now(UTC),
    )
    return records.add(study).id


def _class_part(row: SchoolClass, person: Person) -> ClassPart:
    listed = classes.listed_studies(row.id, person)
    studies = [one for one in listed if one.study.removed_at is None]
    gone = [(one.study.removed_at, one) for one in listed if one.study.removed_at is not None]
    gone.sort(key=lambda pair: pair[0], reverse=True)
    parts = [
        LabPart(
            lab.id,
            lab.title,
            lab.task,
            tuple(_line(one) for one in studies if one.study.lab_id == lab.id),
        )
        for lab in classes.labs_of(row.id)
    ]
    own = tuple(_line(one) for one in studies if one.study.lab_id is None)
    parts.append(LabPart(None, "Questions of our own", "Anything that moves.", own))
    return ClassPart(row.id, row.name, tuple(parts), tuple(_line(one) for _, one in gone))


def _line(listed: Listed) -> StudyLine:
    if listed.marks:
        state = f"{listed.marks} marks"
    elif listed.footages:
        state = "footage, no marks yet"
    else:
        state = f"tables with {listed.rows} rows" if listed.rows else "empty"
    changed = listed.changed.astimezone()
    study = listed.study
    return StudyLine(
        study.id, study.title, listed.group, state, f"{changed.day} {changed:%b %Y, %H:%M}"
    )


def rename_study(study: ClassStudy, title: str) -> None:
    """Give a study another title.

    Raises
    ------
    Refused : for one that is empty or too long.
    """
    title = title.strip()
    if not 0 < len(title) <= _LONGEST_TITLE:
        raise Refused(f"A title has 1 to {_LONGEST_TITLE} characters.", field="title")
    records.change(study.row, replace(study.row, title=title))


def remove_study(study: ClassStudy) -> None:
    """Take a study out of sight; it can be taken back until it is tidied away."""
    records.change(study.row, replace(study.row, removed_at=datetime.now(UTC)))


def take_back_study(person: Person, study_id: int) -> None:
    """Bring a removed study back.

    Raises
    ------
    NotThere : if the person has removed none of this key.
    """
    study = classes.removed_study(study_id, person)
    if study is None:
        raise NotThere("There is no such study here; it may belong to another group.")
    records.change(study, replace(study, removed_at=None))


def own_formulas(person: Person) -> list[str]:
    """Formulas that were fitted in the studies that somebody sees, the latest first."""
    return list(dict.fromkeys(classes.fitted_formulas(person, latest=_LOOKED_AT)))[:_FORMULAS]
