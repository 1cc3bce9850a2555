"""Which of two curves through the same points is better, and which is enough.

Where one curve is the other with more freedom, an F test tells whether the freedom is used (NIST
Handbook of Statistical Methods, 4.4.4.6); otherwise Akaike's criterion with its correction for few
points does (Hurvich and Tsai, Biometrika 76, 297, 1989).
"""

from dataclasses import dataclass
from math import exp, inf, log

import numpy as np
from scipy import special

from footing.core.fitting import Fit

_SURE = 0.01  # probability below which freedom that is used is no accident
_FREQUENCIES_PER_POINT = 2.0  # that are told apart, as simulations of pure noise show
_CLEARLY = 10.0  # times as likely
_WITHIN = {
    ("level", "line"),
    ("level", "quadratic"),
    ("level", "cubic"),
    ("line", "quadratic"),
    ("line", "cubic"),
    ("quadratic", "cubic"),
    ("proportional", "line"),
    ("exponential", "exponential_level"),
    ("level", "sine"),
    ("sine", "damped_sine"),
}


@dataclass(frozen=True)
class Choice:
    """Which curve to prefer, and the reason in plain words."""

    preferred: str
    reason: str


def choose(one: Fit, other: Fit) -> Choice:
    """Compare two fits of the same points."""
    if (other.curve.key, one.curve.key) in _WITHIN:
        one, other = other, one
    if (one.curve.key, other.curve.key) in _WITHIN:
        return _nested(one, other)
    return _by_information(one, other)


def _nested(simple: Fit, free: Fit) -> Choice:
    p_simple, p_free = (fit.white_count - len(fit.values) for fit in (simple, free))
    if p_free <= 0 or free.white_rss <= 0:
        return Choice(simple.curve.title, "There are too few points to prefer the freer curve.")
    f = (simple.white_rss - free.white_rss) / (p_simple - p_free) / (free.white_rss / p_free)
    chance = float(special.fdtrc(p_simple - p_free, p_free, max(f, 0.0)))
    if free.curve.family == "swings" and simple.curve.family != "swings":
        # its frequency was searched for: as many chances as frequencies the points tell apart
        chance = float(-np.expm1(_FREQUENCIES_PER_POINT * free.n * np.log1p(-min(chance, 0.999))))
    said = f"A gain this large comes by chance {_percent(chance)} of the time."
    if chance < _SURE:
        return Choice(
            free.curve.title,
            f"The {free.curve.title} describes these points better than the {simple.curve.title}: "
            f"{said}",
        )
    return Choice(
        simple.curve.title,
        f"The {simple.curve.title} is enough; the {free.curve.title} is hardly better. {said}",
    )


def _by_information(one: Fit, other: Fit) -> Choice:
    scores = [_criterion(fit) for fit in (one, other)]
    better, worse = (one, other) if scores[0] <= scores[1] else (other, one)
    apart = abs(scores[0] - scores[1])
    times = exp(min(apart / 2, 50.0))
    if times < _CLEARLY:
        return Choice(
            better.curve.title,
            f"These points do not tell {_a(one)} from {_a(other)}; take the one that physics "
            "gives.",
        )
    shown = f"{times:.0f} times" if times < 1e4 else "far more than a thousand times"
    return Choice(
        better.curve.title,
        f"The {better.curve.title} is {shown} as likely as the {worse.curve.title}, "
        "with the number of parameters allowed for.",
    )


def _criterion(fit: Fit) -> float:
    k = len(fit.values) + 1  # the scatter is estimated, too
    if fit.n - k - 1 <= 0:
        return inf
    size = max(fit.rss, 1e-300)
    return fit.n * log(size / fit.n) + 2 * k + 2 * k * (k + 1) / (fit.n - k - 1)


def _a(fit: Fit) -> str:
    """A curve with its article; a formula of somebody's own by what it is."""
    title = fit.curve.title
    if fit.curve.key == "own":
        return f"the formula {title}"
    return f"{'an' if title[0] in 'aeiou' else 'a'} {title}"


def _percent(chance: float) -> str:
    return "less than 0.1 %" if chance < 1e-3 else f"{100 * chance:.2g} %"
