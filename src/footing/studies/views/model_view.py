"""Predicted motions as a page shows them: legs, parameters, results, ghost, and how they match."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from footing.core import findings
from footing.core.air import air_viscosity
from footing.core.dimensions import Unit, read_unit
from footing.core.drag import reynolds, suits, viscosity_in
from footing.core.prediction.adjusting import Adjusted
from footing.core.prediction.chain import Slot
from footing.core.prediction.judging import compared, rms, stops_matching
from footing.core.prediction.laws import LAWS
from footing.core.prediction.own_laws import ACCELERATION, PATH
from footing.core.prediction.parameters import parameter
from footing.store.rows import NEW, Graph, OtherSeries
from footing.studies.model.columns import DataTable, first_axes
from footing.studies.model.predicted_results import TERMINAL, PredictedResult, results_of
from footing.studies.model.predicted_table import (
    PREDICTED,
    Lengths,
    PredictedTable,
    tables_of,
    values_of,
)
from footing.studies.model.prediction import Prediction
from footing.studies.model.predictions import Predictions
from footing.studies.model.sources import FootageSource, SheetSource
from footing.studies.model.surroundings import INDOORS, Surroundings, surroundings_of
from footing.studies.model_shapes import (
    GhostShape,
    LegShape,
    LineShape,
    ModelResultShape,
    ModelRowShape,
    ModelShape,
    ModelTableShape,
    WeatherShape,
)
from footing.studies.shapes import GraphShape, ModelsShape, TriedModelShape
from footing.studies.views.graph import graph_view
from footing.studies.views.guests import Guest, guests_of
from footing.studies.views.model_parameters import common_view, parameter_view
from footing.words.prediction import air_matters_said, compared_said, stops_said, suits_said

_SPRUCE, _OCHRE, _SOFT = "#1F5B4A", "#8F5A00", "#5C665F"
# colour and whether dashed, by the order of the models
_LOOKS = [(colour, dashed) for colour in (_SPRUCE, _OCHRE, _SOFT) for dashed in (False, True)]
_DIGITS = 6  # of a place that is drawn
_MOST_ROWS = 300
TITLES = {key: law.title for key, law in LAWS.items()} | {
    ACCELERATION: "acceleration as formulas",
    PATH: "x and y as formulas of t",
}
PATH_OF, MOST = "path", "most"  # among the graphs: y against x, and what tells most


@dataclass(frozen=True)
class ModelsShown:
    """What is shown with the models.

    graph : the quantity of their own graph, if there is one
    tells : whether it is said in words how they match
    """

    graph: str | None
    tells: bool


def models_view(
    predictions: Predictions,
    source: FootageSource | None,
    shown: ModelsShown,
    sheet: SheetSource | None = None,
) -> ModelsShape:
    """All models over a footage (or without one, beside what a sheet says), JSON-ready."""
    lengths = lengths_of(source)
    every = predictions.all
    surroundings = surroundings_of(predictions.rows)
    views = [_model(one, place, lengths, source, surroundings) for place, one in enumerate(every)]
    return {
        "models": views,
        "graph": _graph(every, source, lengths, shown.graph, sheet) if shown.graph else None,
        "compared": _compared(every) if shown.tells else [],
        "weather": _weather(predictions),
        "density": findings.measured(
            surroundings.density.value, surroundings.density.uncertainty, "kg/m³"
        ),
        "by_weather": surroundings.weather is not None,
        "table": _table(every, source, lengths),
        "tells": shown.tells,
    }


def one_tried(
    predictions: Predictions, source: FootageSource | None, key: int, quantity: str
) -> TriedModelShape:
    """A model as it would be, and the graph with it."""
    lengths, every = lengths_of(source), predictions.all
    place = next(place for place, one in enumerate(every) if one.row.id == key)
    surroundings = surroundings_of(predictions.rows)
    return {
        "model": _model(every[place], place, lengths, source, surroundings),
        "graph": _graph(every, source, lengths, quantity),
    }


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
    colour, dashed = _LOOKS[place % len(_LOOKS)]
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
                "points": [_rounded(pair) for pair in points.tolist()],
            }
        )
    return found


def _rounded(values: Sequence[float]) -> list[float]:
    return [float(f"{value:.{_DIGITS}g}") for value in values]


def _graph(
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


def _model(
    one: Prediction,
    place: int,
    lengths: Lengths,
    source: FootageSource | None,
    surroundings: Surroundings,
) -> ModelShape:
    colour, dashed = _LOOKS[place % len(_LOOKS)]
    left, _, rows = one.residuals
    stops = stops_matching(left, one.variance, one.own_variances) if len(left) else None
    body = None
    if source is not None:
        body = next((row for row, _ in source.bodies if row.id == one.row.body_id), None)
    results = results_of(one)
    times = one.track.times[rows] if one.track is not None else np.empty(0)
    decimals = source.ground.time_decimals if source is not None else 3
    drag, doubt = _air(one, results, surroundings)
    return {
        "id": one.row.id,
        "name": one.row.name,
        "shown": one.row.shown,
        "body": one.row.body_id,
        "body_name": body.name if body else "",
        "colour": colour,
        "dashed": dashed,
        "legs": [_leg(one, leg, source, decimals) for leg in range(len(one.legs))],
        "common": common_view(one, source),
        "results": [_result(result) for result in results],
        "correlations": _correlations(one),
        "rms": _length(rms(left)) if len(left) else "",
        "stops": stops_said(
            None if stops is None else findings.number(float(times[stops]), decimals)
        )
        if len(left) and one.variance > 0
        else "",
        "stops_at": None if stops is None or one.frames is None else int(one.frames[rows[stops]]),
        "air": drag,
        "doubt": doubt,
        "converged": not isinstance(one.found, Adjusted) or one.found.converged,
        "problem": one.problems.get(0, ""),
        "ghost": _ghost(one, lengths, source),
    }


def _length(metres: float) -> str:
    """A length by itself, in the unit in which it is no small number."""
    unit, factor = ("mm", 1e-3) if metres < 0.01 else ("cm", 1e-2) if metres < 1 else ("m", 1.0)
    return f"{findings.significant(metres / factor, 2)} {unit}"


def _leg(one: Prediction, place: int, source: FootageSource | None, decimals: int) -> LegShape:
    row = one.legs[place]
    left, legs, _ = one.residuals
    here = left[legs == place]
    borders = one.solved.borders[0] if one.solved is not None else None
    first = last = None
    text = ""
    if borders is not None:
        ends = [float(borders[place]), float(borders[place + 1])]
        text = " … ".join(findings.number(end, decimals) for end in ends) + " s"
        if source is not None:
            times = source.ground.times
            first, last = np.interp(ends, times, np.arange(len(times))).tolist()
    passage = source.passages.get(row.passage_id or 0) if source is not None else None
    names = [slot.name for slot in one.stated if slot.leg == place and slot.name != "until"]
    end = Slot(place - 1, "until")
    if place and one.is_found(end):
        names = [*names]
    return {
        "id": row.id,
        "number": place + 1,
        "law": row.law,
        "title": TITLES.get(row.law, row.law),
        "passage": row.passage_id,
        "passage_name": passage.name if passage else "",
        "first": first,
        "last": last,
        "text": text,
        "lasts": row.lasts or "",
        "goes_on": row.goes_on,
        "hits": row.hits,
        "normal": row.normal,
        "border": "marks" if row.own.get("until", {}).get("how") == "marks" else "passages",
        "is_last": place == len(one.legs) - 1,
        "formulas": row.law in (ACCELERATION, PATH),
        "along_x": row.along_x,
        "along_y": row.along_y,
        "parameters": [
            *(parameter_view(one, Slot(place, name), source) for name in names),
            *([parameter_view(one, Slot(place, "until"), source)] if _has_end(one, place) else []),
        ],
        "rms": _length(rms(here)) if len(here) else "",
        "marks": len(here),
        "problem": one.problems.get(row.id, ""),
    }


def _has_end(one: Prediction, place: int) -> bool:
    return one.is_found(Slot(place, "until"))


def _result(result: PredictedResult) -> ModelResultShape:
    unit = _result_unit(result)
    measured = findings.combine(
        result.value / unit.factor, result.effects.times(1 / unit.factor).budget
    )
    return {
        "key": result.key,
        "name": result.name,
        "title": result.title,
        "symbol": [list(result.symbol)],
        "text": findings.measured(measured.value, measured.uncertainty, str(unit)),
    }


def _result_unit(result: PredictedResult) -> Unit:
    return read_unit("°") if str(result.unit) == "rad" else result.unit


def _correlations(one: Prediction) -> list[list[str]]:
    found = one.found
    if not isinstance(found, Adjusted):
        return []
    names = ["".join(parameter(slot.name).symbol) + _of_leg(one, slot) for slot in found.slots]
    matrix = found.correlations
    return [
        [names[i], names[k], findings.number(float(matrix[i, k]), 2)]
        for i in range(len(names))
        for k in range(i + 1, len(names))
    ]


def _of_leg(one: Prediction, slot: Slot) -> str:
    return "" if slot.leg is None or len(one.legs) == 1 else f" (leg {slot.leg + 1})"


def _air(
    one: Prediction, results: Sequence[PredictedResult], surroundings: Surroundings
) -> tuple[str, str]:
    """Terminal speed and Reynolds number, and what does not suit, in words."""
    if one.solved is None:
        return "", ""
    said, doubts = [], []
    for place, leg in enumerate(one.legs):
        named = LAWS.get(leg.law)
        drags = named is not None and named.drags
        if not (drags or leg.law == "linear drag"):
            continue
        diameter = one.values.get(one.slot(place, "diameter"))
        density = one.values.get(one.slot(place, "density"), surroundings.density.value)
        if diameter is None:
            continue
        fastest = _fastest(one, place)
        warm = surroundings.weather.temperature if surroundings.weather else INDOORS
        number = reynolds(fastest, diameter, density, viscosity_in(density, air_viscosity(warm)))
        speed = next((r for r in results if r.key == f"{leg.id}.{TERMINAL}"), None)
        where = f" in leg {place + 1}" if len(one.legs) > 1 else ""
        if speed is not None:
            said.append(f"Terminal speed{where} {_result(speed)['text']}.")
        said.append(f"Reynolds number{where} up to {findings.significant(number, 2)}.")
        doubt = suits_said(suits(number, linear=not drags))
        if doubt:
            doubts.append(doubt)
    return " ".join(said), " ".join(dict.fromkeys(doubts))


def _fastest(one: Prediction, place: int) -> float:
    assert one.solved is not None
    first, last = one.solved.borders[0, place], one.solved.borders[0, place + 1]
    states = one.solved.motions[place](np.linspace(0.0, last - first, 40)[None])[0]
    return float(np.hypot(states[:, 2], states[:, 3]).max())


def _ghost(one: Prediction, lengths: Lengths, source: FootageSource | None) -> GhostShape | None:
    """Where a model is in each frame."""
    if one.solved is None or source is None:
        return None
    ground = source.ground
    states, legs = one.at(ground.times)
    frames = np.flatnonzero(legs >= 0)
    if not len(frames):
        return None
    world = states[frames, :2] / lengths.metres
    pixels = ground.axes.to_pixels(world, ground.flattening)
    values = values_of(states[frames], lengths)
    diameter = one.values.get(Slot(None, "diameter"))
    scale = ground.flattening.per_pixel(pixels)
    size = float(np.mean(scale)) * lengths.metres
    return {
        "frames": frames.tolist(),
        "x": np.round(pixels[:, 0], 2).tolist(),
        "y": np.round(pixels[:, 1], 2).tolist(),
        "leg": (legs[frames] + 1).tolist(),
        "values": {key: _rounded(values[key].tolist()) for key in ("x", "y", "v")},
        "radius": 0.0 if diameter is None or not size else round(diameter / 2 / size, 1),
    }


def _compared(every: Sequence[Prediction]) -> list[str]:
    """Which of the models of a body does better, two by two; and whether the air matters."""
    said: list[str] = []
    shown = [one for one in every if one.row.shown and one.solved is not None]
    for place, one in enumerate(shown):
        for other in shown[place + 1 :]:
            if one.row.body_id != other.row.body_id or one.track is None:
                continue
            (first, _, rows), (second, _, others) = one.residuals, other.residuals
            common, a, b = np.intersect1d(rows, others, return_indices=True)
            if not len(common):
                continue
            found = compared(first[a], second[b], one.variance)
            if found is not None:
                sizes = (_length(found.first), _length(found.second))
                said.append(compared_said(found, (one.row.name, other.row.name), sizes))
            else:
                said.append("")
            apart = first[a] - second[b]
            if _drags(one) != _drags(other) and one.variance > 0:
                most = float(np.hypot(*apart.T).max())
                noise = float(np.sqrt(2 * one.variance))
                said[-1] += " " + air_matters_said(most / noise, _length(most), _length(noise))
    return [one.strip() for one in said if one]


def _drags(one: Prediction) -> bool:
    return any(LAWS[leg.law].drags for leg in one.legs if leg.law in LAWS)


def _weather(predictions: Predictions) -> WeatherShape | None:
    row = predictions.rows.weather
    if row is None:
        return None
    return {
        "temperature": row.temperature,
        "temperature_unit": row.temperature_unit,
        "pressure": row.pressure,
        "pressure_unit": row.pressure_unit,
        "damp": row.damp,
        "damp_is": row.damp_is,
    }


def _table(
    every: Sequence[Prediction], source: FootageSource | None, lengths: Lengths
) -> ModelTableShape | None:
    """The marks of the first body that has a model, and the models of it that are switched on."""
    shown = [one for one in every if one.row.shown and one.solved is not None]
    first = next((one for one in shown if one.track is not None), None)
    if first is None or source is None or first.track is None or first.frames is None:
        return None
    of_body = [one for one in shown if one.row.body_id == first.row.body_id]
    body = next(row for row, _ in source.bodies if row.id == first.row.body_id)
    unit = lengths.unit
    headings = ["t (s)", f"x ({unit})", f"y ({unit})"]
    for one in of_body:
        headings += [f"{one.row.name}: x ({unit})", f"y ({unit})", f"off ({unit})"]
    cells = model_cells(of_body, source, lengths)
    rows: list[ModelRowShape] = [
        {"frame": int(frame), "cells": row}
        for frame, row in zip(first.frames[:_MOST_ROWS], cells[:_MOST_ROWS], strict=True)
    ]
    return {
        "body": body.name,
        "headings": headings,
        "rows": rows,
        "left_out": max(len(first.frames) - _MOST_ROWS, 0),
    }


def model_cells(
    of_body: Sequence[Prediction], source: FootageSource, lengths: Lengths
) -> list[list[str]]:
    """A row for each mark: time and place, and of each model place and distance."""
    track = of_body[0].track
    assert track is not None
    times, places = track.times, track.positions / lengths.metres
    decimals = max(int(np.ceil(-np.log10(np.ptp(places) or 1.0))) + 4, 0)
    columns = [
        findings.numbers(times, source.ground.time_decimals),
        *(findings.numbers(places[:, axis], decimals) for axis in (0, 1)),
    ]
    for one in of_body:
        states, legs = one.at(times)
        there = states[:, :2] / lengths.metres
        off = np.hypot(*(places - there).T)
        for values in (there[:, 0], there[:, 1], off):
            columns.append(
                [
                    findings.number(float(value), decimals) if leg >= 0 else ""
                    for value, leg in zip(values, legs, strict=True)
                ]
            )
    return [list(row) for row in zip(*columns, strict=True)]
