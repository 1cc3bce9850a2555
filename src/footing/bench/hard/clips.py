"""The hard films. Each kind is made twice, by other seeds: one to tune on, one to judge by."""

from collections.abc import Callable, Iterator

from footing.bench.hard.filmset import Film
from footing.bench.hard.flying import (
    balls,
    cones,
    discs,
    drops,
    fast_balls,
    lamps,
    landings,
    specks,
)
from footing.bench.hard.held import beside, carried, releases
from footing.bench.hard.kind import Kind
from footing.bench.hard.sliding import alike, faulty, halts, hidden, leaving, squeezed
from footing.bench.hard.walking import people

HALVES = ("tune", "judge")

_KINDS: tuple[tuple[str, Callable[[Kind], Film], int], ...] = (
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
                seed = 1000 * HALVES.index(chosen) + 17 * number + sum(map(ord, name))
                yield make(Kind(name, chosen, number, seed=seed))
