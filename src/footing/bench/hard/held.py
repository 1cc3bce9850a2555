"""Hard films with hands: that let go, that stay beside, and that hold the camera."""

import numpy as np

from footing.bench.hard.actors import Actor, Ball, Flat, Path, Point, capsule, disc
from footing.bench.hard.filmset import Body, Film
from footing.bench.hard.kind import ROUGH, Kind, ball_of, thrown

SKIN = np.array([120.0, 150.0, 205.0], dtype=np.float32)
_SLEEVE = np.array([110.0, 70.0, 60.0], dtype=np.float32)


def _hand_of(path: Path, kind: Kind, *, lean: float) -> list[Actor]:
    """A forearm with a hand whose palm is at the end of the path."""
    arm, palm = capsule(120, 26), disc(13)
    angle = lean

    def arm_path(t: float) -> Point:
        x, y = path(t)
        return x - 62 * float(np.sin(angle)), y + 62 * float(np.cos(angle))

    tone = kind.between(0.7, 1.1)
    sleeve = np.broadcast_to(_SLEEVE * tone, (*arm.shape, 3)).copy()
    skin = np.broadcast_to(SKIN * tone, (*palm.shape, 3)).copy()
    for layer in (sleeve, skin):
        layer += kind.rng.normal(0, 7, size=layer.shape)
    return [
        Flat(sleeve.astype(np.float32), arm, arm_path, turn=lambda _: angle),
        Flat(skin.astype(np.float32), palm, path),
    ]


def releases(kind: Kind) -> Film:
    """A ball that a hand swings, lets go at frame 14, and that flies; the hand follows through."""
    radius = kind.between(8, 12)
    let_go = 14.0
    over = kind.number % 2 == 0
    lift = (62.0, 55.0, 40.0)[kind.number % 3]
    start = (110.0, 250.0)

    def swung(t: float) -> Point:
        # speeds up until it lets go, then the hand comes to rest
        s = min(t, let_go) / let_go
        x, y = start[0] + 60 * s * s, start[1] - lift * s * s
        after = max(t - let_go, 0.0)
        speed = 120 / let_go, -2 * lift / let_go
        coast = 6 * (1 - np.exp(-after / 6))
        return x + speed[0] * coast, y + speed[1] * coast

    release = swung(let_go)
    flight = thrown(release, (120 / let_go, -2 * lift / let_go - kind.between(0, 2)), 0.5, let_go)

    def path(t: float) -> Point:
        return swung(t) if t <= let_go else flight(t)

    def palm(t: float) -> Point:
        x, y = swung(t)
        return x - 0.5 * radius, y + (0.9 if over else 0.6) * radius

    ball = ball_of(kind, radius, path, kind.between(0.05, 0.35), let_go)
    hand = _hand_of(palm, kind, lean=kind.between(-0.9, -0.3))
    actors: list[Actor] = [*hand, ball] if over else [hand[0], ball]
    return kind.film(actors, [Body(actors.index(ball), path, 2 * radius)], 58)


def beside(kind: Kind) -> Film:
    """A plain ball with a hand beside it, that pushes it and stays behind."""
    radius = kind.between(12, 16)
    start, speed = 150.0, kind.between(6, 7.5)

    def path(t: float) -> Point:
        s = max(t - 12, 0.0)
        push = min(s, 10.0)
        return start + 0.05 * speed * push * push + speed * max(s - 10, 0.0), 240.0

    def palm(t: float) -> Point:
        x = path(min(t, 24.0))[0] + 3 * max(min(t - 24, 6.0), 0.0)
        return x - radius - 9, 236.0

    tone = np.array([kind.between(40, 90), kind.between(60, 200), kind.between(150, 230)])
    dress = np.broadcast_to(tone, (4, 8, 3)).astype(np.float32)
    ball = Ball(dress.copy(), radius, path, (0, 0, 1), speed / radius)
    hand = _hand_of(palm, kind, lean=-1.35)
    return kind.film([*hand, ball], [Body(2, path, 2 * radius)], 66, kind.pick(ROUGH))


def carried(kind: Kind) -> Film:
    """A thing filmed by a hand that wanders and turns after it."""
    rng = kind.rng
    steps = np.cumsum(rng.normal(0, 1.3, size=(90, 2)), axis=0)
    pan = kind.between(1.2, 2.2)

    def camera(t: float) -> Point:
        k = min(max(t, 0.0), 88.0)
        low = int(k)
        x, y = steps[low] + (k - low) * (steps[low + 1] - steps[low])
        return float(np.clip(x - pan * k, -140, 140)), float(np.clip(y, -140, 140))

    radius = kind.between(11, 17)
    path = thrown((60, 230), (kind.between(7.5, 8.5), -5), 0.13)
    thing: Actor
    if kind.number % 2:
        thing = ball_of(kind, radius, path, 0.2)
    else:
        cover = disc(radius)
        thing = Flat(kind.dress(*(n / 3 for n in cover.shape)), cover, path)
    return kind.film([thing], [Body(0, path, 2 * radius)], 66, camera=camera, border=150)
