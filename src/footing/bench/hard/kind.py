"""One kind of hard films in one half: where its chance comes from, and what its films share."""

import numpy as np

from footing.bench.hard.actors import Actor, Ball, Path, Point
from footing.bench.hard.filmset import Body, Film
from footing.bench.hard.photographs import swatch
from footing.core.arrays import AnyArray

_PLATES = ("coffee.png", "china.jpg", "motorcycle_left.png", "chelsea.png", "rocket.jpg")
ROUGH = ("brick.png", "gravel.png", "grass.png", "flower.jpg", "motorcycle_right.png")
_DRESSES = ("astronaut.png", "coins.png", "color.png", "retina.jpg", "ihc.png", "logo.png")


class Kind:
    """One kind of film in one half: a source of chance, and what all films of it share."""

    def __init__(self, name: str, half: str, number: int, *, seed: int) -> None:
        self.name = f"{name} {number}"
        self.half = half
        self.rng = np.random.default_rng(seed)
        self.number = number
        self.seed = seed

    def pick(self, names: tuple[str, ...]) -> str:
        """One of some names."""
        return names[int(self.rng.integers(0, len(names)))]

    def dress(self, height: float, width: float) -> AnyArray:
        """A piece of a photograph, three times as fine as the picture, px."""
        return swatch(self.pick(_DRESSES), (round(3 * height), round(3 * width)), self.rng)

    def between(self, low: float, high: float) -> float:
        """A number."""
        return float(self.rng.uniform(low, high))

    def axis(self) -> tuple[float, float, float]:
        """A direction to turn about."""
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
        """A film of this kind, before some photograph if none is said."""
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


def ball_of(kind: Kind, radius: float, path: Path, rate: float, begins: float = 0.0) -> Ball:
    """A patterned ball that turns, px and radians a frame, about some axis."""
    dress = kind.dress(2 * radius, 4 * radius)
    return Ball(dress, radius, path, kind.axis(), rate, begins=begins)
