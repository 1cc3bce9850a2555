"""Small films of discs before a wall, for tests of following."""

from collections.abc import Callable
from functools import cache

import cv2
import numpy as np

from footing.core.following.hypothesis import Hypothesis
from footing.core.following.leg import Start, Step
from footing.core.following.patches import Point
from footing.core.following.run import follow
from footing.core.following.scene import Changed, Scene, watched
from footing.core.following.target import Target

Place = Callable[[int], tuple[float, float]]
SIZE = (180, 320)


def wall(seed: int = 3) -> np.ndarray:
    """A rough wall, as float."""
    rng = np.random.default_rng(seed)
    return np.asarray(120 + 25 * cv2.GaussianBlur(rng.normal(size=(260, 400)), (0, 0), 2.0) * 4)


def disc(
    picture: np.ndarray, at: tuple[float, float], radius: float, *, turn: float, seed: int = 5
) -> None:
    """Lay a patterned disc over a picture, turned."""
    rng = np.random.default_rng(seed)
    pattern = cv2.resize(rng.uniform(0, 255, size=(7, 7)), (61, 61), interpolation=cv2.INTER_CUBIC)
    left, top = (max(int(middle - radius) - 1, 0) for middle in at)
    right, bottom = (max(int(middle + radius) + 3, 0) for middle in at)
    picture = picture[top:bottom, left:right]  # the rest stays as it is
    if not picture.size:
        return
    rows, columns = np.mgrid[top : top + picture.shape[0], left : left + picture.shape[1]]
    dx, dy = columns - at[0], rows - at[1]
    c, s = np.cos(turn), np.sin(turn)
    u = ((c * dx + s * dy) / radius * 28 + 30).astype(np.float32)
    v = ((c * dy - s * dx) / radius * 28 + 30).astype(np.float32)
    dress = cv2.remap(pattern.astype(np.float32), u, v, cv2.INTER_LINEAR)
    cover = np.clip(radius - np.hypot(dx, dy) + 0.5, 0, 1)
    picture *= 1 - cover
    picture += cover * dress


_LONGEST = 120  # frames


@cache
def _grain() -> np.ndarray:
    """The grain of each frame, the same in all films. Shape (frames, rows, columns)."""
    return np.random.default_rng(1).normal(0, 2.0, size=(_LONGEST, *SIZE))


def film(
    place: Place,
    *,
    count: int = 40,
    spin: float = 0.0,
    light: Callable[[int], float] = lambda _: 1.0,
    shake: Place = lambda _: (0.0, 0.0),
    twin: tuple[float, float] | None = None,
) -> list[tuple[int, np.ndarray]]:
    """A disc before a wall, with grain; perhaps another like it that never moves."""
    behind = wall()
    frames = []
    for number in range(count):
        dx, dy = shake(number)
        moved = np.array([[1, 0, dx - 40], [0, 1, dy - 40]])
        picture = cv2.warpAffine(behind, moved, SIZE[::-1], borderMode=cv2.BORDER_REFLECT)
        if twin is not None:
            disc(picture, twin, 12.0, turn=0.0)
        x, y = place(number)
        disc(picture, (x + dx, y + dy), 12.0, turn=spin * number)
        noisy = light(number) * picture + _grain()[number]
        frames.append((number, np.clip(np.round(noisy), 0, 255).astype(np.uint8)))
    return frames


def slide(number: int) -> tuple[float, float]:
    return 40.0 + 6 * number, 90.0


def seen_at(
    frames: list[tuple[int, np.ndarray]], number: int, at: tuple[float, float], *, room: int = 40
) -> Changed:
    scene = Scene()
    for frame in watched(frames):
        scene.comes(frame)
    for _ in range(number + 1):
        scene.next()
    changed = scene.changed(round(at[0]), round(at[1]), room)
    assert changed is not None
    return changed


