import numpy as np
import pytest

from footing.core.curves import CURVES
from footing.core.fitting import Fit, fit_curve
from footing.core.meaning import Meaning, Reading, Variable, parameters, readings, variable
from footing.core.quantities import QUANTITIES


def axis(key: str) -> Variable:
    return variable(QUANTITIES[key], length_unit="m")


def read(y: str, curve: str, coefficients: list[float], start: float = 0.5) -> dict[str, Reading]:
    x = np.linspace(start, start + 1, 12)
    fit = fit_curve(x, np.polyval(coefficients, x), CURVES[curve])
    assert isinstance(fit, Fit)
    found = readings(fit, axis("t"), axis(y), start=start, end=start + 1)
    return {one.key: one for one in found}


def test_quadratic_of_a_coordinate_holds_half_the_acceleration() -> None:
    found = read("y", "quadratic", [-4.9, 3.0, 1.0])
    assert found["acceleration"].value == pytest.approx(-9.8)
    assert found["acceleration"].formula == (("2c", "2"),)
    assert str(found["acceleration"].unit) == "m/s²"
    assert found["velocity_at_zero"].value == pytest.approx(3)
    assert found["velocity_at_start"].value == pytest.approx(3 - 9.8 * 0.5)
    assert found["position_at_start"].value == pytest.approx(1 + 1.5 - 4.9 * 0.25)


def test_values_at_zero_outside_the_passage_are_marked() -> None:
    assert read("y", "quadratic", [1, 1, 1], start=0.5)["velocity_at_zero"].outside
    assert not read("y", "quadratic", [1, 1, 1], start=-0.5)["velocity_at_zero"].outside
    assert not read("y", "quadratic", [1, 1, 1], start=0.5)["velocity_at_start"].outside


def test_line_of_a_coordinate_is_a_velocity() -> None:
    found = read("x", "line", [2.5, 0.3])
    assert found["velocity"].value == pytest.approx(2.5)
    assert found["position_at_zero"].value == pytest.approx(0.3)


def test_line_of_a_velocity_is_an_acceleration() -> None:
    found = read("vy", "line", [-9.8, 4])
    assert found["acceleration"].value == pytest.approx(-9.8)
    assert str(found["acceleration"].unit) == "m/s²"
    assert found["velocity_at_zero"].value == pytest.approx(4)


def test_cubic_of_a_coordinate_gives_the_acceleration_at_a_moment() -> None:
    found = read("y", "cubic", [1, 2, 3, 4])
    assert found["acceleration_at_zero"].value == pytest.approx(4)


def test_the_slope_of_a_speed_is_no_acceleration_of_a_direction() -> None:
    found = read("v", "line", [1, 2])
    assert list(found) == ["slope", "intercept"]
    assert found["slope"].meaning == Meaning.SLOPE


def test_parameters_have_units_from_their_columns() -> None:
    x = np.linspace(0, 1, 8)
    fit = fit_curve(x, x**2, CURVES["quadratic"])
    assert isinstance(fit, Fit)
    units = [str(one.unit) for one in parameters(fit, axis("x"), axis("y"))]
    assert units == ["1/m", "", "m"]
