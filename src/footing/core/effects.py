"""What a result rests on: how it changes with each source of uncertainty.

Results that share a source (the scale of a film, a mass, the marks of a body) are not independent;
what is made of them has each source once, with its sign (JCGM 100:2008, 5.2 and F.1.2.3).
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import inf, sqrt
from typing import NamedTuple

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.findings import Contribution

_CANCELLED = 1e-9  # of the largest effect: what is left where effects cancel


class Source(NamedTuple):
    """Something that several values have in common: its name for the budget, and whose it is."""

    name: str
    of: str = ""


@dataclass(frozen=True)
class Noise:
    """Errors that are independent from row to row, as one fit or mean sees them.

    name : of the fit or mean, for the budget
    key : tells fits apart
    dof : degrees of freedom with which it knows how large they are
    """

    name: str
    key: str
    dof: float


@dataclass(frozen=True)
class Effects:
    """How a value changes with each source by one standard uncertainty of it, with sign.

    shared : by source
    noise : by who saw it, and by what the errors are of (``b7:x``): the change with each row
    """

    shared: Mapping[Source, float] = field(default_factory=dict)
    noise: Mapping[Noise, Mapping[str, FloatArray]] = field(default_factory=dict)

    def times(self, factor: float) -> "Effects":
        """The effects on so many times the value."""
        return Effects(
            {of: size * factor for of, size in self.shared.items()},
            {
                noise: {of: rows * factor for of, rows in parts.items()}
                for noise, parts in self.noise.items()
            },
        )

    def plus(self, other: "Effects") -> "Effects":
        """The effects on a sum."""
        shared = dict(self.shared)
        for source, size in other.shared.items():
            shared[source] = shared.get(source, 0.0) + size
        noise = {each: dict(parts) for each, parts in self.noise.items()}
        for each, parts in other.noise.items():
            own = noise.setdefault(each, {})
            for of, rows in parts.items():
                own[of] = own[of] + rows if of in own else rows
        return Effects(shared, noise)

    @property
    def scatter(self) -> float:
        """Standard uncertainty by noise alone."""
        total: dict[str, FloatArray] = {}
        for parts in self.noise.values():
            for of, rows in parts.items():
                total[of] = total[of] + rows if of in total else rows
        return sqrt(sum(float(np.sum(rows**2)) for rows in total.values()))

    @property
    def _noise_size(self) -> float:
        rows = [part for parts in self.noise.values() for part in parts.values()]
        return max((float(np.linalg.norm(part)) for part in rows), default=0.0)

    @property
    def budget(self) -> tuple[Contribution, ...]:
        """Independent contributions, noise first; it is one line, because fits can share marks."""
        largest = max(map(abs, self.shared.values()), default=0.0)
        lines = [
            Contribution(of.name, abs(size))
            for of, size in self.shared.items()
            if abs(size) > _CANCELLED * max(largest, self._noise_size)
        ]
        if not self.noise:
            return tuple(lines)
        total: dict[str, FloatArray] = {}
        squares, quartic = 0.0, 0.0
        for each, parts in self.noise.items():
            own = sum(float(np.sum(rows**2)) for rows in parts.values())
            squares += own
            quartic += own**2 / each.dof
            for of, rows in parts.items():
                total[of] = total[of] + rows if of in total else rows
        uncertainty = sqrt(sum(float(np.sum(rows**2)) for rows in total.values()))
        # as many degrees of freedom as the parts would have together if they were independent
        dof = squares**2 / quartic if quartic > 0 else inf
        names = list(dict.fromkeys(each.name for each in self.noise))
        name = names[0] if len(names) == 1 else "fits" if "fit" in names else " and ".join(names)
        return (Contribution(name, uncertainty, dof), *lines)
