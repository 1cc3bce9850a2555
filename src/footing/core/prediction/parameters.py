"""The parameters that laws of motion have: their units, limits and symbols."""

from dataclasses import dataclass
from math import inf

from footing.core.dimensions import NUMBER, Unit, read_unit


@dataclass(frozen=True)
class Parameter:
    """One parameter.

    least, most : limits that it may reach
    common : whether all legs share it that do not give their own
    """

    name: str
    title: str
    symbol: tuple[str, str]
    unit: Unit
    least: float = -inf
    most: float = inf
    common: bool = False


def _parameter(
    name: str,
    title: str,
    symbol: str,
    below: str,
    unit: str,
    *,
    least: float = -inf,
    most: float = inf,
    common: bool = False,
) -> Parameter:
    read = read_unit(unit) if unit else NUMBER
    return Parameter(name, title, (symbol, below), read, least, most, common)


PARAMETERS: dict[str, Parameter] = {
    one.name: one
    for one in (
        _parameter("x", "x at the start", "x", "0", "m"),
        _parameter("y", "y at the start", "y", "0", "m"),
        _parameter("vx", "velocity x at the start", "v", "x0", "m/s"),
        _parameter("vy", "velocity y at the start", "v", "y0", "m/s"),
        _parameter("until", "end", "t", "end", "s"),
        _parameter("restitution", "restitution", "e", "", "", least=0.0),
        _parameter("contact_friction", "friction in the impact", "μ", "c", "", least=0.0),
        _parameter("ax", "acceleration x", "a", "x", "m/s^2"),
        _parameter("ay", "acceleration y", "a", "y", "m/s^2"),
        _parameter("cx", "centre x", "x", "c", "m"),
        _parameter("cy", "centre y", "y", "c", "m"),
        _parameter("omega", "angular frequency", "ω", "", "rad/s"),
        _parameter("angle", "direction of the line", "θ", "", "rad"),
        _parameter("length", "length", "L", "", "m", least=1e-6),
        _parameter("b", "drag constant", "b", "", "kg/s", least=0.0),
        _parameter("friction", "coefficient of friction", "μ", "", "", least=0.0),
        _parameter("g", "free fall", "g", "", "m/s^2", common=True),
        _parameter("mass", "mass", "m", "", "kg", least=1e-12, common=True),
        _parameter("diameter", "diameter", "d", "", "m", least=1e-9, common=True),
        _parameter("drag_coefficient", "drag coefficient", "C", "d", "", least=0.0, common=True),
        _parameter("volume", "volume", "V", "", "m^3", least=0.0, common=True),
        _parameter("density", "density of the medium", "ρ", "", "kg/m^3", least=0.0, common=True),
    )
}
START = ("x", "y", "vx", "vy")
AT_BORDERS = ("until", "restitution", "contact_friction")


def parameter(name: str) -> Parameter:
    """A parameter by its name; of an own formula without unit and limits."""
    return PARAMETERS.get(name) or Parameter(name, name, (name, ""), NUMBER)
