"""What the rims of a body tell that were seen so far: whether it is round, and how large it is."""

from dataclasses import dataclass, replace

import numpy as np

from footing.core.following.rim import Disc

_LEARNS = 0.2
_OFTEN, _SELDOM = 0.5, 0.2  # share of the frames that show a rim
_SURELY, _STEADY = 0.8, 0.035  # support, and of the logarithm of the radius
_SMALL = 7.0  # px from which a radius is known well enough for half a rim,
_MEASURED = 3  # and rims by which it is surely its own
_KEEPS_EACH = 0.1  # of what a frame tells of its radius, that each rim counts


@dataclass(frozen=True)
class Roundness:
    """How round a body is, and how large then.

    radius : px, of its rim; None if none was measured
    shown : in what share of the frames it was seen; support : how well it was seen then
    measured : how often its radius was
    strays : of the logarithm of the radius, from rim to rim
    """

    radius: float | None = None
    shown: float = 0.0
    support: float = 0.0
    measured: int = 0
    strays: float = 0.0

    @classmethod
    def begun(cls, disc: Disc | None) -> "Roundness":
        """As it is seen for the first time, with its rim if it has one."""
        if disc is None:
            return cls()
        return cls(radius=disc.radius, shown=1.0, support=disc.support, measured=1)

    @property
    def is_round(self) -> bool:
        """Whether it is, as far as was seen."""
        return self.radius is not None and self.shown >= _OFTEN

    @property
    def may_be_round(self) -> bool:
        """Whether it was often enough that its rim is to be looked at."""
        return self.shown >= _SELDOM

    @property
    def is_sure(self) -> bool:
        """Whether it is so round that its rim is more exact than anything else."""
        return self.is_round and self.support >= _SURELY and self.strays <= _STEADY

    @property
    def radius_known(self) -> bool:
        """Whether the radius is so well known that half a rim tells the centre."""
        return self.is_sure and self.radius is not None and self.radius >= _SMALL

    @property
    def measured_often(self) -> bool:
        """Whether the radius is of so many rims that it is surely not of something else."""
        return self.is_round and self.measured >= _MEASURED

    @property
    def keeps_radius(self) -> float:
        """How firmly the radius is to be kept, in what one frame tells of it."""
        return min(_KEEPS_EACH * self.measured, 1.0)

    def after(self, disc: Disc | None, rate: float) -> "Roundness":
        """With a frame more in which the body stood alone, that counts so much."""
        shown = (1 - rate) * self.shown + rate * float(disc is not None)
        if disc is None or disc.assumed:
            return replace(self, shown=shown)
        radius = self.radius or disc.radius
        support = disc.support if self.radius is None else self.support
        strays = abs(float(np.log(disc.radius / radius)))
        return Roundness(
            radius=radius + rate * (disc.radius - radius),
            shown=shown,
            support=(1 - rate) * support + rate * disc.support,
            measured=self.measured + 1,
            strays=(1 - _LEARNS) * self.strays + _LEARNS * strays,
        )

    def after_part(self, disc: Disc) -> "Roundness":
        """With a frame more in which it was seen only as the round part of something larger."""
        support = (1 - _LEARNS) * self.support + _LEARNS * disc.support
        return replace(self, shown=(1 - _LEARNS) * self.shown + _LEARNS, support=support)

    def after_none(self) -> "Roundness | None":
        """With a frame more that did not show its rim; None if that never was one."""
        shown = (1 - _LEARNS) * self.shown
        return None if shown < _OFTEN else replace(self, shown=shown)
