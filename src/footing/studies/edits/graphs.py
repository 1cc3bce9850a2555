"""What the graphs show."""

from typing import Annotated, Any, Literal

from pydantic import Field, FiniteFloat, StringConstraints

from footing.core.errors import Refused
from footing.core.quantities import ON_A_PICTURE, ON_FOOTAGE, QUANTITIES
from footing.store.tables import (
    Footage,
    Graph,
    Sheet,
    SheetColumn,
)
from footing.studies.columns import default_axes
from footing.studies.edits.base import EditModel
from footing.studies.sheets import keys_of
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


class OfSource(EditModel):
    """Something that belongs to a footage or to a sheet."""

    footage: int | None = None
    sheet: int | None = None

    def source(self, work: Work) -> dict[str, Any]:
        """The row it belongs to, by the name of the column that refers to it."""
        if (self.footage is None) == (self.sheet is None):
            raise Refused("Name a footage or a sheet.", field="footage")
        if self.footage is not None:
            return {"footage": work.row(Footage, self.footage)}
        return {"sheet": work.row(Sheet, self.sheet or 0)}


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
        values: dict[str, Any] = {
            name: value
            for name in ("x", "ys", "include_zero", "error_bars", "hidden", "legend")
            if (value := getattr(self, name)) is not None
        }
        values |= {
            name: value or None
            for name in ("title", "x_title", "y_title")
            if (value := getattr(self, name)) is not None
        }
        if self.sketch is not None:
            values["sketch"] = self.sketch.model_dump() if self.sketch.line else {}
        if self.looks is not None:
            values["looks"] = {key: look.model_dump() for key, look in self.looks.items()}
        if self.others is not None:
            for other in self.others:
                sheet = work.row(Sheet, other.sheet)
                check_columns(work, {"sheet": sheet}, other.x, other.y)
            values["others"] = [other.model_dump() for other in self.others]
        for axis, limits in (("x", self.x_range), ("y", self.y_range)):
            if limits is not None:
                values |= _limits(axis, limits)
        present = graphs_of(work, source)
        if self.place < len(present):
            graph = present[self.place]
            _check_different(values.get("x", graph.x), values.get("ys", graph.ys))
            work.changes.update(graph, **values)
            return
        if self.place > 0 and not present:  # the graph that is shown by itself becomes a row
            work.changes.insert(Graph, **_untouched(work, source))
            present = graphs_of(work, source)
        self._insert(work, source, values, len(present), present[-1] if present else None)

    def _insert(
        self, work: Work, source: dict[str, Any], values: dict[str, Any], place: int, like: Any
    ) -> None:
        untouched = _untouched(work, source)
        if like is not None:  # stacked graphs have a common axis
            untouched |= {"x": like.x, "ys": list(like.ys)}
        chosen = untouched | values | {"place": place}
        if chosen["x"] == "" or not chosen["ys"]:
            raise Refused("Choose a column for each axis.", field="x")
        _check_different(chosen["x"], chosen["ys"])
        work.changes.insert(Graph, **chosen)


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
        source = {"footage": graph.footage_id} if graph.footage_id else {"sheet": graph.sheet_id}
        below = [one for one in graphs_of(work, source) if one.place > graph.place]
        work.changes.delete(graph)
        for one in below:
            work.changes.update(one, place=one.place - 1)


def graphs_of(work: Work, source: dict[str, Any]) -> list[Any]:
    """The graphs of a source, from the top."""
    return sorted(work.rows(Graph, **source), key=lambda graph: graph.place)


def _untouched(work: Work, source: dict[str, Any]) -> dict[str, Any]:
    """The first graph of a source as it is shown before anybody chose."""
    x, ys = _default_axes(work, source)
    owner: dict[str, Any] = {"footage": None, "sheet": None} | source
    return {
        "study": work.study_id,
        **owner,
        "place": 0,
        "x": x,
        "ys": ys,
        "include_zero": False,
        "title": None,
        "x_title": None,
        "y_title": None,
        **_limits("x", []),
        **_limits("y", []),
        "error_bars": False,
        "hidden": [],
        "looks": {},
        "others": [],
        "sketch": {},
        "legend": True,
    }


def _default_axes(work: Work, source: dict[str, Any]) -> tuple[str, list[str]]:
    if footage := source.get("footage"):
        picture = work.picture(footage).kind == "picture"
        return default_axes(ON_A_PICTURE if picture else ON_FOOTAGE)
    return default_axes(keys_of(source["sheet"]))


def _limits(axis: str, limits: list[float]) -> dict[str, Any]:
    if not limits:
        return {f"{axis}_low": None, f"{axis}_high": None}
    low, high = limits if len(limits) == 2 else (limits[0], limits[0])
    if not low < high:
        raise Refused(f"An axis cannot go from {low:g} to {high:g}.", field=f"{axis}_range")
    return {f"{axis}_low": low, f"{axis}_high": high}


def _check_different(x: str, ys: list[str]) -> None:
    if x in ys or len(set(ys)) < len(ys):
        raise Refused("Two axes show the same quantity; choose another for one.", field="y")


def check_columns(work: Work, source: dict[str, Any], *keys: str) -> None:
    """Refuse a column that a source does not have."""
    sheets: list[Any] = []
    measured: tuple[str, ...] = ()
    where = "This sheet"
    if footage := source.get("footage"):
        picture = work.picture(footage).kind == "picture"
        where = "A picture" if picture else "Footage"
        measured = ON_A_PICTURE if picture else ON_FOOTAGE
        sheets = work.rows(Sheet, footage=footage, kind="bodies")
    else:
        sheets = [source["sheet"]]
        measured = tuple(key for key in keys_of(source["sheet"]) if key == "t")
    own = {f"c{column.id}" for sheet in sheets for column in work.rows(SheetColumn, sheet=sheet)}
    for key in keys:
        if key not in measured and key not in own:
            name = QUANTITIES[key].name if key in QUANTITIES else f"column {key}"
            raise Refused(f"{where} gives no {name}.", field="y")
