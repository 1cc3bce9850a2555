"""Sheets, their columns and cells, and quantities of a study."""

from dataclasses import dataclass, field
from datetime import datetime
from typing import ClassVar

from footing.store.rows.base import NEW, Row


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet(Row):
    """Columns of numbers.

    kind : ``typed`` for a table of its own; ``eye`` for one whose rows are moments of a footage,
        read by eye
    rows : how many rows it has
    """

    id: int = NEW
    study_id: int
    footage_id: int | None = None
    kind: str = "typed"
    name: str
    rows: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class AnyColumn(Row):
    """What columns have in common, of sheets or of bodies; no key is that of two columns.

    place : its order; symbol : what formulas call it; unit : as printed
    formula : what it is computed by; empty for a typed column
    digits, digits_as : how many are shown, as ``decimals`` or ``significant``; as in the data if
        empty
    scatter, seed : of practice data, the size of what is added by chance, as typed
    """

    id: int = NEW
    study_id: int
    place: int
    name: str
    symbol: str
    unit: str
    formula: str | None = None
    digits: int | None = None
    digits_as: str | None = None
    scatter: str | None = None
    seed: int | None = None
    highlighted: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetColumn(AnyColumn):
    """A column of a sheet.

    uncertainty : of each value, as typed, in the unit; that of the last digit if empty
    blocks : the cells of a typed column, so many in each block, by the key of `Cells`
    """

    sheet_id: int
    uncertainty: str | None = None
    blocks: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class BodyColumn(AnyColumn):
    """A column that is computed for every body of a footage."""

    footage_id: int


@dataclass(frozen=True, slots=True, kw_only=True)
class RowAside(Row):
    """A row of a sheet that is set aside, and why; it stays, but does not count."""

    KEY: ClassVar[tuple[str, ...]] = ("sheet_id", "row")

    sheet_id: int
    row: int
    study_id: int
    reason: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class StudyQuantity(Row):
    """A quantity of the study that formulas can name: a mass, an angle, g; as typed."""

    id: int = NEW
    study_id: int
    symbol: str
    name: str
    typed: str
    unit: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Cells(Row):
    """Cells as they were typed, one a line, compressed; known by their hash and never changed.

    wrong : place (from 0) and text of each cell that is no number; null where nobody looked yet
    """

    KEY: ClassVar[tuple[str, ...]] = ("key",)

    key: str
    texts: bytes
    wrong: list[tuple[int, str]] | None = None
    made_at: datetime
