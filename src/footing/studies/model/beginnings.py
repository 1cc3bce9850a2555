"""How a motion begins, as its first marks show it."""

from collections.abc import Mapping

import numpy as np

from footing.core.arrays import IntArray
from footing.core.effects import Effects, Noise, Source
from footing.core.ledgers.energy import Given
from footing.core.measured import LENGTHS, TIMES
from footing.core.prediction.adjusting import Track
from footing.core.prediction.parameters import START

_FIRST_MARKS, _LEAST_MARKS = 7, 3  # by which a beginning is told


class Beginning:
    """Place and velocity at a moment, by a parabola through the first marks from it on."""

    def __init__(
        self,
        track: Track,
        rows: IntArray,
        began: float,
        owner: str,
        relative: Mapping[str, Mapping[Source, float]],
    ) -> None:
        self._track = track
        self._rows = rows
        self._owner = owner
        self._relative = relative
        t = track.times[rows] - began
        degree = 2 if len(rows) > 3 else 1
        basis = np.stack([t**power for power in range(degree + 1)], axis=1)
        self._weights = np.linalg.pinv(basis)  # (degree + 1, m)
        left = track.positions[rows] - basis @ (self._weights @ track.positions[rows])
        self._dof = max(2 * (len(rows) - degree - 1), 1)
        self._scatter = float(np.sqrt(np.sum(left**2) / self._dof))

    @classmethod
    def of_track(
        cls,
        track: Track,
        began: float,
        owner: str,
        relative: Mapping[str, Mapping[Source, float]],
    ) -> "Beginning | None":
        """The beginning of a track at a moment; None where too few marks come after it."""
        rows = track.between(began, np.inf)[:_FIRST_MARKS]
        return cls(track, rows, began, owner, relative) if len(rows) >= _LEAST_MARKS else None

    def of(self, name: str) -> tuple[Given, Effects]:
        """A value of the beginning, and what it rests on."""
        axis, order = START.index(name) % 2, START.index(name) // 2
        weights = self._weights[order]
        value = float(weights @ self._track.positions[self._rows, axis])
        on_rows = np.zeros(len(self._track.times))
        on_rows[self._rows] = weights * self._scatter
        error = self._scatter * float(np.linalg.norm(weights))
        noise = Noise("scatter of the first marks", f"begin {self._owner}", float(self._dof))
        shared = {of: value * size for of, size in self._relative.get(LENGTHS, {}).items()}
        if order:
            for of, size in self._relative.get(TIMES, {}).items():
                shared[of] = shared.get(of, 0.0) - value * size
        effects = Effects(shared, {noise: {f"{self._owner}:{'xy'[axis]}": on_rows}})
        return Given(value, error, Source("first marks", self._owner)), effects
