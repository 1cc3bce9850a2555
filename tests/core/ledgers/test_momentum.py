"""Momentum before and after against the truth of made-up collisions."""

from dataclasses import replace

import numpy as np
import pytest

from footing.core.arrays import FloatArray
from footing.core.ledgers.amounts import Amount, Common
from footing.core.ledgers.collision import Collision, Kind, collision
from footing.core.ledgers.momentum import (
    Conserved,
    Instant,
    MomentumLedger,
    Mover,
    Stretch,
    Unclear,
    meeting_time,
    momentum_ledger,
)
from tests.core.ledgers.collisions import Made, made, measured

_SURE = 1.96  # uncertainties that hold the truth in 95 %
_SHARE = (0.93, 0.97)
_MANY = 350
_AT_ZERO = Instant(0.0)
Velocity = tuple[float, float]


def _ledger(of: Made, seed: int, **how: float) -> MomentumLedger:
    movers, common = measured(of, np.random.default_rng(seed), **how)  # type: ignore[arg-type]
    return momentum_ledger(movers, _AT_ZERO, common)


def _happened(ledger: MomentumLedger) -> Collision:
    found = collision(ledger)
    assert found is not None
    return found


def _holds(amount: Amount | None, truth: float) -> bool:
    assert amount is not None
    return abs(amount.value - truth) <= _SURE * amount.uncertainty


def _line(velocity: tuple[float, float], *, moments: FloatArray) -> Stretch:
    return Stretch(moments, np.outer(moments, velocity))


_BEFORE, _AFTER = np.linspace(-0.5, -0.02, 12), np.linspace(0.02, 0.5, 12)


def _exact(
    name: str, mass: float, before: tuple[float, float], after: tuple[float, float]
) -> Mover:
    """A body with marks that do not scatter."""
    return Mover(
        name, name, mass, 0.0, _line(before, moments=_BEFORE), _line(after, moments=_AFTER)
    )


def test_truth_is_within_the_uncertainty_as_often_as_it_says() -> None:
    rng = np.random.default_rng(16)
    held: dict[str, list[bool]] = {}
    for seed in range(_MANY):
        of = made(rng)
        ledger = _ledger(of, seed)
        happened = _happened(ledger)
        assert ledger.before is not None
        assert ledger.change is not None
        total = of.masses @ of.before
        for axis in (0, 1):
            held.setdefault("total", []).append(_holds(ledger.before.momentum[axis], total[axis]))
            held.setdefault("change", []).append(_holds(ledger.change[axis], 0.0))
            for k, body in enumerate(ledger.bodies):
                assert body.after is not None
                truth = float(of.masses[k] * of.after[k, axis])
                held.setdefault("after", []).append(_holds(body.after.momentum[axis], truth))
        held.setdefault("restitution", []).append(_holds(happened.restitution, of.restitution))
        held.setdefault("kept", []).append(_holds(happened.kept, of.kept))
    slack = 2 * np.sqrt(0.95 * 0.05 / _MANY)  # of a share among so many
    for name, each in held.items():
        low, high = _SHARE[0] - slack, _SHARE[1] + slack
        assert low <= np.mean(each) <= high, name


def test_no_bias_of_the_velocity_at_the_impact_under_friction() -> None:
    rng = np.random.default_rng(17)
    off = []
    for seed in range(80):
        of = made(rng)
        ledger = _ledger(of, seed, friction=0.05, scale=0.0, weighed=0.0)
        for k, body in enumerate(ledger.bodies):
            assert body.before is not None
            assert body.before.curve is not None
            assert body.before.curve.order == 2
            along = of.before[k] / np.hypot(*of.before[k])
            v = np.array([one.value for one in body.before.velocity])
            off.append((v - of.before[k]) @ along / body.before.velocity[0].uncertainty)
    assert abs(np.mean(off)) < 3 / np.sqrt(len(off))
    assert np.std(off) == pytest.approx(1.0, abs=0.2)


def test_signs_stay_and_a_rebound_is_negative() -> None:
    ledger = momentum_ledger(
        [
            _exact("light", 0.1, (2.0, 0.0), (-1.0, 0.0)),
            _exact("heavy", 0.5, (0.0, 0.0), (0.6, 0.0)),
        ],
        _AT_ZERO,
        Common(),
    )
    light, heavy = ledger.bodies
    assert light.after is not None
    assert light.impulse is not None
    assert heavy.impulse is not None
    assert light.after.momentum[0].value == pytest.approx(-0.1)
    assert light.impulse[0].value == pytest.approx(-0.3)
    assert heavy.impulse[0].value == pytest.approx(0.3)
    assert ledger.before is not None
    assert ledger.before.centre[0].value == pytest.approx(0.2 / 0.6)


