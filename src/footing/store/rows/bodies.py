"""Bodies, their marks, and how these were made."""

from dataclasses import dataclass
from datetime import datetime
from typing import ClassVar

from footing.store.rows.base import NEW, Row

_IN_A_FRAME = ("body_id", "frame")


@dataclass(frozen=True, slots=True, kw_only=True)
class Body(Row):
    """An object that is tracked. ``look`` numbers its colour and shape.

    background : a fixed spot that says how the camera moved
    kind : ``marked``; ``centre`` (of mass) or ``relative`` (the first of its members seen from the
        second), which have members instead of marks
    second_of_id : the body whose second spot this is; both together say how it turns
    first, last, stride : its own motion within the span; empty as in the span
    spot : which spot of it is marked, in words
    size : its diameter (of a rod its length), as typed, in ``size_unit``
    inertia_shape : what it is shaped like, for its moment of inertia
    inertia : its moment of inertia in kg m², as typed; by its shape if empty
    """

    id: int = NEW
    study_id: int
    footage_id: int
    name: str
    look: int
    mass: str | None = None
    mass_unit: str | None = None
    background: bool = False
    kind: str = "marked"
    second_of_id: int | None = None
    first: int | None = None
    last: int | None = None
    stride: int | None = None
    spot: str | None = None
    size: str | None = None
    size_unit: str | None = None
    inertia_shape: str | None = None
    inertia: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Member(Row):
    """A body that another, derived one is made from, in their order."""

    KEY: ClassVar[tuple[str, ...]] = ("body_id", "other_id")

    body_id: int
    other_id: int
    study_id: int
    place: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark(Row):
    """Where a body is in one frame, in pixels.

    On a picture ``frame`` is the point's number in the order of marking.

    quality : from 0 to 1 where it was made by following; empty where it was made by hand
    aside : set aside, because it is doubtful; it stays, but does not count
    reason : why it was, if somebody said so
    """

    KEY: ClassVar[tuple[str, ...]] = _IN_A_FRAME

    body_id: int
    frame: int
    study_id: int
    x: float
    y: float
    quality: float | None = None
    aside: bool = False
    reason: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class HiddenFrame(Row):
    """A frame in which somebody said that a body is hidden."""

    KEY: ClassVar[tuple[str, ...]] = _IN_A_FRAME

    body_id: int
    frame: int
    study_id: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Doubt(Row):
    """A frame that following left open, with what it would have marked, if anything."""

    KEY: ClassVar[tuple[str, ...]] = _IN_A_FRAME

    body_id: int
    frame: int
    study_id: int
    x: float | None = None
    y: float | None = None
    quality: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Follow(Row):
    """Following some bodies through frames, asked for by a person; done in the background.

    first, last : frames, both included; backwards where the first is larger
    stop_level : quality under which a frame is left open
    over_hand : whether marks made by hand are replaced, too
    reach, search : pixels of the patch and of the search area; chosen if empty
    state : ``waiting``, ``running``, ``paused``, ``stopped`` or ``done``
    at : the last frame that was looked at
    said : how it went
    """

    id: int = NEW
    study_id: int
    footage_id: int
    teacher_id: int | None = None
    student_id: int | None = None
    bodies: list[int]
    first: int
    last: int
    stop_level: float
    over_hand: bool = False
    reach: int | None = None
    search: int | None = None
    state: str = "waiting"
    at: int | None = None
    said: str | None = None
    asked_at: datetime
