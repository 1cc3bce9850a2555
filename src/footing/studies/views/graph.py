"""The graphs of a source: what they show, the points that fill them, and their ranges.

Specification and data are sent beside each other, so that the specification stays the same while
marks are made; points, curves, axis ranges and the time cursor are replaced in place.
"""

from collections.abc import Sequence

from footing.core.axes import AxisRange
from footing.core.dimensions import NUMBER
from footing.core.reading import Variable
from footing.store.rows import NEW, Graph, SeriesRule
from footing.studies.model.columns import DataTable, Series, first_axes, series
from footing.studies.model.fits import FitResult
from footing.studies.model.looks import COLOURS, FORMS, LOOKS
from footing.studies.shapes.graphs import (
    GraphShape,
    LegendEntryShape,
    RangesShape,
    SeriesShape,
    SteadyShape,
)
from footing.studies.views.graph_ranges import Ranges, ranges_of
from footing.studies.views.graph_spec import main_spec, residual_spec
from footing.studies.views.guests import Guest

_MOST_POINTS = 4000  # of a series that are drawn
_POINT_SIZES = (0, 20, 42, 80, 130, 200)  # square pixels, by the size that was chosen


def axis_title(variables: Sequence[Variable]) -> str:
    """Names and unit: ``velocity y (m/s)``; each with its own unit where they differ."""
    if len({str(one.unit) for one in variables}) > 1:
        return ", ".join(_named(one) for one in variables)
    names = ", ".join(dict.fromkeys(one.name for one in variables))
    unit = str(variables[0].unit) if variables else ""
    return f"{names} ({unit})" if unit else names


def _named(variable: Variable) -> str:
    return f"{variable.name} ({variable.unit})" if str(variable.unit) else variable.name


def graphs_shown(
    stored: Sequence[Graph], keys: Sequence[str], tables: Sequence[DataTable]
) -> tuple[Graph, ...]:
    """The graphs of a source; one that follows from its columns before anybody chose."""
    if stored:
        return tuple(stored)
    x, ys = first_axes(keys, tables)
    return (Graph(study_id=NEW, x=x, ys=ys),) if ys else ()


def say_what_is_what(graph: GraphShape) -> None:
    """Make the legend: of all series and lines, where one must be told from another."""
    if not graph["legend"] or not (len(graph["series"]) > 1 or graph["lines"]):
        return
    by_name = {line["name"]: line for line in graph["lines"]}  # which may have several parts
    points: list[LegendEntryShape] = [
        {
            "name": one["name"],
            "colour": one["colour"],
            "path": one["path"],
            "hollow": one["hollow"],
            "dashed": False,
        }
        for one in graph["series"]
    ]
    lines: list[LegendEntryShape] = [
        {
            "name": name,
            "colour": one["colour"],
            "path": None,
            "hollow": False,
            "dashed": one["dashed"],
        }
        for name, one in by_name.items()
    ]
    graph["legend_entries"] = points + lines


def sketched(graph: Graph) -> list[list[float]]:
    """What was expected of the columns that are shown, as points."""
    said = graph.sketch
    fits = said.get("x") == graph.x and said.get("y") in graph.ys[:1]
    return said["line"] if fits else []


def graph_view(
    graph: Graph,
    tables: Sequence[DataTable],
    fits: Sequence[FitResult],
    *,
    look: SeriesRule | None = None,
    guests: Sequence[Guest] = (),
    predicted: Sequence[DataTable] = (),
    meanings: bool = True,
    sketch_first: bool = False,
) -> GraphShape:
    """A graph as it is shown: specification, data and ranges.

    ``predicted`` is what its axes have room for besides; its lines are put in by whoever knows
    them, and then what the legend says (`say_what_is_what`). Only fits of the columns on its axes
    are drawn; others belong to other graphs. ``look`` is how the class draws points where nobody
    chose; ``guests`` are series of other sheets. With ``sketch_first`` the points wait until
    something was sketched.
    """
    shown = [table for table in tables if table.owner.id not in graph.hidden]
    drawn = [
        (table, y, found)
        for table in shown
        for y in graph.ys
        if (found := series(table, graph.x, y)) is not None
    ]
    known = [*tables, *predicted]
    across = _variable(known, graph.x)
    ups = [one for y in graph.ys if (one := _variable(known, y)) is not None]
    axes = (across.unit if across else NUMBER, ups[0].unit if ups else NUMBER)
    visiting = [guest.points_in(*axes) for guest in guests]
    drawn += [(points.table, points.up.key, points) for points in visiting]
    of_fits = [
        fit
        for fit in fits
        if fit.row.x == graph.x and fit.row.y in graph.ys and fit.table.owner.id not in graph.hidden
    ]
    besides = [found for one in predicted for y in graph.ys if (found := series(one, graph.x, y))]
    ranges = ranges_of(graph, [found for _, _, found in drawn] + besides)
    own_titles = (graph.x_title, graph.y_title)
    by_themselves = (axis_title([across] if across else []), axis_title(ups))
    titles = tuple(own or made for own, made in zip(own_titles, by_themselves, strict=True))
    units = {str(one.unit) for one in ups}
    units |= {str(points.up.variable.unit) for points in visiting}
    widths = {str(axes[0])} | {str(points.across.variable.unit) for points in visiting}
    x_name = across.name if across else ""
    names = ", ".join(dict.fromkeys(one.name for one in ups))
    made_title = f"{_begun(names, ups)} against {x_name}" if names else ""
    many = len({table.owner.key for table, _, _ in drawn}) > 1
    return {
        "id": graph.id or None,
        "place": graph.place,
        "x": graph.x,
        "across": {"name": x_name, "unit": str(axes[0])},
        "ys": list(graph.ys),
        "include_zero": graph.include_zero,
        "own_title": graph.title or "",
        "title": graph.title or made_title,
        "error_bars": graph.error_bars,
        "hidden": list(graph.hidden),
        "looks": graph.looks,
        "others": list(graph.others),
        "typed_ranges": {
            "x": [end for end in (graph.x_low, graph.x_high) if end is not None],
            "y": [end for end in (graph.y_low, graph.y_high) if end is not None],
        },
        "x_title": titles[0],
        "y_title": titles[1],
        "own_axis_titles": [own or "" for own in own_titles],
        "axis_titles_made": list(by_themselves),
        "sketch": sketched(graph),
        "waits": sketch_first and not sketched(graph),
        "legend": graph.legend,
        "legend_entries": [],
        "mixed_units": len(units) > 1 or len(widths) > 1,
        "series": [
            _series_view(
                graph,
                table,
                y,
                found,
                place=place,
                many=many,
                rule=look or SeriesRule(),
                guest=place >= len(drawn) - len(visiting),
            )
            for place, (table, y, found) in enumerate(drawn)
        ],
        "lines": [],
        "asides": [
            {"number": number, "x": a, "y": b}
            for table in shown
            for y in graph.ys
            for number, a, b in table.asides_between(graph.x, y)
        ],
        "ranges": _ends(ranges.x, ranges.y),
        "steady": _steady(ranges, ups),
        "notes": _notes(graph, ranges, across, ups),
        "spec": main_spec(titles[0], titles[1]),
        "residual_spec": residual_spec(titles[0], _residual_title(units)),
        "drawn_fits": [fit.row.id for fit in of_fits],
        "guest_fits": [fit for guest in guests for fit in guest.fits_in(*axes, meanings=meanings)],
    }


