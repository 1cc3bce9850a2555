"""Amounts: values with all that they rest on, so that sums and differences keep what is shared.

An `Amount` is one value. An `Account` is a value at each of some marks, such as the kinetic energy
of a body; its rows are amounts.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from math import inf, sqrt

import numpy as np
from scipy import sparse

from footing.core.arrays import FloatArray, IntArray
from footing.core.effects import Effects, Noise, Source
from footing.core.findings import Measured, combine

_STEP = 0.01  # of the uncertainty of an input, by which it is moved to see what follows


@dataclass(frozen=True)
class Common:
    """What all lengths and all times have in common: relative standard uncertainties by source."""

    lengths: Mapping[Source, float] = field(default_factory=dict)
    times: Mapping[Source, float] = field(default_factory=dict)

    def of(self, value: float, *, lengths: float, times: float) -> dict[Source, float]:
        """The effects on a value that goes with powers of lengths and times."""
        found = {source: value * lengths * size for source, size in self.lengths.items()}
        for source, size in self.times.items():
            found[source] = found.get(source, 0.0) + value * times * size
        return found


@dataclass(frozen=True)
class Amount:
    """One value in SI units, and how it changes with everything that it rests on.

    slow : variance of the second order, which squares of small values have besides (their slope
        by an error is 0 at 0, their scatter is not)
    """

    value: float
    effects: Effects = field(default_factory=Effects)
    slow: float = 0.0

    @cached_property
    def measured(self) -> Measured:
        """With its standard uncertainty and budget."""
        budget = self.effects.budget
        if self.slow > 0:
            budget = (*budget, *Effects({Source("marks of slow bodies"): sqrt(self.slow)}).budget)
        return combine(self.value, budget)

    @property
    def uncertainty(self) -> float:
        """Standard uncertainty."""
        return self.measured.uncertainty

    def plus(self, other: "Amount") -> "Amount":
        """The sum; what both share enters once."""
        return Amount(
            self.value + other.value, self.effects.plus(other.effects), self.slow + other.slow
        )

    def times(self, factor: float) -> "Amount":
        """So many times it."""
        return Amount(self.value * factor, self.effects.times(factor), self.slow * factor**2)

    def minus(self, other: "Amount") -> "Amount":
        """The difference; what both share cancels."""
        return self.plus(other.times(-1.0))

    def over(self, other: "Amount") -> "Amount":
        """The ratio."""
        return following(lambda values: values[0] / values[1], (self, other))


def total(amounts: Sequence[Amount]) -> Amount:
    """The sum of some; 0 of none."""
    found = Amount(0.0)
    for amount in amounts:
        found = found.plus(amount)
    return found


def following(of: Callable[[FloatArray], float], inputs: Sequence[Amount]) -> Amount:
    """What follows from some amounts, to first order (JCGM 100:2008, 5.2.2).

    The slopes are central differences over a small part of each input's uncertainty.
    """
    values = np.array([one.value for one in inputs])
    effects, slow = Effects(), 0.0
    for k, one in enumerate(inputs):
        width = one.uncertainty
        if not 0 < width < inf:
            continue
        step = np.zeros(len(inputs))
        step[k] = _STEP * width
        slope = (of(values + step) - of(values - step)) / (2 * step[k])
        effects = effects.plus(one.effects.times(slope))
        slow += one.slow * slope**2
    return Amount(float(of(values)), effects, slow)


@dataclass(frozen=True, eq=False)
class Account:
    """A value at each of some marks of a film, in SI units.

    frames : (m,) which frames, rising
    values : (m,)
    by_marks : by what the errors are of (``b7:x``), sparse ``(m, k)``: the change with each error
        by one standard uncertainty
    common : by source, the change ``(m,)`` with one standard uncertainty of it
    slow : (m,) variance of the second order; see `Amount`
    """

    frames: IntArray
    values: FloatArray
    by_marks: Mapping[str, sparse.csr_array]
    common: Mapping[Source, FloatArray]
    slow: FloatArray

    @cached_property
    def uncertainties(self) -> FloatArray:
        """Standard uncertainties ``(m,)``."""
        variance = self.slow.copy()
        for part in self.by_marks.values():
            variance += np.asarray(part.multiply(part).sum(axis=1), dtype=float).reshape(-1)
        for change in self.common.values():
            variance += change**2
        return np.asarray(np.sqrt(variance), dtype=float)

    def resolved(self, known: Mapping[Source, Mapping[Source, float]]) -> "Account":
        """The same with sources by which everything is wrong alike taken apart.

        known : by such a source, its parts with their relative standard uncertainties
        """
        common: dict[Source, FloatArray] = {}
        for source, change in self.common.items():
            for part, size in known.get(source, {source: 1.0}).items():
                common[part] = common.get(part, np.zeros(len(change))) + change * size
        return Account(self.frames, self.values, self.by_marks, common, self.slow)

    def chosen(self, rows: IntArray) -> "Account":
        """Some of the marks."""
        return Account(
            self.frames[rows],
            self.values[rows],
            {of: sparse.csr_array(part[rows]) for of, part in self.by_marks.items()},
            {source: change[rows] for source, change in self.common.items()},
            self.slow[rows],
        )

    def plus(self, other: "Account") -> "Account":
        """The sum, in the frames where both have a value."""
        common, mine, theirs = np.intersect1d(self.frames, other.frames, return_indices=True)
        if not len(common) == len(self.frames) == len(other.frames):
            return self.chosen(mine).plus(other.chosen(theirs))
        by_marks = dict(self.by_marks)
        for of, part in other.by_marks.items():
            by_marks[of] = sparse.csr_array(by_marks[of] + part) if of in by_marks else part
        shared = dict(self.common)
        for source, change in other.common.items():
            shared[source] = shared[source] + change if source in shared else change
        return Account(
            self.frames, self.values + other.values, by_marks, shared, self.slow + other.slow
        )

    def row_of(self, frame: int) -> int | None:
        """The row of a frame, if it has a value."""
        place = int(np.searchsorted(self.frames, frame))
        found = place < len(self.frames) and int(self.frames[place]) == frame
        return place if found else None

    def amount(self, row: int) -> Amount:
        """The value at one of the marks."""
        noise = Noise("marks", "marks", inf)
        rows = {
            of: np.asarray(part[[row]].toarray(), dtype=float).reshape(-1)
            for of, part in self.by_marks.items()
        }
        shared = {source: float(change[row]) for source, change in self.common.items()}
        return Amount(
            float(self.values[row]), Effects(shared, {noise: rows}), float(self.slow[row])
        )
