"""Motions by laws, against closed forms and what must be kept."""

import numpy as np
import pytest
from scipy import special

from footing.core.drag import frontal_area
from footing.core.prediction import integrating
from footing.core.prediction.chain import Chain, Leg
from footing.core.prediction.integrating import MotionStopped, Stop
from footing.core.prediction.laws import LAWS
from footing.core.prediction.own_laws import ACCELERATION, PATH, own_law

G = 9.80665
TIMES = np.linspace(0.0, 1.5, 40)
START = {"x": 0.3, "y": -0.2, "vx": 1.2, "vy": 2.5}
BODY = {"g": G, "mass": 0.018, "diameter": 0.12, "drag_coefficient": 0.6, "density": 1.2}


def moved(law: str, own: dict[str, float], *, up: tuple[float, float] = (0, 1)) -> np.ndarray:
    """States (n, 4) at `TIMES` by one law, from `START` unless told otherwise."""
    leg = Leg(LAWS[law], None, START | own)
    chain = Chain((leg,), BODY, 0.0, float(TIMES[-1]), up)
    states, legs = chain.solve().at(TIMES)
    assert (legs == 0).all()
    return np.asarray(states[0])


def own(text_x: str, text_y: str, key: str = ACCELERATION, **values: float) -> np.ndarray:
    leg = Leg(own_law(key, text_x, text_y), None, START | values)
    chain = Chain((leg,), BODY, 0.0, float(TIMES[-1]))
    return np.asarray(chain.solve().at(TIMES)[0][0])


def test_a_fall_with_drag_as_its_check_value() -> None:
    """physics.md: after 0.5 s from rest v = 4.1611 m/s and y = 1.12689 m."""
    leg = Leg(LAWS["quadratic drag"], None, dict.fromkeys(START, 0.0))
    state = Chain((leg,), BODY, 0.0, 0.5).solve().at(np.array([0.5]))[0][0, 0]
    assert -state[3] == pytest.approx(4.1611, abs=5e-5)
    assert -state[1] == pytest.approx(1.12689, abs=5e-6)


def test_a_fall_with_drag_as_its_closed_form() -> None:
    pull = 0.5 * 1.2 * 0.6 * frontal_area(0.12) / 0.018
    speed = np.sqrt(G / pull)
    fallen = moved("quadratic drag", dict.fromkeys(START, 0.0))
    assert fallen[1:, 3] == pytest.approx(-speed * np.tanh(G * TIMES[1:] / speed), rel=1e-8)
    depth = speed**2 / G * np.log(np.cosh(G * TIMES[1:] / speed))
    assert fallen[1:, 1] == pytest.approx(-depth, rel=1e-8)


def test_a_throw_upwards_with_drag_as_its_closed_form() -> None:
    """Upwards the speed is a tangent of the time."""
    pull = 0.5 * 1.2 * 0.6 * frontal_area(0.12) / 0.018
    speed = np.sqrt(G / pull)
    turns = speed / G * np.arctan(2.5 / speed)
    rising = turns > TIMES
    thrown = moved("quadratic drag", {"x": 0.0, "y": 0.0, "vx": 0.0})
    expected = speed * np.tan(np.arctan(2.5 / speed) - G * TIMES / speed)
    assert thrown[rising, 3] == pytest.approx(expected[rising], rel=1e-8)


def test_linear_drag_as_its_closed_form_and_without_drag() -> None:
    b = 0.05
    rate, along_y = b / 0.018, 2.5
    slowed = moved("linear drag", {"b": b})
    end = -G / rate
    assert slowed[:, 3] == pytest.approx(end + (along_y - end) * np.exp(-rate * TIMES), rel=1e-12)
    assert slowed[:, 0] == pytest.approx(0.3 + 1.2 / rate * (1 - np.exp(-rate * TIMES)), rel=1e-12)
    free = moved("free fall", {})
    assert moved("linear drag", {"b": 0.0}) == pytest.approx(free, rel=1e-12)
    assert moved("linear drag", {"b": 1e-11}) == pytest.approx(free, rel=1e-8)
    by_formula = own("-b*vx/mass", "-g - b*vy/mass", b=b)
    assert by_formula == pytest.approx(slowed, rel=1e-8, abs=1e-9)