@pytest.mark.parametrize(
    ("after", "kind", "restitution"),
    [
        (((-1 / 3, 0.0), (2 / 3, 0.0)), Kind.ELASTIC, 1.0),
        (((1 / 3, 0.0), (1 / 3, 0.0)), Kind.INELASTIC, 0.0),
        (((0.0, 0.0), (0.5, 0.0)), Kind.PARTLY, 0.5),
        (((-1.0, 0.0), (1.0, 0.0)), Kind.EXPLOSIVE, 2.0),
    ],
)
def test_kinds_of_collision(
    after: tuple[Velocity, Velocity], kind: Kind, restitution: float
) -> None:
    """Of a body of 1 kg that meets one of 2 kg at rest; a little scatter, as always."""
    rng = np.random.default_rng(5)
    bodies = [
        _exact("one", 1.0, (1.0, 0.0), after[0]),
        _exact("other", 2.0, (0.0, 0.0), after[1]),
    ]

    def shaken(stretch: Stretch | None, shift: float) -> Stretch:
        assert stretch is not None
        noise = rng.normal(scale=0.0005, size=stretch.positions.shape)
        return Stretch(stretch.times, stretch.positions + noise + [shift, 0.0])

    movers = [
        replace(one, before=shaken(one.before, shift), after=shaken(one.after, shift))
        for one, shift in zip(bodies, (0.0, 0.1), strict=True)
    ]
    ledger = momentum_ledger(movers, _AT_ZERO, Common())
    happened = _happened(ledger)
    assert happened.kind is kind
    assert happened.restitution is not None
    assert happened.restitution.value == pytest.approx(restitution, abs=0.02)
    assert ledger.conserved is Conserved.YES


def test_a_line_is_taken_where_nothing_bends_a_path() -> None:
    still = made(np.random.default_rng(7))
    orders = [
        side.curve.order
        for seed in range(40)
        for body in _ledger(still, seed).bodies
        for side in (body.before, body.after)
        if side is not None and side.curve is not None
    ]
    assert len(orders) > 100
    assert np.mean([order == 1 for order in orders]) > 0.95


def test_restitution_is_along_the_line_of_centres_where_rims_rub() -> None:
    """Two discs whose rims rub: what happens across the line of centres is no part of it."""
    line = np.array([0.6, 0.8])  # from one centre to the other
    across = np.array([-0.8, 0.6])
    was = np.array([1.0, 0.0])
    impulse = 0.9 * (was @ line) * line + 0.15 * across  # of equal masses of 1 kg: e = 0.8
    one = _exact("one", 1.0, (1.0, 0.0), tuple(was - impulse))
    other = _exact("other", 1.0, (0.0, 0.0), tuple(impulse))
    shift = 0.3 * line
    moved = [
        replace(stretch, positions=stretch.positions + shift)
        for stretch in (other.before, other.after)
        if stretch is not None
    ]
    apart = replace(other, before=moved[0], after=moved[1])
    happened = _happened(momentum_ledger([one, apart], _AT_ZERO, Common()))
    assert happened.restitution is not None
    assert happened.restitution.value == pytest.approx(0.8, abs=1e-6)


def test_bodies_that_join_or_come_apart() -> None:
    one = replace(_exact("one", 1.0, (1.0, 0.0), (0.0, 0.0)), after=None)
    other = replace(_exact("other", 2.0, (-0.2, 0.0), (0.0, 0.0)), after=None)
    both = replace(_exact("both", 3.0, (0.0, 0.0), (0.2, 0.0)), before=None)
    joined = momentum_ledger([one, other, both], _AT_ZERO, Common())
    assert joined.bodies[0].after is None
    assert joined.bodies[2].impulse is None
    assert joined.conserved is Conserved.YES
    assert _happened(joined).kind is Kind.INELASTIC
    gone = momentum_ledger([one, other, replace(both, mass=2.0)], _AT_ZERO, Common())
    assert (gone.conserved, gone.unclear) == (Conserved.CANNOT_TELL, Unclear.MATTER)


def test_a_body_that_is_said_to_rest_needs_no_marks() -> None:
    moving = _exact("moving", 1.0, (1.0, 0.0), (0.0, 0.0))
    resting = replace(
        _exact("resting", 1.0, (0.0, 0.0), (1.0, 0.0)), before=None, rests_before=True
    )
    ledger = momentum_ledger([moving, resting], _AT_ZERO, Common())
    assert ledger.conserved is Conserved.YES
    assert _happened(ledger).restitution is not None
    unsaid = momentum_ledger([moving, replace(resting, rests_before=False)], _AT_ZERO, Common())
    assert unsaid.conserved is Conserved.CANNOT_TELL


def test_one_body_that_meets_the_floor() -> None:
    ball = _exact("ball", 0.2, (1.0, -3.0), (1.0, 2.4))
    ledger = momentum_ledger([ball], _AT_ZERO, Common())
    assert ledger.conserved is Conserved.NO
    happened = _happened(ledger)
    assert happened.restitution is not None
    assert happened.restitution.value == pytest.approx(0.8)


def test_it_says_what_decides() -> None:
    of = made(np.random.default_rng(3))
    assert _ledger(of, 1, weighed=0.05, scatter=0.0002).decides == "mass"
    assert _ledger(of, 1, weighed=0.0, scatter=0.004).decides == "marks"


def test_too_few_marks_are_refused() -> None:
    few = Stretch(_BEFORE[:2], np.outer(_BEFORE[:2], (1.0, 0.0)))
    with pytest.raises(ValueError, match="3 marks"):
        momentum_ledger([Mover("a", "a", 1.0, 0.0, few, few)], _AT_ZERO, Common())


def test_the_moment_of_the_impact_is_where_the_paths_meet() -> None:
    rng = np.random.default_rng(18)
    off = []
    for seed in range(60):
        movers, _ = measured(made(rng), np.random.default_rng(seed), scale=0.0)
        assert movers[0].before is not None
        assert movers[0].after is not None
        ends = (float(movers[0].before.times[-1]), float(movers[0].after.times[0]))
        found = meeting_time(movers, *ends)
        assert ends[0] <= found.value <= ends[1]
        off.append(found.value / found.uncertainty)
    assert np.std(off) == pytest.approx(1.0, abs=0.35)
