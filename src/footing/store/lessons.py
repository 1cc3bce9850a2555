"""What a lesson needs to see at once: the studies of a lab, who works on them, raised hands."""

from dataclasses import dataclass
from datetime import datetime

from footing.store import tables
from footing.store.mapping import field_names
from footing.store.rows import Group, Study
from footing.store.sql import asked, columns, row_of, rows_of


@dataclass(frozen=True)
class AtWork:
    """A study of a lab with its group, who worked on it, and when it was changed last.

    token : of its latest edit
    """

    study: Study
    group: str | None
    members: tuple[str, ...]
    changed: datetime
    token: str | None
    hand_at: datetime | None


def studies_of_lab(lab_id: int) -> list[AtWork]:
    """The studies of a lab, without what groups start from and what was removed."""
    found = asked(
        f"""
        SELECT {columns(Study)}, student_group.name,
            ARRAY(SELECT name FROM study_member JOIN student ON student.id = student_id
                WHERE study_id = study.id ORDER BY name),
            coalesce(latest.made_at, study.made_at), latest.token, student_group.hand_at
        FROM study LEFT JOIN student_group ON student_group.id = study.group_id
        LEFT JOIN LATERAL (SELECT made_at, token FROM edit WHERE edit.study_id = study.id
            ORDER BY seq DESC LIMIT 1) AS latest ON true
        WHERE study.lab_id = %(of)s AND study.removed_at IS NULL
            AND study.frozen_from_id IS NULL AND NOT EXISTS (
            SELECT FROM lab WHERE lab.start_id = study.id)
        ORDER BY study.id
        """,
        of=lab_id,
    )
    width = len(field_names(Study))
    return [
        AtWork(row_of(Study, one[:width]), one[width], tuple(one[width + 1]), *one[width + 2 :])
        for one in found
    ]


def groups_with_members(class_id: int) -> list[Group]:
    """The groups of a class in which somebody is."""
    return rows_of(
        Group,
        f"SELECT {columns(Group)} FROM student_group"
        " WHERE school_class_id = %(of)s AND dissolved_at IS NULL"
        " AND EXISTS (SELECT FROM student WHERE group_id = student_group.id) ORDER BY lower(name)",
        of=class_id,
    )


def raise_hand(group_id: int, at: datetime | None) -> None:
    """Note since when a group asks for help; None when it was helped."""
    tables.Group.update(hand_at=at).where(tables.Group.id == group_id).execute()
