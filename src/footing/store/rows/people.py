"""Who works here, and on what: teachers, classes, groups, labs and studies."""

from dataclasses import dataclass, field
from datetime import datetime
from typing import ClassVar

from typing_extensions import TypedDict

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
    joining : whether the code lets people in, and if so until when; own_groups : whether
    students choose their groups; hides_names : on the board
    shown_study_id : the study that everybody in the class looks at just now
    """

    id: int = NEW
    teacher_id: int
    name: str
    code: str
    series_look: SeriesRule = field(default_factory=SeriesRule)
    joining: bool = True
    joining_until: datetime | None = None
    own_groups: bool = True
    hides_names: bool = False
    shown_study_id: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class CoTeacher(Row):
    """Another teacher of a class, beside the one who made it."""

    id: int = NEW
    school_class_id: int
    teacher_id: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Invitation(Row):
    """By which one account is made: the hash of its token, who invites, and to which class.

    Without a teacher it is that of the first start.
    """

    id: int = NEW
    token_hash: str
    teacher_id: int | None = None
    school_class_id: int | None = None
    expires: datetime
    used_at: datetime | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Group(Row):
    """Students of a class who work together.

    dissolved_at : when groups were made anew, so that nobody is in it any more
    hand_at : since when they ask for help
    """

    id: int = NEW
    school_class_id: int
    name: str
    dissolved_at: datetime | None = None
    hand_at: datetime | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Student(Row):
    """A student of a class, in a group of it or in none.

    secret_hash : of a PIN or a picture code (``secret_kind``) by which they come back
    joined_at : None for a name on the teacher's list that nobody has taken yet
    """

    id: int = NEW
    school_class_id: int
    group_id: int | None = None
    name: str
    secret_hash: str | None = None
    secret_kind: str | None = None
    joined_at: datetime | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Lab(Row):
    """A task that a teacher sets for a class; ``task`` is its question.

    instructions : Markdown; due : until when it is wanted
    start_id : the study of which every group gets a copy to start from
    follows : whether bodies may be followed; sketch_first : whether a sketch is asked for before
    data are shown
    tells_meanings : whether fits say what their numbers mean; if not, students say it themselves
    tells_verdicts : whether ledgers say whether something is conserved; if not, students do
    """

    id: int = NEW
    school_class_id: int
    title: str
    task: str
    tells_meanings: bool = True
    tells_verdicts: bool = True
    instructions: str = ""
    due: datetime | None = None
    follows: bool = True
    sketch_first: bool = False
    start_id: int | None = None
    removed_at: datetime | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class LabFinding(Row):
    """A finding that a lab asks for.

    quantity : what it is, in words; accepted : with which it is compared, in ``unit``
    tolerance : how far from it is still well, in per cent; shown : whether students see these
    """

    id: int = NEW
    lab_id: int
    name: str
    quantity: str = ""
    unit: str = ""
    accepted: str | None = None
    tolerance: str | None = None
    shown: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class LabQuestion(Row):
    """A question of a lab that is answered in words; answers to one that was removed stay."""

    id: int = NEW
    lab_id: int
    words: str
    removed_at: datetime | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class SignIn(Row):
    """A session: the hash of a cookie's token, and who it stands for.

    study_link_id : of whoever has a link, and is nobody else
    """

    KEY: ClassVar[tuple[str, ...]] = ("token_hash",)

    token_hash: str
    teacher_id: int | None = None
    student_id: int | None = None
    study_link_id: int | None = None
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
    and it goes for good some weeks later. One with ``frozen_from_id`` is that study as it was
    handed in, and never changes.
    """

    id: int = NEW
    school_class_id: int
    lab_id: int | None = None
    group_id: int | None = None
    title: str
    seq: int = 0
    made_at: datetime
    removed_at: datetime | None = None
    frozen_from_id: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class StudyLink(Row):
    """By which whoever has it looks at a study, until it is closed."""

    id: int = NEW
    study_id: int
    teacher_id: int | None = None
    student_id: int | None = None
    made_at: datetime
    closed_at: datetime | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class StudyMember(Row):
    """A student who worked on a study, whatever group they are in now."""

    KEY: ClassVar[tuple[str, ...]] = ("study_id", "student_id")

    study_id: int
    student_id: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer(Row):
    """What a study answers to a question of its lab."""

    id: int = NEW
    study_id: int
    question_id: int
    words: str


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
