"""The simulated weather station."""

from datetime import UTC, datetime, timedelta

from footing.core.air import air_density
from footing.core.units import read_number
from footing.core.weather import weather_of
from footing.devices.station import reading


def test_it_says_what_can_be_on_every_day_of_a_year() -> None:
    for hours in range(0, 365 * 24, 7):
        now = datetime(2027, 1, 1, tzinfo=UTC) + timedelta(hours=hours)
        said = reading(now)
        weather = weather_of(
            (read_number(said.temperature, field="t"), said.temperature_unit),
            (read_number(said.pressure, field="p"), said.pressure_unit),
            read_number(said.damp, field="damp"),
            "relative humidity",
        )
        assert 1.1 < air_density(weather) < 1.4
        assert reading(now) == said


def test_it_changes_with_the_hour() -> None:
    morning, noon = (datetime(2027, 6, 1, hour, tzinfo=UTC) for hour in (4, 15))
    early, late = (read_number(reading(now).temperature, field="t") for now in (morning, noon))
    assert late.value > early.value + 3
