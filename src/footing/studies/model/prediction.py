"""A predicted motion as it is now: its parameters, how it matches, and what it rests on."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from footing.core.arrays import FloatArray, IntArray
from footing.core.dimensions import Unit
from footing.core.effects import Effects, Noise
from footing.core.ledgers.energy import Given
from footing.core.measured import LENGTHS, TIMES
from footing.core.prediction.adjusting import Adjusted, NotAdjusted, Track
from footing.core.prediction.chain import Chain, Slot, Solved
from footing.core.prediction.laws import Law
from footing.core.prediction.parameters import parameter
from footing.store.rows import ModelParameter, MotionLeg, MotionModel
from footing.studies.model.fit_effects import Ground
from footing.studies.model.surroundings import Surroundings

_STEP = 1e-5  # relative, of a change by which something is asked what it does


@dataclass(frozen=True)
class Stated:
    """A parameter as it stands, before anything is looked for.

    given : its value in SI units; None where it has none
    how : ``typed``, ``marks``, ``fit``, ``begin``, or ``known`` from body, study or air
    effects : what it rests on
    problem : why it has no value
    """

    how: str
    said: ModelParameter
    given: Given | None = None
    effects: Effects = field(default_factory=Effects)
    problem: str = ""


@dataclass(frozen=True, eq=False)
class Prediction:
    """A predicted motion as it is now.

    legs : in their order; chain, solved : None where there is no motion, with why in ``problems``,
        by the key of a leg, or 0 for the model as a whole
    stated : all parameters
    track, frames : the marks in metres, and their frames; None without a body
    variance : m², of a coordinate of the marks by scatter alone
    """

    row: MotionModel
    legs: tuple[MotionLeg, ...]
    laws: tuple[Law | None, ...]
    stated: Mapping[Slot, Stated]
    chain: Chain | None = None
    found: Adjusted | NotAdjusted | None = None
    solved: Solved | None = None
    problems: Mapping[int, str] = field(default_factory=dict)
    track: Track | None = None
    frames: IntArray | None = None
    variance: float = 0.0
    ground: Ground | None = None
    surroundings: Surroundings | None = None

    def slot(self, leg: int, name: str) -> Slot:
        """Whose a parameter is that a leg uses."""
        own = Slot(leg, name)
        return own if own in self.stated or not parameter(name).common else Slot(None, name)

    @cached_property
    def values(self) -> dict[Slot, float]:
        """All parameters that have a value, in SI units."""
        known = {slot: one.given.value for slot, one in self.stated.items() if one.given}
        if isinstance(self.found, Adjusted):
            known |= dict(zip(self.found.slots, self.found.values.tolist(), strict=True))
        return known

    def unit_of(self, slot: Slot) -> Unit:
        """The SI unit of a parameter; of one of an own formula as that settles it."""
        law = self.laws[slot.leg] if slot.leg is not None and slot.leg < len(self.laws) else None
        units: Mapping[str, Unit] = getattr(law, "units", {})
        return units.get(slot.name) or parameter(slot.name).unit

    def is_found(self, slot: Slot) -> bool:
        """Whether it is one that was found from the marks."""
        return isinstance(self.found, Adjusted) and slot in self.found.slots

    @cached_property
    def residuals(self) -> tuple[FloatArray, IntArray, IntArray]:
        """Of the marks inside of the motion: (m, 2) in m, the leg of each, its place."""
        if self.solved is None or self.track is None:
            return np.empty((0, 2)), np.empty(0, dtype=np.int64), np.empty(0, dtype=np.int64)
        states, legs = self.solved.at(self.track.times)
        inside = np.flatnonzero(legs[0] >= 0)
        left = self.track.positions[inside] - states[0, inside, :2]
        return left, legs[0][inside], inside

    @cached_property
    def own_variances(self) -> FloatArray:
        """Of the prediction at each mark inside of it ``(m, 2)``, by all that it rests on, m².

        Parameters are taken for independent, but those that were found together.
        """
        places = self.residuals[2]
        total = np.zeros((len(places), 2))
        if self.track is None or self.chain is None or not len(places):
            return total
        found = self.found if isinstance(self.found, Adjusted) else None
        others = [
            slot
            for slot, one in self.stated.items()
            if slot in self.values and not self.is_found(slot) and one.effects.budget
        ]
        slots = [*others, *(found.slots if found else ())]
        if not slots:
            return total
        steps = np.array([_STEP * max(abs(self.values[slot]), 1e-3) for slot in slots])
        k = len(slots) + 1
        values = {
            slot: np.full(k, value) for slot, value in self.values.items() if slot.name != "until"
        } | {slot: np.full(k, self.values[slot]) for slot in slots}
        for place, slot in enumerate(slots):
            values[slot][place] += steps[place]
        states, _ = self.chain.solve(values, k).at(self.track.times[places])
        slopes = (states[:-1, :, :2] - states[-1, :, :2]) / steps[:, None, None]
        slopes = np.nan_to_num(slopes)
        for slope, slot in zip(slopes, others, strict=False):
            budget = self.stated[slot].effects.budget
            total += slope**2 * sum(part.uncertainty**2 for part in budget)
        if found is not None:
            of = slopes[len(others) :]
            total += np.einsum("pma,pq,qma->ma", of, found.covariance, of)
        return total

    def at(self, times: FloatArray) -> tuple[FloatArray, IntArray]:
        """States ``(n, 4)`` in SI units and the leg of each; −1 outside of the motion."""
        assert self.solved is not None
        states, legs = self.solved.at(times)
        return states[0], legs[0]

    def effects_of(self, slot: Slot) -> Effects:
        """What a parameter rests on, in SI units."""
        if not self.is_found(slot):
            stated = self.stated.get(slot)
            return stated.effects if stated else Effects()
        return self._found_effects[slot]

    @cached_property
    def _found_effects(self) -> dict[Slot, Effects]:
        """By each parameter that was found, what it rests on.

        The search is linear near its end, so that what shifts marks or prediction shifts what was
        found by its gain (see `Adjusted`).
        """
        found, track, chain, solved = self.found, self.track, self.chain, self.solved
        assert isinstance(found, Adjusted)
        assert track is not None
        assert chain is not None
        assert solved is not None
        times, marks = track.times[found.rows], track.positions[found.rows]
        owner = f"b{self.row.body_id}"
        noise = Noise("scatter about the model", f"model {self.row.id}", float(found.dof))
        base = self._predicted(chain, times)
        relative = self.ground.relative if self.ground else {}
        longer = {of: (marks, size) for of, size in relative.get(LENGTHS, {}).items()}
        later = _stretched(chain, 1 + _STEP)
        slower = -(self._predicted(later, times * (1 + _STEP)) - base) / _STEP
        shifts = longer | {of: (slower, size) for of, size in relative.get(TIMES, {}).items()}
        by_parameter = {
            slot: -(self._predicted(chain, times, {slot: moved}) - base) / (moved - value)
            for slot, one in self.stated.items()
            if (one.effects.shared or one.effects.noise)
            and (value := self.values.get(slot)) is not None
            and (moved := value + _STEP * max(abs(value), 1e-3)) != value
        }
        made: dict[Slot, Effects] = {}
        for place, slot in enumerate(found.slots):
            gain = found.gain[place]
            total = Effects(
                {of: float(np.sum(gain * shift)) * size for of, (shift, size) in shifts.items()},
                {noise: self._by_marks(owner, found, gain)},
            )
            for other, shift in by_parameter.items():
                total = total.plus(self.stated[other].effects.times(float(np.sum(gain * shift))))
            made[slot] = total
        return made

    def _by_marks(self, owner: str, found: Adjusted, gain: FloatArray) -> Mapping[str, FloatArray]:
        assert self.track is not None
        rows = {}
        for axis, name in enumerate(("x", "y")):
            on_rows = np.zeros(len(self.track.times))
            on_rows[found.rows] = gain[:, axis] * found.scatter
            rows[f"{owner}:{name}"] = on_rows
        return rows

    def _predicted(
        self, chain: Chain, times: FloatArray, moved: Mapping[Slot, float] | None = None
    ) -> FloatArray:
        """Places ``(n, 2)`` with what was found, and some parameters elsewhere."""
        assert isinstance(self.found, Adjusted)
        values = self.found.by_slot | {
            slot: np.array([value]) for slot, value in (moved or {}).items()
        }
        states, _ = chain.solve(values).at(times)
        return np.nan_to_num(states[0, :, :2])


def _stretched(chain: Chain, by: float) -> Chain:
    """A chain whose given moments come later by a factor."""
    legs = tuple(
        replace(leg, until=None if leg.until is None else leg.until * by) for leg in chain.legs
    )
    return replace(chain, legs=legs, began=chain.began * by, ends=chain.ends * by)
