"""What was handed in, who may see it, and what was said about it."""

from footing.store import tables
from footing.store.access import Doer, works_on
from footing.store.rows import Comment, Criterion, HandIn, Study
from footing.store.sql import asked, columns, rows_of

_HAND_IN = columns(HandIn)
_FEW = 40  # remarks that somebody made before


def seen_by(who: Doer, hand_in_id: int) -> HandIn | None:
    """What was handed in, if it is of somebody's study or class."""
    found = rows_of(
        HandIn,
        f"SELECT {_HAND_IN} FROM hand_in JOIN study ON study.id = hand_in.study_id"
        f" WHERE hand_in.id = %(of)s AND study.removed_at IS NULL AND {works_on()}",
        of=hand_in_id,
        teacher=who.teacher_id,
        student=who.student_id,
    )
    return found[0] if found else None


def of_study(study_id: int) -> list[HandIn]:
    """All that was handed in of a study, from the first on."""
    return rows_of(
        HandIn,
        f"SELECT {_HAND_IN} FROM hand_in WHERE study_id = %(of)s ORDER BY number",
        of=study_id,
    )


def of_copy(copy_id: int) -> HandIn | None:
    """What was handed in, by the study as it was then."""
    found = rows_of(HandIn, f"SELECT {_HAND_IN} FROM hand_in WHERE copy_id = %(of)s", of=copy_id)
    return found[0] if found else None


def latest_of_lab(lab_id: int) -> list[HandIn]:
    """The latest that each study of a lab handed in, by the names of who did."""
    return rows_of(
        HandIn,
        f"""
        SELECT DISTINCT ON (hand_in.study_id) {_HAND_IN} FROM hand_in
        JOIN study ON study.id = hand_in.study_id
        WHERE study.lab_id = %(of)s AND study.removed_at IS NULL
        ORDER BY hand_in.study_id, hand_in.number DESC
        """,
        of=lab_id,
    )


def group_names(lab_id: int) -> dict[int, str]:
    """By study of a lab, the name of its group."""
    found = asked(
        "SELECT study.id, student_group.name FROM study JOIN student_group"
        " ON student_group.id = study.group_id WHERE study.lab_id = %(of)s",
        of=lab_id,
    )
    return dict(found)


def comments_on(hand_in_id: int) -> list[Comment]:
    """What was said about something that was handed in, from the first on."""
    return rows_of(
        Comment,
        f"SELECT {columns(Comment)} FROM comment WHERE hand_in_id = %(of)s ORDER BY id",
        of=hand_in_id,
    )


def remarks_of(teacher_id: int) -> list[str]:
    """What a teacher said before, what they said most often first."""
    found = asked(
        "SELECT words FROM comment WHERE teacher_id = %(of)s AND answers_id IS NULL"
        f" GROUP BY words ORDER BY count(*) DESC, max(id) DESC LIMIT {_FEW}",
        of=teacher_id,
    )
    return [words for (words,) in found]


def remove_comment(comment: Comment) -> None:
    """Take back what was said, with the answers to it."""
    tables.Comment.delete().where(tables.Comment.id == comment.id).execute()


def criteria_of(lab_id: int) -> list[Criterion]:
    """By what hand-ins of a lab are judged."""
    return rows_of(
        Criterion,
        f"SELECT {columns(Criterion)} FROM criterion WHERE lab_id = %(of)s ORDER BY id",
        of=lab_id,
    )


def remove_criterion(criterion: Criterion) -> None:
    """Judge by it no more; points that were given by it do not count any more."""
    tables.Criterion.delete().where(tables.Criterion.id == criterion.id).execute()


def note_same_members(study: Study, copy_id: int) -> None:
    """Those who worked on a study worked on its copy."""
    asked(
        "INSERT INTO study_member (study_id, student_id)"
        " SELECT %(copy)s, student_id FROM study_member WHERE study_id = %(of)s RETURNING 1",
        copy=copy_id,
        of=study.id,
    )
