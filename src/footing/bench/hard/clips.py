"""The hard films. Each kind is made twice, by other seeds: one to tune on, one to judge by."""

from collections.abc import Callable, Iterator

import numpy as np

from footing.bench.hard.actors import (
    Actor,
    Ball,
    Figure,
    Flat,
    Limb,
    Path,
    Point,
    box,
    capsule,
    disc,
    glow,
    wedge,
)
from footing.bench.hard.filmset import Body, Film
from footing.bench.hard.photographs import swatch
from footing.core.arrays import AnyArray

HALVES = ("tune", "judge")
_PLATES = ("coffee.png", "china.jpg", "motorcycle_left.png", "chelsea.png", "rocket.jpg")
_ROUGH = ("brick.png", "gravel.png", "grass.png", "flower.jpg", "motorcycle_right.png")
_DRESSES = ("astronaut.png", "coins.png", "color.png", "retina.jpg", "ihc.png", "logo.png")
_SKIN = np.array([120.0, 150.0, 205.0], dtype=np.float32)
_SLEEVE = np.array([110.0, 70.0, 60.0], dtype=np.float32)
_TORSO = 3  # among the limbs of a person


class _Kind:
    """One kind of film in one half: a source of chance, and what all films of it share."""

    def __init__(self, name: str, half: str, number: int) -> None:
        self.name = f"{name} {number}"
        self.half = half
        seed = 1000 * HALVES.index(half) + 17 * number + sum(map(ord, name))
        self.rng = np.random.default_rng(seed)
        self.number = number
        self.seed = seed

    def pick(self, names: tuple[str, ...]) -> str:
        return names[int(self.rng.integers(0, len(names)))]

    def dress(self, height: float, width: float) -> AnyArray:
        return swatch(self.pick(_DRESSES), (round(3 * height), round(3 * width)), self.rng)

    def between(self, low: float, high: float) -> float:
        return float(self.rng.uniform(low, high))

    def axis(self) -> tuple[float, float, float]:
        x, y, z = self.rng.normal(size=3)
        return float(x), float(y), float(z)

    def film(
        self,
        actors: list[Actor],
        bodies: list[Body],
        frames: int,
        backdrop: str = "",
        **more: object,
    ) -> Film:
        return Film(
            name=f"{self.name} ({self.half})",
            half=self.half,
            backdrop=backdrop or self.pick(_PLATES),
            actors=tuple(actors),
            bodies=tuple(bodies),
            frames=frames,
            seed=self.seed,
            **more,  # type: ignore[arg-type]
        )


def thrown(start: Point, velocity: Point, pull: float, begin: float = 0.0) -> Path:
    """The path of something thrown: px, px/frame, px/frame²; it rests before it begins."""

    def path(t: float) -> Point:
        s = max(t - begin, 0.0)
        return start[0] + velocity[0] * s, start[1] + velocity[1] * s + 0.5 * pull * s * s

    return path


def _ball(kind: _Kind, radius: float, path: Path, rate: float, begins: float = 0.0) -> Ball:
    dress = kind.dress(2 * radius, 4 * radius)
    return Ball(dress, radius, path, kind.axis(), rate, begins=begins)


def balls(kind: _Kind) -> Film:
    """A patterned ball, thrown, turning."""
    radius = kind.between(6, 12)
    frames = 56
    path = thrown((30, 300), (kind.between(9.6, 10.4), kind.between(-13.5, -12)), 0.45)
    ball = _ball(kind, radius, path, kind.between(0.1, 0.5))
    return kind.film([ball], [Body(0, path, 2 * radius)], frames)


def cones(kind: _Kind) -> Film:
    """A cone that turns in the air."""
    rate = (0.08, 0.2, 0.35, 0.6)[kind.number % 4] * kind.between(0.9, 1.1)
    tall, wide = kind.between(34, 44), kind.between(24, 30)
    path = thrown((40, 290), (kind.between(9, 10), -12.4), 0.43)
    cover = wedge(tall, wide)
    cone = Flat(kind.dress(*(n / 3 for n in cover.shape)), cover, path, turn=lambda t: rate * t)
    return kind.film([cone], [Body(0, path, (tall + wide) / 2)], 56)


