"""Parameters found from marks, against the truth that made them."""

import numpy as np
import pytest

from footing.core.prediction.adjusting import Adjusted, NotAdjusted, Track, Why, adjust
from footing.core.prediction.chain import Chain, Leg, Slot
from footing.core.prediction.laws import LAWS
from footing.core.prediction.own_laws import ACCELERATION, own_law

SCATTER = 0.003  # m
AIR = {"g": 9.81, "mass": 0.018, "diameter": 0.12, "density": 1.2}
REST = dict.fromkeys(("x", "y", "vx", "vy"), 0.0)
ACCELERATED = LAWS["constant acceleration"]


def marked(chain: Chain, rng: np.random.Generator, *, rate: float = 60.0) -> Track:
    """Marks of a chain with scatter, in its frames."""
    times = np.arange(chain.began, chain.ends + 1e-9, 1 / rate)
    places = chain.solve().at(times)[0][0, :, :2]
    return Track(times, places + rng.normal(scale=SCATTER, size=places.shape))


def found(chain: Chain, asked: list[tuple[int, str]], track: Track) -> Adjusted:
    adjusted = adjust(chain, asked, track)
    assert isinstance(adjusted, Adjusted)
    assert adjusted.converged
    return adjusted


def off(adjusted: Adjusted, slot: Slot, truth: float) -> float:
    """By how many standard errors a parameter lies off the truth."""
    value = float(adjusted.values[adjusted.slots.index(slot)])
    return (value - truth) / adjusted.standard_error(slot)


def test_a_line_is_found_as_its_formulas_say() -> None:
    """Standard errors of a constant velocity by the textbook."""
    rng = np.random.default_rng(1)
    chain = Chain((Leg(LAWS["constant velocity"], None, REST | {"vx": 2.0}),), {}, 0.0, 1.0)
    track = marked(chain, rng)
    adjusted = found(chain, [(0, name) for name in ("x", "y", "vx", "vy")], track)
    t = track.times
    slope = np.polyfit(t, track.positions[:, 0], 1)
    assert adjusted.values[[2, 0]] == pytest.approx(slope, rel=1e-8)
    spread = np.sum((t - t.mean()) ** 2)
    assert adjusted.standard_error(Slot(0, "vx")) == pytest.approx(
        adjusted.scatter / np.sqrt(spread), rel=1e-6
    )
    assert adjusted.dof == 2 * len(t) - 4
    assert adjusted.correlations[0, 2] == pytest.approx(
        -t.mean() / np.sqrt(np.mean(t**2)), rel=1e-6
    )


def test_the_truth_lies_within_two_standard_errors_as_often_as_it_should() -> None:
    """400 simulated falls: 95 % within three standard deviations of such a count."""
    rng = np.random.default_rng(2)
    chain = Chain((Leg(LAWS["linear drag"], None, REST | {"vy": 0.5, "b": 0.03}),), AIR, 0.0, 0.8)
    asked = [(0, "vy"), (0, "b")]
    draws = 400
    inside = np.zeros(2)
    for _ in range(draws):
        adjusted = found(chain, asked, marked(chain, rng))
        apart = [off(adjusted, Slot(0, "vy"), 0.5), off(adjusted, Slot(0, "b"), 0.03)]
        inside += np.abs(apart) < 1.985
    assert (np.abs(inside / draws - 0.95) < 3 * np.sqrt(0.95 * 0.05 / draws)).all()


def test_the_drag_coefficient_of_falls_is_the_true_one() -> None:
    chain = Chain(
        (Leg(LAWS["quadratic drag"], None, REST | {"vy": 0.5}),),
        AIR | {"drag_coefficient": 0.6},
        0.0,
        0.8,
    )
    asked = [(0, "vy"), (0, "drag_coefficient")]
    for seed in range(8):
        adjusted = found(chain, asked, marked(chain, np.random.default_rng(seed)))
        assert abs(off(adjusted, Slot(0, "vy"), 0.5)) < 3.5
        assert abs(off(adjusted, Slot(None, "drag_coefficient"), 0.6)) < 3.5


