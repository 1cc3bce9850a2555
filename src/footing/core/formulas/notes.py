"""What a reader of a formula's values should know."""

from dataclasses import dataclass

from footing.core.dimensions import Unit


@dataclass(frozen=True)
class InRadians:
    """A function took a plain number for an angle."""

    function: str


@dataclass(frozen=True)
class NumberIn:
    """A function took the number that its argument has in a unit."""

    function: str
    unit: Unit


@dataclass(frozen=True)
class NoiseTakenOff:
    """What the noise of velocities adds to their squares was taken off."""


Note = InRadians | NumberIn | NoiseTakenOff