def discs(kind: _Kind) -> Film:
    """A patterned disc that slides and turns."""
    rate = (0.1, 0.4, 0.9, 1.6)[kind.number % 4]
    radius = kind.between(13, 20)
    speed, slows = kind.between(9, 10), kind.between(0.02, 0.05)

    def path(t: float) -> Point:
        return 40 + speed * t - slows * t * t / 2, 180 + 40 * np.sin(t / 25)

    cover = disc(radius)
    thing = Flat(kind.dress(*(n / 3 for n in cover.shape)), cover, path, turn=lambda t: rate * t)
    return kind.film([thing], [Body(0, path, 2 * radius)], 60, kind.pick(_ROUGH))


def _hand(path: Path, kind: _Kind, *, lean: float) -> list[Actor]:
    """A forearm with a hand whose palm is at the end of the path."""
    arm, palm = capsule(120, 26), disc(13)
    angle = lean

    def arm_path(t: float) -> Point:
        x, y = path(t)
        return x - 62 * float(np.sin(angle)), y + 62 * float(np.cos(angle))

    tone = kind.between(0.7, 1.1)
    sleeve = np.broadcast_to(_SLEEVE * tone, (*arm.shape, 3)).copy()
    skin = np.broadcast_to(_SKIN * tone, (*palm.shape, 3)).copy()
    for layer in (sleeve, skin):
        layer += kind.rng.normal(0, 7, size=layer.shape)
    return [
        Flat(sleeve.astype(np.float32), arm, arm_path, turn=lambda _: angle),
        Flat(skin.astype(np.float32), palm, path),
    ]


def releases(kind: _Kind) -> Film:
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

    ball = _ball(kind, radius, path, kind.between(0.05, 0.35), let_go)
    hand = _hand(palm, kind, lean=kind.between(-0.9, -0.3))
    actors: list[Actor] = [*hand, ball] if over else [hand[0], ball]
    return kind.film(actors, [Body(actors.index(ball), path, 2 * radius)], 58)


def fast_balls(kind: _Kind) -> Film:
    """A small fast ball on an arc."""
    radius = kind.between(5, 7)
    path = thrown((20, 330), (kind.between(15, 17), kind.between(-18, -16)), 0.85)
    ball = _ball(kind, radius, path, 0.2)
    return kind.film([ball], [Body(0, path, 2 * radius)], 38, rate=60, exposures=9, shutter=0.4)


def drops(kind: _Kind) -> Film:
    """A ball that is dropped, with a long blur."""
    radius = kind.between(8, 11)
    path = thrown((kind.between(250, 400), 25), (kind.between(-0.5, 0.5), 0), 1.9, 5.0)
    ball = _ball(kind, radius, path, 0.05)
    return kind.film([ball], [Body(0, path, 2 * radius)], 23, exposures=15, shutter=0.8)


def _person(kind: _Kind, path: Path, size: float, phase: float, stride: float) -> Figure:
    shirt, trousers = kind.dress(52, 30), kind.dress(40, 12)
    trousers = trousers * 0.25 + kind.between(20, 90)
    skin = np.broadcast_to(_SKIN * kind.between(0.6, 1.1), (*disc(9).shape, 3)).astype(np.float32)
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


def people(kind: _Kind) -> Film:
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


def carried(kind: _Kind) -> Film:
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
        thing = _ball(kind, radius, path, 0.2)
    else:
        thing = Flat(
            kind.dress(2 * radius, 2 * radius),
            disc(radius)[
                :,
                :,
            ],
            path,
        )
        cover = disc(radius)
        thing = Flat(kind.dress(*(n / 3 for n in cover.shape)), cover, path)
    return kind.film([thing], [Body(0, path, 2 * radius)], 66, camera=camera, border=150)


def lamps(kind: _Kind) -> Film:
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


def specks(kind: _Kind) -> Film:
    """A ball of four pixels, before a rough wall."""
    path = thrown((30, 250), (kind.between(7.5, 8.5), -9.5), 0.26)
    tone = np.full((2, 2, 3), kind.between(225, 250), dtype=np.float32)
    ball = Ball(tone, 2.2, path, shade=0.2)
    return kind.film([ball], [Body(0, path, 4.4)], 66, "gravel.png", dim=0.55)


def alike(kind: _Kind) -> Film:
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


