import numpy as np
import pytest

from footing.core.curves import CURVES
from footing.core.fitting import Fit, fit_curve
from footing.core.meaning import parameters, readings, variable
from footing.core.quantities import QUANTITIES
from footing.core.reading import Meaning, Reading, Variable


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


@pytest.mark.parametrize(
    ("curve", "coefficients", "expected"),
    [
        ("damped_sine", [0.2, 0.5, 7.0, 0.4, 0.1], {"period": 2 * np.pi / 7, "decay": 2.0}),
        ("sine", [-0.2, 7.0, 0.4, 0.1], {"amplitude": 0.2, "rest": 0.1, "angular_frequency": 7.0}),
        ("exponential", [3.0, -0.5], {"half": np.log(2) / 0.5, "constant": 2.0, "intercept": 3.0}),
        ("exponential_level", [3.0, 0.5, 1.2], {"half": np.log(2) / 0.5, "level": 1.2}),
        ("bell", [3.0, 1.2, -0.3, 0.5], {"centre": 1.2, "width": 0.3}),
        ("vertex", [2.0, 1.2, 0.5], {"acceleration": 4.0, "turning_x": 1.2, "turning_y": 0.5}),
        ("level", [0.7], {"position_at_zero": None, "position": 0.7}),
        ("proportional", [0.7], {"slope": 0.7}),
    ],
)
def test_what_a_curve_says_follows_from_its_parameters(
    curve: str, coefficients: list[float], expected: dict[str, float | None]
) -> None:
    x = np.linspace(0.5, 3.5, 60)
    of = CURVES[curve]
    fit = fit_curve(x, of.values(x, np.array(coefficients)), of)
    assert isinstance(fit, Fit)
    found = {one.key: one for one in readings(fit, axis("t"), axis("y"), start=0.5, end=3.5)}
    for key, value in expected.items():
        if value is None:
            assert key not in found
        else:
            assert found[key].value == pytest.approx(value)
