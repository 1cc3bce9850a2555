"""Hard films of what slides and rolls: with the faults of phones, behind posts, beside its like."""

import numpy as np

from footing.bench.hard.actors import Actor, Ball, Flat, Path, Point, box
from footing.bench.hard.filmset import Body, Film
from footing.bench.hard.kind import ROUGH, Kind, ball_of, thrown


def _sled(kind: Kind) -> tuple[Flat, Path, float]:
    side = kind.between(24, 36)
    speed, slows = kind.between(8, 10), kind.between(0.02, 0.06)

    def path(t: float) -> Point:
        return 50 + speed * t - slows * t * t / 2, 200 + 18 * float(np.sin(t / 14))

    cover = box(0.7 * side, side)
    return Flat(kind.dress(*(n / 3 for n in cover.shape)), cover, path), path, 0.85 * side


def squeezed(kind: Kind) -> Film:
    """Strong compression."""
    thing, path, size = _sled(kind)
    return kind.film([thing], [Body(0, path, size)], 58, crf=(34, 38)[kind.number % 2])


def faulty(kind: Kind) -> Film:
    """Interlaced, flickering, exposed anew, read out row by row, grainy, at 240/s, upright."""
    thing, path, size = _sled(kind)
    bodies = [Body(0, path, size)]
    match kind.number:
        case 0:
            return kind.film([thing], bodies, 58, interlaced=True)
        case 1:
            return kind.film([thing], bodies, 58, light=lambda t: 1 + 0.18 * np.sin(2.1 * t))
        case 2:
            return kind.film([thing], bodies, 58, light=lambda t: 1.0 if t < 25 else 0.6)
        case 3:
            return kind.film([thing], bodies, 58, readout=0.7)
        case 4:
            return kind.film([thing], bodies, 58, grain=9.0, crf=28)
        case 5:
            slow: Path = lambda t: path(t / 4)  # noqa: E731
            flat = Flat(thing.colour, thing.cover, slow)
            return kind.film([flat], [Body(0, slow, size)], 200, rate=240, shutter=0.8, grain=5.0)
        case _:
            drop = thrown((100, 60), (kind.between(2, 3), 0), 0.28)
            ball = ball_of(kind, 12, drop, 0.25)
            return kind.film([ball], [Body(0, drop, 24)], 60, size=(640, 360))


def hidden(kind: Kind) -> Film:
    """A thing that passes behind one or two posts; and another stands still that looks like it."""
    thing, path, size = _sled(kind)
    wide = (46.0, 90.0)[kind.number % 2]
    posts: list[Actor] = [
        Flat(kind.dress(300, wide), box(300, wide), lambda _: (260.0, 200.0)),
    ]
    if kind.number % 2 == 0:
        posts.append(Flat(kind.dress(300, 30), box(300, 30), lambda _: (430.0, 200.0)))
    twin = Flat(thing.colour, thing.cover, lambda _: (330.0, 235.0))
    return kind.film([twin, thing, *posts], [Body(1, path, size)], 62)


def leaving(kind: Kind) -> Film:
    """A thing that leaves the picture while another like it comes in."""
    thing, path, size = _sled(kind)

    def faster(t: float) -> Point:
        return path(1.5 * t)

    flat = Flat(thing.colour, thing.cover, faster)
    comes = Flat(thing.colour, thing.cover, lambda t: (-420 + 9 * t, 230.0))
    return kind.film([flat, comes], [Body(0, faster, size)], 75)


def halts(kind: Kind) -> Film:
    """A cart that rests, runs, halts and runs on, past one like it that never moves."""
    side = kind.between(26, 34)
    cover = box(0.6 * side, side)
    dress = kind.dress(*(n / 3 for n in cover.shape))

    def path(t: float) -> Point:
        run = float(np.clip(t - 12, 0, 22) + np.clip(t - 52, 0, 40))
        return 90 + 7.5 * run, 220.0

    other = Flat(dress, cover, lambda _: (300.0, 196.0))
    cart = Flat(dress, cover, path)
    return kind.film([other, cart], [Body(1, path, 0.8 * side)], 86, kind.pick(ROUGH))


def alike(kind: Kind) -> Film:
    """Three balls of one kind, whose ways cross."""
    radius = kind.between(9, 12)
    dress = kind.dress(2 * radius, 4 * radius)
    lean = kind.between(-0.6, 0.6)
    ways: list[Path] = [
        lambda t: (50 + 7.5 * t, 120 + (2.2 + lean) * t),
        lambda t: (600 - 7.0 * t, 135 + 1.6 * t),
        lambda t: (330 + 40 * float(np.sin(t / 9)), 300.0),
    ]
    actors: list[Actor] = [Ball(dress, radius, way, (0, 1, 0), 0.0) for way in ways]
    return kind.film(actors, [Body(0, ways[0], 2 * radius), Body(1, ways[1], 2 * radius)], 70)
