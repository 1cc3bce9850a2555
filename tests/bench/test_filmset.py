"""What the hard films say of where a body is, and whether it is in plain view."""

from multiprocessing import get_context
from multiprocessing.synchronize import Barrier
from pathlib import Path

import numpy as np

from footing.bench.hard.actors import Actor, Figure, Flat, Limb, box, capsule
from footing.bench.hard.filmset import Body, Film, kept

_FORK = get_context("fork")


def walker(swing: float) -> Figure:
    """A torso, and an arm over it that hangs down at first and swings away within ten frames."""
    torso, arm = capsule(54, 30), capsule(40, 9)
    dress = np.zeros((*torso.shape, 3), dtype=np.float32)
    sleeve = np.zeros((*arm.shape, 3), dtype=np.float32)
    limbs = (
        Limb(dress, torso, (0, 0), -26),
        Limb(sleeve, arm, (0, -46), 18, lambda t: swing * min(t / 10, 1.0)),
    )
    return Figure(limbs, lambda _: (100.0, 100.0))


def film(actors: tuple[Actor, ...]) -> Film:
    """A film of a spot on the torso."""
    body = Body(0, lambda _: (100.0, 74.0), 54.0, on=0)
    return Film("walker", "tune", "", actors, (body,), frames=12, size=(200, 200))


def test_a_spot_under_an_arm_is_not_in_plain_view() -> None:
    arm_away = film((walker(0.8),))
    assert not arm_away.plain(0, 0)
    assert arm_away.plain(0, 10)
    assert arm_away.truth(0, 0) is not None
    assert not film((walker(0.0),)).plain(0, 10)


def test_who_is_behind_something_is_not_in_plain_view() -> None:
    wall = box(180, 60)
    screen = Flat(np.zeros((*wall.shape, 3), np.float32), wall, lambda t: (10 * t - 20, 100.0))
    passed = film((walker(0.8), screen))
    assert not passed.plain(0, 9)
    assert passed.truth(0, 11) is None


def keep_together(meet: Barrier, folder: Path) -> None:
    """Paint and keep a film, as another process is just painting it."""

    class Painted(Film):
        def write(self, path: Path) -> None:
            path.write_bytes(b"half of a film")
            meet.wait(60)
            path.write_bytes(b"a whole film")
            meet.wait(60)

    kept(Painted("walker", "tune", "", (), (), frames=12), folder, "painters")


def test_two_who_paint_one_film_at_once_do_not_spoil_it(tmp_path: Path) -> None:
    meet = _FORK.Barrier(2)
    both = [_FORK.Process(target=keep_together, args=(meet, tmp_path)) for _ in range(2)]
    for process in both:
        process.start()
    for process in both:
        process.join()
    assert [process.exitcode for process in both] == [0, 0]
    (film_there,) = tmp_path.iterdir()
    assert film_there.read_bytes() == b"a whole film"
