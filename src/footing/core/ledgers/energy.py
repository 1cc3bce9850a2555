"""Energies of a body at its marks, in joules, with all that they rest on.

Squares of noisy values are too large by their variance, which is taken off, though not below 0;
what scatter adds to them in second order counts as an uncertainty. The scale enters squared in what
goes with a velocity, and once in heights (JCGM 100:2008, 5.2).
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np
from scipy import sparse

from footing.core.arrays import FloatArray, IntArray
from footing.core.effects import Source
from footing.core.ledgers.amounts import Account, Common
from footing.core.motion import Motion
from footing.core.quantities import QuantityKey


class EnergyKind(StrEnum):
    """The kinds of energy that a body has."""

    KINETIC = "kinetic"
    POTENTIAL = "potential"
    ELASTIC = "elastic"
    ROTATIONAL = "rotational"
    TOTAL = "total"


@dataclass(frozen=True)
class Given:
    """A number with its standard uncertainty and where that is from, in SI units."""

    value: float
    uncertainty: float
    source: Source

    @property
    def relative(self) -> float:
        """Relative standard uncertainty; 0 of a value of 0."""
        return self.uncertainty / abs(self.value) if self.value else 0.0


@dataclass(frozen=True)
class Spring:
    """A spring from a fixed end to the body.

    constant : N/m; rest_length : m; fixed_end : (2,) in the coordinates of the motion
    """

    constant: Given
    rest_length: Given
    fixed_end: FloatArray


@dataclass(frozen=True)
class Bearings:
    """What energies of a film rest on besides the marks.

    metre : metres in the unit of the motion
    gravity : g, m/s²
    """

    gravity: Given
    metre: float = 1.0
    common: Common = field(default_factory=Common)


def energies(
    motion: Motion,
    frames: IntArray,
    key: str,
    *,
    mass: Given,
    bearings: Bearings,
    spring: Spring | None = None,
    inertia: Given | None = None,
    heights: bool = True,
) -> dict[EnergyKind, Account]:
    """The energies of one body, the total last.

    frames : (n,) of its marks
    key : names the errors of its marks
    heights : whether the film shows any; without them there is no potential energy
    inertia : moment of inertia about the axis that it turns about, kg m²; needs a turning motion
    """
    body = _Body(motion, frames, key, bearings)
    found = {EnergyKind.KINETIC: body.kinetic(mass)}
    if heights:
        found[EnergyKind.POTENTIAL] = body.potential(mass)
    if spring is not None:
        found[EnergyKind.ELASTIC] = body.elastic(spring)
    if inertia is not None and motion.turning is not None:
        found[EnergyKind.ROTATIONAL] = body.rotational(inertia)
    return {**found, EnergyKind.TOTAL: summed(found)}


def summed(accounts: Mapping[EnergyKind, Account]) -> Account:
    """Their sum, in the frames where all have a value."""
    first, *others = accounts.values()
    for other in others:
        first = first.plus(other)
    return first


@dataclass(frozen=True)
class _Body:
    motion: Motion
    frames: IntArray
    key: str
    bearings: Bearings

    @property
    def scatter(self) -> float:
        """Of one coordinate of a mark: what is stated, and what the marks themselves show."""
        return self.motion.plane_scatter

    def kinetic(self, mass: Given) -> Account:
        """½ m (vx² + vy²)."""
        parts = [self._square("vx", mass.value / 2), self._square("vy", mass.value / 2)]
        return self._floored(parts[0].plus(parts[1]), {"mass": mass}, lengths=2, times=-2)

    def rotational(self, inertia: Given) -> Account:
        """½ I ω²."""
        turns = self._square("om", inertia.value / 2, metre=1.0)
        return self._floored(turns, {"inertia": inertia}, lengths=0, times=-2)

    def potential(self, mass: Given) -> Account:
        """m g h."""
        motion, g = self.motion, self.bearings.gravity
        weight = mass.value * g.value * self.bearings.metre
        values = weight * motion.column("h").values
        by_marks = {
            f"{self.key}:{of}": sparse.csr_array(part * (weight * self.scatter))
            for of, part in motion.errors("h").items()
        }
        n = len(values)
        bare = Account(self.frames[:n], values, by_marks, {}, np.zeros(n))
        return self._with_common(bare, {"mass": mass, "g": g}, lengths=1, times=0)

    def elastic(self, spring: Spring) -> Account:
        """½ k (ℓ − ℓ₀)² of a spring from its fixed end to the body."""
        motion, metre = self.motion, self.bearings.metre
        k, rest = spring.constant, spring.rest_length
        arm = (motion.positions - spring.fixed_end) * metre
        length = np.hypot(*arm.T)
        stretched = length - rest.value
        along = arm / np.where(length > 0, length, 1.0)[:, None]
        u = self.scatter * metre
        by_marks = {
            f"{self.key}:{of}": sparse.csr_array(part * u)
            for of, part in motion.independent(
                {
                    "x": sparse.diags_array(k.value * stretched * along[:, 0], format="csr"),
                    "y": sparse.diags_array(k.value * stretched * along[:, 1], format="csr"),
                }
            ).items()
        }
        values = np.maximum(k.value * (stretched**2 - u**2) / 2, 0.0)
        lengths = self.bearings.common.lengths
        common = {of: k.value * stretched * length * size for of, size in lengths.items()}
        common |= {k.source: values * k.relative} if k.uncertainty else {}
        if rest.uncertainty:
            common[rest.source] = -k.value * stretched * rest.uncertainty
        slow = np.full(len(values), k.value**2 * u**4 / 2)
        return Account(self.frames[: len(values)], values, by_marks, common, slow)

    def _square(self, key: QuantityKey, factor: float, *, metre: float | None = None) -> Account:
        """A factor times the square of a quantity, without what scatter adds to it."""
        motion = self.motion
        size = self.bearings.metre if metre is None else metre
        column = motion.column(key)
        values = column.values * size
        error, judged = self.scatter, self.scatter / (motion.position_uncertainty or 1.0)
        if key == "om" and motion.turning is not None:  # what is stated of a turn is all there is
            error, judged = motion.turning.uncertainty, 1.0
        by_marks = {
            f"{self.key}:{of}": sparse.csr_array(
                sparse.diags_array(2 * factor * values) @ part * (error * size)
            )
            for of, part in motion.errors(key).items()
        }
        variance = (column.uncertainties * judged * size) ** 2
        taken_off = factor * variance
        slow = 2 * (factor * variance) ** 2
        frames = self.frames[column.index]
        return Account(frames, factor * values**2 - taken_off, by_marks, {}, slow)

    def _floored(
        self, bare: Account, given: Mapping[str, Given], *, lengths: float, times: float
    ) -> Account:
        kept = Account(
            bare.frames, np.maximum(bare.values, 0.0), bare.by_marks, bare.common, bare.slow
        )
        return self._with_common(kept, given, lengths=lengths, times=times)

    def _with_common(
        self, bare: Account, given: Mapping[str, Given], *, lengths: float, times: float
    ) -> Account:
        common: dict[Source, FloatArray] = {}
        for source, size in self.bearings.common.lengths.items():
            if lengths:
                common[source] = bare.values * lengths * size
        for source, size in self.bearings.common.times.items():
            if times:
                common[source] = bare.values * times * size
        for one in given.values():
            if one.uncertainty:
                common[one.source] = bare.values * one.relative
        return Account(bare.frames, bare.values, bare.by_marks, common, bare.slow)


@dataclass(frozen=True)
class Shape:
    """A shape of a body: its moment of inertia is so much of m times the square of its size.

    size : what is squared, by name; the size of a body is its diameter, or its length
    """

    key: str
    name: str
    share_of_diameter: float


# about an axis through the middle: a rod's across it, the others' along their axis
# (D. Halliday, R. Resnick, J. Walker, Fundamentals of Physics, table 10-2)
SHAPES: dict[str, Shape] = {
    shape.key: shape
    for shape in (
        Shape("ball", "solid ball", 1 / 10),
        Shape("shell", "hollow ball", 1 / 6),
        Shape("disc", "disc or cylinder", 1 / 8),
        Shape("ring", "ring or tube", 1 / 4),
        Shape("rod", "rod, by its length", 1 / 12),
    )
}


def inertia_of(shape: Shape, mass: Given, size: Given, source: Source) -> Given:
    """The moment of inertia of a shape, kg m²: I = c m d²."""
    value = shape.share_of_diameter * mass.value * size.value**2
    return Given(value, abs(value) * float(np.hypot(mass.relative, 2 * size.relative)), source)
