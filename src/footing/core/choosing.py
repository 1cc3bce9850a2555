"""Which of two curves through the same points is better, and which is enough.

Where one curve is the other with more freedom, an F test tells whether the freedom is used (NIST
Handbook of Statistical Methods, 4.4.4.6); otherwise Akaike's criterion with its correction for few
points does (Hurvich and Tsai, Biometrika 76, 297, 1989).
"""

from dataclasses import dataclass
from math import exp, inf, log

import numpy as np
from scipy import special

from footing.core.curves import Curve
from footing.core.fitting import Fit

_SURE = 0.01  # probability below which freedom that is used is no accident
_FREQUENCIES_PER_POINT = 2.0  # that are told apart, as simulations of pure noise show
_CLEARLY = 10.0  # times as likely


@dataclass(frozen=True)
class TooFewPoints:
    """There are too few points to prefer the freer of two nested curves."""

    preferred: Curve


@dataclass(frozen=True)
class ByChance:
    """Of two nested curves, how likely the gain of the freer one is by chance."""

    simple: Curve
    free: Curve
    chance: float

    @property
    def earned(self) -> bool:
        """Whether the freedom that is used is no accident."""
        return self.chance < _SURE

    @property
    def preferred(self) -> Curve:
        """The freer curve only where it earns it."""
        return self.free if self.earned else self.simple


@dataclass(frozen=True)
class ByInformation:
    """Of two curves that are not nested, how many times as likely the better one is."""

    better: Curve
    worse: Curve
    times: float

    @property
    def clear(self) -> bool:
        """Whether the points tell them apart."""
        return self.times >= _CLEARLY

    @property
    def preferred(self) -> Curve:
        """The better one, even where it is not clear."""
        return self.better


Choice = TooFewPoints | ByChance | ByInformation


def choose(one: Fit, other: Fit) -> Choice:
    """Compare two fits of the same points."""
    if one.curve.key in other.curve.within:
        one, other = other, one
    if other.curve.key in one.curve.within:
        return _nested(one, other)
    return _by_information(one, other)


def _nested(simple: Fit, free: Fit) -> TooFewPoints | ByChance:
    p_simple, p_free = (fit.white_count - len(fit.values) for fit in (simple, free))
    if p_free <= 0 or free.white_rss <= 0:
        return TooFewPoints(simple.curve)
    f = (simple.white_rss - free.white_rss) / (p_simple - p_free) / (free.white_rss / p_free)
    chance = float(special.fdtrc(p_simple - p_free, p_free, max(f, 0.0)))
    if free.curve.swings and not simple.curve.swings:
        # its frequency was searched for: as many chances as frequencies the points tell apart
        chance = float(-np.expm1(_FREQUENCIES_PER_POINT * free.n * np.log1p(-min(chance, 0.999))))
    return ByChance(simple.curve, free.curve, chance)


def _by_information(one: Fit, other: Fit) -> ByInformation:
    scores = [_criterion(fit) for fit in (one, other)]
    better, worse = (one, other) if scores[0] <= scores[1] else (other, one)
    apart = abs(scores[0] - scores[1])
    return ByInformation(better.curve, worse.curve, exp(min(apart / 2, 50.0)))


def _criterion(fit: Fit) -> float:
    k = len(fit.values) + 1  # the scatter is estimated, too
    if fit.n - k - 1 <= 0:
        return inf
    size = max(fit.rss, 1e-300)
    return fit.n * log(size / fit.n) + 2 * k + 2 * k * (k + 1) / (fit.n - k - 1)
