"""Straightening: the likely straight forms of a relation, and what slope and intercept stand for.

If y is a power of x, an exponential or a reciprocal of it, some simple function of y against some
simple function of x is a straight line. How straight it is, is told by R² of that line.
"""

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.curves import CURVES
from footing.core.dimensions import METRE, SECOND
from footing.core.fitting import Fit, fit_curve
from footing.core.meaning import Variable

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

    stands : what slope and intercept stand for, as far as units and shape tell
    left_out : points for which the form is undefined
    """

    key: str
    up: Made
    across: Made
    x: FloatArray
    y: FloatArray
    line: Fit
    straightness: float
    stands: tuple[str, str]
    left_out: int


def straight_forms(
    x: FloatArray, y: FloatArray, across: Variable, up: Variable
) -> list[StraightForm]:
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
                stands_for(key, across, up),
                int((~good).sum()),
            )
        )
    return sorted(found, key=lambda form: (form.left_out, -form.straightness))


def stands_for(key: str, across: Variable, up: Variable) -> tuple[str, str]:
    """What slope and intercept stand for.

    Motion from rest with a constant acceleration a is recognised by its units: d = ½ a t² and
    v² = 2 a d, whichever way they are plotted.
    """
    of_motion = _MOTION.get((key, _kind(up), _kind(across)))
    if of_motion:
        return of_motion
    x, y = across.symbol, up.symbol
    said = {
        "y-x": (f"the change of {y} for each unit of {x}", f"{y} where {x} is 0"),
        "y-x2": (f"the factor c in {y} = c·{x}²", f"{y} where {x} is 0"),
        "y2-x": (f"the factor c in {y}² = c·{x}", f"{y}² where {x} is 0"),
        "y-root_x": (f"the factor c in {y} = c·√{x}", f"{y} where {x} is 0"),
        "y-1/x": (f"the product {x}·{y}", f"{y} for a very large {x}"),
        "y-1/x2": (f"the product {x}²·{y}", f"{y} for a very large {x}"),
        "1/y-x": (f"the factor c in 1/{y} = c·{x}", f"1/{y} where {x} is 0"),
        "1/y-1/x": (f"the factor between 1/{x} and 1/{y}", f"1/{y} for a very large {x}"),
        "y2-x2": (f"the factor between {x}² and {y}²", f"{y}² where {x} is 0"),
        "ln_y-x": (f"the rate k in {y} = a·e^(k·{x})", "ln a"),
        "y-ln_x": (f"the change of {y} when {x} grows e-fold", f"{y} where {x} is 1"),
        "ln_y-ln_x": (f"the power n in {y} = a·{x}ⁿ", "ln a"),
    }
    return said[key]


def _kind(variable: Variable) -> str:
    if variable.is_time:
        return "time"
    for order, kind in enumerate(("length", "velocity")):
        if variable.unit.dimension == (METRE / SECOND ** Fraction(order)).dimension:
            return kind
    return ""


_MOTION: dict[tuple[str, str, str], tuple[str, str]] = {
    ("y-x2", "length", "time"): ("a/2, from d = ½ a t²", "the distance at t = 0"),
    ("y2-x", "time", "length"): ("2/a, from t² = 2 d/a", "0, if it starts from rest at d = 0"),
    ("y2-x", "velocity", "length"): ("2 a, from v² = v₀² + 2 a d", "v₀²"),
    ("y-x2", "length", "velocity"): ("1/(2 a), from v² = 2 a d", "0, if all of it is slowing down"),
    ("y-root_x", "time", "length"): ("√(2/a), from t = √(2 d/a)", "0, if it starts from rest"),
    ("y-root_x", "velocity", "length"): ("√(2 a), from v = √(2 a d)", "0, if it starts from rest"),
    ("y-x", "velocity", "time"): ("the acceleration", "the velocity at t = 0"),
    ("y-x", "length", "time"): ("the velocity", "the position at t = 0"),
}
