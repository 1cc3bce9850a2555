"""Classes with their labs and studies, and where somebody left a study off."""

from dataclasses import dataclass, replace
from datetime import datetime

from footing.store import tables
from footing.store.access import Doer, works_on
from footing.store.mapping import field_names, for_insertion
from footing.store.records import change
from footing.store.rows import Lab, SchoolClass, Study, StudyPlace
from footing.store.sql import asked, columns, row_of, rows_of

_OWN = works_on()


@dataclass(frozen=True)
class Listed:
    """A study as lists show it, with how much is in it.

    rows : of all its sheets; changed : when it was changed last
    handed : what became of its report, in words; None where none was handed in
    """

    study: Study
    group: str | None
    marks: int
    footages: int
    rows: int
    changed: datetime
    handed: str | None


def classes_of(who: Doer) -> list[SchoolClass]:
    """The classes of a teacher, or the class of a student, by name."""
    statement = f"""
        SELECT {columns(SchoolClass)} FROM school_class
        WHERE id IN (SELECT school_class_id FROM teaches WHERE teacher_id = %(teacher)s)
            OR id = (SELECT school_class_id FROM student WHERE id = %(student)s)
        ORDER BY name, id
    """
    return rows_of(SchoolClass, statement, teacher=who.teacher_id, student=who.student_id)


def labs_of(class_id: int) -> list[Lab]:
    """The labs of a class, without those that were removed."""
    statement = (
        f"SELECT {columns(Lab)} FROM lab WHERE school_class_id = %(of)s AND removed_at IS NULL"
        " ORDER BY id"
    )
    return rows_of(Lab, statement, of=class_id)


def lab_seen_by(who: Doer, lab_id: int) -> Lab | None:
    """A lab of a class to which somebody belongs."""
    found = rows_of(
        Lab,
        f"SELECT {columns(Lab)} FROM lab WHERE id = %(lab)s AND removed_at IS NULL AND ("
        " school_class_id IN (SELECT school_class_id FROM teaches WHERE teacher_id = %(teacher)s)"
        " OR school_class_id = (SELECT school_class_id FROM student WHERE id = %(student)s))",
        lab=lab_id,
        teacher=who.teacher_id,
        student=who.student_id,
    )
    return found[0] if found else None


def listed_studies(class_id: int, who: Doer) -> list[Listed]:
    """The studies of a class that somebody may see, removed ones among them."""
    found = asked(
        f"""
        SELECT {columns(Study)}, student_group.name,
            (SELECT count(*) FROM mark WHERE mark.study_id = study.id),
            (SELECT count(*) FROM footage WHERE footage.study_id = study.id),
            (SELECT coalesce(sum(rows), 0) FROM sheet WHERE sheet.study_id = study.id),
            coalesce((SELECT made_at FROM edit WHERE edit.study_id = study.id
                ORDER BY seq DESC LIMIT 1), study.made_at),
            (SELECT CASE WHEN returned_at IS NULL THEN 'handed in' WHEN again
                THEN 'returned, asked for again' ELSE 'returned' END
                FROM hand_in WHERE hand_in.study_id = study.id ORDER BY number DESC LIMIT 1)
        FROM study LEFT JOIN student_group ON student_group.id = study.group_id
        WHERE study.school_class_id = %(of)s AND study.frozen_from_id IS NULL AND {_OWN}
            AND NOT EXISTS (
            SELECT FROM lab WHERE lab.start_id = study.id)
        ORDER BY study.id
        """,
        of=class_id,
        teacher=who.teacher_id,
        student=who.student_id,
    )
    width = len(field_names(Study))
    return [Listed(row_of(Study, values[:width]), *values[width:]) for values in found]


@dataclass(frozen=True)
class Picture:
    """A frame that shows what a lab is about."""

    study_id: int
    content: str
    frame: int


def pictures_of(class_id: int, who: Doer) -> dict[int, Picture]:
    """By lab, the first frame that counts of a clip in it that somebody may see.

    That is what groups start from, else the first study with one.
    """
    found = asked(
        f"""
        SELECT DISTINCT ON (study.lab_id) study.lab_id, study.id, footage.content, footage.first
        FROM study JOIN footage ON footage.study_id = study.id
        JOIN lab ON lab.id = study.lab_id
        WHERE study.school_class_id = %(of)s AND study.removed_at IS NULL
            AND study.frozen_from_id IS NULL AND {_OWN}
        ORDER BY study.lab_id, lab.start_id = study.id DESC NULLS LAST, footage.id
        """,
        of=class_id,
        teacher=who.teacher_id,
        student=who.student_id,
    )
    return {lab: Picture(study, content, frame) for lab, study, content, frame in found}


def removed_study(study_id: int, who: Doer) -> Study | None:
    """A study that was removed and somebody may take back."""
    found = rows_of(
        Study,
        f"SELECT {columns(Study)} FROM study"
        f" WHERE id = %(study)s AND removed_at IS NOT NULL AND {_OWN}",
        study=study_id,
        teacher=who.teacher_id,
        student=who.student_id,
    )
    return found[0] if found else None


def has_class(teacher_id: int) -> bool:
    """Whether a teacher has a class."""
    return bool(asked("SELECT FROM school_class WHERE teacher_id = %(of)s", of=teacher_id))


def any_class() -> SchoolClass | None:
    """The first class of all, or None."""
    found = rows_of(
        SchoolClass, f"SELECT {columns(SchoolClass)} FROM school_class ORDER BY id LIMIT 1"
    )
    return found[0] if found else None


def fitted_formulas(who: Doer, *, latest: int) -> list[str]:
    """The formulas of the latest fits in the studies that somebody sees, the latest first."""
    found = asked(
        f"""
        SELECT formula FROM fit JOIN study ON study.id = fit.study_id
        WHERE formula IS NOT NULL AND removed_at IS NULL AND {_OWN}
        ORDER BY fit.id DESC LIMIT %(latest)s
        """,
        teacher=who.teacher_id,
        student=who.student_id,
        latest=latest,
    )
    return [formula for (formula,) in found if formula]


def studies_of(class_id: int) -> list[tuple[int, int]]:
    """Key and number of the latest edit of each study of a class."""
    found = asked(
        "SELECT id, seq FROM study WHERE school_class_id = %(of)s AND frozen_from_id IS NULL",
        of=class_id,
    )
    return [(key, seq) for key, seq in found]


def latest_edit(study_id: int) -> int:
    """The number of a study's latest edit."""
    ((seq,),) = asked("SELECT seq FROM study WHERE id = %(study)s", study=study_id)
    return int(seq)


def place_of(study_id: int, who: Doer) -> StudyPlace | None:
    """Where somebody left a study off, or None."""
    found = rows_of(
        StudyPlace,
        f"SELECT {columns(StudyPlace)} FROM study_place WHERE study_id = %(study)s"
        " AND teacher_id IS NOT DISTINCT FROM %(teacher)s"
        " AND student_id IS NOT DISTINCT FROM %(student)s",
        study=study_id,
        teacher=who.teacher_id,
        student=who.student_id,
    )
    return found[0] if found else None


def note_place(place: StudyPlace) -> None:
    """Note where somebody is in a study; what was noted at the same moment elsewhere may stay."""
    present = place_of(place.study_id, place)
    if present is None:
        new = tables.StudyPlace.insert(**for_insertion(place, without=("id",)))
        new.on_conflict_ignore().execute()
    else:
        change(present, replace(place, id=present.id))
