"""Columns and quantities as data, with what is said about them."""

from typing import TypedDict

Pieces = list[list[str]]  # a formula as letters with what stands below each


class TableColumnShape(TypedDict, total=False):
    """What stands above a column of a body's table; ``computed`` where somebody made it."""

    key: str
    name: str
    symbol: str
    subscript: str
    unit: str
    digits: int | None
    digits_as: str
    highlighted: bool
    computed: bool
    note: str


class TableShape(TypedDict):
    """A body's table: printed cells by rows, and which rows of each column are at an end."""

    columns: list[TableColumnShape]
    rows: list[list[str]]
    end_rows: list[list[int]]


class ColumnHead(TypedDict):
    """A column that somebody made, as it stands."""

    id: int
    key: str
    name: str
    symbol: str
    shown_symbol: str
    unit: str
    formula: str | None
    highlighted: bool
    digits: int | None
    digits_as: str
    uncertainty: str
    scatter: str
    seed: int
    problem: str | None
    units_differ: bool
    notes: list[str]
    echo: str | None
    shown_unit: str
    own_unit: str


class ColumnShape(ColumnHead, total=False):
    """A column; ``span``: where its formula is wrong."""

    span: tuple[int, int] | None


class QuantityShape(TypedDict):
    """What a graph can show."""

    key: str
    name: str
    symbol: str


class StudyQuantityShape(TypedDict):
    """A quantity of the study that formulas can name."""

    id: int
    symbol: str
    shown_symbol: str
    name: str
    typed: str
    unit: str
    own_unit: str
