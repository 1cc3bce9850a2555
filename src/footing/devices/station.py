"""A simulated weather station: what one on the roof of the school would say.

Temperature and pressure go up and down with the hour and from day to day, as weather does; the same
moment always says the same. Its errors are those of a small station.
"""

from dataclasses import dataclass
from datetime import datetime
from math import cos, pi, sin

_MEAN, _BY_DAY, _BY_HOUR = 11.0, 6.0, 4.0  # °C
_PRESSURE, _SWINGS = 1013.0, 14.0  # hPa
_DAMP, _DRIES = 68.0, 2.2  # %, and less for each degree above the mean
_WARMEST = 15  # o'clock


@dataclass(frozen=True)
class StationReading:
    """A reading as it is typed into a form, with ±."""

    temperature: str
    temperature_unit: str
    pressure: str
    pressure_unit: str
    damp: str
    damp_is: str


def reading(now: datetime) -> StationReading:
    """What the station says at a moment."""
    day = now.timetuple().tm_yday
    hour = now.hour + now.minute / 60
    warmth = _BY_HOUR * cos(2 * pi * (hour - _WARMEST) / 24)
    temperature = _MEAN + _BY_DAY * sin(2 * pi * (day - 110) / 365) + warmth + 1.5 * sin(2.3 * day)
    pressure = _PRESSURE + _SWINGS * sin(0.9 * day + 0.05 * hour)
    damp = min(max(_DAMP - _DRIES * warmth + 9 * cos(1.7 * day), 25.0), 97.0)
    return StationReading(
        f"{temperature:.1f} ± 0.3",
        "°C",
        f"{pressure:.1f} ± 0.5",
        "hPa",
        f"{damp:.0f} ± 3",
        "relative humidity",
    )
