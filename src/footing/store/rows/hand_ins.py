"""What was handed in, and what is said about it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime

from typing_extensions import TypedDict

from footing.store.rows.base import NEW, Row


class FrozenBlock(TypedDict):
    """A block of a report as it was handed in: what it showed as HTML, with its pictures in it."""

    block: int
    kind: str
    number: str
    html: str


class FrozenNumber(TypedDict):
    """A number of a study as it was handed in, by what it is of.

    value, uncertainty, unit : of a finding that has a value; None and empty for all else
    """

    of: str
    name: str
    text: str
    value: float | None
    uncertainty: float | None
    unit: str


@dataclass(frozen=True, slots=True, kw_only=True)
class HandIn(Row):
    """A report that was handed in. What it was then never changes; the review of it does.

    copy_id : the study as it was, which nobody can change
    number : which one of the study; names : who worked on it; version : of Footing
    blocks, numbers : the report and the study's results as they were
    returned_at : since when students see the review; again : whether another one is asked for
    points : by key of a criterion; grade, words : as the teacher wrote them
    """

    id: int = NEW
    study_id: int
    copy_id: int
    number: int
    made_at: datetime
    teacher_id: int | None = None
    student_id: int | None = None
    person_name: str
    names: list[str] = field(default_factory=list)
    title: str
    late: bool = False
    version: str
    blocks: list[FrozenBlock] = field(default_factory=list)
    numbers: list[FrozenNumber] = field(default_factory=list)
    returned_at: datetime | None = None
    returned_by: str = ""
    again: bool = False
    points: Mapping[str, float] = field(default_factory=dict)
    grade: str = ""
    words: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Comment(Row):
    """What somebody says about a place of what was handed in, or as an answer to a comment.

    about : the place, by keys of the copy (`footing.studies.review.places`)
    quote : words of the report that it is about
    """

    id: int = NEW
    hand_in_id: int
    answers_id: int | None = None
    about: str = ""
    quote: str = ""
    words: str
    teacher_id: int | None = None
    student_id: int | None = None
    person_name: str
    made_at: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Criterion(Row):
    """By what hand-ins of a lab are judged; most : points that it gives at most."""

    id: int = NEW
    lab_id: int
    name: str
    most: float
