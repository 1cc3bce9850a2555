"""Hard films of what flies or swings: balls, cones, discs, drops, lamps and specks."""

import numpy as np

from footing.bench.hard.actors import Actor, Ball, Flat, Path, Point, disc, glow, wedge
from footing.bench.hard.filmset import Body, Film
from footing.bench.hard.kind import ROUGH, Kind, ball_of, thrown


def balls(kind: Kind) -> Film:
    """A patterned ball, thrown, turning."""
    radius = kind.between(6, 12)
    frames = 56
    path = thrown((30, 300), (kind.between(9.6, 10.4), kind.between(-13.5, -12)), 0.45)
    ball = ball_of(kind, radius, path, kind.between(0.1, 0.5))
    return kind.film([ball], [Body(0, path, 2 * radius)], frames)


def cones(kind: Kind) -> Film:
    """A cone that turns in the air."""
    rate = (0.08, 0.2, 0.35, 0.6)[kind.number % 4] * kind.between(0.9, 1.1)
    tall, wide = kind.between(34, 44), kind.between(24, 30)
    path = thrown((40, 290), (kind.between(9, 10), -12.4), 0.43)
    cover = wedge(tall, wide)
    cone = Flat(kind.dress(*(n / 3 for n in cover.shape)), cover, path, turn=lambda t: rate * t)
    return kind.film([cone], [Body(0, path, (tall + wide) / 2)], 56)


def discs(kind: Kind) -> Film:
    """A patterned disc that slides and turns."""
    rate = (0.1, 0.4, 0.9, 1.6)[kind.number % 4]
    radius = kind.between(13, 20)
    speed, slows = kind.between(9, 10), kind.between(0.02, 0.05)

    def path(t: float) -> Point:
        return 40 + speed * t - slows * t * t / 2, 180 + 40 * np.sin(t / 25)

    cover = disc(radius)
    thing = Flat(kind.dress(*(n / 3 for n in cover.shape)), cover, path, turn=lambda t: rate * t)
    return kind.film([thing], [Body(0, path, 2 * radius)], 60, kind.pick(ROUGH))


def fast_balls(kind: Kind) -> Film:
    """A small fast ball on an arc."""
    radius = kind.between(5, 7)
    path = thrown((20, 330), (kind.between(15, 17), kind.between(-18, -16)), 0.85)
    ball = ball_of(kind, radius, path, 0.2)
    return kind.film([ball], [Body(0, path, 2 * radius)], 38, rate=60, exposures=9, shutter=0.4)


def drops(kind: Kind) -> Film:
    """A ball that is dropped, with a long blur."""
    radius = kind.between(8, 11)
    path = thrown((kind.between(250, 400), 25), (kind.between(-0.5, 0.5), 0), 1.9, 5.0)
    ball = ball_of(kind, radius, path, 0.05)
    return kind.film([ball], [Body(0, path, 2 * radius)], 23, exposures=15, shutter=0.8)


def lamps(kind: Kind) -> Film:
    """A lamp in the dark."""
    radius = kind.between(3, 5)
    cover = glow(radius, 3.0)
    bright = np.full((*cover.shape, 3), 255.0, dtype=np.float32)
    reach, beat = kind.between(120, 200), kind.between(14, 20)

    def path(t: float) -> Point:
        a = 0.9 * float(np.sin(t / beat))
        return 320 + reach * float(np.sin(a)), 60 + reach * float(np.cos(a))

    lamp = Flat(bright, cover, path)
    return kind.film([lamp], [Body(0, path, 2 * radius + 6)], 80, dim=0.12, grain=4.0)


def specks(kind: Kind) -> Film:
    """A ball of four pixels, before a rough wall."""
    path = thrown((30, 250), (kind.between(7.5, 8.5), -9.5), 0.26)
    tone = np.full((2, 2, 3), kind.between(225, 250), dtype=np.float32)
    ball = Ball(tone, 2.2, path, shade=0.2)
    return kind.film([ball], [Body(0, path, 4.4)], 66, "gravel.png", dim=0.55)


def landings(kind: Kind) -> Film:
    """A snowball that lands, goes to pieces in a cloud, and what is left of it lies still."""
    radius = kind.between(8, 11)
    lands = 36.0
    flight = thrown((60, 220), (kind.between(10, 11.5), -9), 0.5)
    end = flight(lands)

    def path(t: float) -> Point:
        return flight(t) if t < lands else (end[0] + 2 * (1 - np.exp(lands - t)), end[1])

    white = np.full((6, 12, 3), 238.0, dtype=np.float32)
    white += kind.rng.normal(0, 14, size=white.shape)
    ball = Ball(white.astype(np.float32), radius, path, kind.axis(), 0.15)
    actors: list[Actor] = [ball]
    for _ in range(14):
        side, lift = kind.between(-4, 4), kind.between(-5, -1)
        crumb = thrown(end, (side, lift), 0.5, lands)
        small = disc(kind.between(1.5, 3))
        dress = np.full((*small.shape, 3), 235.0, dtype=np.float32)
        gone: Path = lambda t, crumb=crumb: crumb(t) if t > lands else (-90.0, -90.0)  # type: ignore[misc]  # noqa: E731
        actors.append(Flat(dress, small, gone))
    return kind.film(actors, [Body(0, path, 2 * radius)], 52, kind.pick(ROUGH), dim=0.8)
