"""Energies against closed forms: throws, slopes, springs, rolling."""

import numpy as np
import pytest

from footing.core.arrays import FloatArray
from footing.core.effects import Source
from footing.core.ledgers.amounts import Common
from footing.core.ledgers.balance import change_of, missing, path_between
from footing.core.ledgers.energy import (
    SHAPES,
    Bearings,
    EnergyKind,
    Given,
    Spring,
    energies,
    inertia_of,
)
from footing.core.motion import Motion
from footing.core.turning import turning

_G = Given(9.81, 0.0, Source("g"))
_MASS = Given(0.12, 0.0, Source("mass", "b1"))
_MANY = 160


def _thrown(times: FloatArray) -> FloatArray:
    return np.stack([2.0 * times, 1.5 + 6.5 * times - _G.value * times**2 / 2], axis=1)


def _motion(
    times: FloatArray,
    positions: FloatArray,
    *,
    up: tuple[float, float] = (0.0, 1.0),
    u: float = 1e-9,
) -> Motion:
    return Motion(times, positions, heights=positions @ np.array(up), up=up, position_uncertainty=u)


def _frames(motion: Motion) -> np.ndarray:
    return np.arange(len(motion.times))


def test_a_throw_without_noise_keeps_its_energy() -> None:
    times = np.arange(40) / 30
    found = energies(
        _motion(times, _thrown(times)), np.arange(40), "b1", mass=_MASS, bearings=Bearings(_G)
    )
    whole = 0.5 * 0.12 * (2.0**2 + 6.5**2) + 0.12 * 9.81 * 1.5
    np.testing.assert_allclose(found[EnergyKind.TOTAL].values, whole, rtol=1e-9)
    np.testing.assert_allclose(
        found[EnergyKind.POTENTIAL].values, 0.12 * 9.81 * _thrown(times)[:, 1], rtol=1e-12
    )


def test_axes_along_a_slope_give_the_same_energies() -> None:
    rng = np.random.default_rng(2)
    times = np.arange(30) / 30
    level = _thrown(times) + rng.normal(scale=0.003, size=(30, 2))
    angle = np.radians(-12)
    turn = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    up = (float(turn[0, 1]), float(turn[1, 1]))
    one, other = (
        energies(motion, np.arange(30), "b1", mass=_MASS, bearings=Bearings(_G))
        for motion in (
            _motion(times, level, u=0.003),
            _motion(times, level @ turn.T, up=up, u=0.003),
        )
    )
    for kind, account in one.items():
        np.testing.assert_allclose(other[kind].values, account.values, rtol=1e-9)
        np.testing.assert_allclose(other[kind].uncertainties, account.uncertainties, rtol=1e-9)


def test_truth_is_within_the_uncertainty_as_often_as_it_says() -> None:
    rng = np.random.default_rng(4)
    times = np.arange(30) / 30
    velocity = np.array([np.full(30, 2.0), 6.5 - 9.81 * times])
    truth = {
        EnergyKind.KINETIC: 0.06 * np.sum(velocity**2, axis=0),
        EnergyKind.POTENTIAL: 0.12 * 9.81 * _thrown(times)[:, 1],
    }
    truth[EnergyKind.TOTAL] = truth[EnergyKind.KINETIC] + truth[EnergyKind.POTENTIAL]
    held: dict[str, list[float]] = {}
    for _ in range(_MANY):
        scale, mass = 1 + rng.normal() * 0.005, 0.12 * (1 + rng.normal() * 0.01)
        marks = _thrown(times) * scale + rng.normal(scale=0.003, size=(30, 2))
        found = energies(
            _motion(times, marks, u=0.003),
            np.arange(30),
            "b1",
            mass=Given(mass, 0.0012, _MASS.source),
            bearings=Bearings(_G, common=Common({Source("scale", "film"): 0.005})),
        )
        for kind, account in found.items():
            off = np.abs(account.values - truth[kind]) / account.uncertainties
            held.setdefault(kind, []).append(float(np.mean(off <= 1.96)))
        change = change_of(found[EnergyKind.TOTAL], 0, 29)
        assert change is not None
        held.setdefault("change", []).append(
            float(abs(change.change.value) <= 1.96 * change.change.uncertainty)
        )
    for name, each in held.items():
        assert 0.89 <= np.mean(each) <= 0.99, name


def test_a_resting_body_has_no_kinetic_energy_by_noise() -> None:
    rng = np.random.default_rng(6)
    times = np.arange(2000) / 30
    motion = _motion(times, rng.normal(scale=0.002, size=(2000, 2)), u=0.002)
    found = energies(motion, _frames(motion), "b1", mass=_MASS, bearings=Bearings(_G))
    kinetic = found[EnergyKind.KINETIC]
    noise = 0.12 * (0.002 * 30 / np.sqrt(2)) ** 2  # what the squares have on average
    assert np.median(kinetic.values) < 0.1 * noise
    assert np.mean(kinetic.values <= 1.96 * kinetic.uncertainties) > 0.93


