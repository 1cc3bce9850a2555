"""The quantities that a body's marks give, and that a table or a graph can show.

On footage a mark has a time and what follows from it; on a picture it has its number in the order
of marking instead.
"""

from dataclasses import dataclass
from typing import Literal

from footing.core.dimensions import Dimension

_Moving = Literal["t", "n", "x", "y", "h", "vx", "vy", "v", "ax", "ay", "a", "mx", "my", "s", "phi"]
QuantityKey = _Moving | Literal["th", "om", "al"]
Component = Literal["x", "y", "h", "magnitude", "none", "path", "direction", "angle"]

_MEAN, _SINCE = "average velocity ", " since the start"


@dataclass(frozen=True)
class Quantity:
    """One quantity: ``symbol`` is what is printed in italics, ``subscript`` goes below it.

    since_start : whether it is a mean over all the time since the first mark
    """

    key: QuantityKey
    name: str
    symbol: str
    subscript: str
    dimension: Dimension
    component: Component
    order: int  # how many times the position is differentiated; −1 for time and number
    since_start: bool = False


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
        Quantity("a", "size of the acceleration", "a", "", Dimension(1, -2), "magnitude", 2),
        Quantity(
            "mx", "average velocity x since the start", "v̄", "x", Dimension(1, -1), "x", 0, True
        ),
        Quantity(
            "my", "average velocity y since the start", "v̄", "y", Dimension(1, -1), "y", 0, True
        ),
        Quantity("s", "distance travelled", "s", "", Dimension(1), "path", 0),
        Quantity("phi", "direction of motion in degrees", "φ", "", Dimension(), "direction", 1),
        Quantity("th", "angle", "θ", "", Dimension(angle=1), "angle", 0),
        Quantity("om", "angular velocity", "ω", "", Dimension(0, -1, angle=1), "angle", 1),
        Quantity("al", "angular acceleration", "α", "", Dimension(0, -2, angle=1), "angle", 2),
    )
}

OTHER_COMPONENT: dict[str, QuantityKey] = {"x": "y", "y": "x", "vx": "vy", "vy": "vx"}
TURNING: tuple[QuantityKey, ...] = ("th", "om", "al")
ON_FOOTAGE: tuple[QuantityKey, ...] = (
    *("t", "x", "y", "h", "vx", "vy", "v", "ax", "ay", "a", "mx", "my", "s", "phi"),
    *TURNING,
)
ON_A_PICTURE: tuple[QuantityKey, ...] = ("n", "x", "y", "h")
