"""Who works here, and on what: teachers, classes, groups, labs and studies."""

from dataclasses import dataclass, field
from datetime import datetime
from typing import ClassVar, TypedDict

from footing.store.rows.base import NEW, Row


class SeriesRule(TypedDict, total=False):
    """How points of a series are drawn, by choice of a class or a graph; dashed for its fits."""

    form: str
    size: int
    joined: str
    colour: str
    dashed: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Teacher(Row):
    """A teacher; without a password hash nobody can sign in as them by password."""

    id: int = NEW
    name: str
    password_hash: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class SchoolClass(Row):
    """A class of a teacher, with the code by which its students join.

    series_look : how points are drawn where nobody chose
    """

    id: int = NEW
    teacher_id: int
    name: str
    code: str
    series_look: SeriesRule = field(default_factory=SeriesRule)


@dataclass(frozen=True, slots=True, kw_only=True)
class Group(Row):
    """Students of a class who work together."""

    id: int = NEW
    school_class_id: int
    name: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Student(Row):
    """A student in a group."""

    id: int = NEW
    group_id: int
    name: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Lab(Row):
    """A task that a teacher sets for a class.

    tells_meanings : whether fits say what their numbers mean; if not, students say it themselves
    tells_verdicts : whether ledgers say whether something is conserved; if not, students do
    """

    id: int = NEW
    school_class_id: int
    title: str
    task: str
    tells_meanings: bool = True
    tells_verdicts: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class SignIn(Row):
    """A session: the hash of a cookie's token, and who it stands for."""

    KEY: ClassVar[tuple[str, ...]] = ("token_hash",)

    token_hash: str
    teacher_id: int | None = None
    student_id: int | None = None
    expires: datetime
    used_at: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class FailedSignIn(Row):
    """A sign-in that failed: the name that was tried, and from which address."""

    id: int = NEW
    name: str
    address: str
    at: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Study(Row):
    """The work of a group (or of the class's teacher, without a group) on a lab or a question.

    ``seq`` is the number of the latest edit. Where ``removed_at`` is set nobody sees it any more,
    and it goes for good some weeks later.
    """

    id: int = NEW
    school_class_id: int
    lab_id: int | None = None
    group_id: int | None = None
    title: str
    seq: int = 0
    made_at: datetime
    removed_at: datetime | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class StudyPlace(Row):
    """Where somebody left a study off: the step, the source on the stage, frame and body."""

    id: int = NEW
    study_id: int
    teacher_id: int | None = None
    student_id: int | None = None
    step: str
    source: str | None = None
    frame: int | None = None
    body: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class SigningKey(Row):
    """With what links are signed."""

    id: int = NEW
    key: str
