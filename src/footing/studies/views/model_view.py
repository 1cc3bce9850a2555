"""Predicted motions as a page shows them: legs, parameters, results, ghost, and how they match."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from footing.core import findings
from footing.core.air import air_viscosity
from footing.core.dimensions import Unit, read_unit
from footing.core.drag import reynolds, suits, viscosity_in
from footing.core.prediction.adjusting import Adjusted
from footing.core.prediction.chain import Slot
from footing.core.prediction.judging import rms, stops_matching
from footing.core.prediction.laws import LAWS, Drag
from footing.core.prediction.own_laws import ACCELERATION, PATH
from footing.core.prediction.parameters import parameter
from footing.core.steadying import as_seen, seen_in
from footing.store.rows import Body
from footing.studies.model.motions import reference_frame
from footing.studies.model.predicted_results import TERMINAL, PredictedResult, results_of
from footing.studies.model.predicted_table import (
    Lengths,
    values_of,
)
from footing.studies.model.prediction import Prediction
from footing.studies.model.predictions import Predictions
from footing.studies.model.sources import FootageSource, SheetSource
from footing.studies.model.surroundings import (
    INDOORS,
    Surroundings,
    given_by_body,
    surroundings_of,
)
from footing.studies.shapes.models import (
    GhostShape,
    LegShape,
    ModelResultShape,
    ModelShape,
    WeatherShape,
)
from footing.studies.shapes.state import ModelsShape, TriedModelShape
from footing.studies.views.model_graph import MODEL_LOOKS, lengths_of, models_graph, rounded
from footing.studies.views.model_parameters import common_view, parameter_view
from footing.studies.views.model_table import length_text, models_compared, models_table
from footing.words.prediction import stops_said, suits_said

TITLES = {key: law.title for key, law in LAWS.items()} | {
    ACCELERATION: "acceleration as formulas",
    PATH: "x and y as formulas of t",
}


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
        "graph": models_graph(every, source, lengths, shown.graph, sheet) if shown.graph else None,
        "compared": models_compared(every) if shown.tells else [],
        "weather": _weather(predictions),
        "density": findings.measured(
            surroundings.density.value, surroundings.density.uncertainty, "kg/m³"
        ),
        "by_weather": surroundings.weather is not None,
        "table": models_table(every, source, lengths),
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
        "graph": models_graph(every, source, lengths, quantity),
    }


def _model(
    one: Prediction,
    place: int,
    lengths: Lengths,
    source: FootageSource | None,
    surroundings: Surroundings,
) -> ModelShape:
    colour, dashed = MODEL_LOOKS[place % len(MODEL_LOOKS)]
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
        "rms": length_text(rms(left)) if len(left) else "",
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
        "ghost": _ghost(one, lengths, source, body),
    }


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
    if one.is_found(Slot(place, "until")):
        names.append("until")
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
        "parameters": [parameter_view(one, Slot(place, name), source) for name in names],
        "rms": length_text(rms(here)) if len(here) else "",
        "marks": len(here),
        "problem": one.problems.get(row.id, ""),
    }


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
        "of_start": result.of_start,
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
        drag = LAWS[leg.law].drag if leg.law in LAWS else None
        if drag is None:
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
        doubt = suits_said(suits(number, linear=drag is Drag.LINEAR))
        if doubt:
            doubts.append(doubt)
    return " ".join(said), " ".join(dict.fromkeys(doubts))


def _fastest(one: Prediction, place: int) -> float:
    assert one.solved is not None
    first, last = one.solved.borders[0, place], one.solved.borders[0, place + 1]
    states = one.solved.motions[place](np.linspace(0.0, last - first, 40)[None])[0]
    return float(np.hypot(states[:, 2], states[:, 3]).max())


def _ghost(
    one: Prediction, lengths: Lengths, source: FootageSource | None, body: Body | None
) -> GhostShape | None:
    """Where a model is in each frame."""
    if one.solved is None or source is None:
        return None
    ground = source.ground
    states, legs = one.at(ground.times)
    frames = np.flatnonzero(legs >= 0)
    if ground.spots:
        frames = seen_in(ground.spots, frames)
    if not len(frames):
        return None
    world = states[frames, :2] / lengths.metres
    pixels = ground.axes.to_pixels(world, ground.flattening)
    if ground.spots:  # the picture moves, and the prediction goes with it
        reference = reference_frame(ground)
        pixels = as_seen(pixels, frames, ground.spots, reference=reference)
    values = values_of(states[frames], lengths)
    diameter = one.values.get(Slot(None, "diameter"))
    known = given_by_body(body, "diameter")
    if diameter is None and known is not None:
        diameter = known.value
    scale = ground.flattening.per_pixel(pixels)
    size = float(np.mean(scale)) * lengths.metres
    return {
        "frames": frames.tolist(),
        "x": np.round(pixels[:, 0], 2).tolist(),
        "y": np.round(pixels[:, 1], 2).tolist(),
        "leg": (legs[frames] + 1).tolist(),
        "values": {key: rounded(values[key].tolist()) for key in ("x", "y", "v")},
        "radius": 0.0 if diameter is None or not size else round(diameter / 2 / size, 1),
    }


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