def test_a_constant_acceleration_and_a_slope_without_friction() -> None:
    fast = moved("constant acceleration", {"ax": 0.7, "ay": -1.1})
    assert fast[:, 1] == pytest.approx(-0.2 + 2.5 * TIMES - 0.55 * TIMES**2, rel=1e-12)
    angle = np.radians(12)
    slid = moved("slope with friction", {"angle": angle, "friction": 0.0, "vx": 0.0, "vy": 0.0})
    way = np.hypot(slid[:, 0] - 0.3, slid[:, 1] + 0.2)
    assert way == pytest.approx(G * np.sin(angle) * TIMES**2 / 2, rel=1e-12)
    assert slid[-1, 1] < -0.2  # it slides down, whichever way the slope is counted


def test_friction_turns_with_the_motion_and_holds_what_rests() -> None:
    angle, friction = np.radians(7), 0.01
    along = np.array([np.cos(angle), np.sin(angle)])
    up = {"angle": angle, "friction": friction, "vx": 1.0 * along[0], "vy": 1.0 * along[1]}
    slid = moved("slope with friction", up)
    speed = slid[:, 2:] @ along
    rate = np.gradient(speed, TIMES)
    slowing = -G * (np.sin(angle) + friction * np.cos(angle))
    back = -G * (np.sin(angle) - friction * np.cos(angle))
    assert rate[1] == pytest.approx(slowing, rel=1e-9)
    assert rate[-2] == pytest.approx(back, rel=1e-9)
    held = moved("slope with friction", up | {"friction": 0.2})
    assert held[-1, 2:] == pytest.approx([0, 0], abs=1e-12)
    stop = 1.0 / (G * (np.sin(angle) + 0.2 * np.cos(angle)))
    assert (held[-1, :2] - held[0, :2]) @ along == pytest.approx(stop / 2, rel=1e-12)


def test_circles_and_swings() -> None:
    round_ = moved("uniform circle", {"cx": 0.1, "cy": 0.1, "omega": -2.0})
    arm = round_[:, :2] - 0.1
    assert np.hypot(*arm.T) == pytest.approx(np.hypot(0.2, 0.3), rel=1e-12)
    turning = arm[:, 0] * round_[:, 3] - arm[:, 1] * round_[:, 2]
    assert turning == pytest.approx(-2.0 * (0.2**2 + 0.3**2), rel=1e-12)
    swung = moved("harmonic", {"cx": 0.1, "cy": 0.1, "omega": 3.0})
    assert swung[:, 0] == pytest.approx(
        0.1 + 0.2 * np.cos(3 * TIMES) + 0.4 * np.sin(3 * TIMES), rel=1e-12
    )
    at_rest = moved("harmonic", {"cx": 0.1, "cy": 0.1, "omega": 0.0})
    assert at_rest == pytest.approx(moved("constant velocity", {}), rel=1e-12)
    line = {"cx": 0.1, "cy": 0.1, "omega": 3.0, "angle": 0.4}
    on_line = moved("harmonic along a line", line)
    across = (on_line[:, :2] - 0.1) @ np.array([-np.sin(0.4), np.cos(0.4)])
    assert across == pytest.approx(np.zeros_like(TIMES), abs=1e-12)
    by_formula = own("-w^2*(x - c)", "-w^2*(y - c)", w=3.0, c=0.1)
    assert by_formula == pytest.approx(swung, rel=1e-8, abs=1e-9)


def test_a_pendulum_of_large_amplitude_keeps_its_energy_and_its_period() -> None:
    """The period by the complete elliptic integral; energy to 1e-8."""
    angle, length = np.radians(120), 0.8
    start = {"x": length * np.sin(angle), "y": -length * np.cos(angle), "vx": 0.0, "vy": 0.0}
    period = 4 * np.sqrt(length / G) * special.ellipk(np.sin(angle / 2) ** 2)
    leg = Leg(LAWS["pendulum"], None, {**start, "cx": 0.0, "cy": 0.0})
    chain = Chain((leg,), {"g": G}, 0.0, float(period))
    states = chain.solve().at(np.linspace(0, period, 60))[0][0]
    assert states[-1] == pytest.approx([*start.values()], abs=1e-8)
    energy = np.sum(states[:, 2:] ** 2, axis=1) / 2 + G * states[:, 1]
    assert energy == pytest.approx(energy[0], rel=1e-8)
    assert np.hypot(*states[:, :2].T) == pytest.approx(length, rel=1e-12)
    by_formula = own_law(
        ACCELERATION,
        "-x*(vx^2 + vy^2 - g*y)/(x^2 + y^2)",
        "-g - y*(vx^2 + vy^2 - g*y)/(x^2 + y^2)",
    )
    other = Chain((Leg(by_formula, None, start),), {"g": G}, 0.0, float(period))
    found = other.solve().at(np.linspace(0, period, 60))[0][0]
    assert found == pytest.approx(states, abs=1e-7)


