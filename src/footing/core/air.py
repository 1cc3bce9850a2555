"""The density and the viscosity of moist air.

Density: A. Picard, R. S. Davis, M. Gläser, K. Fujii, Revised formula for the density of moist air
(CIPM-2007), Metrologia 45 (2008) 149, eq. (1), (A1.1) to (A1.4). Viscosity: Sutherland's formula
with the constants of the U.S. Standard Atmosphere (1976), 1.3.12.
"""

from dataclasses import dataclass
from math import exp, sqrt
from typing import Literal

from footing.core.errors import Refused

FREEZING = 273.15  # K
_MOLAR = 28.96546e-3  # kg/mol, of dry air with 400 µmol/mol of carbon dioxide
_MOLAR_WATER = 18.01528e-3
_GAS = 8.314472  # J/(mol K)
_A = (1.58123e-6, -2.9331e-8, 1.1043e-10)
_B = (5.707e-6, -2.051e-8)
_C = (1.9898e-4, -2.376e-6)
_D, _E = 1.83e-11, -0.765e-8
_FORMULA = 22e-6  # relative standard uncertainty of the formula itself
_COLD, _HOT = -40.0, 60.0  # °C, between which there is weather
_THIN, _THICK = 30_000.0, 110_000.0  # Pa

Damp = Literal["dew point", "relative humidity"]


@dataclass(frozen=True)
class Weather:
    """The state of the air, each with its standard uncertainty.

    temperature : °C; pressure : Pa
    damp : dew point in °C, or relative humidity from 0 to 1, as ``damp_is`` says
    """

    temperature: float
    pressure: float
    damp: float
    damp_is: Damp = "dew point"
    temperature_error: float = 0.0
    pressure_error: float = 0.0
    damp_error: float = 0.0


def air_density(weather: Weather) -> float:
    """The density of the air in kg/m³.

    Raises
    ------
    Refused : for what no weather on Earth is.
    """
    _check(weather)
    celsius, pressure = weather.temperature, weather.pressure
    kelvin = celsius + FREEZING
    water = _water_share(weather)
    by_air = _A[0] + _A[1] * celsius + _A[2] * celsius**2
    by_water = (_B[0] + _B[1] * celsius) * water + (_C[0] + _C[1] * celsius) * water**2
    ratio = pressure / kelvin
    compressed = 1 - ratio * (by_air + by_water) + ratio**2 * (_D + _E * water**2)
    dry = pressure * _MOLAR / (compressed * _GAS * kelvin)
    return dry * (1 - water * (1 - _MOLAR_WATER / _MOLAR))


def density_error(weather: Weather) -> float:
    """Its standard uncertainty, from those of the weather and of the formula, in kg/m³."""
    density = air_density(weather)
    total = (_FORMULA * density) ** 2
    for name in ("temperature", "pressure", "damp"):
        error = getattr(weather, f"{name}_error")
        if error:
            total += (air_density(_shifted(weather, name, error)) - density) ** 2
    return sqrt(total)


def _shifted(weather: Weather, name: str, by: float) -> Weather:
    """The weather with one of its numbers changed, inwards where it stands at its limit."""
    values = {each: getattr(weather, each) for each in ("temperature", "pressure", "damp")}
    at_top = name == "damp" and _is_full(weather, by)
    values[name] += -by if at_top else by
    return Weather(**values, damp_is=weather.damp_is)


def _is_full(weather: Weather, by: float) -> bool:
    most = 1.0 if weather.damp_is == "relative humidity" else weather.temperature
    return weather.damp + by > most


def _check(weather: Weather) -> None:
    if not _COLD <= weather.temperature <= _HOT:
        raise Refused(
            f"{weather.temperature:g} °C is no weather; give −40 to 60 °C.", field="temperature"
        )
    if not _THIN <= weather.pressure <= _THICK:
        raise Refused(
            f"{weather.pressure:g} Pa is no pressure of the air; give 30 000 to 110 000 Pa "
            "(1 hPa = 1 mbar = 100 Pa).",
            field="pressure",
        )
    if weather.damp_is == "relative humidity":
        if not 0 <= weather.damp <= 1:
            raise Refused("A relative humidity lies from 0 to 100 %.", field="damp")
    elif weather.damp > weather.temperature:
        raise Refused(
            f"A dew point of {weather.damp:g} °C lies above the temperature "
            f"({weather.temperature:g} °C); it cannot.",
            field="damp",
        )
    elif weather.damp < -100:
        raise Refused(f"{weather.damp:g} °C is no dew point.", field="damp")


def _water_share(weather: Weather) -> float:
    """Mole fraction of water vapour (A1.3)."""
    by_dew = weather.damp_is == "dew point"
    at = weather.damp if by_dew else weather.temperature
    enhanced = 1.00062 + 3.14e-8 * weather.pressure + 5.6e-7 * at**2
    kelvin = at + FREEZING
    saturated = exp(
        1.2378847e-5 * kelvin**2 - 1.9121316e-2 * kelvin + 33.93711047 - 6.3431645e3 / kelvin
    )
    share = 1.0 if by_dew else weather.damp
    return share * enhanced * saturated / weather.pressure


def air_viscosity(temperature: float) -> float:
    """The dynamic viscosity of air in Pa·s, at a temperature in °C."""
    kelvin = temperature + FREEZING
    return 1.458e-6 * float(kelvin**1.5) / (kelvin + 110.4)
