"""Hard films of people who walk past each other."""

from collections.abc import Callable

import numpy as np

from footing.bench.hard.actors import Actor, Figure, Flat, Limb, Path, Point, box, capsule, disc
from footing.bench.hard.filmset import Body, Film
from footing.bench.hard.held import SKIN
from footing.bench.hard.kind import Kind
from footing.core.arrays import AnyArray

_TORSO = 3  # among the limbs of a person


def _person(kind: Kind, path: Path, size: float, phase: float, stride: float) -> Figure:
    shirt, trousers = kind.dress(52, 30), kind.dress(40, 12)
    trousers = trousers * 0.25 + kind.between(20, 90)
    skin = np.broadcast_to(SKIN * kind.between(0.6, 1.1), (*disc(9).shape, 3)).astype(np.float32)
    arm, leg, torso = capsule(40, 9), capsule(50, 12), capsule(54, 30)

    def fit(colour: AnyArray, cover: AnyArray) -> AnyArray:
        tall, wide = cover.shape
        rows = np.linspace(0, colour.shape[0] - 1, tall).astype(int)
        columns = np.linspace(0, colour.shape[1] - 1, wide).astype(int)
        return np.asarray(colour[np.ix_(rows, columns)], dtype=np.float32)

    def swing(sign: float, most: float) -> Callable[[float], float]:
        return lambda t: sign * most * float(np.sin(stride * t + phase))

    sleeves = fit(shirt * 0.8, arm)
    return Figure(
        (
            Limb(sleeves, arm, (0, -46), 18, swing(1, 0.6)),
            Limb(fit(trousers, leg), leg, (0, -2), 24, swing(-1, 0.5)),
            Limb(fit(trousers * 0.85, leg), leg, (0, -2), 24, swing(1, 0.5)),
            Limb(fit(shirt, torso), torso, (0, 0), -26),
            Limb(skin, disc(9), (0, 0), -62),
            Limb(sleeves, arm, (0, -46), 18, swing(-1, 0.6)),
        ),
        path,
        size,
    )


def people(kind: Kind) -> Film:
    """Two people who pass each other, one behind a sign; a third stands.

    Their arms swing across the spots, but in the first frame, where somebody marks them.
    """
    speed = kind.between(3.2, 4.2)
    height = 210 + kind.between(-8, 8)

    def one(t: float) -> Point:
        return 60 + speed * t, height + 1.5 * abs(np.sin(0.33 * t))

    def other(t: float) -> Point:
        return 600 - speed * t, height - 12 + 1.5 * abs(np.sin(0.31 * t + 1))

    size = kind.between(0.9, 1.2)
    behind = _person(kind, other, 0.95 * size, 1.0, 0.31)
    front = _person(kind, one, size, 1.2, 0.33)
    stands = _person(kind, lambda _: (470.0, 200.0), 0.9 * size, 0.0, 0.0)
    sign = Flat(kind.dress(60, 34), box(180, 34), lambda _: (200.0, 200.0))
    actors: list[Actor] = [stands, behind, front]
    if kind.number % 2:
        actors.append(sign)

    def torso(path: Path, scale: float) -> Path:
        return lambda t: (path(t)[0], path(t)[1] - 26 * scale)

    return kind.film(
        actors,
        [
            Body(1, torso(other, 0.95 * size), 54 * size, on=_TORSO),
            Body(2, torso(one, size), 54 * size, on=_TORSO),
        ],
        110,
        "brick.png",
        border=10,
    )