def _variable(tables: Sequence[DataTable], key: str) -> Variable | None:
    found = (table.column(key) for table in tables)
    return next((column.variable for column in found if column is not None), None)


def _begun(names: str, variables: Sequence[Variable]) -> str:
    """Names as they begin a title; what is a symbol stays as it is written."""
    if variables and variables[0].name == variables[0].symbol:
        return names
    return names[:1].upper() + names[1:]


def _series_view(
    graph: Graph,
    table: DataTable,
    y: str,
    found: Series,
    *,
    place: int,
    many: bool,
    rule: SeriesRule,
    guest: bool,
) -> SeriesShape:
    """One series: how it is drawn, and its points; so many of them at most."""
    look = LOOKS[table.owner.look % len(LOOKS)]
    if table.owner.kind == "sheet" and many:  # sheets have no colour of their own
        look = LOOKS[place % len(LOOKS)]
    elif len(graph.ys) > 1 and not many:  # one body, several quantities: colours tell them apart
        look = LOOKS[(table.owner.look + graph.ys.index(y)) % len(LOOKS)]
    own = rule | graph.looks.get(y, SeriesRule())
    form = own.get("form") or ""
    every = -(-len(found.x) // _MOST_POINTS) or 1
    rows = zip(
        found.numbers.tolist(),
        found.x.tolist(),
        found.y.tolist(),
        found.x_errors.tolist(),
        found.y_errors.tolist(),
        strict=True,
    )
    name = found.up.variable.name
    return {
        "key": f"{table.owner.key}-{y}",
        "place": place,
        "owner": table.owner.key,
        "owner_id": table.owner.id,
        "owner_name": table.owner.name,
        "of": table.owner.named.fields,
        "x": found.across.key,
        "y": y,
        "name": f"{table.owner.name}: {name}" if many else name,
        "symbol": found.up.variable.symbol,
        "unit": str(found.up.variable.unit),
        "colour": COLOURS.get(own.get("colour") or "", look.colour),
        "path": FORMS.get(form, look.path),
        "hollow": form in ("ring", "cross", "plus") or (not form and found.up.hollow),
        "size": _POINT_SIZES[own.get("size", 2)],
        "joined": own.get("joined", "points"),
        "every": every,
        "points": [list(row) for row in list(rows)[::every]],
        "hits": table.numbers[table.hit_before].tolist(),
        "guest": guest,
        "band": False,
    }


def _ends(x: AxisRange, y: AxisRange) -> RangesShape:
    return {"x_low": x.low, "x_high": x.high, "y_low": y.low, "y_high": y.high}


def _steady(ranges: Ranges, ups: Sequence[Variable]) -> SteadyShape | None:
    """That the upper quantity hardly changes, what it is shown beside, and its close range."""
    if ranges.close is None:
        return None
    text = f"{_begun(ups[0].name, ups)} hardly changes; the axis is as long as for {ranges.beside}"
    return {"text": text, "beside": ranges.beside, "ranges": _ends(ranges.x, ranges.close)}


def _notes(
    graph: Graph,
    ranges: Ranges,
    across: Variable | None,
    ups: Sequence[Variable],
) -> list[str]:
    units = (str(across.unit) if across else "", str(ups[0].unit) if ups else "")
    starts = zip(("horizontal", "vertical"), units, (ranges.x, ranges.y), strict=True)
    return [
        f"{axis} axis starts at {one.note} {unit}".strip()
        for axis, unit, one in starts
        if one.note is not None and not (graph.include_zero and one.low <= 0 <= one.high)
    ]


def _residual_title(units: set[str]) -> list[str]:
    """In two lines, because the panel is low."""
    unit = next(iter(units), "") if len(units) == 1 else ""
    return ["residual", f"({unit})" if unit else ""]
