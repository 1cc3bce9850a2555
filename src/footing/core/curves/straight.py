"""Straight lines."""

from footing.core.curves.curve import named
from footing.core.reading import Fitted, Meaning, Reading, Variable, itself


def _slope(fit: Fitted, x: Variable, y: Variable) -> list[Reading]:
    return [itself(fit, "slope", Meaning.SLOPE, "m", y.unit / x.unit)]


def _slope_and_intercept(fit: Fitted, x: Variable, y: Variable) -> list[Reading]:
    return [*_slope(fit, x, y), itself(fit, "intercept", Meaning.INTERCEPT, "b", y.unit)]


CURVES = (
    named(
        *("line", "straight line", "straight", "m*x + b", "m b"),
        degree=1,
        readings=_slope_and_intercept,
        within=("quadratic", "cubic"),
        asks_for_zero=True,
    ),
    named(
        *("proportional", "straight line through zero", "straight", "m*x", "m"),
        readings=_slope,
        within=("line",),
    ),
)
