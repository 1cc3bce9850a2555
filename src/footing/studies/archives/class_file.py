"""A class as one open archive (format 1): its labs, groups, studies and what was handed in.

``class.json`` says what there is, as `ClassFile`; each study is ``studies/<n>.json`` as in its own
archive, what was handed in is ``hand_ins/<n>.json`` as `HandInFile`, and films and pictures are in
``media/`` once, however many studies use them. Students come as names on the new class's list,
without PINs: they take their names as on the first day."""

from typing import Annotated, Literal

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints

from footing.store.rows import (
    FrozenBlock,
    FrozenNumber,
)
from footing.studies.school.labs import AskedFinding, LabWords

FORMAT: Literal[1] = 1
CLASS, STUDIES, HAND_INS, WHAT = "class.json", "studies/", "hand_ins/", "class"
_MOST_STUDIES, _MOST_STUDENTS, _MOST_LABS = 5000, 500, 500
_Name = Annotated[str, StringConstraints(min_length=1, max_length=120)]
_Words = Annotated[str, StringConstraints(max_length=20_000)]


class _Strict(BaseModel):
    """What is said in a file, and nothing else."""

    model_config = ConfigDict(extra="forbid")


class CriterionFile(_Strict):
    """By what hand-ins are judged."""

    key: int
    name: _Name
    most: Annotated[float, Field(gt=0, allow_inf_nan=False)]


class LabOfClass(_Strict):
    """A lab; ``start`` is the number of the study that groups start from."""

    words: LabWords
    due: AwareDatetime | None = None
    findings: list[AskedFinding] = []
    questions: list[Annotated[str, StringConstraints(max_length=2000)]] = []
    criteria: list[CriterionFile] = []
    start: int | None = None


class GroupFile(_Strict):
    """A group; one that was dissolved has nobody in it any more."""

    name: _Name
    dissolved: bool = False


class StudentFile(_Strict):
    """A name on the list, and in which group, by its place among the groups."""

    name: _Name
    group: int | None = None


class StudyOfClass(_Strict):
    """A study: its number in ``studies/``, its lab, group and members by their places."""

    number: int
    lab: int | None = None
    group: int | None = None
    members: list[int] = []
    frozen_from: int | None = None


class CommentFile(_Strict):
    """A comment; ``answers`` is the place of the one that it answers."""

    about: Annotated[str, StringConstraints(max_length=80)] = ""
    quote: Annotated[str, StringConstraints(max_length=300)] = ""
    words: _Words
    by: _Name
    of_teacher: bool = False
    at: AwareDatetime
    answers: int | None = None


class HandInFile(_Strict):
    """What was handed in: the numbers of the study and of its copy, and what was said about it."""

    study: int
    copy_number: int
    number: int
    at: AwareDatetime
    by: _Name
    names: list[_Name] = []
    title: Annotated[str, StringConstraints(max_length=200)]
    late: bool = False
    version: Annotated[str, StringConstraints(max_length=40)]
    blocks: list[FrozenBlock] = []
    numbers: list[FrozenNumber] = []
    returned: AwareDatetime | None = None
    returned_by: Annotated[str, StringConstraints(max_length=120)] = ""
    again: bool = False
    points: dict[str, float] = {}
    grade: Annotated[str, StringConstraints(max_length=20)] = ""
    words: _Words = ""
    comments: list[CommentFile] = []


class ClassFile(_Strict):
    """What ``class.json`` holds; ``hand_ins`` is how many there are."""

    format: Literal[1]
    made_by: Annotated[str, StringConstraints(max_length=40)] = ""
    name: _Name
    hides_names: bool = False
    own_groups: bool = True
    students: Annotated[list[StudentFile], Field(max_length=_MOST_STUDENTS)] = []
    groups: Annotated[list[GroupFile], Field(max_length=_MOST_STUDENTS)] = []
    labs: Annotated[list[LabOfClass], Field(max_length=_MOST_LABS)] = []
    studies: Annotated[list[StudyOfClass], Field(max_length=_MOST_STUDIES)] = []
    hand_ins: Annotated[int, Field(ge=0, le=_MOST_STUDIES)] = 0
