"""What an archive of a class needs to know of all its studies."""

from footing.store.rows import Study
from footing.store.sql import asked, columns, rows_of


def studies_of_class(class_id: int) -> list[Study]:
    """The studies of a class, what was handed in after what it was made of; removed ones not."""
    return rows_of(
        Study,
        f"SELECT {columns(Study)} FROM study WHERE school_class_id = %(of)s"
        " AND removed_at IS NULL ORDER BY frozen_from_id IS NOT NULL, id",
        of=class_id,
    )


def members_of(study_id: int) -> set[int]:
    """The keys of the students who worked on a study."""
    found = asked("SELECT student_id FROM study_member WHERE study_id = %(of)s", of=study_id)
    return {student for (student,) in found}
