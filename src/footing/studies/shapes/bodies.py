"""Bodies and their marks as data."""

from typing import TypedDict

from footing.studies.shapes.tables import TableShape


class LaneShape(TypedDict):
    """A quantity over time: rows among the counting marks, values there, also as printed."""

    symbol: str
    unit: str
    rows: list[int]
    values: list[float]
    texts: list[str]


class OddShape(TypedDict):
    """A mark that is odd, and what is odd about it."""

    frame: int
    kind: str
    said: str


class AskedShape(TypedDict):
    """A stretch of frames that following left open; ``shown``: frame, x, y, quality of a few."""

    first: int
    last: int
    count: int
    proposed: int
    shown: list[list[float | None]]


class BodyHead(TypedDict):
    """A body and its marks. marks, ghosts : frame, x, y; doubts : frame, x, y, quality"""

    id: int
    name: str
    background: bool
    kind: str
    second_of: int | None
    members: list[int]
    problem: str | None
    look: int
    colour: str
    shape: str
    path: str
    mass: str
    mass_unit: str
    size: str
    size_unit: str
    spot: str
    first: int | None
    last: int | None
    stride: int | None
    marks: list[list[float]]
    qualities: dict[int, float]
    aside: list[int]
    reasons: dict[int, str]
    hidden: list[int]
    doubts: list[list[float | None]]
    asked: list[AskedShape]
    counting: list[int]
    odd: list[OddShape]
    ghosts: list[list[float]]


class BodyShape(BodyHead):
    """A body with those of its parts that are shown. vectors : row, dx, dy"""

    table: TableShape | None
    lanes: dict[str, LaneShape]
    vectors: dict[str, list[list[float]]]
