"""The models of a source as a table to be taken out: where they are at each moment."""

from collections.abc import Iterator

import numpy as np

from footing.core import findings
from footing.core.errors import NotThere
from footing.formats.writing import lines_as_csv
from footing.studies.model.predicted_table import PREDICTED, values_of
from footing.studies.model.prediction import Prediction
from footing.studies.model.predictions import Predictions
from footing.studies.model.sources import FootageSource
from footing.studies.views.model_graph import lengths_of

_STEPS = 200  # moments of a prediction without film
_DIGITS = 8


def as_csv(predictions: Predictions, source: FootageSource | None) -> bytes:
    """A row for each moment of each model: a frame of the film, or steps of a prediction without.

    Raises
    ------
    NotThere : if no model has a motion.
    """
    solved = [one for one in predictions.all if one.solved is not None]
    if not solved:
        raise NotThere("There is no model with a motion yet.")
    return lines_as_csv(_rows(solved, source))


def _rows(solved: list[Prediction], source: FootageSource | None) -> Iterator[list[str]]:
    lengths = lengths_of(source)
    unit = lengths.unit
    units = {"t": "s"} | dict.fromkeys(("x", "y", "h"), unit)
    units |= dict.fromkeys(("vx", "vy", "v"), f"{unit}/s")
    headings = [f"{key} ({units[key]})" for key in PREDICTED]
    frames = ["frame"] if source is not None else []
    yield ["model", "leg", *frames, *headings, "mark x", "mark y"]
    for one in solved:
        assert one.chain is not None
        if source is None:
            times = np.linspace(one.chain.began, one.chain.ends, _STEPS + 1)
        else:
            times = source.ground.times
        states, legs = one.at(times)
        values = values_of(states, lengths) | {"t": times}
        marks: dict[int, list[str]] = {}
        if one.track is not None and one.frames is not None:
            places = one.track.positions / lengths.metres
            marks = {
                int(frame): [findings.significant(float(value), _DIGITS) for value in place]
                for frame, place in zip(one.frames, places, strict=True)
            }
        for row in np.flatnonzero(legs >= 0):
            cells = [findings.significant(float(values[key][row]), _DIGITS) for key in PREDICTED]
            frame = [str(row)] if source is not None else []
            yield [
                one.row.name,
                str(legs[row] + 1),
                *frame,
                *cells,
                *marks.get(int(row), ["", ""]),
            ]
