"""What a body feels that moves through a medium: drag, terminal speed, Reynolds number.

Drag is ½ ρ C_d A v² (quadratic), or b v (linear; of a small slow sphere b = 3 π η d, Stokes).
"""

from dataclasses import dataclass
from enum import Enum, auto
from math import nan, pi, sqrt

WATER_VISCOSITY = 1.0e-3  # Pa·s, at 20 °C
_LIGHT = 50.0  # kg/m³, below which a medium is a gas
QUADRATIC_FROM, QUADRATIC_TO = 1e3, 2e5  # Reynolds numbers between which C_d is about constant
LINEAR_TO = 1.0  # up to which drag is proportional to the speed


@dataclass(frozen=True)
class DragShape:
    """A shape with its drag coefficient on its frontal area.

    spread : standard uncertainty with which the coefficient holds for such a body
    """

    key: str
    name: str
    coefficient: float
    spread: float
    source: str


_HOERNER = "S. F. Hoerner, Fluid-Dynamic Drag (1965), 3"
_WHITE = "F. M. White, Fluid Mechanics, 7th ed. (2011), table 7.3"
DRAG_SHAPES: dict[str, DragShape] = {
    shape.key: shape
    for shape in (
        DragShape("sphere", "ball", 0.47, 0.04, f"{_HOERNER}-17"),
        DragShape("disc", "disc, flat side first", 1.17, 0.06, f"{_HOERNER}-17"),
        DragShape("cube", "cube, face first", 1.05, 0.07, f"{_HOERNER}-17"),
        DragShape("cube edge", "cube, edge first", 0.80, 0.07, f"{_HOERNER}-17"),
        DragShape("cone", "cone of 60°, point first", 0.80, 0.10, _WHITE),
        DragShape("cone 30", "cone of 30°, point first", 0.55, 0.08, _WHITE),
        DragShape("cup open", "half sphere, open side first", 1.40, 0.08, _WHITE),
        DragShape("cup closed", "half sphere, round side first", 0.40, 0.05, _WHITE),
        DragShape("cylinder", "short cylinder, on its side", 0.70, 0.10, _WHITE),
        DragShape("streamlined", "streamlined body", 0.05, 0.02, f"{_HOERNER}-19"),
    )
}


def frontal_area(diameter: float) -> float:
    """Of what is round, in m²."""
    return pi / 4 * diameter**2


def ball_volume(diameter: float) -> float:
    """Of a ball, in m³."""
    return pi / 6 * diameter**3


def terminal_speed(
    mass: float, area: float, coefficient: float, density: float, g: float, volume: float = 0.0
) -> float:
    """At which quadratic drag and buoyancy carry the weight, in m/s; NaN where it never is.

    Of what rises in its medium it is the speed upwards.
    """
    net, pull = abs(mass - density * volume) * g, density * coefficient * area
    return sqrt(2 * net / pull) if pull > 0 and net > 0 else nan


def viscosity_in(density: float, air: float) -> float:
    """That of a medium told by its density: of air as given, else of water, in Pa·s."""
    return air if density < _LIGHT else WATER_VISCOSITY


def reynolds(speed: float, diameter: float, density: float, viscosity: float) -> float:
    """Reynolds number ρ v d / η."""
    return density * speed * diameter / viscosity


class Suits(Enum):
    """How a law of drag suits a motion."""

    WELL = auto()
    TOO_SLOW = auto()  # for quadratic drag
    TOO_FAST = auto()  # the drag of a ball breaks down
    NOT_LINEAR = auto()


def suits(number: float, *, linear: bool) -> Suits:
    """Whether a law of drag suits a motion whose fastest Reynolds number this is."""
    if linear:
        return Suits.WELL if number <= LINEAR_TO else Suits.NOT_LINEAR
    if number < QUADRATIC_FROM:
        return Suits.TOO_SLOW
    return Suits.TOO_FAST if number > QUADRATIC_TO else Suits.WELL