def test_three_legs_and_their_borders() -> None:
    rng = np.random.default_rng(3)
    truth = ((1.6, 1.0), (-0.25, 2.6), (-2.2, 3.1))
    legs = tuple(
        Leg(ACCELERATED, until, ({} if k else REST) | {"ax": ax, "ay": 0.0})
        for k, (ax, until) in enumerate(truth)
    )
    track = marked(Chain(legs, {}, 0.0, 3.1), rng, rate=15.0)
    guessed = tuple(
        Leg(ACCELERATED, until, ({} if k else REST) | {"ay": 0.0})
        for k, until in enumerate((1.1, 2.5, 3.1))
    )
    chain = Chain(guessed, {}, 0.0, 3.1)
    asked = [(0, "ax"), (1, "ax"), (2, "ax"), (0, "until"), (1, "until")]
    adjusted = found(chain, asked, track)
    for leg, (ax, until) in enumerate(truth):
        assert abs(off(adjusted, Slot(leg, "ax"), ax)) < 3
        if leg < 2:
            assert abs(off(adjusted, Slot(leg, "until"), until)) < 3
    assert adjusted.scatter == pytest.approx(SCATTER, rel=0.25)


def test_an_end_is_found_from_the_marks_on_both_sides() -> None:
    """By the marks of its own leg alone nothing would say where it ends."""
    chain = Chain(
        (Leg(ACCELERATED, 1.0, REST | {"ax": 1.6, "ay": 0.0}), Leg(LAWS["constant velocity"])),
        {},
        0.0,
        2.0,
    )
    track = marked(chain, np.random.default_rng(9))
    early = Chain((Leg(ACCELERATED, 0.8, chain.legs[0].own), chain.legs[1]), {}, 0.0, 2.0)
    adjusted = found(early, [(0, "until")], track)
    assert len(adjusted.rows) == len(track.times)
    assert abs(off(adjusted, Slot(0, "until"), 1.0)) < 3


def test_a_common_g_is_found_from_all_legs_that_ask() -> None:
    rng = np.random.default_rng(4)
    falls = Leg(LAWS["free fall"], 0.5, REST | {"vy": 3.0, "vx": 1.0})
    bounce = Leg(LAWS["free fall"], None, {"restitution": 0.8}, (0.0, 1.0))
    chain = Chain((falls, bounce), {"g": 9.81}, 0.0, 1.1)
    track = marked(chain, rng)
    both = found(chain, [(0, "g"), (1, "g"), (1, "restitution")], track)
    assert both.slots == (Slot(None, "g"), Slot(1, "restitution"))
    assert abs(off(both, Slot(None, "g"), 9.81)) < 3
    assert abs(off(both, Slot(1, "restitution"), 0.8)) < 3
    first = found(chain, [(0, "g")], track)
    assert len(first.rows) < len(both.rows)
    assert first.standard_error(Slot(None, "g")) > both.standard_error(Slot(None, "g"))


@pytest.mark.parametrize(
    ("law", "start", "truth"),
    [
        ("harmonic", {"x": 0.3, "y": 0.0, "vx": 0.0, "vy": 0.0}, {"omega": 5.0, "cx": 0.1}),
        ("pendulum", {"x": 0.5, "y": -0.2, "vx": 0.0, "vy": 0.0}, {"cx": 0.02, "cy": 0.3}),
        ("uniform circle", {"x": 0.5, "y": 0.0}, {"cx": 0.1, "cy": 0.0, "omega": -4.0}),
        ("linear drag", {"x": 0.0, "y": 0.0, "vx": 2.0, "vy": 1.0}, {"b": 0.03}),
        (
            "slope with friction",
            {"x": 0.0, "y": 0.0, "vx": 1.2, "vy": 0.2},
            {"angle": 0.16, "friction": 0.08},
        ),
    ],
)
def test_each_law_finds_its_own_parameters_without_a_start(
    law: str, start: dict[str, float], truth: dict[str, float]
) -> None:
    rng = np.random.default_rng(5)
    fixed = {"cy": 0.0} if law == "harmonic" else {}
    made = Chain((Leg(LAWS[law], None, start | fixed | truth),), AIR, 0.0, 1.2)
    track = marked(made, rng)
    chain = Chain((Leg(LAWS[law], None, start | fixed),), AIR, 0.0, 1.2)
    adjusted = found(chain, [(0, name) for name in truth], track)
    for name, value in truth.items():
        assert abs(off(adjusted, Slot(0, name), value)) < 3.5


