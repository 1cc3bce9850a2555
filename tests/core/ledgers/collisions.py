"""Made-up collisions whose truth is known: two bodies that meet at t = 0."""

from dataclasses import dataclass

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.effects import Source
from footing.core.ledgers.amounts import Common
from footing.core.ledgers.momentum import Mover, Stretch

GRAVITY = 9.81


@dataclass(frozen=True)
class Made:
    """Two bodies: masses (kg), velocities (m/s) before and after, where they touch (m)."""

    masses: FloatArray
    before: FloatArray
    after: FloatArray
    places: FloatArray
    restitution: float

    @property
    def kept(self) -> float:
        """Share of the kinetic energy that is kept."""
        energies = [
            float(np.sum(self.masses * np.sum(v**2, axis=1))) for v in (self.before, self.after)
        ]
        return energies[1] / energies[0]


def made(rng: np.random.Generator, *, restitution: float = 0.8) -> Made:
    """A collision without friction between the bodies, somewhere off-centre."""
    masses = rng.uniform(0.1, 1.0, 2)
    before = np.array(
        [
            [rng.uniform(0.5, 2), rng.uniform(-0.3, 0.3)],
            [-rng.uniform(0, 1), rng.uniform(-0.2, 0.2)],
        ]
    )
    line = np.array([rng.uniform(0.6, 1.0), rng.uniform(-0.5, 0.5)])
    line /= np.hypot(*line)
    met = float((before[0] - before[1]) @ line)
    impulse = (1 + restitution) * masses[0] * masses[1] / masses.sum() * met
    after = before + np.outer([-impulse / masses[0], impulse / masses[1]], line)
    return Made(masses, before, after, np.stack([np.zeros(2), 0.1 * line]), restitution)


def marks(
    collision: Made,
    body: int,
    times: FloatArray,
    rng: np.random.Generator,
    *,
    scatter: float,
    friction: float = 0.0,
) -> FloatArray:
    """Where a body is marked, ``(n, 2)``; it slides with friction before and after."""
    found = []
    for moment in times:
        velocity = (collision.before if moment < 0 else collision.after)[body]
        slows = friction * GRAVITY * velocity / (np.hypot(*velocity) or 1.0)
        found.append(collision.places[body] + velocity * moment - slows * moment**2 / 2)
    return np.array(found) + rng.normal(scale=scatter, size=(len(times), 2))


def measured(
    collision: Made,
    rng: np.random.Generator,
    *,
    marked: int = 20,
    scatter: float = 0.001,
    friction: float = 0.0,
    scale: float = 0.003,
    weighed: float = 0.002,
) -> tuple[list[Mover], Common]:
    """The bodies as somebody measures them: marks scatter, scale and masses are a little off."""
    times = (np.arange(-marked, marked) + rng.uniform(0.05, 0.95)) / 30
    size = 1 + rng.normal() * scale
    movers = []
    for body, name in enumerate(("left", "right")):
        places = marks(collision, body, times, rng, scatter=scatter, friction=friction) * size
        mass = float(collision.masses[body])
        movers.append(
            Mover(
                name,
                name,
                mass * (1 + rng.normal() * weighed),
                mass * weighed,
                Stretch(times[times < 0], places[times < 0]),
                Stretch(times[times >= 0], places[times >= 0]),
            )
        )
    return movers, Common({Source("scale", "film"): scale} if scale else {})
