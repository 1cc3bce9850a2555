"""What the graphs show."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, Literal, TypeVar

from pydantic import Field, FiniteFloat, StringConstraints

from footing.core.errors import Refused
from footing.core.quantities import QUANTITIES
from footing.store.rows import Footage, Graph, SeriesRule, Sheet
from footing.store.rows import OtherSeries as Other
from footing.store.rows import Sketch as Sketched
from footing.studies.edits.base import EditModel
from footing.studies.model.columns import first_axes
from footing.studies.model.energies import COLUMNS as ENERGIES
from footing.studies.model.sheets import key_of, keys_of
from footing.studies.model.sources import Sources
from footing.studies.work import Work

MOST_GRAPHS = 4
MOST_SERIES = 8
ColumnKey = Annotated[str, StringConstraints(pattern=r"^[a-z]{1,3}\d*$", max_length=12)]
Title = Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)]
ColourName = Literal["", "ink", "plum", "marigold", "teal", "navy", "olive", "rose"]
Range = Annotated[list[float], Field(max_length=2)]
_MOST_POINTS = 20_000


class SeriesLook(EditModel):
    """How the points of a column are drawn."""

    form: Literal["", "disc", "ring", "cross", "plus", "square", "triangle"] = ""
    size: Annotated[int, Field(ge=1, le=5)] = 2
    joined: Literal["points", "line", "both"] = "points"
    colour: ColourName = ""

    @property
    def stored(self) -> SeriesRule:
        """As it is kept."""
        return {
            "form": self.form,
            "size": self.size,
            "joined": self.joined,
            "colour": self.colour,
        }


class OtherSeries(EditModel):
    """A series of another sheet."""

    sheet: int
    x: ColumnKey
    y: ColumnKey


class Sketch(EditModel):
    """A curve that was drawn by hand before the data were shown; without points there is none."""

    x: ColumnKey
    y: ColumnKey
    line: Annotated[list[tuple[FiniteFloat, FiniteFloat]], Field(max_length=2000)]

    @property
    def stored(self) -> Sketched:
        """As it is kept; nothing without a line."""
        if not self.line:
            return {}
        return {"x": self.x, "y": self.y, "line": [list(point) for point in self.line]}


class OfSource(EditModel):
    """Something that belongs to a footage or to a sheet."""

    footage: int | None = None
    sheet: int | None = None

    def source(self, work: Work) -> Footage | Sheet:
        """The source it belongs to."""
        if (self.footage is None) == (self.sheet is None):
            raise Refused("Name a footage or a sheet.", field="footage")
        if self.footage is not None:
            return work.row(Footage, self.footage)
        return work.row(Sheet, self.sheet or 0)


class SetGraph(OfSource):
    """Choose what one of the graphs of a source shows, and how; what is left out stays.

    place : which graph, from 0 on; the place behind the last one makes a new graph
    ys : the columns on the vertical axis
    x_range, y_range : typed limits; an empty list lets them follow from the data
    hidden : bodies that are not shown
    others : series of other sheets that are shown with them
    x_title, y_title : labels of the axes; empty for those that follow from the columns
    sketch : what was expected before the data were seen
    """

    kind: Literal["set_graph"] = "set_graph"
    place: Annotated[int, Field(ge=0, lt=MOST_GRAPHS)] = 0
    x: ColumnKey | None = None
    ys: Annotated[list[ColumnKey], Field(min_length=1, max_length=MOST_SERIES)] | None = None
    include_zero: bool | None = None
    title: Title | None = None
    x_title: Title | None = None
    y_title: Title | None = None
    x_range: Range | None = None
    y_range: Range | None = None
    error_bars: bool | None = None
    hidden: Annotated[list[int], Field(max_length=200)] | None = None
    looks: dict[ColumnKey, SeriesLook] | None = None
    others: Annotated[list[OtherSeries], Field(max_length=MOST_SERIES)] | None = None
    sketch: Sketch | None = None
    legend: bool | None = None

    @property
    def label(self) -> str:
        """In the history."""
        return "the graph" if self.x is None and self.ys is None else "what the graph shows"

    def apply(self, work: Work) -> None:
        """Change the graph; a source has its first one from the first change on."""
        source = self.source(work)
        check_columns(work, source, *(self.ys or []), *([self.x] if self.x else []))
        present = work.rows.graphs_of(source)
        if self.place < len(present):
            work.changes.update(self._chosen(work, present[self.place]))
            return
        new = _untouched(work, source)
        if self.place > 0 and not present:  # the graph that is shown by itself becomes a row
            present = (work.changes.insert(new),)
        new = replace(new, place=len(present))
        if present:  # stacked graphs have a common axis
            new = replace(new, x=present[-1].x, ys=list(present[-1].ys))
        work.changes.insert(self._chosen(work, new))

    def _chosen(self, work: Work, graph: Graph) -> Graph:
        """A graph with what is chosen here."""
        x = graph.x if self.x is None else self.x
        ys = graph.ys if self.ys is None else list(self.ys)
        if x == "" or not ys:
            raise Refused("Choose a column for each axis.", field="x")
        if x in ys or len(set(ys)) < len(ys):
            raise Refused("Two axes show the same quantity; choose another for one.", field="y")
        x_limits, y_limits = (graph.x_low, graph.x_high), (graph.y_low, graph.y_high)
        if self.x_range is not None:
            x_limits = _limits("x_range", self.x_range)
        if self.y_range is not None:
            y_limits = _limits("y_range", self.y_range)
        return replace(
            graph,
            x=x,
            ys=ys,
            include_zero=_given(self.include_zero, graph.include_zero),
            title=_titled(self.title, graph.title),
            x_title=_titled(self.x_title, graph.x_title),
            y_title=_titled(self.y_title, graph.y_title),
            x_low=x_limits[0],
            x_high=x_limits[1],
            y_low=y_limits[0],
            y_high=y_limits[1],
            error_bars=_given(self.error_bars, graph.error_bars),
            hidden=_given(self.hidden, graph.hidden),
            looks=graph.looks if self.looks is None else _stored_looks(self.looks),
            others=graph.others if self.others is None else self._others(work, self.others),
            sketch=graph.sketch if self.sketch is None else self.sketch.stored,
            legend=_given(self.legend, graph.legend),
        )

    def _others(self, work: Work, others: list[OtherSeries]) -> list[Other]:
        for other in others:
            check_columns(work, work.row(Sheet, other.sheet), other.x, other.y)
        return [{"sheet": other.sheet, "x": other.x, "y": other.y} for other in others]


class RemoveGraph(EditModel):
    """Take a graph away; its fits stay with their series."""

    kind: Literal["remove_graph"] = "remove_graph"
    graph: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a graph"

    def apply(self, work: Work) -> None:
        """Remove it; those below move up."""
        graph = work.row(Graph, self.graph)
        graphs = work.rows.graphs_of(work.rows.source_of(graph))
        work.changes.delete(graph)
        for other in graphs:
            if other.place > graph.place:
                work.changes.update(replace(other, place=other.place - 1))


def _untouched(work: Work, source: Footage | Sheet) -> Graph:
    """The first graph of a source as it is shown before anybody chose."""
    of_footage = isinstance(source, Footage)
    tables = Sources(work.rows).footage(source).tables if isinstance(source, Footage) else []
    x, ys = first_axes(_columns_by_themselves(work, source), tables)
    return Graph(
        study_id=work.study_id,
        footage_id=source.id if of_footage else None,
        sheet_id=None if of_footage else source.id,
        x=x,
        ys=ys,
    )


def _columns_by_themselves(work: Work, source: Footage | Sheet) -> tuple[str, ...]:
    """The columns that a source has before anybody computed any."""
    if isinstance(source, Sheet):
        return keys_of(source, work.rows.columns_of(source))
    return work.kind(source).columns


_Value = TypeVar("_Value")


def _given(value: _Value | None, otherwise: _Value) -> _Value:
    return otherwise if value is None else value


def _titled(title: str | None, otherwise: str | None) -> str | None:
    """A typed title; an empty one follows from the columns again."""
    return otherwise if title is None else title or None


def _stored_looks(looks: Mapping[str, SeriesLook]) -> dict[str, SeriesRule]:
    return {key: look.stored for key, look in looks.items()}


def _limits(field: str, limits: list[float]) -> tuple[float | None, float | None]:
    if not limits:
        return None, None
    low, high = limits if len(limits) == 2 else (limits[0], limits[0])
    if not low < high:
        raise Refused(f"An axis cannot go from {low:g} to {high:g}.", field=field)
    return low, high


def check_columns(work: Work, source: Footage | Sheet, *keys: str) -> None:
    """Refuse a column that a source does not have."""
    own = {*_columns_by_themselves(work, source)}
    where = "This sheet"
    if isinstance(source, Footage):
        where = work.kind(source).name
        own |= {key_of(column) for column in work.rows.columns_of(source)}
        own |= set(ENERGIES) if work.kind(source).has_time else set()
    for key in keys:
        if key not in own:
            named = QUANTITIES.get(key) or ENERGIES.get(key)
            name = named.name if named else f"column {key}"
            raise Refused(f"{where} gives no {name}.", field="y")
