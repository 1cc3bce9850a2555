"""A course of short films on which following is judged: each makes one thing hard, and has truth.

Everything is painted from known motions, exposed while the shutter is open, given the grain of a
sensor and written as H.264, as a phone does. The places are those at mid-exposure.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path

import cv2
import numpy as np

from footing.core.arrays import AnyArray, FloatArray, Image
from footing.demo.filming import write_video
from footing.demo.painting import bar, cloudy, disc_cover, polygon_cover, textured
from footing.demo.painting import paint as lay

RATE = 30
SIZE = (450, 800)  # height, width
_BORDER = 24  # px of background around the picture, for an unsteady hand
_RADIUS = 20.0
_SPRITE = 4  # times finer than the picture
_ICE = (214.0, 206.0, 196.0)
_POST = (60.0, 84.0, 112.0)

Course = Callable[[float], tuple[float, float]]


@dataclass(frozen=True)
class Runner:
    """Something that moves: place in the picture by frame, turn in radians, size, and its dress.

    spot : what is marked, from its middle, in pixels at size 1 and turn 0
    """

    place: Course
    turn: Callable[[float], float] = lambda _: 0.0
    size: Callable[[float], float] = lambda _: 1.0
    dress: int = 0
    spot: tuple[float, float] = (0.0, 0.0)

    def at(self, moment: float) -> FloatArray:
        """The spot at a moment, in frames."""
        angle, size = self.turn(moment), self.size(moment)
        turned = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
        return np.asarray(self.place(moment) + size * turned @ np.array(self.spot), dtype=float)


@dataclass(frozen=True)
class Hurdle:
    """One film: who runs, and what makes it hard.

    shutter : share of a frame's time in which it is exposed; noise in grey levels
    light : brightness by frame; shake : how far the hand has moved, by frame
    post : left and right end of something that hides what passes behind it
    blurred : whether the motion smears it over a long way, so that a pixel is asked and not less
    """

    name: str
    runners: tuple[Runner, ...]
    frames: int
    shutter: float = 0.25
    noise: float = 2.0
    light: Callable[[float], float] = lambda _: 1.0
    shake: Course = lambda _: (0.0, 0.0)
    post: tuple[float, float] | None = None
    blurred: bool = False
    first: int = 0
    exposures: int = field(default=5)

    def truth(self, runner: int, frame: int) -> FloatArray | None:
        """Where a runner's spot is in a frame, or None where it is hidden or outside."""
        one = self.runners[runner]
        spot = one.at(frame) + self.shake(frame)
        height, width = SIZE
        inside = -0.5 <= spot[0] <= width - 0.5 and -0.5 <= spot[1] <= height - 0.5
        if not inside:
            return None
        if self.post and self.post[0] <= spot[0] - self.shake(frame)[0] <= self.post[1]:
            return None
        return np.asarray(spot, dtype=float)

    def certain(self, runner: int, frame: int) -> bool:
        """Whether the runner is seen well: far from what hides it and from the picture's end."""
        spot = self.truth(runner, frame)
        if spot is None:
            return False
        away = 1.2 * _RADIUS * self.runners[runner].size(frame)
        height, width = SIZE
        if not (away < spot[0] < width - away and away < spot[1] < height - away):
            return False
        return self.post is None or not self.post[0] - away < spot[0] < self.post[1] + away