def test_a_pendulum_hangs_whichever_way_is_up() -> None:
    hung = {"cx": 0.0, "cy": 0.0, "vx": 0.0, "vy": 0.0}
    upright = moved("pendulum", hung | {"x": 0.3, "y": -0.4})
    turned = moved("pendulum", hung | {"x": -0.4, "y": -0.3}, up=(1, 0))
    assert turned[:, 0] == pytest.approx(upright[:, 1], abs=1e-9)
    assert turned[:, 1] == pytest.approx(-upright[:, 0], abs=1e-9)
    shorter = moved("pendulum", hung | {"x": 0.3, "y": -0.4, "length": 0.2})
    assert np.hypot(*shorter[:, :2].T) == pytest.approx(0.2, rel=1e-12)


def test_a_body_floats_where_it_weighs_as_much_as_its_medium() -> None:
    diameter = 0.04
    volume = np.pi / 6 * diameter**3
    own_values = {"mass": 998 * volume, "diameter": diameter, "density": 998.0}
    hung = moved("buoyancy and drag", own_values | {"vx": 0.0, "vy": 0.0})
    assert hung[-1, :2] == pytest.approx([0.3, -0.2], abs=1e-12)
    rising = moved("buoyancy and drag", own_values | {"mass": 0.0027, "vx": 0.0, "vy": 0.0})
    assert rising[-1, 3] > 0
    named = moved("buoyancy and drag", own_values | {"volume": 0.0, "mass": 0.5})
    assert named == pytest.approx(
        moved("quadratic drag", own_values | {"mass": 0.5}), rel=1e-9, abs=1e-12
    )


def test_a_path_as_formulas_of_the_time_has_its_slopes_as_velocities() -> None:
    states = own("a*t^2", "sin(w*t)", PATH, a=0.5, w=3.0)
    assert states[:, 0] == pytest.approx(0.5 * TIMES**2, rel=1e-12)
    assert states[:, 2] == pytest.approx(TIMES, rel=1e-12)
    assert states[:, 3] == pytest.approx(3 * np.cos(3 * TIMES), rel=1e-12)


@pytest.mark.parametrize(
    ("text", "why"),
    [("1/(t - 0.5)", Stop.UNDEFINED), ("1000*x^3", Stop.EXPLODES), ("sqrt(0 - t)", Stop.UNDEFINED)],
)
def test_a_motion_that_cannot_be_is_stopped_where_that_is(text: str, why: Stop) -> None:
    with pytest.raises(MotionStopped) as stopped:
        own(text, "0")
    assert stopped.value.why in (why, Stop.NEVER_ENDS)
    assert 0 <= stopped.value.time <= TIMES[-1]


def test_a_motion_that_grows_without_end_is_stopped_before_it_is_no_number() -> None:
    with pytest.raises(MotionStopped) as stopped:
        own("400*x", "0")
    assert stopped.value.why is Stop.EXPLODES
    assert 0.9 < stopped.value.time < TIMES[-1]


def test_the_steps_of_the_integrator_are_of_its_order(monkeypatch: pytest.MonkeyPatch) -> None:
    """A tolerance a thousand times smaller gives a thousand times less error, about."""

    def off(tolerance: float) -> float:
        monkeypatch.setattr(integrating, "_RELATIVE", tolerance)
        monkeypatch.setattr(integrating, "_ABSOLUTE", tolerance * 1e-3)
        swung = own("-9*x", "-9*y")
        exact = 0.3 * np.cos(3 * TIMES[-1]) + 0.4 * np.sin(3 * TIMES[-1])
        return abs(float(swung[-1, 0]) - exact)

    coarse, fine = off(1e-5), off(1e-8)
    assert 100 < coarse / fine < 1e5


def test_a_batch_is_as_each_of_its_motions() -> None:
    leg = Leg(LAWS["quadratic drag"], None, START)
    chain = Chain((leg,), BODY, 0.0, 1.5)
    slot = chain.slot(0, "drag_coefficient")
    many = chain.solve({slot: np.array([0.1, 0.6, 2.0])}, 3).at(TIMES)[0]
    one = chain.solve({slot: np.array([0.6])}).at(TIMES)[0]
    assert many[1] == pytest.approx(one[0], rel=1e-9, abs=1e-10)
