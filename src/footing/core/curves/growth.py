"""Growth and decay."""

from math import log

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.curves.curve import named
from footing.core.curves.guessing import best_on_grid, growing, rates
from footing.core.reading import Fitted, Meaning, Reading, Variable, following, itself, value_of


def _exponential(x: FloatArray, y: FloatArray) -> list[FloatArray]:
    (k,), (a,) = best_on_grid(y, rates(x), lambda k: (growing(x)(k),))
    return [np.array([a * np.exp(-k * x.mean()), k])]


def _exponential_level(x: FloatArray, y: FloatArray) -> list[FloatArray]:
    (k,), (a, c) = best_on_grid(y, rates(x), lambda k: (growing(x)(k), np.ones_like(x)))
    return [np.array([a * np.exp(-k * x.mean()), k, c])]


def _logistic(x: FloatArray, y: FloatArray) -> list[FloatArray]:
    grid = [(k, x0) for (k,) in rates(x) for x0 in np.linspace(x.min(), x.max(), 9)]
    (k, x0), (limit,) = best_on_grid(y, grid, lambda k, x0: (1 / (1 + np.exp(-k * (x - x0))),))
    return [np.array([limit, k, x0])]


def _pace(fit: Fitted, x: Variable) -> list[Reading]:
    k = value_of(fit, "k")
    if not k:
        return []
    falling = Meaning.HALF_LIFE if x.is_time else Meaning.HALVING
    what = Meaning.DOUBLING if k > 0 else falling
    half = following(fit, log(2) / abs(k), {"k": -log(2) / (k * abs(k))})
    constant = following(fit, 1 / abs(k), {"k": -1 / (k * abs(k))})
    return [
        Reading("half", what, (("ln 2/|k|", ""),), half, x.unit),
        Reading("constant", Meaning.CONSTANT, (("1/|k|", ""),), constant, x.unit),
    ]


def _growth(fit: Fitted, x: Variable, y: Variable) -> list[Reading]:
    pace = _pace(fit, x)
    return pace and [*pace, itself(fit, "intercept", Meaning.INTERCEPT, "a", y.unit)]


def _growth_to_a_level(fit: Fitted, x: Variable, y: Variable) -> list[Reading]:
    pace = _pace(fit, x)
    return pace and [*pace, itself(fit, "level", Meaning.LEVEL, "c", y.unit)]


CURVES = (
    named(
        *("exponential", "exponential", "growth", "a*exp(k*x)", "a k"),
        guess=_exponential,
        readings=_growth,
        within=("exponential_level",),
    ),
    named(
        *("exponential_level", "exponential to a level", "growth", "a*exp(k*x) + c", "a k c"),
        guess=_exponential_level,
        readings=_growth_to_a_level,
    ),
    named("logarithm", "logarithm", "growth", "a*ln(x) + b", "a b"),
    named(
        *("logistic", "logistic", "growth", "L/(1 + exp(-k*(x - x0)))", "L k x0"),
        guess=_logistic,
    ),
)
