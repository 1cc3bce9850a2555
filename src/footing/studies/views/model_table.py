"""Marks beside the models of their body, and which of these does better."""

from collections.abc import Sequence

import numpy as np

from footing.core import findings
from footing.core.prediction.judging import compared
from footing.core.prediction.laws import LAWS
from footing.studies.model.predicted_table import (
    Lengths,
)
from footing.studies.model.prediction import Prediction
from footing.studies.model.sources import FootageSource
from footing.studies.shapes.models import ModelRowShape, ModelTableShape
from footing.words.prediction import air_matters_said, compared_said

_MOST_ROWS = 300


def models_table(
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


def models_compared(every: Sequence[Prediction]) -> list[str]:
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
                sizes = (length_text(found.first), length_text(found.second))
                said.append(compared_said(found, (one.row.name, other.row.name), sizes))
            else:
                said.append("")
            apart = first[a] - second[b]
            if _drags(one) != _drags(other) and one.variance > 0:
                most = float(np.hypot(*apart.T).max())
                noise = float(np.sqrt(2 * one.variance))
                said[-1] += " " + air_matters_said(
                    most / noise, length_text(most), length_text(noise)
                )
    return [one.strip() for one in said if one]


def _drags(one: Prediction) -> bool:
    return any(LAWS[leg.law].drag is not None for leg in one.legs if leg.law in LAWS)


def length_text(metres: float) -> str:
    """A length by itself, in the unit in which it is no small number."""
    unit, factor = ("mm", 1e-3) if metres < 0.01 else ("cm", 1e-2) if metres < 1 else ("m", 1.0)
    return f"{findings.significant(metres / factor, 2)} {unit}"
