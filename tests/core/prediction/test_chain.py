"""Legs one after the other, with impacts between them."""

import numpy as np
import pytest

from footing.core.prediction.chain import Chain, Leg, Slot, rebound
from footing.core.prediction.integrating import MotionStopped
from footing.core.prediction.laws import LAWS
from footing.core.prediction.own_laws import ACCELERATION, own_law

G = {"g": 9.81}
FALL = LAWS["free fall"]


def test_a_leg_goes_on_from_where_the_last_one_ended() -> None:
    chain = Chain(
        (
            Leg(FALL, 0.4, {"x": 0.0, "y": 1.0, "vx": 2.0, "vy": 0.0}),
            Leg(LAWS["constant velocity"], 0.9),
            Leg(LAWS["constant velocity"], 1.0, {"vx": 0.0, "vy": 5.0}),
            Leg(LAWS["constant velocity"], 1.2, {"x": 9.0, "y": 9.0}),
        ),
        G,
        0.0,
        1.2,
    )
    states, legs = chain.solve().at(np.array([0.0, 0.4, 0.4001, 0.9, 1.0, 1.2, 1.3]))
    assert legs[0].tolist() == [0, 0, 1, 1, 2, 3, -1]
    end = [0.8, 1.0 - 9.81 * 0.08, 2.0, -9.81 * 0.4]
    assert states[0, 1] == pytest.approx(end)
    assert states[0, 3, :2] == pytest.approx([0.8 + 1.0, end[1] - 9.81 * 0.2])
    assert states[0, 4, :2] == pytest.approx([1.8, end[1] - 9.81 * 0.2 + 0.5])
    assert states[0, 5] == pytest.approx([9.0, 10.0, 0.0, 5.0])
    assert np.isnan(states[0, 6]).all()


def test_an_impact_turns_what_lies_along_its_normal() -> None:
    velocity = np.array([[3.0, -4.0]])
    ones = np.ones(1)
    up = np.array([0.0, 1.0])
    assert rebound(velocity, up, 0.5 * ones, 0 * ones)[0] == pytest.approx([3.0, 2.0])
    rubbed = rebound(velocity, up, 0.5 * ones, 0.2 * ones)[0]
    assert rubbed == pytest.approx([3.0 - 0.2 * 1.5 * 4.0, 2.0])
    held = rebound(velocity, up, 0.5 * ones, 9.0 * ones)[0]
    assert held == pytest.approx([0.0, 2.0])
    wall = rebound(velocity, np.array([-2.0, 0.0]), ones, 0 * ones)[0]
    assert wall == pytest.approx([-3.0, -4.0])


def test_a_bounce_in_a_chain() -> None:
    falls = np.sqrt(2 * 1.0 / 9.81)
    chain = Chain(
        (
            Leg(FALL, falls, {"x": 0.0, "y": 1.0, "vx": 0.5, "vy": 0.0}),
            Leg(FALL, None, {"restitution": 0.8}, (0.0, 1.0)),
        ),
        G,
        0.0,
        falls * (1 + 2 * 0.8),
    )
    states, _ = chain.solve().at(np.array([falls, falls * 1.8, falls * 2.6]))
    assert states[0, 0, 1] == pytest.approx(0.0, abs=1e-12)
    assert states[0, 1, 1] == pytest.approx(0.8**2, rel=1e-9)
    assert states[0, 2, 1] == pytest.approx(0.0, abs=1e-9)
    assert states[0, 2, 0] == pytest.approx(0.5 * falls * 2.6, rel=1e-9)


def test_what_is_missing_is_named() -> None:
    chain = Chain((Leg(LAWS["quadratic drag"], None, {"x": 0.0}),), G, 0.0, 1.0)
    missing = {slot.name for slot in chain.missing()}
    assert missing == {"y", "vx", "vy", "mass", "diameter", "drag_coefficient", "density"}
    assert Slot(None, "mass") in chain.missing()
    assert chain.missing([Slot(None, "mass")]).count(Slot(None, "mass")) == 0
    path = Chain((Leg(LAWS["rest"], None),), {}, 0.0, 1.0)
    assert {slot.name for slot in path.missing()} == {"x", "y"}


def test_a_leg_may_have_its_own_of_what_is_common() -> None:
    legs = (
        Leg(LAWS["quadratic drag"], 0.5, dict.fromkeys(("x", "y", "vx", "vy"), 0.0)),
        Leg(LAWS["quadratic drag"], 1.0, {"density": 998.0}),
    )
    common = {"g": 9.81, "mass": 0.05, "diameter": 0.03, "drag_coefficient": 0.47, "density": 1.2}
    chain = Chain(legs, common, 0.0, 1.0)
    assert chain.slot(0, "density") == Slot(None, "density")
    assert chain.slot(1, "density") == Slot(1, "density")
    states, _ = chain.solve().at(np.array([0.5, 1.0]))
    assert abs(states[0, 1, 3]) < abs(states[0, 0, 3]) / 2  # the water slows it


def test_the_place_where_a_motion_stops_is_told() -> None:
    chain = Chain(
        (
            Leg(FALL, 0.5, dict.fromkeys(("x", "y", "vx", "vy"), 0.0)),
            Leg(own_law(ACCELERATION, "1/(t - 0.7)", "0"), None),
        ),
        G,
        0.0,
        1.0,
    )
    with pytest.raises(MotionStopped) as stopped:
        chain.solve()
    assert stopped.value.leg == 1
    assert stopped.value.time == pytest.approx(0.7, abs=0.02)
