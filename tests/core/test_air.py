"""The density of air, terminal speeds and Reynolds numbers."""

import pytest

from footing.core.air import Damp, Weather, air_density, air_viscosity, density_error
from footing.core.drag import (
    DRAG_SHAPES,
    Suits,
    ball_volume,
    frontal_area,
    reynolds,
    suits,
    terminal_speed,
    viscosity_in,
)
from footing.core.errors import Refused
from footing.core.units import Typed
from footing.core.weather import in_celsius, in_pascal, weather_of

RELATIVE: Damp = "relative humidity"


@pytest.mark.parametrize(
    ("temperature", "pressure", "dew_point", "density"),
    [(20, 101_325, 9.27, 1.1993), (0, 100_000, -5, 1.2741), (30, 99_000, 22, 1.1265)],
)
def test_air_as_the_formula_of_2007_says(
    temperature: float, pressure: float, dew_point: float, density: float
) -> None:
    found = air_density(Weather(temperature, pressure, dew_point))
    assert found == pytest.approx(density, abs=5e-5)


def test_a_relative_humidity_says_the_same_as_its_dew_point() -> None:
    """At saturation the dew point is the temperature."""
    full = air_density(Weather(20, 101_325, 1.0, "relative humidity"))
    assert full == pytest.approx(air_density(Weather(20, 101_325, 20.0)), rel=1e-12)
    half = air_density(Weather(20, 101_325, 0.5, "relative humidity"))
    assert half == pytest.approx(1.19936, abs=5e-5)
    assert full < half


@pytest.mark.parametrize(
    ("weather", "field"),
    [
        (Weather(200, 101_325, 5), "temperature"),
        (Weather(20, 1013, 5), "pressure"),
        (Weather(20, 101_325, 25), "damp"),
        (Weather(20, 101_325, 1.2, "relative humidity"), "damp"),
        (Weather(20, 101_325, -120), "damp"),
    ],
)
def test_what_is_no_weather_is_refused(weather: Weather, field: str) -> None:
    with pytest.raises(Refused) as error:
        air_density(weather)
    assert error.value.field == field


def test_the_uncertainty_of_the_density_is_that_of_its_parts() -> None:
    density = air_density(Weather(20, 101_325, 9.27))
    by_heat = density_error(Weather(20, 101_325, 9.27, temperature_error=1.0))
    assert by_heat == pytest.approx(density / 293.15, rel=0.05)
    by_pressure = density_error(Weather(20, 101_325, 9.27, pressure_error=1013.25))
    assert by_pressure == pytest.approx(0.01 * density, rel=0.01)
    wet = Weather(20, 101_325, 0.99, "relative humidity", damp_error=0.05)
    assert density_error(wet) > 0


def test_units_that_people_have() -> None:
    assert in_celsius(Typed(68.0, 1.8), "°F").value == pytest.approx(20.0)
    assert in_celsius(Typed(68.0, 1.8), "°F").uncertainty == pytest.approx(1.0)
    assert in_celsius(Typed(293.15, 0.5), "K").value == pytest.approx(20.0)
    for unit, one in (("hPa", 100), ("mbar", 100), ("kPa", 1000), ("mmHg", 133.322)):
        assert in_pascal(Typed(1.0, 0.1), unit).value == pytest.approx(one, rel=1e-5)
    assert in_pascal(Typed(29.92, 0.01), "inHg").value == pytest.approx(101_320, rel=1e-3)
    read = weather_of(
        (Typed(68, 0), "°F"), (Typed(1013.25, 0), "mbar"), Typed(48.7, 0), "dew point"
    )
    assert air_density(read) == pytest.approx(1.1993, abs=2e-4)
    damp = weather_of((Typed(20, 0), "°C"), (Typed(1013, 0), "hPa"), Typed(50, 3), RELATIVE)
    assert (damp.damp, damp.damp_error) == pytest.approx((0.5, 0.03))


def test_the_terminal_speed_of_the_check_value() -> None:
    """physics.md: 18 g, radius 60 mm, C_d 0.6, 1.20 kg/m³."""
    assert terminal_speed(0.018, frontal_area(0.12), 0.6, 1.2, 9.80665) == pytest.approx(
        6.5844, abs=5e-5
    )


def test_what_floats_rises_and_what_weighs_nothing_has_no_speed() -> None:
    volume, area = ball_volume(0.04), frontal_area(0.04)
    rising = terminal_speed(0.0027, area, 0.47, 998.0, 9.81, volume)
    net = (998.0 * volume - 0.0027) * 9.81
    assert 0.5 * 998.0 * 0.47 * area * rising**2 == pytest.approx(net, rel=1e-12)
    assert terminal_speed(1.0, 0.1, 0.0, 1.2, 9.81) != terminal_speed(1.0, 0.1, 0.5, 1.2, 9.81)


def test_the_reynolds_number_says_which_law_suits() -> None:
    air = air_viscosity(20.0)
    assert air == pytest.approx(1.813e-5, rel=2e-3)  # CRC Handbook: 18.13 µPa·s
    number = reynolds(6.6, 0.12, 1.2, viscosity_in(1.2, air))
    assert number == pytest.approx(52_400, rel=0.01)
    assert suits(number, linear=False) is Suits.WELL
    assert suits(number, linear=True) is Suits.NOT_LINEAR
    assert suits(0.5, linear=True) is Suits.WELL
    assert suits(200, linear=False) is Suits.TOO_SLOW
    assert suits(5e5, linear=False) is Suits.TOO_FAST
    assert viscosity_in(998.0, air) == pytest.approx(1e-3)


def test_shapes_have_a_source_and_a_spread() -> None:
    for shape in DRAG_SHAPES.values():
        assert shape.source
        assert 0 < shape.spread < shape.coefficient
