"""A document as data: what a report holds, before it becomes a page, a PDF or a text file.

Nothing here knows how it is drawn. Pictures are named, and whoever draws the document is told where
they are; formulas are MathML with the same in plain letters beside it.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field


@dataclass(frozen=True)
class Text:
    """Letters of a sentence."""

    text: str
    strong: bool = False
    emphasised: bool = False


@dataclass(frozen=True)
class Formula:
    """A formula within a sentence, or a line of its own."""

    mathml: str
    text: str


@dataclass(frozen=True)
class Value:
    """A number of the study that a sentence names; ``missing`` where there is none of this name."""

    name: str
    text: str
    missing: bool = False


@dataclass(frozen=True)
class Break:
    """The end of a line within a paragraph."""


LANGUAGE = "en"  # in which all that Footing says is
Run = Text | Formula | Value | Break
Runs = tuple[Run, ...]


@dataclass(frozen=True)
class Title:
    """The title of the document, who wrote it, and what it belongs to."""

    text: str
    names: tuple[str, ...]
    of: str


@dataclass(frozen=True)
class Heading:
    """A heading; level 2 is that of a section."""

    text: str
    level: int = 2


@dataclass(frozen=True)
class Paragraph:
    """A paragraph; ``quoted`` for words of somebody else, such as the question of a lab."""

    runs: Runs
    quoted: bool = False


@dataclass(frozen=True)
class Listing:
    """A list, numbered from ``first`` or with bullets."""

    items: tuple[Runs, ...]
    first: int | None = None


@dataclass(frozen=True)
class Equation:
    """A line of a calculation: a sentence and a formula, of which one may be missing."""

    said: str
    formula: Formula | None


@dataclass(frozen=True)
class Caption:
    """What stands with a figure or a table: ``Figure 2`` and words."""

    number: str
    text: str

    def __str__(self) -> str:
        """In one line."""
        return f"{self.number}. {self.text}" if self.text else self.number


@dataclass(frozen=True)
class Picture:
    """A figure.

    name : by which its picture is found
    alt : what is seen on it, for who does not see it
    ratio : height over width
    """

    name: str
    alt: str
    caption: Caption
    ratio: float


@dataclass(frozen=True)
class Grid:
    """A table; cells that hold numbers stand below each other.

    marked : rows that stand out, such as a total
    """

    headings: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    caption: Caption
    marked: frozenset[int] = frozenset()


@dataclass(frozen=True)
class Missing:
    """Something that was wanted and is not there, and why."""

    text: str


Part = Title | Heading | Paragraph | Listing | Equation | Picture | Grid | Missing


@dataclass(frozen=True)
class Document:
    """A whole document.

    title : as files and windows name it
    names : who wrote it
    """

    title: str
    names: tuple[str, ...]
    parts: Sequence[Part] = field(default_factory=tuple)


@dataclass(frozen=True)
class PictureData:
    """A picture as it goes into a file.

    raster : as PNG or JPEG; svg : where it is a drawing
    """

    raster: bytes
    media_type: str
    svg: str | None = None
