"""Straightening: the likely straight forms of a relation.

If y is a power of x, an exponential or a reciprocal of it, some simple function of y against some
simple function of x is a straight line. How straight it is, is told by R² of that line.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.curves import CURVES
from footing.core.fitting import Fit, fit_curve

_FEWEST = 4  # points, below which every form is straight


@dataclass(frozen=True)
class Made:
    """What is made of a column: how it is called, and its formula, with {} for the symbol."""

    key: str
    name: str
    formula: str
    suffix: str
    values: Callable[[FloatArray], FloatArray]


MADE: dict[str, Made] = {
    one.key: one
    for one in (
        Made("same", "{}", "{}", "", lambda v: v),
        Made("square", "{} squared", "{}^2", "sq", np.square),
        Made("root", "root of {}", "sqrt({})", "root", np.sqrt),
        Made("inverse", "1 over {}", "1/{}", "inv", lambda v: 1 / v),
        Made("inverse_square", "1 over {} squared", "1/{}^2", "invsq", lambda v: 1 / v**2),
        Made("log", "ln of {}", "ln({})", "ln", np.log),
    )
}
FORMS: dict[str, tuple[str, str]] = {  # what is made of y, what is made of x
    "y-x": ("same", "same"),
    "y-x2": ("same", "square"),
    "y2-x": ("square", "same"),
    "y-root_x": ("same", "root"),
    "y-1/x": ("same", "inverse"),
    "y-1/x2": ("same", "inverse_square"),
    "1/y-x": ("inverse", "same"),
    "1/y-1/x": ("inverse", "inverse"),
    "y2-x2": ("square", "square"),
    "ln_y-x": ("log", "same"),
    "y-ln_x": ("same", "log"),
    "ln_y-ln_x": ("log", "log"),
}


@dataclass(frozen=True)
class StraightForm:
    """One form: the points in it, its line, and how straight it is.

    left_out : points for which the form is undefined
    """

    key: str
    up: Made
    across: Made
    x: FloatArray
    y: FloatArray
    line: Fit
    straightness: float
    left_out: int


def straight_forms(x: FloatArray, y: FloatArray) -> list[StraightForm]:
    """The forms that can be made of ``(n,)`` points, the straightest first."""
    found = []
    for key, (of_y, of_x) in FORMS.items():
        made_y, made_x = MADE[of_y], MADE[of_x]
        with np.errstate(all="ignore"):
            new_x, new_y = made_x.values(x), made_y.values(y)
        good = np.isfinite(new_x) & np.isfinite(new_y)
        if good.sum() < _FEWEST:
            continue
        line = fit_curve(new_x[good], new_y[good], CURVES["line"])
        if not isinstance(line, Fit) or line.r_squared is None:
            continue
        found.append(
            StraightForm(
                key,
                made_y,
                made_x,
                new_x[good],
                new_y[good],
                line,
                line.r_squared,
                int((~good).sum()),
            )
        )
    return sorted(found, key=lambda form: (form.left_out, -form.straightness))
