"""The functions that a formula may use: what each is called, takes and does."""

from dataclasses import dataclass
from typing import Literal

Takes = Literal["number", "angle", "ratio", "any"]
Kind = Literal["plain", "angle", "root", "same", "column", "summary", "choice"]


@dataclass(frozen=True)
class Function:
    """One function.

    kind : how its unit follows from that of its argument. ``plain`` takes a number and gives one;
        ``angle`` takes an angle; ``same`` keeps the unit; ``root`` halves its powers; ``column``
        looks at other rows as well; ``summary`` gives one value for all rows; ``choice`` is if()
    arguments : fewest and most
    """

    name: str
    kind: Kind
    arguments: tuple[int, int]
    says: str


FUNCTIONS: dict[str, Function] = {
    one.name: one
    for one in (
        Function("sqrt", "root", (1, 1), "square root"),
        Function("abs", "same", (1, 1), "size, without the sign"),
        Function("exp", "plain", (1, 1), "e to the power of"),
        Function("ln", "plain", (1, 1), "natural logarithm"),
        Function("log10", "plain", (1, 1), "logarithm to base 10"),
        Function("sin", "angle", (1, 1), "sine; a bare number is in radians"),
        Function("cos", "angle", (1, 1), "cosine; a bare number is in radians"),
        Function("tan", "angle", (1, 1), "tangent; a bare number is in radians"),
        Function("asin", "plain", (1, 1), "angle with this sine, in radians"),
        Function("acos", "plain", (1, 1), "angle with this cosine, in radians"),
        Function("atan", "plain", (1, 1), "angle with this tangent, in radians"),
        Function("cosh", "plain", (1, 1), "hyperbolic cosine"),
        Function("tanh", "plain", (1, 1), "hyperbolic tangent"),
        Function("round", "same", (1, 2), "rounded in its unit, to so many decimals"),
        Function("rate", "column", (1, 2), "rate of change by time, or by a second column"),
        Function("sum", "column", (1, 1), "running sum from the first row on"),
        Function("integral", "column", (1, 2), "running integral by time, or by a second column"),
        Function("diff", "column", (1, 1), "difference to the row before"),
        Function("mean", "summary", (1, 1), "mean of all rows; each side of an impact has its own"),
        Function("smallest", "summary", (1, 1), "smallest of all rows"),
        Function("largest", "summary", (1, 1), "largest of all rows"),
        Function("first", "summary", (1, 1), "value in the first row"),
        Function("if", "choice", (3, 3), "if(condition, then, otherwise)"),
    )
}

BY_TIME = frozenset({"rate", "integral"})
OF_A_CURVE = frozenset(
    name for name, one in FUNCTIONS.items() if one.kind not in ("column", "summary")
)
