"""Who is signed in, and which study they may see: asked with every request."""

from dataclasses import dataclass
from datetime import datetime
from typing import Protocol

from footing.store.mapping import field_names
from footing.store.rows import Group, Lab, SchoolClass, SignIn, Student, Study, Teacher
from footing.store.sql import asked, columns, optional, row_of


class Doer(Protocol):
    """Somebody who does something: a teacher or a student, by key."""

    @property
    def teacher_id(self) -> int | None:
        """The key of a teacher."""

    @property
    def student_id(self) -> int | None:
        """The key of a student."""


class Looker(Doer, Protocol):
    """Somebody who looks at something: a doer, or whoever has a link."""

    @property
    def link_id(self) -> int | None:
        """The key of a link by which a study is looked at."""


@dataclass(frozen=True)
class ClassStudy:
    """A study with the class, the lab and the group that it belongs to.

    mine : whether whoever asked may change it; otherwise they may look at it
    """

    row: Study
    school_class: SchoolClass
    lab: Lab | None
    group: Group | None
    mine: bool = True

    @property
    def id(self) -> int:
        """Its key."""
        return self.row.id

    @property
    def title(self) -> str:
        """Its title."""
        return self.row.title

    @property
    def is_frozen(self) -> bool:
        """Whether it is what somebody handed in, which nobody changes."""
        return self.row.frozen_from_id is not None


_SIGNED_IN = f"""
    SELECT {columns(SignIn)}, {columns(Teacher)}, {columns(Student)} FROM sign_in
    LEFT JOIN teacher ON teacher.id = sign_in.teacher_id
    LEFT JOIN student ON student.id = sign_in.student_id
    WHERE token_hash = %(token_hash)s AND expires > %(now)s AND used_at > %(used_after)s
"""


def works_on(*, teacher: str = "%(teacher)s", student: str = "%(student)s") -> str:
    """The condition under which a teacher or a student may change ``study``, as SQL."""
    return f"""(study.school_class_id IN (SELECT school_class_id FROM teaches
            WHERE teaches.teacher_id = {teacher})
        OR study.group_id = (SELECT group_id FROM student WHERE student.id = {student})
        OR EXISTS (SELECT FROM study_member WHERE study_member.study_id = study.id
            AND study_member.student_id = {student}))"""


def _is_shown(student: str) -> str:
    """The condition under which everybody in a student's class looks at ``study``, as SQL."""
    return f"""(school_class.shown_study_id = study.id AND school_class.id =
        (SELECT school_class_id FROM student WHERE student.id = {student}))"""


def _by_link(link: str) -> str:
    """The condition under which a link shows ``study``, as SQL."""
    return f"""EXISTS (SELECT FROM study_link WHERE study_link.id = {link}
        AND study_link.study_id = study.id AND study_link.closed_at IS NULL)"""


_SEES_FILE = f"""
    SELECT count(*) > 0, count(*) FILTER (WHERE EXISTS (
        SELECT FROM footage JOIN study ON study.id = footage.study_id
        JOIN school_class ON school_class.id = study.school_class_id
        WHERE study.id = %(study)s AND footage.content = %(content)s AND study.removed_at IS NULL
        AND ({works_on(teacher="sign_in.teacher_id", student="sign_in.student_id")}
            OR {_is_shown("sign_in.student_id")}
            OR {_by_link("sign_in.study_link_id")}))) > 0
    FROM sign_in
    WHERE token_hash = %(token_hash)s AND expires > %(now)s AND used_at > %(used_after)s
"""
_JOINED = """
    JOIN school_class ON school_class.id = study.school_class_id
    LEFT JOIN lab ON lab.id = study.lab_id AND lab.removed_at IS NULL
    LEFT JOIN student_group ON student_group.id = study.group_id
"""
_PARTS = f"{columns(Study)}, {columns(SchoolClass)}, {columns(Lab)}, {columns(Group)}"
_STUDY = f"SELECT {_PARTS}, true FROM study {_JOINED} WHERE study.id = %(study)s"
_VISIBLE = f"""
    SELECT {_PARTS}, coalesce({works_on()}, false) AND study.frozen_from_id IS NULL
    FROM study {_JOINED}
    WHERE study.id = %(study)s AND study.removed_at IS NULL
    AND ({works_on()} OR {_is_shown("%(student)s")} OR {_by_link("%(link)s")})
"""


def session(
    token_hash: str, *, now: datetime, used_after: datetime
) -> tuple[SignIn, Teacher | None, Student | None] | None:
    """A session that is neither over nor long unused, and whose it is; None if there is none."""
    found = asked(_SIGNED_IN, token_hash=token_hash, now=now, used_after=used_after)
    if not found:
        return None
    (values,) = found
    first = len(field_names(SignIn))
    second = first + len(field_names(Teacher))
    return (
        row_of(SignIn, values[:first]),
        optional(Teacher, values[first:second]),
        optional(Student, values[second:]),
    )


def sees_file(
    token_hash: str, study_id: int, content: str, *, now: datetime, used_after: datetime
) -> tuple[bool, bool]:
    """Whether a session stands, and whether it may see a file as a source of a study.

    One question, because frames are asked for more often than anything else.
    """
    ((stands, sees),) = asked(
        _SEES_FILE,
        token_hash=token_hash,
        study=study_id,
        content=content,
        now=now,
        used_after=used_after,
    )
    return stands, sees


def study_seen_by(who: Looker, study_id: int) -> ClassStudy | None:
    """A study if it is there for somebody: theirs, or shown to their whole class."""
    return _study(
        _VISIBLE,
        study=study_id,
        teacher=who.teacher_id,
        student=who.student_id,
        link=who.link_id,
    )


def class_study(study_id: int) -> ClassStudy | None:
    """A study, whoever asks."""
    return _study(_STUDY, study=study_id)


def _study(statement: str, **named: object) -> ClassStudy | None:
    found = asked(statement, **named)
    if not found:
        return None
    parts, begin = [], 0
    for kind in (Study, SchoolClass, Lab, Group):
        end = begin + len(field_names(kind))
        parts.append(found[0][begin:end])
        begin = end
    return ClassStudy(
        row_of(Study, parts[0]),
        row_of(SchoolClass, parts[1]),
        optional(Lab, parts[2]),
        optional(Group, parts[3]),
        mine=found[0][-1],
    )
