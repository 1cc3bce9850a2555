"""What labs give and ask for, and how far a class is with them."""

from dataclasses import dataclass

from footing.store import tables
from footing.store.records import fetch
from footing.store.rows import Lab, LabFinding, LabQuestion, Study
from footing.store.sql import asked, columns, rows_of


@dataclass(frozen=True)
class LabTask:
    """A lab with the findings that it asks for and its questions, in their order."""

    lab: Lab
    findings: tuple[LabFinding, ...]
    questions: tuple[LabQuestion, ...]


def task_of(lab: Lab) -> LabTask:
    """All that a lab asks for."""
    found = rows_of(
        LabFinding,
        f"SELECT {columns(LabFinding)} FROM lab_finding WHERE lab_id = %(of)s ORDER BY id",
        of=lab.id,
    )
    words = rows_of(
        LabQuestion,
        f"SELECT {columns(LabQuestion)} FROM lab_question"
        " WHERE lab_id = %(of)s AND removed_at IS NULL ORDER BY id",
        of=lab.id,
    )
    return LabTask(lab, tuple(found), tuple(words))


def task_of_study(study_id: int) -> LabTask | None:
    """What the lab of a study asks for; None for a study without a lab."""
    found = rows_of(
        Lab,
        f"SELECT {columns(Lab)} FROM lab JOIN study ON study.lab_id = lab.id"
        " WHERE study.id = %(study)s AND lab.removed_at IS NULL",
        study=study_id,
    )
    return task_of(found[0]) if found else None


def is_asked(study_id: int, question_id: int) -> bool:
    """Whether the lab of a study asks a question."""
    return bool(
        asked(
            "SELECT FROM lab_question JOIN study USING (lab_id) WHERE study.id = %(study)s"
            " AND lab_question.id = %(question)s AND lab_question.removed_at IS NULL",
            study=study_id,
            question=question_id,
        )
    )


def remove_finding(finding: LabFinding) -> None:
    """Ask no more for a finding; what studies have recorded stays."""
    tables.LabFinding.delete().where(tables.LabFinding.id == finding.id).execute()


def start_of(lab: Lab) -> Study | None:
    """The study of which groups get a copy, if there is one."""
    return fetch(Study, lab.start_id) if lab.start_id is not None else None