def hurdles() -> tuple[Hurdle, ...]:
    """The course."""
    rng = np.random.default_rng(11)
    steps = np.cumsum(rng.normal(0, 2.4, size=(80, 2)), axis=0)
    wander = steps - np.linspace(steps[0], steps[-1], 80)

    def hand(moment: float) -> tuple[float, float]:
        k = min(max(round(moment), 0), 79)
        return float(wander[k, 0]), float(wander[k, 1])

    def lob(t: float) -> tuple[float, float]:
        return 60 + 9.5 * t, 390 - 9.6 * t + 0.075 * t * t

    def collision(which: int) -> Course:
        meet, speed, touching = 28.0, 9.0, 2 * _RADIUS
        x0 = 420 - touching - speed * meet

        def place(t: float) -> tuple[float, float]:
            after = max(t - meet, 0.0)
            if which == 0:
                return x0 + speed * min(t, meet) + 0.06 * speed * after, 230.0
            return 420 + 0.94 * speed * after, 230.0

        return place

    return (
        Hurdle("clear", (Runner(lob),), 70),
        Hurdle("light changes", (Runner(lob),), 70, light=lambda t: 0.7 + 0.3 * np.cos(t / 9)),
        Hurdle("dim and noisy", (Runner(lob),), 70, light=lambda _: 0.3, noise=5.0),
        Hurdle(
            "blur of 40 px",
            (Runner(lambda t: (140 + 46 * t - 0.15 * t * t, 70 - 3 * t + 0.4 * t * t)),),
            14,
            shutter=0.9,
            exposures=45,
            blurred=True,
        ),
        Hurdle(
            "blur comes and goes",
            (Runner(lambda t: (400 + 318 * np.cos(t / 12.7), 225 + 30 * np.sin(t / 20))),),
            80,
            shutter=0.8,
            exposures=25,
            blurred=True,
        ),
        Hurdle(
            "hidden for six frames",
            (Runner(lambda t: (80 + 9 * t, 250 - 3 * t + 0.04 * t * t)),),
            70,
            post=(388.0, 442.0),
        ),
        Hurdle(
            "grows by 1.6",
            (Runner(lambda t: (200 + 5 * t, 150 + 2 * t), size=lambda t: 1 + 0.6 * t / 69),),
            70,
        ),
        Hurdle(
            "spins",
            (Runner(lob, turn=lambda t: 0.16 * t, spot=(9.0, -5.0)),),
            70,
        ),
        Hurdle("unsteady hand", (Runner(lob),), 70, shake=hand),
        Hurdle(
            "two alike collide",
            (Runner(collision(0)), Runner(collision(1))),
            60,
        ),
        Hurdle(
            "bounces",
            (Runner(lambda t: (60 + 8 * t, 380 - 16 * abs((t + 12) % 36 - 18))),),
            80,
        ),
        Hurdle("leaves the picture", (Runner(lambda t: (330 + 11 * t, 140 + 2.5 * t)),), 60),
    )


def film(hurdle: Hurdle, folder: Path) -> Path:
    """Write a hurdle's film into a folder."""
    path = folder / f"{hurdle.name.replace(' ', '-')}.mp4"
    encoder: dict[str, object] = {
        "crf": "20",
        "preset": "veryfast",
        "g": "30",
        # the same film on every machine and every time: x264's macroblock tree reads memory
        # that nobody wrote, and what it writes depends on the number of threads
        "x264-params": "mbtree=0",
        "threads": "1",
    }
    write_video(path, _exposed(hurdle), rate=RATE, encoder=encoder)
    return path


def _exposed(hurdle: Hurdle) -> Iterator[Image]:
    rng = np.random.default_rng(3)
    wide = (SIZE[0] + 2 * _BORDER, SIZE[1] + 2 * _BORDER)
    ice = _rink(wide, rng)
    sprites = [_sprite(runner.dress) for runner in hurdle.runners]
    offsets = (np.arange(hurdle.exposures) + 0.5) / hurdle.exposures - 0.5
    for frame in range(hurdle.frames):
        dx, dy = hurdle.shake(frame)
        moved = np.array([[1, 0, dx - _BORDER], [0, 1, dy - _BORDER]])
        exposed: AnyArray = cv2.warpAffine(ice, moved, (SIZE[1], SIZE[0]), flags=cv2.INTER_LINEAR)
        moments = frame + offsets * hurdle.shutter
        rows, columns = _around(hurdle, moments, (dx, dy))
        ground = exposed[rows, columns].copy()
        exposed[rows, columns] = 0
        for moment in moments:
            part = ground.copy()
            for runner, sprite in zip(hurdle.runners, sprites, strict=True):
                _paint(part, runner, sprite, moment, (dx - columns.start, dy - rows.start))
            exposed[rows, columns] += part / hurdle.exposures
        if hurdle.post:
            ends = [(hurdle.post[0] + dx, 0.0), (hurdle.post[1] + dx, 0.0)]
            corners = np.array([*ends, *[(x, float(SIZE[0])) for x, _ in reversed(ends)]])
            cover = polygon_cover(SIZE, corners)[..., None].astype(np.float32)
            exposed = exposed * (1 - cover) + cover * np.array(_POST, dtype=np.float32)
        noise = rng.standard_normal(size=exposed.shape, dtype=np.float32)
        grain = cv2.GaussianBlur(noise, (0, 0), 0.6)
        noisy = hurdle.light(frame) * exposed + 1.6 * hurdle.noise * grain
        yield np.clip(np.round(noisy), 0, 255).astype(np.uint8)


