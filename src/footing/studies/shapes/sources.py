"""The sources of a study as data: films, pictures and sheets, and what is followed in them."""

from typing import TypedDict


class NamedKey(TypedDict):
    """Something by its key and name."""

    id: int
    name: str


class SourceLine(TypedDict):
    """One source in the list of sources."""

    id: int | str
    name: str
    kind: str
    content: str


class FootageShape(TypedDict):
    """A video or a picture on the stage. times : of each frame, s; has_time : a picture has none"""

    id: int
    kind: str
    has_time: bool
    content: str
    name: str
    width: int
    height: int
    frames: int
    first: int
    last: int
    stride: int
    notes: list[str]
    facts: list[list[str]]
    damaged: list[int]
    surveyed: bool
    moves_from: int | None
    times: list[float]


class SheetShape(TypedDict):
    """A sheet on the stage, without its cells.

    of_footage : its rows are moments of a footage
    """

    id: int
    kind: str
    of_footage: bool
    name: str
    footage: int | None
    rows: int
    asides: dict[str, str]


class FollowShape(TypedDict):
    """How far following is."""

    id: int
    footage: int
    bodies: list[int]
    first: int
    last: int
    at: int | None
    state: str
    said: str
    stop_level: float


class PassageShape(TypedDict):
    """A passage, in frames or rows."""

    id: int
    name: str
    first: float
    last: float
    text: str
