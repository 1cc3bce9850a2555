"""Ledgers: what energies cost beside the table of the same marks, and how often they hold truth."""

import statistics
from pathlib import Path

import numpy as np

from footing.bench.measuring import line, seconds
from footing.core.arrays import FloatArray
from footing.core.effects import Source
from footing.core.impacts import hits
from footing.core.ledgers.amounts import Common
from footing.core.ledgers.collision import collision
from footing.core.ledgers.energy import Bearings, EnergyKind, Given, energies
from footing.core.ledgers.momentum import Instant, Mover, Stretch, momentum_ledger
from footing.core.motion import Motion
from footing.core.quantities import ON_FOOTAGE, TURNING
from footing.settings import Settings

_BODIES, _MARKS = 4, 2000
_TIMES = 5
_SIMULATED = 2000
_SURE = 1.96  # uncertainties that hold the truth in 95 %
_GRAVITY = Given(9.81, 0.0, Source("g"))


def measure(_settings: Settings, _folder: Path) -> None:
    """Speed as ratios, and how often the truth is within the stated uncertainty."""
    _speed()
    _throws()
    _collisions()


def _motions() -> list[Motion]:
    rng = np.random.default_rng(2)
    t = np.arange(_MARKS) / 60
    made = []
    for k in range(_BODIES):
        path = np.stack([np.cos(t * (1 + k / 5)), np.sin(t * (1 + k / 7))], axis=1)
        places = path + rng.normal(scale=0.002, size=(_MARKS, 2))
        made.append(Motion(t, places, heights=places[:, 1], position_uncertainty=0.002))
    return made


def _speed() -> None:
    """Energies with their uncertainty, and a look for impacts, beside the columns of a table."""
    keys = [key for key in ON_FOOTAGE if key not in TURNING]
    frames = np.arange(_MARKS)
    bearings = Bearings(_GRAVITY, common=Common({Source("scale", "film"): 0.003}))

    def table() -> None:
        for motion in _motions():
            for key in keys:
                motion.column(key)

    def ledger() -> None:
        whole = None
        for k, motion in enumerate(_motions()):
            mass = Given(0.1 + k, 0.001, Source("mass", f"b{k}"))
            found = energies(motion, frames, f"b{k}", mass=mass, bearings=bearings)
            total = found[EnergyKind.TOTAL]
            whole = total if whole is None else whole.plus(total)
        assert whole is not None
        assert len(whole.uncertainties) == _MARKS

    def look() -> None:
        for motion in _motions():
            hits(motion.times, motion.positions)

    beside = statistics.median(seconds(table) for _ in range(_TIMES))
    ours = statistics.median(seconds(ledger) for _ in range(_TIMES))
    looking = statistics.median(seconds(look) for _ in range(_TIMES))
    line(f"energies of {_BODIES} × {_MARKS} marks ÷ their table", ours / beside, "", 1)
    line(f"impacts looked for in {_BODIES} × {_MARKS} marks ÷ their table", looking / beside, "", 4)


def _throws() -> None:
    """Throws with marking noise, and errors of scale and mass."""
    rng = np.random.default_rng(4)
    times = np.arange(30) / 30
    held: dict[str, list[float]] = {}
    for _ in range(_SIMULATED):
        speed, up = rng.uniform(1, 4), rng.uniform(3, 7)
        truth_mass = rng.uniform(0.05, 0.5)
        places = np.stack([speed * times, 1.5 + up * times - 9.81 * times**2 / 2], axis=1)
        size = 1 + rng.normal() * 0.005
        marks = places * size + rng.normal(scale=0.003, size=places.shape)
        mass = Given(
            truth_mass * (1 + rng.normal() * 0.01), truth_mass * 0.01, Source("mass", "ball")
        )
        found = energies(
            Motion(times, marks, heights=marks[:, 1], position_uncertainty=0.003),
            np.arange(30),
            "ball",
            mass=mass,
            bearings=Bearings(_GRAVITY, common=Common({Source("scale", "film"): 0.005})),
        )
        kinetic = truth_mass * (speed**2 + (up - 9.81 * times) ** 2) / 2
        truth = {
            EnergyKind.KINETIC: kinetic,
            EnergyKind.POTENTIAL: truth_mass * 9.81 * places[:, 1],
        }
        truth[EnergyKind.TOTAL] = truth[EnergyKind.KINETIC] + truth[EnergyKind.POTENTIAL]
        for kind, account in found.items():
            off = np.abs(account.values - truth[kind]) / account.uncertainties
            held.setdefault(f"{kind} energy of throws", []).append(float(np.mean(off <= _SURE)))
    _print(held)


def _collisions() -> None:
    """Collisions off-centre, with marking noise, and errors of scale and masses."""
    rng = np.random.default_rng(5)
    held: dict[str, list[float]] = {}
    for _ in range(_SIMULATED):
        masses = rng.uniform(0.1, 1.0, 2)
        before = np.array(
            [(rng.uniform(0.5, 2), rng.uniform(-0.3, 0.3)), (-rng.uniform(0, 1), 0.1)]
        )
        along = np.array([rng.uniform(0.6, 1.0), rng.uniform(-0.5, 0.5)])
        along /= np.hypot(*along)
        restitution = rng.uniform(0.3, 1.0)
        met = float((before[0] - before[1]) @ along)
        impulse = (1 + restitution) * masses[0] * masses[1] / masses.sum() * met
        after = before + np.outer([-impulse / masses[0], impulse / masses[1]], along)
        size = 1 + rng.normal() * 0.003
        movers = [
            _mover(f"body {k}", masses[k], (before[k], after[k]), along * 0.1 * k, size, rng)
            for k in (0, 1)
        ]
        common = Common({Source("scale", "film"): 0.003})
        ledger = momentum_ledger(movers, Instant(0.0), common)
        happened = collision(ledger)
        assert ledger.before is not None
        assert ledger.change is not None
        assert happened is not None
        total = masses @ before
        for axis in (0, 1):
            amount, change = ledger.before.momentum[axis], ledger.change[axis]
            off = abs(amount.value - total[axis])
            held.setdefault("total momentum", []).append(off <= _SURE * amount.uncertainty)
            is_zero = abs(change.value) <= _SURE * change.uncertainty
            held.setdefault("change of the momentum", []).append(is_zero)
        if happened.restitution is not None:
            off = abs(happened.restitution.value - restitution)
            held.setdefault("restitution", []).append(
                off <= _SURE * happened.restitution.uncertainty
            )
    _print(held)


def _mover(
    name: str,
    mass: float,
    velocities: tuple[FloatArray, FloatArray],
    place: FloatArray,
    size: float,
    rng: np.random.Generator,
) -> Mover:
    times = (np.arange(-20, 20) + rng.uniform(0.05, 0.95)) / 30
    sides = []
    for velocity, chosen in zip(velocities, (times < 0, times >= 0), strict=True):
        path = place + np.outer(times[chosen], velocity)
        marks = path * size + rng.normal(scale=0.001, size=path.shape)
        sides.append(Stretch(times[chosen], marks))
    weighed = mass * (1 + rng.normal() * 0.002)
    return Mover(name, name, weighed, mass * 0.002, sides[0], sides[1])


def _print(held: dict[str, list[float]]) -> None:
    for name, each in held.items():
        off = abs(100 * float(np.mean(each)) - 95)
        line(f"{name}: % within its uncertainty, off 95 by", off, "%", 2)
