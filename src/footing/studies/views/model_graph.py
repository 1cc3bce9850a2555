"""Predicted motions on graphs: their lines beside what was measured and sketched of the same."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from footing.core.dimensions import Unit
from footing.store.rows import NEW, Graph, OtherSeries
from footing.studies.model.columns import DataTable, first_axes
from footing.studies.model.predicted_table import (
    PREDICTED,
    Lengths,
    PredictedTable,
    tables_of,
)
from footing.studies.model.prediction import Prediction
from footing.studies.model.predictions import Predictions
from footing.studies.model.sources import FootageSource, SheetSource
from footing.studies.shapes.graphs import GraphShape
from footing.studies.shapes.models import LineShape
from footing.studies.views.graph import graph_view, say_what_is_what
from footing.studies.views.guests import Guest, guests_of

_SPRUCE, _OCHRE, _SOFT = "#1F5B4A", "#8F5A00", "#5C665F"
# colour and whether dashed, by the order of the models
MODEL_LOOKS = [(colour, dashed) for colour in (_SPRUCE, _OCHRE, _SOFT) for dashed in (False, True)]
_DIGITS = 6  # of a place that is drawn
PATH_OF, MOST = "path", "most"  # among the graphs: y against x, and what tells most


def lengths_of(source: FootageSource | None) -> Lengths:
    """In what predictions over a source are shown."""
    if source is None or source.ground.metres is None:
        return Lengths()
    ground, metres = source.ground, source.ground.metres
    angle = ground.ground.up
    x, y = ground.axes.matrix @ (np.cos(angle), np.sin(angle))
    at_zero = ground.axes.to_world(np.array([ground.height_zero]), ground.flattening)[0]
    zero = -float(at_zero @ np.array([x, y])) * metres
    return Lengths(ground.length_unit, metres, (float(x), float(y)), zero)


def lines_of(
    predictions: Predictions, lengths: Lengths, x: str, y: str, *, of: str
) -> list[LineShape]:
    """The models that are switched on as lines of a graph, where it shows what they predict.

    of : tells the lines of one graph apart from those of another
    """
    found: list[LineShape] = []
    for place, one in enumerate(predictions.all):
        if one.row.shown:
            found += _lines(one, place, lengths, x, y, of)
    return found


def _lines(
    one: Prediction, place: int, lengths: Lengths, x: str, y: str, of: str
) -> list[LineShape]:
    colour, dashed = MODEL_LOOKS[place % len(MODEL_LOOKS)]
    found: list[LineShape] = []
    for leg, table in enumerate(tables_of(one, lengths)):
        across, up = table.column(x), table.column(y)
        if across is None or up is None:
            continue
        points = np.stack([across.values, up.values], axis=1)
        found.append(
            {
                "key": f"{of}/{one.row.id}/{leg}/{y}",
                "name": one.row.name,
                "colour": colour,
                "dashed": dashed,
                "points": [rounded(pair) for pair in points.tolist()],
            }
        )
    return found


def rounded(values: Sequence[float]) -> list[float]:
    """Places to the digits that can be drawn."""
    return [float(f"{value:.{_DIGITS}g}") for value in values]


def models_graph(
    every: Sequence[Prediction],
    source: FootageSource | None,
    lengths: Lengths,
    wanted: str,
    sheet: SheetSource | None = None,
) -> GraphShape | None:
    """The quantity that is looked at, of the marks and of the models that are switched on.

    What was measured of the same on a sheet, and what the class expected, lies beside it.
    """
    bodies = {one.row.body_id for one in every}
    tables: list[DataTable] = []
    if source is not None:
        tables = [table for table in source.tables if table.owner.id in bodies]
    predicted = [table for one in every if one.row.shown for table in tables_of(one, lengths)]
    if not tables and not predicted:
        return None
    if wanted == MOST:
        _, (wanted,) = first_axes(PREDICTED, tables or predicted)
    x, y = ("x", "y") if wanted == PATH_OF else ("t", wanted)
    guests: list[Guest] = []
    row = Graph(study_id=NEW, x=x, ys=[y])
    if source is not None:
        same = (graph for graph in source.graphs if graph.x == x and graph.ys[:1] == [y])
        sketch = next((graph.sketch for graph in same if graph.sketch), None)
        row = row if sketch is None else replace(row, sketch=sketch)
    elif sheet is not None and predicted:
        guests, line = _beside(sheet, predicted[0], x, y)
        row = replace(row, sketch={"x": x, "y": y, "line": line} if line else {})
    made = graph_view(row, tables, [], guests=guests, predicted=predicted)
    made["lines"] = [
        line
        for place, one in enumerate(every)
        if one.row.shown
        for line in _lines(one, place, lengths, x, y, "model")
    ]
    say_what_is_what(made)
    return made


def _beside(
    sheet: SheetSource, predicted: PredictedTable, x: str, y: str
) -> tuple[list[Guest], list[list[float]]]:
    """What a sheet holds of two quantities, by their units, and what was sketched of them."""
    across, up = predicted.column(x), predicted.column(y)
    assert across is not None
    assert up is not None

    def measuring(unit: Unit) -> list[str]:
        columns = ((key, sheet.table.column(key)) for key in sheet.table.keys)
        return [key for key, one in columns if one and one.variable.unit.converts_to(unit)]

    firsts, seconds = measuring(across.variable.unit), measuring(up.variable.unit)
    pairs = [(firsts[0], key) for key in seconds if key != firsts[0]] if firsts else []
    named: list[OtherSeries] = [{"sheet": sheet.row.id, "x": a, "y": b} for a, b in pairs]
    guests = guests_of(named, {sheet.row.id: sheet})
    sketches = {
        (graph.x, graph.ys[0]): graph.sketch
        for graph in sheet.graphs
        if graph.ys and graph.sketch.get("line")
    }
    pair = next((pair for pair in pairs if pair in sketches), None)
    if pair is None:
        return guests, []
    factors = [
        column.variable.unit.factor / axis.variable.unit.factor
        for key, axis in zip(pair, (across, up), strict=True)
        if (column := sheet.table.column(key)) is not None
    ]
    return guests, [[a * factors[0], b * factors[1]] for a, b in sketches[pair]["line"]]
