"""Columns of numbers, whatever they come from: what tables show, graphs plot and fits use.

A `DataTable` is a body with its measured columns and those computed from them, or a sheet. Its rows
are named by numbers: the frames of a body, the rows of a sheet.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal, Protocol

import numpy as np

from footing.core.arrays import FloatArray, IntArray
from footing.core.covariances import Covariance
from footing.core.reading import Variable
from footing.studies.model.keys import OwnerKey

_TELLS = 0.5  # of the way across, from which the way up is what tells most

SharedMarks = Callable[[IntArray], Covariance]


@dataclass(frozen=True)
class DataColumn:
    """One column.

    key : ``vx`` of a measured column, ``c12`` of one of a sheet
    rows : (m,) places in the table that have a value
    values, uncertainties : (m,) in the unit of ``variable``
    at_end : (m,) true for values taken off-centre at the end of a stretch
    covariance : how some of the values depend on each other, up to a common factor; None if not
    hollow : whether its points are drawn hollow, as those of a second component
    shared : by source that all rows have in common, the change (m,) with one standard uncertainty
        of it; of all lengths and all times with a change by their whole
    stated : whether the uncertainties come from what somebody stated
    by_marks : by what the errors are of, how all rows rest on them: sparse (rows of the table, k)
    """

    key: str
    variable: Variable
    rows: IntArray
    values: FloatArray
    uncertainties: FloatArray
    at_end: Any
    covariance: SharedMarks | None = None
    hollow: bool = False
    shared: Mapping[str, FloatArray] = field(default_factory=dict)
    stated: bool = False
    by_marks: Callable[[], Mapping[str, Any]] | None = None


@dataclass(frozen=True)
class Owner:
    """What a table belongs to: a body or a sheet."""

    kind: Literal["body", "sheet"]
    id: int
    name: str
    look: int

    @property
    def named(self) -> OwnerKey:
        """The key by which the page names it."""
        return OwnerKey(self.kind, self.id)

    @property
    def key(self) -> str:
        """The same as it is written: ``b7`` or ``s3``."""
        return str(self.named)


class DataTable(Protocol):
    """A table of numbers."""

    @property
    def owner(self) -> Owner:
        """What it belongs to."""

    @property
    def numbers(self) -> IntArray:
        """The number of each row: its frame, or its row from 1."""

    @property
    def keys(self) -> tuple[str, ...]:
        """Its columns, in their order."""

    def column(self, key: str) -> DataColumn | None:
        """A column, or None where the table has none of this key."""

    def asides_between(self, x: str, y: str) -> list[tuple[int, float, float]]:
        """Number, x and y of what is set aside, and stays visible."""

    @property
    def hit_before(self) -> IntArray:
        """Rows before which something hits: no derivative, fit or mean crosses into them."""


@dataclass(frozen=True)
class Series:
    """The points of a table for a pair of columns, in the order of its rows.

    numbers : (m,) frame or row of each point
    """

    table: DataTable
    across: DataColumn
    up: DataColumn
    numbers: IntArray
    x: FloatArray
    y: FloatArray
    x_errors: FloatArray
    y_errors: FloatArray
    places: IntArray  # in the column up
    places_across: IntArray

    def chosen(self, which: Any) -> "Series":
        """Some of the points."""
        return Series(
            self.table,
            self.across,
            self.up,
            self.numbers[which],
            self.x[which],
            self.y[which],
            self.x_errors[which],
            self.y_errors[which],
            self.places[which],
            self.places_across[which],
        )

    def shared(self, source: str) -> tuple[FloatArray, FloatArray]:
        """How x and y of the points change with a source that all have in common."""
        zeros = np.zeros(len(self.x))
        across, up = self.across.shared.get(source), self.up.shared.get(source)
        return (
            zeros if across is None else across[self.places_across],
            zeros if up is None else up[self.places],
        )

    @property
    def sources(self) -> list[str]:
        """What the points have in common."""
        return list(dict.fromkeys((*self.across.shared, *self.up.shared)))

    def with_moved(self, moved: Mapping[int, tuple[float, float]]) -> "Series":
        """The same with some points elsewhere."""
        x, y = self.x.copy(), self.y.copy()
        for place, number in enumerate(self.numbers):
            x[place], y[place] = moved.get(int(number), (x[place], y[place]))
        return replace(self, x=x, y=y)

    @property
    def stated_errors(self) -> tuple[FloatArray, FloatArray] | None:
        """The uncertainties of x and y that the points do not share; None where none is stated.

        Of an axis on which none is stated they are 0.
        """
        if not self.up.stated:
            return None
        return (
            self._own_errors(self.across, self.x_errors, self.places_across),
            self._own_errors(self.up, self.y_errors, self.places),
        )

    @staticmethod
    def _own_errors(column: DataColumn, errors: FloatArray, places: IntArray) -> FloatArray:
        if not column.stated:
            return np.zeros(len(errors))
        common = sum(by[places] ** 2 for by in column.shared.values())
        return np.asarray(np.sqrt(np.maximum(errors**2 - common, 0.0)), dtype=float)

    @property
    def parted(self) -> tuple[int, int] | None:
        """Between which two numbers something hits, where the points lie on both sides of that."""
        numbers = np.sort(self.numbers)
        for hit in self.table.numbers[self.table.hit_before]:
            place = int(np.searchsorted(numbers, hit))
            if 0 < place < len(numbers):
                return int(numbers[place - 1]), int(numbers[place])
        return None

    @property
    def covariance(self) -> Covariance | None:
        """Covariance of y up to a factor; None where the values are independent."""
        of = self.up.covariance
        return None if of is None else of(self.places)


def series(table: DataTable, x: str, y: str) -> Series | None:
    """The points that have both values; None where the table has not both columns."""
    across, up = table.column(x), table.column(y)
    if across is None or up is None:
        return None
    common, in_x, in_y = np.intersect1d(across.rows, up.rows, return_indices=True)
    good = np.isfinite(across.values[in_x]) & np.isfinite(up.values[in_y])
    common, in_x, in_y = common[good], in_x[good], in_y[good]
    return Series(
        table,
        across,
        up,
        table.numbers[common],
        across.values[in_x],
        up.values[in_y],
        across.uncertainties[in_x],
        up.uncertainties[in_y],
        in_y,
        in_x,
    )


def default_axes(keys: Sequence[str]) -> tuple[str, list[str]]:
    """What a graph shows before anybody chose: y against time, the shape on a picture, else the
    second column against the first.
    """
    if "y" in keys:
        return ("t" if "t" in keys else "x"), ["y"]
    others = list(keys[1:])
    if keys and keys[0] == "t":  # of a sheet read by eye: the readings, not the frames
        others = others[1:]
    return (keys[0], others[:1]) if others else ("", [])


def first_axes(keys: Sequence[str], tables: Sequence[DataTable]) -> tuple[str, list[str]]:
    """What a graph shows before anybody chose: of a motion the coordinate that tells most."""
    x, ys = default_axes(keys)
    return (x, ["x"]) if (x, ys) == ("t", ["y"]) and _moves_across(tables) else (x, ys)


def _moves_across(tables: Sequence[DataTable]) -> bool:
    """Whether the way across tells more of a motion than the way up.

    A fall and a throw are told by their height, though they may go further across.
    """
    across, up = (longest([table.column(key) for table in tables]) for key in ("x", "y"))
    return up < _TELLS * across


def longest(columns: Sequence[DataColumn | None]) -> float:
    """The longest way that one of some columns goes."""
    return max(
        (float(np.ptp(one.values)) for one in columns if one is not None and len(one.values)),
        default=0.0,
    )