def test_parameters_of_own_formulas_are_found() -> None:
    rng = np.random.default_rng(6)
    law = own_law(ACCELERATION, "-k*x - c*vx", "-k*y")
    start = {"x": 0.4, "y": 0.1, "vx": 0.0, "vy": 0.5}
    made = Chain((Leg(law, None, start | {"k": 12.0, "c": 0.4}),), {}, 0.0, 2.0)
    track = marked(made, rng)
    adjusted = found(Chain((Leg(law, None, start),), {}, 0.0, 2.0), [(0, "k"), (0, "c")], track)
    assert abs(off(adjusted, Slot(0, "k"), 12.0)) < 3
    assert abs(off(adjusted, Slot(0, "c"), 0.4)) < 3


def test_too_few_marks_find_nothing() -> None:
    chain = Chain((Leg(ACCELERATED, None, REST),), {}, 0.0, 1.0)
    track = Track(np.array([0.5]), np.array([[0.1, 0.2]]))
    assert adjust(chain, [(0, "ax"), (0, "ay")], track) == NotAdjusted(
        Why.TOO_FEW, (Slot(0, "ax"), Slot(0, "ay")), 1
    )


def test_what_marks_cannot_tell_apart_is_named() -> None:
    rng = np.random.default_rng(7)
    chain = Chain((Leg(LAWS["quadratic drag"], None, REST),), AIR | {"drag_coefficient": 0.6}, 0, 1)
    track = marked(chain, rng)
    adjusted = adjust(chain, [(0, "drag_coefficient"), (0, "mass")], track)
    assert isinstance(adjusted, NotAdjusted)
    assert adjusted.why is Why.NOT_TOLD_APART
    assert {slot.name for slot in adjusted.slots} == {"drag_coefficient", "mass"}


def test_a_parameter_stays_within_its_limits_and_that_is_said() -> None:
    """Marks of a free fall that scatter so that a negative drag would describe them best."""
    times = np.linspace(0, 0.6, 30)
    faster = np.stack([np.zeros(30), -9.81 * 1.02 * times**2 / 2], axis=1)
    chain = Chain((Leg(LAWS["quadratic drag"], None, REST),), AIR, 0.0, 0.6)
    adjusted = adjust(chain, [(0, "drag_coefficient")], Track(times, faster))
    assert isinstance(adjusted, Adjusted)
    assert adjusted.values[0] == pytest.approx(0.0, abs=1e-4)
    assert adjusted.at_limit == {Slot(None, "drag_coefficient")}


def test_the_gain_is_how_parameters_change_with_marks() -> None:
    rng = np.random.default_rng(8)
    chain = Chain(
        (Leg(LAWS["quadratic drag"], None, REST),), AIR | {"drag_coefficient": 0.6}, 0.0, 0.8
    )
    track = marked(chain, rng)
    asked = [(0, "drag_coefficient"), (0, "vy")]
    adjusted = found(chain, asked, track)
    moved = track.positions.copy()
    moved[30] += [1e-4, 2e-4]
    other = found(chain, asked, Track(track.times, moved))
    expected = adjusted.gain[:, 30] @ [1e-4, 2e-4]
    assert other.values - adjusted.values == pytest.approx(expected, rel=1e-3)
