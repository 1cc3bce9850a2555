"""What the graphs show, and the fits on them."""

from typing import Annotated, Any, Literal

from pydantic import Field, FiniteFloat, StringConstraints

from footing.core.curves import CurveKey, own_curve
from footing.core.errors import Refused
from footing.core.quantities import ON_A_PICTURE, ON_FOOTAGE, QUANTITIES
from footing.core.units import read_number
from footing.store.tables import (
    Body,
    Finding,
    Fit,
    Footage,
    Graph,
    Passage,
    Sheet,
    SheetColumn,
    Study,
)
from footing.studies.columns import default_axes
from footing.studies.edits.base import EditModel, Typed
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
    hidden: list[int] | None = None
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
        _check_columns(work, source, *(self.ys or []), *([self.x] if self.x else []))
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
                _check_columns(work, {"sheet": sheet}, other.x, other.y)
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


class GivenParameter(EditModel):
    """What is said about a parameter, as typed: where to start or what it is, and its bounds."""

    value: Typed = ""
    fixed: bool = False
    low: Typed = ""
    high: Typed = ""

    def check(self, name: str) -> None:
        """Refuse what is no number."""
        for text in (self.value, self.low, self.high):
            if text:
                read_number(text, field=name)
        if self.fixed and not self.value:
            raise Refused(f"Type the value at which {name} is held.", field=name)
        if self.low and self.high:
            low, high = (read_number(text, field=name).value for text in (self.low, self.high))
            if low >= high:
                raise Refused(f"The bounds of {name} leave no room.", field=name)


class Fitting(EditModel):
    """What is fitted, and over which points; without passages and points over all of them."""

    curve: CurveKey
    formula: Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)] = ""
    passages: Annotated[tuple[int, ...], Field(max_length=20)] = ()
    points: Annotated[list[int], Field(max_length=_MOST_POINTS)] | None = None
    given: dict[str, GivenParameter] = Field(default_factory=dict)

    def values(self, work: Work) -> dict[str, Any]:
        """The columns, once checked."""
        if self.curve == "own":
            own_curve(self.formula)
        for name, given in self.given.items():
            given.check(name)
        for passage in self.passages:
            work.row(Passage, passage)
        return {
            "curve": self.curve,
            "formula": self.formula or None if self.curve == "own" else None,
            "passages": list(self.passages),
            "points": self.points,
            "given": {name: given.model_dump() for name, given in self.given.items()},
        }


class AddFit(Fitting):
    """Fit a curve to the y of a body or a sheet against its x."""

    kind: Literal["add_fit"] = "add_fit"
    body: int | None = None
    sheet: int | None = None
    x: ColumnKey
    y: ColumnKey

    @property
    def label(self) -> str:
        """In the history."""
        return f"{self.curve.replace('_', ' ')} fit"

    def apply(self, work: Work) -> None:
        """Add the fit; whether there are points enough is told where its result is shown."""
        if self.x == self.y:
            raise Refused("A quantity cannot be fitted against itself.", field="y")
        if (self.body is None) == (self.sheet is None):
            raise Refused("Name a body or a sheet.", field="body")
        owner: dict[str, Any]
        if self.body is not None:
            body = work.row(Body, self.body)
            owner = {"body": body, "sheet": None}
            _check_columns(work, {"footage": body.footage}, self.x, self.y)
        else:
            sheet = work.row(Sheet, self.sheet or 0)
            owner = {"body": None, "sheet": sheet}
            _check_columns(work, {"sheet": sheet}, self.x, self.y)
        values = self.values(work)
        work.changes.insert(
            Fit,
            study=work.study_id,
            x=self.x,
            y=self.y,
            label=None,
            colour=None,
            box=None,
            dashed=bool(class_of(work).series_look.get("dashed")),
            **owner,
            **values,
        )


class ChangeFit(Fitting):
    """Choose another curve or other points for a fit; its series stays."""

    kind: Literal["change_fit"] = "change_fit"
    fit: int
    label_text: Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)] = ""
    dashed: bool = False
    colour: ColourName = ""

    @property
    def label(self) -> str:
        """In the history."""
        return f"{self.curve.replace('_', ' ')} fit"

    def apply(self, work: Work) -> None:
        """Change the fit."""
        work.changes.update(
            work.row(Fit, self.fit),
            label=self.label_text or None,
            dashed=self.dashed,
            colour=self.colour or None,
            **self.values(work),
        )


class PlaceBox(EditModel):
    """Move the box with the results of a fit to where it hides no points.

    x, y : of its upper left corner, as shares of the graph's width and height
    """

    kind: Literal["place_box"] = "place_box"
    fit: int
    x: Annotated[float, Field(ge=0, le=1)]
    y: Annotated[float, Field(ge=0, le=1)]

    @property
    def label(self) -> str:
        """In the history."""
        return "a result box"

    def apply(self, work: Work) -> None:
        """Keep the place."""
        work.changes.update(work.row(Fit, self.fit), box=[self.x, self.y])


class RemoveFit(EditModel):
    """Remove a fit with the findings read from it."""

    kind: Literal["remove_fit"] = "remove_fit"
    fit: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a fit"

    def apply(self, work: Work) -> None:
        """Remove what rests on it first."""
        remove_fit(work, work.row(Fit, self.fit))


def class_of(work: Work) -> Any:
    """The class that a study belongs to."""
    return Study.get_by_id(work.study_id).school_class


def graphs_of(work: Work, source: dict[str, Any]) -> list[Any]:
    """The graphs of a source, from the top."""
    return sorted(work.rows(Graph, **source), key=lambda graph: graph.place)


def remove_fit(work: Work, fit: Any) -> None:
    """Remove a fit's findings, then the fit."""
    for finding in work.rows(Finding, fit=fit):
        remove_finding(work, finding)
    work.changes.delete(fit)


def remove_finding(work: Work, finding: Any) -> None:
    """Remove a finding; what was compared with it is not any more."""
    for other in work.rows(Finding, other=finding):
        work.changes.update(other, other=None)
    work.changes.delete(finding)


def remove_fits_of(work: Work, *, sheet: Any = None, column: str | None = None) -> None:
    """Remove the fits of a sheet, or those that use a column."""
    for fit in work.rows(Fit):
        if (sheet is not None and fit.sheet_id == sheet.id) or column in (fit.x, fit.y):
            remove_fit(work, fit)


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


def _check_columns(work: Work, source: dict[str, Any], *keys: str) -> None:
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
