"""Which pictures a report needs, as plain data from which they can be made anywhere."""

import hashlib
import json
from dataclasses import dataclass
from functools import cached_property
from typing import Any

Spec = dict[str, Any]


@dataclass(frozen=True)
class GraphFigure:
    """A graph, by its whole specification with its data."""

    spec: Spec

    @cached_property
    def version(self) -> str:
        """Names what it shows."""
        return _digest(json.dumps(self.spec, sort_keys=True, default=str))


@dataclass(frozen=True)
class FrameFigure:
    """A frame of a footage with what is drawn over it.

    content : of the file; over : SVG elements in pixels of the picture
    matrix, width, height : how the picture is turned, and how large it is then
    """

    footage: int
    content: str
    frame: int
    over: str
    matrix: tuple[float, float, float, float, float, float]
    width: int
    height: int
    of_width: int
    of_height: int

    @cached_property
    def version(self) -> str:
        """Names what it shows."""
        return _digest(repr((self.content, self.frame, self.over, self.matrix)))


@dataclass(frozen=True)
class StrobeFigure:
    """A body where it was in each of its frames, or in each so manieth.

    marks : frame and place of each mark
    """

    body: int
    content: str
    every: int
    marks: tuple[tuple[float, float, float], ...]

    @cached_property
    def version(self) -> str:
        """Names what it shows."""
        return _digest(repr((self.content, self.every, self.marks)))


Figure = GraphFigure | FrameFigure | StrobeFigure


def _digest(text: str) -> str:
    return hashlib.sha256(text.encode()).hexdigest()[:16]