def test_scale_enters_squared_in_kinetic_and_once_in_potential() -> None:
    times = np.arange(20) / 30
    found = energies(
        _motion(times, _thrown(times)),
        np.arange(20),
        "b1",
        mass=_MASS,
        bearings=Bearings(_G, common=Common({Source("scale", "film"): 0.01})),
    )
    for kind, power in ((EnergyKind.KINETIC, 2), (EnergyKind.POTENTIAL, 1)):
        relative = found[kind].uncertainties / np.abs(found[kind].values)
        np.testing.assert_allclose(relative, power * 0.01, rtol=1e-4)


def test_centimetres_are_made_metres() -> None:
    times = np.arange(20) / 30
    metres = energies(
        _motion(times, _thrown(times)), np.arange(20), "b1", mass=_MASS, bearings=Bearings(_G)
    )
    centimetres = energies(
        _motion(times, 100 * _thrown(times), u=1e-7),
        np.arange(20),
        "b1",
        mass=_MASS,
        bearings=Bearings(_G, metre=0.01),
    )
    for kind, account in metres.items():
        np.testing.assert_allclose(centimetres[kind].values, account.values, rtol=1e-9)


def test_a_swinging_spring_keeps_its_energy() -> None:
    times = np.linspace(0, 2, 400)
    k, m, rest = 8.0, 0.2, 0.30
    x = 0.40 + 0.05 * np.cos(np.sqrt(k / m) * times)
    places = np.stack([x, np.zeros_like(x)], axis=1)
    spring = Spring(
        Given(k, 0.0, Source("spring constant")),
        Given(rest, 0.0, Source("rest length")),
        np.zeros(2),
    )
    found = energies(
        _motion(times, places, up=(0.0, 1.0)),
        np.arange(400),
        "b1",
        mass=Given(m, 0.0, _MASS.source),
        bearings=Bearings(_G),
        spring=spring,
    )
    np.testing.assert_allclose(found[EnergyKind.ELASTIC].values, k * (x - rest) ** 2 / 2, rtol=1e-9)
    assert found[EnergyKind.ELASTIC].frames[-1] == 399


def test_a_rolling_disc_turns_with_half_its_energy_besides() -> None:
    times = np.linspace(0, 1, 60)
    radius, v = 0.1, 0.8
    middle = np.stack([v * times, np.zeros_like(times)], axis=1)
    angles = -v * times / radius
    arms = radius * np.stack([np.cos(angles), np.sin(angles)], axis=1)
    motion = Motion(
        times,
        middle,
        heights=middle[:, 1],
        position_uncertainty=1e-9,
        turning=turning(np.arange(60), arms, position_uncertainty=1e-9),
    )
    size = Given(2 * radius, 0.0, Source("size", "b1"))
    inertia = inertia_of(SHAPES["disc"], _MASS, size, Source("inertia", "b1"))
    found = energies(
        motion, np.arange(60), "b1", mass=_MASS, bearings=Bearings(_G), inertia=inertia
    )
    kinetic, rotational = found[EnergyKind.KINETIC], found[EnergyKind.ROTATIONAL]
    np.testing.assert_allclose(rotational.values, kinetic.values / 2, rtol=1e-5)


def test_what_is_missing_on_a_slope_is_the_friction() -> None:
    """Down a slope of 12° with friction 0.06: F = μ m g cos 12°, whatever the axes."""
    slope, friction, mass = np.radians(12), 0.06, 4.0
    times = np.arange(31) / 30
    a = 9.81 * (np.sin(slope) - friction * np.cos(slope))
    along = a * times**2 / 2
    up = (float(-np.sin(slope)), float(np.cos(slope)))
    motion = _motion(times, np.stack([along, np.zeros_like(along)], axis=1), up=up)
    found = energies(
        motion, np.arange(31), "b1", mass=Given(mass, 0.0, _MASS.source), bearings=Bearings(_G)
    )
    change = change_of(found[EnergyKind.TOTAL], 0, 30)
    assert change is not None
    path = path_between(motion, np.arange(31), "b1", Bearings(_G), 0, 30)
    gone = missing(change, path, 1.0)
    assert gone.force is not None
    force = friction * mass * 9.81 * np.cos(slope)
    assert gone.force.value == pytest.approx(force, rel=1e-3)
    assert gone.power.value == pytest.approx(force * along[-1], rel=1e-6)


def test_the_way_that_friction_acts_along_is_as_sure_as_it_says() -> None:
    speed, scatter, times = np.array([0.1, 0.02]), 0.002, np.arange(60) / 30
    inside = 0
    for seed in range(_MANY):
        noise = np.random.default_rng(seed).normal(scale=scatter, size=(60, 2))
        motion = _motion(times, np.outer(times, speed) + noise, u=scatter)
        way = path_between(motion, np.arange(60), "b1", Bearings(_G), 0, 59)
        assert way is not None
        off = way.value - times[-1] * float(np.hypot(*speed))
        inside += abs(off) <= 1.96 * way.uncertainty
    assert 0.9 <= inside / _MANY <= 0.99
