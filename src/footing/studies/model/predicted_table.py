"""A predicted motion as columns: what graphs, tables and files show of it."""

from dataclasses import dataclass

import numpy as np

from footing.core.arrays import FloatArray, IntArray
from footing.core.meaning import variable
from footing.core.quantities import QUANTITIES
from footing.studies.model.columns import DataColumn, Owner
from footing.studies.model.prediction import Prediction

PREDICTED = ("t", "x", "y", "h", "vx", "vy", "v")  # columns that a prediction has
_POINTS = 80  # of a leg that are drawn


@dataclass(frozen=True)
class Lengths:
    """In what a prediction is shown.

    unit, metres : of its lengths, and how many metres that is
    up : unit vector against gravity; zero : the height of the origin above the zero of heights, m
    """

    unit: str = "m"
    metres: float = 1.0
    up: tuple[float, float] = (0.0, 1.0)
    zero: float = 0.0


def values_of(states: FloatArray, lengths: Lengths) -> dict[str, FloatArray]:
    """All columns but the time, in the unit of lengths; states ``(n, 4)`` in SI units."""
    shown = states / lengths.metres
    x, y, vx, vy = shown.T
    height = shown[:, :2] @ np.array(lengths.up) + lengths.zero / lengths.metres
    return {"x": x, "y": y, "h": height, "vx": vx, "vy": vy, "v": np.hypot(vx, vy)}


@dataclass(frozen=True)
class PredictedTable:
    """One leg of a prediction as a table that graphs can show."""

    owner: Owner
    times: FloatArray
    values: dict[str, FloatArray]
    lengths: Lengths

    @property
    def numbers(self) -> IntArray:
        """Its moments, in their order."""
        return np.arange(len(self.times))

    @property
    def keys(self) -> tuple[str, ...]:
        """The columns that it has."""
        return PREDICTED

    @property
    def hit_before(self) -> IntArray:
        """A leg holds no impact."""
        return np.empty(0, dtype=np.int64)

    def asides_between(self, _x: str, _y: str) -> list[tuple[int, float, float]]:
        """Nothing is set aside."""
        return []

    def column(self, key: str) -> DataColumn | None:
        """A column, or None where a prediction has none of this key."""
        if key not in PREDICTED:
            return None
        values = self.times if key == "t" else self.values[key]
        quantity = variable(QUANTITIES[key], length_unit=self.lengths.unit)
        n = len(values)
        return DataColumn(key, quantity, np.arange(n), values, np.zeros(n), np.zeros(n, dtype=bool))


def tables_of(prediction: Prediction, lengths: Lengths) -> list[PredictedTable]:
    """The legs of a prediction, each with its ends, so that lines join and impacts are seen."""
    solved = prediction.solved
    if solved is None:
        return []
    owner = Owner("body", 0, prediction.row.name, 0)
    found = []
    for place, motion in enumerate(solved.motions):
        first, last = solved.borders[0, place], solved.borders[0, place + 1]
        after = np.linspace(0.0, last - first, _POINTS)
        values = values_of(motion(after[None])[0], lengths)
        found.append(PredictedTable(owner, first + after, values, lengths))
    return found
