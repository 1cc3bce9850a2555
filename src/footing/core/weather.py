"""The weather as people read it off: units of temperature and pressure, and a station's reading."""

from typing import Literal, get_args

from footing.core.air import Damp, Weather
from footing.core.units import Typed, registry

TemperatureUnit = Literal["°C", "°F", "K"]
PressureUnit = Literal["hPa", "mbar", "kPa", "mmHg", "inHg", "Pa"]
TEMPERATURE_UNITS: tuple[str, ...] = get_args(TemperatureUnit)
PRESSURE_UNITS: tuple[str, ...] = get_args(PressureUnit)
_NAMES = {"°C": "degC", "°F": "degF", "K": "kelvin"}


def in_celsius(typed: Typed, unit: str) -> Typed:
    """A temperature in °C."""
    name, known = _NAMES[unit], registry()
    value = known.Quantity(typed.value, name).to("degC").magnitude
    step = known.Quantity(typed.value + 1.0, name).to("degC").magnitude - value
    return Typed(float(value), typed.uncertainty * float(step))


def in_pascal(typed: Typed, unit: str) -> Typed:
    """A pressure in Pa."""
    factor = float(registry().Quantity(1.0, unit).to("pascal").magnitude)
    return Typed(typed.value * factor, typed.uncertainty * factor)


def weather_of(
    temperature: tuple[Typed, str], pressure: tuple[Typed, str], damp: Typed, damp_is: Damp
) -> Weather:
    """The weather from what was read off, with its units.

    damp : a dew point in the unit of the temperature, or a relative humidity in percent
    """
    warm, pressed = in_celsius(*temperature), in_pascal(*pressure)
    if damp_is == "dew point":
        wet = in_celsius(damp, temperature[1])
    else:
        wet = Typed(damp.value / 100, damp.uncertainty / 100)
    return Weather(
        warm.value,
        pressed.value,
        wet.value,
        damp_is,
        warm.uncertainty,
        pressed.uncertainty,
        wet.uncertainty,
    )
