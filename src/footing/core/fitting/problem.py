"""What is to be fitted: points, what makes them independent, and which parameters are free."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import inf, isinf

import numpy as np

from footing.core.arrays import FloatArray, IntArray
from footing.core.covariances import Whitener
from footing.core.curves import Curve


@dataclass(frozen=True)
class Given:
    """What is said about one parameter: where to start, that it is fixed, or its bounds."""

    start: float | None = None
    fixed: bool = False
    low: float = -inf
    high: float = inf


@dataclass(frozen=True)
class Points:
    """Points with what makes them independent of each other.

    whitener : turns y into independent values; None where they are
    known : whether these have a variance of 1, because the errors of the points are stated
    """

    x: FloatArray
    y: FloatArray
    whitener: Whitener | None
    known: bool = False

    @property
    def count(self) -> int:
        """Number of independent values."""
        return len(self.y) if self.whitener is None else self.whitener.count

    def whitened(self, values: FloatArray) -> FloatArray:
        """Values or columns ``(n, …)`` as independent ones."""
        return values if self.whitener is None else self.whitener(values)


@dataclass
class Free:
    """Which parameters of a curve are free, and what the others are."""

    curve: Curve
    given: Mapping[str, Given]
    places: IntArray = field(init=False)

    def __post_init__(self) -> None:
        """Find the free ones."""
        free = [not self.of(name).fixed for name in self.curve.names]
        self.places = np.flatnonzero(free)

    def of(self, name: str) -> Given:
        """What is said about a parameter."""
        return self.given.get(name, Given())

    @property
    def bounded(self) -> bool:
        """Whether a free parameter may not go everywhere."""
        free = (self.of(self.curve.names[place]) for place in self.places)
        return any(not (isinf(one.low) and isinf(one.high)) for one in free)

    def holds(self, values: FloatArray) -> bool:
        """Whether values are inside their bounds."""
        bounds = [self.of(name) for name in self.curve.names]
        return all(
            one.fixed or one.low <= value <= one.high
            for one, value in zip(bounds, values, strict=True)
        )

    def filled(self, values: FloatArray) -> FloatArray:
        """Values with those put in that are fixed."""
        full = np.array(values, dtype=float)
        for place, name in enumerate(self.curve.names):
            given = self.of(name)
            if given.fixed:
                full[place] = given.start if given.start is not None else 0.0
        return full
