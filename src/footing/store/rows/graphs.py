"""Graphs, passages, fits and findings."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from typing_extensions import TypedDict

from footing.store.rows.base import NEW, Row
from footing.store.rows.people import SeriesRule


class OtherSeries(TypedDict):
    """A series of another sheet that a graph shows, by the keys of its columns."""

    sheet: int
    x: str
    y: str


class Sketch(TypedDict, total=False):
    """What was expected before the data were seen: of which columns, and a line as points."""

    x: str
    y: str
    line: list[list[float]]


class GivenParameter(TypedDict):
    """What is said about a parameter, as typed: where to start or what it is, and its bounds."""

    value: str
    fixed: bool
    low: str
    high: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Passage(Row):
    """A named stretch of a footage, in frame numbers (halves allowed), or of the rows of a sheet.

    Both ends are included. Rows count from 1.
    """

    id: int = NEW
    study_id: int
    footage_id: int | None = None
    sheet_id: int | None = None
    name: str
    first: float
    last: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Graph(Row):
    """What is plotted against what, on one of the graphs of a source.

    place : its order among those of the source, from the top
    x, ys : keys of columns; as many ys as there are series
    title, x_title, y_title : empty for those that follow from the columns
    x_low … y_high : typed limits, empty where they follow from the data
    hidden : bodies that are not shown
    looks : how series are drawn, by the key of the column
    others : series of other sheets that are shown with them
    sketch : what was expected before the data were seen
    legend : whether it says what stands for what
    """

    id: int = NEW
    study_id: int
    footage_id: int | None = None
    sheet_id: int | None = None
    place: int = 0
    x: str
    ys: list[str]
    include_zero: bool = False
    title: str | None = None
    x_title: str | None = None
    y_title: str | None = None
    x_low: float | None = None
    x_high: float | None = None
    y_low: float | None = None
    y_high: float | None = None
    error_bars: bool = False
    hidden: list[int] = field(default_factory=list)
    looks: Mapping[str, SeriesRule] = field(default_factory=dict)
    others: list[OtherSeries] = field(default_factory=list)
    sketch: Sketch = field(default_factory=Sketch)
    legend: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Fit(Row):
    """A curve through a series: the y of a body or a sheet against its x.

    curve, formula : a named curve, or ``own`` with its formula
    passages : those it goes over; all points if there are none
    points : frames or rows that were selected instead
    weights : ``equal``, or ``stated`` by the uncertainties that the values come with
    given : what is said about parameters, by their name
    digits : how many significant ones its numbers are shown with; as their uncertainties have if
        empty
    label : what it is called on the graph; dashed, colour : how its line is drawn
    box : where on the graph its results stand, as shares of its width and height; by itself if
        empty
    """

    id: int = NEW
    study_id: int
    body_id: int | None = None
    sheet_id: int | None = None
    x: str
    y: str
    curve: str
    formula: str | None = None
    passages: list[int] = field(default_factory=list)
    points: list[int] | None = None
    weights: str = "equal"
    given: Mapping[str, GivenParameter] = field(default_factory=dict)
    digits: int | None = None
    label: str | None = None
    dashed: bool = False
    colour: str | None = None
    box: list[float] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding(Row):
    """A result, and what it is compared with.

    fit_id, reading : read from a fit, by the key of the reading
    formula : computed from the parameters of the fit and from quantities and findings of the study
    symbol : by which formulas call it
    unit : in which a computed one is wanted; the one that follows if empty
    column_id : of whose values it is the mean
    model_id : the predicted motion that it is read from, or whose parameters its formula names
    other_id : a second finding that it is compared with
    """

    id: int = NEW
    study_id: int
    fit_id: int | None = None
    reading: str | None = None
    formula: str | None = None
    symbol: str | None = None
    unit: str | None = None
    column_id: int | None = None
    model_id: int | None = None
    other_id: int | None = None
    name: str
    as_size: bool
    accepted: str | None = None
    accepted_uncertainty: str | None = None
    highlighted: bool = False
