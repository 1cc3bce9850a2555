"""The quantities that a body's marks give, and that a table or a graph can show.

On footage a mark has a time and what follows from it; on a picture it has its number in the order
of marking instead.
"""

from dataclasses import dataclass
from typing import Literal

from footing.core.units import Dimension

QuantityKey = Literal["t", "n", "x", "y", "h", "vx", "vy", "v", "ax", "ay"]
Component = Literal["x", "y", "h", "magnitude", "none"]


@dataclass(frozen=True)
class Quantity:
    """One quantity: ``symbol`` is what is printed in italics, ``subscript`` goes below it."""

    key: QuantityKey
    name: str
    symbol: str
    subscript: str
    dimension: Dimension
    component: Component
    order: int  # how many times the position is differentiated; −1 for time and number


QUANTITIES: dict[str, Quantity] = {
    quantity.key: quantity
    for quantity in (
        Quantity("t", "time", "t", "", Dimension(time=1), "none", -1),
        Quantity("n", "number", "n", "", Dimension(), "none", -1),
        Quantity("x", "position x", "x", "", Dimension(1), "x", 0),
        Quantity("y", "position y", "y", "", Dimension(1), "y", 0),
        Quantity("h", "height", "h", "", Dimension(1), "h", 0),
        Quantity("vx", "velocity x", "v", "x", Dimension(1, -1), "x", 1),
        Quantity("vy", "velocity y", "v", "y", Dimension(1, -1), "y", 1),
        Quantity("v", "speed", "v", "", Dimension(1, -1), "magnitude", 1),
        Quantity("ax", "acceleration x", "a", "x", Dimension(1, -2), "x", 2),
        Quantity("ay", "acceleration y", "a", "y", Dimension(1, -2), "y", 2),
    )
}

ON_FOOTAGE: tuple[QuantityKey, ...] = ("t", "x", "y", "h", "vx", "vy", "v", "ax", "ay")
ON_A_PICTURE: tuple[QuantityKey, ...] = ("n", "x", "y", "h")
