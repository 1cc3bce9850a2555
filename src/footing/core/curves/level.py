"""A constant."""

from footing.core.curves.curve import named
from footing.core.reading import Fitted, Meaning, Reading, Variable, itself


def _level(fit: Fitted, _x: Variable, y: Variable) -> list[Reading]:
    return [itself(fit, "mean", Meaning.MEAN, "c", y.unit)]


CURVES = (
    named(
        *("level", "constant", "level", "c", "c"),
        degree=0,
        readings=_level,
        within=("line", "quadratic", "cubic", "sine"),
    ),
)