def steps_of(
    frames: list[tuple[int, np.ndarray]], starts: dict[int, Start]
) -> dict[tuple[int, int], Step]:
    told: dict[tuple[int, int], Step] = {}
    for steps in follow(frames, starts):
        told |= {(step.body, step.frame): step for step in steps if isinstance(step, Step)}
    return told


def patch_of_one_colour(wide: float, high: float) -> Callable[[int], list[np.ndarray]]:
    """The planes of a picture with a patch of one colour in its middle; half its sides, px."""

    def shown(room: int) -> list[np.ndarray]:
        rows, columns = np.mgrid[-room : room + 1, -room : room + 1]
        patch = np.hypot(rows / high, columns / wide) <= 1
        planes = [np.where(patch, value, 128) for value in (128.0, 80.0, 180.0)]
        return [plane.astype(np.float32) for plane in planes]

    return shown


def beside(picture: np.ndarray, at: tuple[float, float]) -> None:
    """A sleeve that touches a disc from below."""
    x, y = round(at[0]), round(at[1])
    picture[y + 9 : y + 40, x - 14 : x + 14] = 215


def panned(number: int) -> Point:
    """Where the striped disc is while the camera pans by 2 px in each frame."""
    return 60.0 + 3.0 * number, 90.0


def panned_film(count: int) -> list[np.ndarray]:
    """A striped disc that turns before a wall; the camera goes along by 2 px in each frame."""
    rng = np.random.default_rng(4)
    wall = np.kron(rng.uniform(60, 160, size=(40, 100)), np.ones((6, 6)))
    rows, columns = np.mgrid[:180, :320]
    frames = []
    for number in range(count):
        picture = wall[30 : 30 + 180, 2 * number : 2 * number + 320].copy()
        x, y = panned(number)
        cover = np.clip(9 - np.hypot(columns - x, rows - y) + 0.5, 0, 1)
        stripes = 128 + 100 * np.sign(np.cos(0.25 * number) * (columns - x) + (rows - y))
        picture = picture * (1 - cover) + cover * stripes
        noisy = picture + rng.normal(0, 1.5, size=picture.shape)
        frames.append(np.clip(noisy, 0, 255).astype(np.uint8))
    return frames


def lands(number: int) -> tuple[float, float]:
    """Where what fell is, and where it lies from frame 20 on, for most of the film."""
    seen = min(number, 20)
    return 40.0 + 7 * seen, 60.0 + 0.2 * seen**2


def debris(number: int) -> tuple[float, float]:
    """Where what flew up is, that lay where it fell."""
    flies = number - 20
    return 180.0 - 2 * flies, 140.0 - 3 * flies + 0.12 * flies**2


def landing(*, seed: int, count: int = 45) -> list[tuple[int, np.ndarray]]:
    """A disc that falls and lies there, and another, nearly as large, that flies up from there."""
    rng = np.random.default_rng(2)
    shown = []
    for number, wall_alone in film(lambda _: (-60.0, -60.0), count=count):
        picture = wall_alone.astype(float)
        if number > 20:
            disc(picture, debris(number), 10.0, turn=0.3 * (number - 20), seed=seed)
        disc(picture, lands(number), 12.0, turn=0.05 * min(number, 20))
        noisy = picture + rng.normal(0, 1.0, size=SIZE)
        shown.append((number, np.clip(noisy, 0, 255).astype(np.uint8)))
    return shown


def gone_through(frames: list[np.ndarray], start: Point, *, count: int) -> Hypothesis:
    """An account that goes through so many frames, from the first on."""
    scene = Scene()
    for frame in watched(enumerate(frames)):
        scene.comes(frame)
    account = None
    for number in range(count):
        now = scene.next()
        assert now is not None
        if account is None:
            target = Target(scene, 14, 40, chosen=False)
            target.believe(now[1].grey, start, 0)
            account = Hypothesis(target)
        else:
            best = max(account.candidates(now[1].grey, number), key=lambda one: one.evidence)
            account = account.child(number, best)
    assert account is not None
    return account
