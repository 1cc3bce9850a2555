"""What slope and intercept of a straightened form stand for, as far as units and shape tell."""

from fractions import Fraction

from footing.core.dimensions import METRE, SECOND
from footing.core.reading import Variable


def stands_for(key: str, across: Variable, up: Variable) -> tuple[str, str]:
    """What slope and intercept of a form stand for.

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
