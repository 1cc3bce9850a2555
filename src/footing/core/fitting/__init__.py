"""Least-squares fits: straight to the values where a curve is linear in them, else by search.

- `least_squares`: the way in; `problem`: points, weights and what is given; `result`
- `linear`, `searching`: the two ways
- `influence` of points on parameters; `togetherness`: marks that err together
"""

from footing.core.fitting.influence import Influence, influence
from footing.core.fitting.least_squares import fit_curve, fit_weighted
from footing.core.fitting.problem import Given
from footing.core.fitting.result import Fit, Hindrance, NoFit, interval_factor, rescaled
from footing.core.fitting.togetherness import widened

__all__ = [
    "Fit",
    "Given",
    "Hindrance",
    "Influence",
    "NoFit",
    "fit_curve",
    "fit_weighted",
    "influence",
    "interval_factor",
    "rescaled",
    "widened",
]