def _sled(kind: _Kind) -> tuple[Actor, Path, float]:
    side = kind.between(24, 36)
    speed, slows = kind.between(8, 10), kind.between(0.02, 0.06)

    def path(t: float) -> Point:
        return 50 + speed * t - slows * t * t / 2, 200 + 18 * float(np.sin(t / 14))

    cover = box(0.7 * side, side)
    return Flat(kind.dress(*(n / 3 for n in cover.shape)), cover, path), path, 0.85 * side


def squeezed(kind: _Kind) -> Film:
    """Strong compression."""
    thing, path, size = _sled(kind)
    return kind.film([thing], [Body(0, path, size)], 58, crf=(34, 38)[kind.number % 2])


def faulty(kind: _Kind) -> Film:
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
            flat = Flat(thing.colour, thing.cover, slow)  # type: ignore[attr-defined]
            return kind.film([flat], [Body(0, slow, size)], 200, rate=240, shutter=0.8, grain=5.0)
        case _:
            drop = thrown((100, 60), (kind.between(2, 3), 0), 0.28)
            ball = _ball(kind, 12, drop, 0.25)
            return kind.film([ball], [Body(0, drop, 24)], 60, size=(640, 360))


def beside(kind: _Kind) -> Film:
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
    hand = _hand(palm, kind, lean=-1.35)
    return kind.film([*hand, ball], [Body(2, path, 2 * radius)], 66, kind.pick(_ROUGH))


def hidden(kind: _Kind) -> Film:
    """A thing that passes behind one or two posts; and another stands still that looks like it."""
    thing, path, size = _sled(kind)
    wide = (46.0, 90.0)[kind.number % 2]
    posts: list[Actor] = [
        Flat(kind.dress(300, wide), box(300, wide), lambda _: (260.0, 200.0)),
    ]
    if kind.number % 2 == 0:
        posts.append(Flat(kind.dress(300, 30), box(300, 30), lambda _: (430.0, 200.0)))
    twin = Flat(thing.colour, thing.cover, lambda _: (330.0, 235.0))  # type: ignore[attr-defined]
    return kind.film([twin, thing, *posts], [Body(1, path, size)], 62)


def leaving(kind: _Kind) -> Film:
    """A thing that leaves the picture while another like it comes in."""
    thing, path, size = _sled(kind)

    def faster(t: float) -> Point:
        return path(1.5 * t)

    flat = Flat(thing.colour, thing.cover, faster)  # type: ignore[attr-defined]
    comes = Flat(thing.colour, thing.cover, lambda t: (-420 + 9 * t, 230.0))  # type: ignore[attr-defined]
    return kind.film([flat, comes], [Body(0, faster, size)], 75)


def landings(kind: _Kind) -> Film:
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
    return kind.film(actors, [Body(0, path, 2 * radius)], 52, kind.pick(_ROUGH), dim=0.8)


def halts(kind: _Kind) -> Film:
    """A cart that rests, runs, halts and runs on, past one like it that never moves."""
    side = kind.between(26, 34)
    cover = box(0.6 * side, side)
    dress = kind.dress(*(n / 3 for n in cover.shape))

    def path(t: float) -> Point:
        run = float(np.clip(t - 12, 0, 22) + np.clip(t - 52, 0, 40))
        return 90 + 7.5 * run, 220.0

    other = Flat(dress, cover, lambda _: (300.0, 196.0))
    cart = Flat(dress, cover, path)
    return kind.film([other, cart], [Body(1, path, 0.8 * side)], 86, kind.pick(_ROUGH))


_KINDS: tuple[tuple[str, Callable[[_Kind], Film], int], ...] = (
    ("thrown ball", balls, 5),
    ("spinning cone", cones, 2),
    ("turning disc", discs, 4),
    ("release", releases, 8),
    ("fast ball", fast_balls, 3),
    ("drop", drops, 3),
    ("people", people, 5),
    ("hand-held", carried, 2),
    ("lamp", lamps, 1),
    ("speck", specks, 1),
    ("alike", alike, 2),
    ("squeezed", squeezed, 2),
    ("fault", faulty, 7),
    ("beside a hand", beside, 3),
    ("hidden", hidden, 2),
    ("leaving", leaving, 1),
    ("landing", landings, 2),
    ("halting", halts, 1),
)


def films(half: str | None = None) -> Iterator[Film]:
    """The films of one half, or of both."""
    for chosen in HALVES if half is None else (half,):
        for name, make, count in _KINDS:
            for number in range(count):
                yield make(_Kind(name, chosen, number))