def _around(hurdle: Hurdle, moments: FloatArray, shake: tuple[float, float]) -> tuple[slice, slice]:
    """Rows and columns of the picture in which something runs at some moments."""
    places = np.array([runner.place(moment) for runner in hurdle.runners for moment in moments])
    sizes = [runner.size(moment) for runner in hurdle.runners for moment in moments]
    reach = int(np.ceil((_RADIUS + 6) * max(sizes)))
    low = np.floor(places.min(axis=0) + shake).astype(int) - reach
    high = np.ceil(places.max(axis=0) + shake).astype(int) + reach
    (left, top), (right, bottom) = np.clip([low, high], 0, (SIZE[1], SIZE[0]))
    return slice(int(top), int(bottom)), slice(int(left), int(right))


def _rink(size: tuple[int, int], rng: np.random.Generator) -> FloatArray:
    """Ice with painted lines and a ring, so that what lies behind a runner changes."""
    ice = textured(size, _ICE, rng, coarse=32, depth=0.035)
    for _ in range(9):
        ends = rng.uniform((0, 0), size[::-1], size=(2, 2))
        paint = tuple(float(tone) for tone in rng.uniform(110, 190, size=3))
        cover = polygon_cover(size, bar(ends[0], ends[1], float(rng.uniform(4, 14))))
        lay(ice, 0.8 * cover, paint)  # type: ignore[arg-type]
    middle = (size[1] * 0.55, size[0] * 0.5)
    ring = disc_cover(size, middle, 120) - disc_cover(size, middle, 96)
    lay(ice, 0.7 * ring, (168.0, 120.0, 96.0))
    return np.asarray(ice, dtype=np.float32)


def _sprite(dress: int) -> tuple[Image, Image]:
    """Colour and cover of a stone of ice with a painted top, finer than the picture."""
    rng = np.random.default_rng(40 + dress)
    side = round(2 * (_RADIUS + 3) * _SPRITE) | 1
    middle = (side - 1) / 2
    colour = np.empty((side, side, 3))
    colour[:] = (96.0, 100.0, 108.0)
    colour *= 1 + 0.10 * cloudy((side, side), rng, coarse=24)[..., None]
    for radius, paint in ((14.0, (70.0, 62.0, 190.0)), (7.5, (205.0, 214.0, 226.0))):
        cover = disc_cover((side, side), (middle, middle), radius * _SPRITE)[..., None]
        colour = colour * (1 - cover) + cover * np.array(paint)
    stroke = np.array([[-3.0, -12.0], [4.0, -12.0], [4.0, 2.0], [-3.0, 2.0]]) * _SPRITE + middle
    cover = polygon_cover((side, side), stroke)[..., None]
    colour = colour * (1 - cover) + cover * np.array((40.0, 52.0, 60.0))
    alpha = disc_cover((side, side), (middle, middle), _RADIUS * _SPRITE)
    return np.clip(colour, 0, 255).astype(np.uint8), np.round(255 * alpha).astype(np.uint8)


def _paint(
    picture: AnyArray,
    runner: Runner,
    sprite: tuple[Image, Image],
    moment: float,
    shift: tuple[float, float],
) -> None:
    """Lay a sprite over a picture, turned and sized as its runner is at a moment."""
    x, y = np.add(runner.place(moment), shift)
    angle, size = runner.turn(moment), runner.size(moment)
    reach = int(np.ceil((_RADIUS + 4) * size))
    left, top = round(x) - reach, round(y) - reach
    height, width = picture.shape[:2]
    rows = slice(max(top, 0), min(top + 2 * reach + 1, height))
    columns = slice(max(left, 0), min(left + 2 * reach + 1, width))
    view = picture[rows, columns]
    if 0 in view.shape[:2]:
        return
    colour, alpha = sprite
    middle = (colour.shape[0] - 1) / 2
    k = size / _SPRITE
    c, s = k * np.cos(angle), k * np.sin(angle)
    place = np.array([x - columns.start, y - rows.start])
    turned = np.array([[c, -s], [s, c]])
    matrix = np.column_stack([turned, place - turned @ (middle, middle)])
    # the sprite is finer than the picture, so it is smoothed before it is sampled
    smooth = 0.45 / k
    shape = (view.shape[1], view.shape[0])
    laid, cover = (
        np.asarray(cv2.warpAffine(cv2.GaussianBlur(one, (0, 0), smooth), matrix, shape), np.float32)
        for one in (colour, alpha)
    )
    share = cover[..., None] / 255
    view *= 1 - share
    view += share * laid
