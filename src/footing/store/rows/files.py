"""Videos and pictures, how they came in, and where a study uses them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import ClassVar

from pydantic import JsonValue
from typing_extensions import TypedDict

from footing.store.rows.base import NEW, Row


class Surveyed(TypedDict, total=False):
    """What looking through all frames of a file found.

    damaged, repeated : frames; moves_from : the first frame in which something moves
    problem : why it could not be looked through
    """

    damaged: list[int]
    repeated: list[int]
    moves_from: int | None
    problem: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Media(Row):
    """An uploaded file, known by the SHA-256 of its content, with its index.

    The size of its picture and the number of its frames stand beside the index, because every mark
    is checked against them.

    kind : ``video`` or ``picture``
    survey : what looking through all frames found; empty until that was done
    """

    KEY: ClassVar[tuple[str, ...]] = ("content",)

    content: str
    size: int
    frames: int
    width: int
    height: int
    index: Mapping[str, JsonValue]
    kind: str
    survey: Surveyed | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class PhoneLink(Row):
    """A link by which a phone may send files into a study, in the name of who made it."""

    id: int = NEW
    study_id: int
    teacher_id: int | None = None
    student_id: int | None = None
    expires: datetime
    revoked: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Upload(Row):
    """A file that is arriving, or has arrived.

    size : bytes announced; replaces : the footage whose file it takes the place of
    state : ``arriving``, ``used`` or ``refused`` (with the reason); made : the footage
    """

    id: str
    study_id: int
    teacher_id: int | None = None
    student_id: int | None = None
    link_id: int | None = None
    name: str
    size: int
    replaces: int | None = None
    state: str = "arriving"
    reason: str | None = None
    made: int | None = None
    started_at: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Footage(Row):
    """A video or a picture that a study measures on, with its span and stride.

    content : of its file
    digits : by the key of a measured column, how many digits are shown and of which kind
    highlighted : keys of measured columns that are to be seen first
    """

    id: int = NEW
    study_id: int
    content: str
    name: str
    first: int
    last: int
    stride: int
    digits: Mapping[str, Sequence[int | str]] = field(default_factory=dict)
    highlighted: list[str] = field(default_factory=list)
