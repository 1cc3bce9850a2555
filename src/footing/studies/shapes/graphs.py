"""Graphs and their series as data."""

from collections.abc import Mapping
from typing import TypedDict

from footing.store.rows import OtherSeries, SeriesRule
from footing.studies.shapes.fits import FitShape
from footing.studies.shapes.models import LineShape


class AcrossShape(TypedDict):
    """What stands on the horizontal axis."""

    name: str
    unit: str


class SeriesShape(TypedDict):
    """One series of a graph.

    points : number, x, y, ± of x, ± of y
    hits : numbers of points before which something hits: no line leads to them
    band : whether ± is an area
    """

    key: str
    place: int
    owner: str
    owner_id: int
    owner_name: str
    of: dict[str, int]
    x: str
    y: str
    name: str
    symbol: str
    unit: str
    colour: str
    path: str
    hollow: bool
    size: int
    joined: str
    every: int
    points: list[list[float]]
    hits: list[int]
    guest: bool
    band: bool


class LegendEntryShape(TypedDict):
    """What stands for a name: a point of this form, or a line where there is no ``path``."""

    name: str
    colour: str
    path: str | None
    hollow: bool
    dashed: bool


class AsidePointShape(TypedDict):
    """A point that is set aside."""

    number: int
    x: float
    y: float


class RangesShape(TypedDict):
    """Where the axes begin and end."""

    x_low: float
    x_high: float
    y_low: float
    y_high: float


class SteadyShape(TypedDict):
    """That the upper quantity hardly changes, what it is shown beside, and its close range."""

    text: str
    beside: str
    ranges: RangesShape


class GraphShape(TypedDict):
    """A graph: what it shows, its data and ranges; ``spec`` is Vega-Lite without data.

    lines : what models predict of its quantities
    waits : whether its points wait until what is expected was sketched
    legend : whether there is one where something must be told apart; legend_entries : what it says
    """

    id: int | None
    place: int
    x: str
    across: AcrossShape
    ys: list[str]
    include_zero: bool
    own_title: str
    title: str
    error_bars: bool
    hidden: list[int]
    looks: Mapping[str, SeriesRule]
    others: list[OtherSeries]
    typed_ranges: dict[str, list[float]]
    x_title: str
    y_title: str
    own_axis_titles: list[str]
    axis_titles_made: list[str]
    sketch: list[list[float]]
    waits: bool
    legend: bool
    legend_entries: list[LegendEntryShape]
    mixed_units: bool
    series: list[SeriesShape]
    lines: list[LineShape]
    asides: list[AsidePointShape]
    ranges: RangesShape
    steady: SteadyShape | None
    notes: list[str]
    spec: dict[str, object]
    residual_spec: dict[str, object]
    drawn_fits: list[int]
    guest_fits: list[FitShape]


class OtherSeriesShape(TypedDict):
    """What another sheet could show with a graph."""

    sheet: int
    x: str
    y: str
    name: str
    sheet_name: str
