"""What happens in each clip, from known physics, with the truth that goes beside it."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from footing.core.arrays import FloatArray
from footing.demo.filming import Camera, Painter
from footing.demo.painting import (
    bar,
    cloudy,
    disc_cover,
    paint,
    polygon_cover,
    sky,
    spruces,
    textured,
)

GRAVITY = 9.81
_POLE_BANDS = 9  # odd, so that both ends are red and stand out from the snow
_WOOD, _DARK_WOOD = (62.0, 104.0, 150.0), (40.0, 62.0, 92.0)
_SNOW, _SHADE = (238.0, 228.0, 222.0), (205.0, 188.0, 172.0)
_SPRUCE_GREEN = (62.0, 72.0, 48.0)


@dataclass(frozen=True)
class Scene:
    """A clip: camera, painter, and the truth that is stored beside it."""

    name: str
    camera: Camera
    painter: Painter
    truth: dict[str, Any]


def sled_run() -> Scene:
    """A sled slides down a slope of 12° with friction 0.06; a 2.00 m pole lies along the track."""
    slope, friction = np.radians(12), 0.06
    a = GRAVITY * (np.sin(slope) - friction * np.cos(slope))
    metre = 205.0
    camera = Camera(rate=30, frames=90, shutter=1 / 125, noise=2.2, quality=16)
    start, released = np.array([120.0, 262.0]), 0.4
    down = np.array([np.cos(slope), np.sin(slope)])
    away = np.array([np.sin(slope), -np.cos(slope)])
    size = (720, 1280)
    rng = np.random.default_rng(9)
    background = _slope_background(size, start, slope, rng)
    pole_from = start + down * 300 - away * 46
    pole_to = pole_from + down * 2.00 * metre
    for band in range(_POLE_BANDS):
        ends = [
            pole_from + (pole_to - pole_from) * share / _POLE_BANDS for share in (band, band + 1)
        ]
        colour = (52.0, 60.0, 196.0) if band % 2 == 0 else (236.0, 238.0, 240.0)
        paint(background, polygon_cover(size, bar(ends[0], ends[1], 9)), colour)

    def lamp(moment: float) -> FloatArray:
        gone = max(moment - released, 0.0)
        return np.asarray(start + down * (0.5 * a * gone**2 * metre), dtype=float)

    def painter(moment: float) -> FloatArray:
        return _with_sled(background, lamp(moment), down, away)

    positions = [lamp(moment).tolist() for moment in camera.mid_exposures()]
    truth = {
        "spot": "the red lamp at the front of the sled",
        "positions": positions,
        "times": camera.mid_exposures().tolist(),
        "pixels_per_metre": metre,
        "pole": {"start": pole_from.tolist(), "end": pole_to.tolist(), "length": 2.00},
        "slope_degrees": 12.0,
        "friction": friction,
        "gravity": GRAVITY,
        "acceleration": a,
        "release_time": released,
    }
    return Scene("sled-run", camera, painter, truth)


def snowball_lob() -> Scene:
    """A snowball is thrown past a fence post 1.50 m high, filmed with an upright phone."""
    metre = 190.0
    size = (1280, 720)
    camera = Camera(rate=60, frames=108, shutter=1 / 240, noise=2.2, rotation=90, quality=16)
    ground_y = 1178.0
    hand = np.array([96.0, ground_y - 1.55 * metre])
    velocity = np.array([2.05, 6.7])
    released = 0.2
    rng = np.random.default_rng(31)
    background = _fence_background(size, ground_y, rng)
    post_foot, post_top = np.array([470.0, ground_y]), np.array([470.0, ground_y - 1.50 * metre])
    post = polygon_cover(size, bar(post_foot, post_top, 22))
    paint(background, post, textured(size, _WOOD, rng, coarse=32, depth=0.12))
    right = np.array([8.0, 0.0])
    edge = polygon_cover(size, bar(post_foot + right, post_top + right, 6))
    paint(background, 0.5 * edge, _DARK_WOOD)
    landed = released + _fall_time(velocity[1], (ground_y - hand[1]) / metre - 0.045)

    def centre(moment: float) -> FloatArray:
        flown = min(max(moment, 0.0), landed) - released
        if flown < 0:  # the throw: a steady push along the launch direction that ends at release
            push = 0.12
            share = max(flown + push, 0.0)
            along = 0.5 * share**2 / push - 0.5 * push
            return np.asarray(hand + velocity * [1, -1] * along * metre, dtype=float)
        travelled = velocity * flown - np.array([0, 0.5 * GRAVITY * flown**2])
        return np.asarray(hand + travelled * [1, -1] * metre, dtype=float)

    crumbs = 10 * cloudy((48, 48), rng, coarse=8)

    def painter(moment: float) -> FloatArray:
        picture = background.copy()
        _paint_thrower(picture, centre(min(moment, released)))
        _paint_snowball(picture, centre(moment), 0.047 * metre, crumbs)
        return picture

    times = camera.mid_exposures()
    flying = [bool(released <= moment <= landed - 1 / camera.rate) for moment in times]
    truth = {
        "spot": "the middle of the snowball",
        "positions": [centre(moment).tolist() for moment in times],
        "times": times.tolist(),
        "flying": flying,
        "pixels_per_metre": metre,
        "post": {"start": post_foot.tolist(), "end": post_top.tolist(), "length": 1.50},
        "gravity": GRAVITY,
        "velocity": velocity.tolist(),
        "release_time": released,
    }
    return Scene("snowball-lob", camera, painter, truth)


def _fall_time(upward: float, height: float) -> float:
    return float((upward + np.sqrt(upward**2 + 2 * GRAVITY * height)) / GRAVITY)


def _slope_background(
    size: tuple[int, int], start: FloatArray, slope: float, rng: np.random.Generator
) -> FloatArray:
    picture = sky(size, (196, 168, 138), (232, 222, 208), rng)
    far = textured(size, (214.0, 196.0, 178.0), rng, coarse=64, depth=0.02)
    columns = np.arange(size[1])
    ridge = 330 + 26 * np.sin(columns / 170) + 14 * np.sin(columns / 61 + 1)
    hill = np.concatenate([np.stack([columns, ridge], 1), [[1279, 719], [0, 719]]])
    paint(picture, polygon_cover(size, hill), far)
    trees = [(x, 352 + 20 * np.sin(x / 90), h) for x, h in _tree_row(rng, 1280, 46)]
    spruces(picture, trees, (112.0, 112.0, 92.0))
    track = start + 16 * np.array([np.sin(slope), -np.cos(slope)]) * -1

    def surface(x: float) -> float:
        return float(track[1] + (x - track[0]) * np.tan(slope))

    ground = np.array([[-2, surface(-2)], [1282, surface(1282)], [1282, 722], [-2, 722]])
    snow = textured(size, _SNOW, rng, coarse=48, depth=0.025)
    snow -= 14 * np.clip(cloudy(size, rng, coarse=24), 0, 3)[..., None] * np.array([0.5, 0.8, 1])
    paint(picture, polygon_cover(size, ground), snow)
    for offset in (7.0, 13.0):
        rut = bar(
            np.array([-5.0, surface(-5) + offset]), np.array([1285.0, surface(1285) + offset]), 3.2
        )
        paint(picture, 0.55 * polygon_cover(size, rut), _SHADE)
    spruces(picture, [(1130, 700, 190), (1215, 716, 240), (60, 706, 220)], _SPRUCE_GREEN)
    return picture


def _tree_row(rng: np.random.Generator, width: int, step: int) -> list[tuple[float, float]]:
    return [
        (x + rng.uniform(-15, 15), rng.uniform(50, 120)) for x in np.arange(0, width + step, step)
    ]


def _with_sled(
    background: FloatArray, lamp: FloatArray, down: FloatArray, away: FloatArray
) -> FloatArray:
    """The sled with its lamp at a place; the lamp sits at its front end."""
    picture = background.copy()
    left, top = int(lamp[0]) - 190, int(lamp[1]) - 110
    box = (max(top, 0), min(top + 190, 720), max(left, 0), min(left + 260, 1280))
    view = picture[box[0] : box[1], box[2] : box[3]]
    if 0 in view.shape[:2]:
        return picture
    shape = (view.shape[0], view.shape[1])
    origin = lamp - [box[2], box[0]]

    def at(along: float, up: float) -> FloatArray:
        return np.asarray(origin + along * down + up * away, dtype=float)

    shadow = bar(at(-122, -19), at(0, -19), 9)
    paint(view, 0.5 * polygon_cover(shape, shadow), _SHADE)
    for along in (-104.0, -62.0, -20.0):
        paint(view, polygon_cover(shape, bar(at(along, -14), at(along, 6), 5)), _DARK_WOOD)
    paint(view, polygon_cover(shape, bar(at(-128, -14), at(2, -14), 5)), _DARK_WOOD)
    paint(view, polygon_cover(shape, bar(at(2, -14), at(13, -3), 5)), _DARK_WOOD)
    for row, tone in ((4.0, 1.0), (9.0, 0.86)):
        colour = tuple(tone * value for value in _WOOD)
        paint(view, polygon_cover(shape, bar(at(-124, row), at(-2, row), 4.4)), colour)  # type: ignore[arg-type]
    paint(view, polygon_cover(shape, bar(at(-96, 12), at(-58, 12), 4)), (70.0, 92.0, 58.0))
    paint(view, polygon_cover(shape, bar(at(-77, 10), at(-77, 46), 34)), (126.0, 92.0, 58.0))
    paint(view, polygon_cover(shape, bar(at(-94, 37), at(-60, 37), 5)), (96.0, 150.0, 200.0))
    paint(view, disc_cover(shape, (float(origin[0]), float(origin[1])), 7.5), (30.0, 34.0, 60.0))
    paint(view, disc_cover(shape, (float(origin[0]), float(origin[1])), 5.5), (58.0, 52.0, 214.0))
    paint(view, disc_cover(shape, (float(origin[0]), float(origin[1])), 2.0), (190.0, 200.0, 250.0))
    return picture


def _fence_background(
    size: tuple[int, int], ground_y: float, rng: np.random.Generator
) -> FloatArray:
    picture = sky(size, (112, 78, 52), (176, 142, 120), rng)
    spruces(
        picture,
        [(x, ground_y - 60 + 14 * np.sin(x), 2.6 * h) for x, h in _tree_row(rng, 720, 62)],
        (84.0, 76.0, 56.0),
    )
    columns = np.arange(size[1])
    ridge = ground_y - 46 + 8 * np.sin(columns / 80)
    field = np.concatenate([np.stack([columns, ridge], 1), [[719, 1279], [0, 1279]]])
    snow = textured(size, _SNOW, rng, coarse=48, depth=0.03)
    snow *= np.linspace(0.80, 1.0, size[0])[:, None, None]
    paint(picture, polygon_cover(size, field), snow)
    for height in (70.0, 150.0):
        rail = bar(
            np.array([-5.0, ground_y - height - 28]), np.array([725.0, ground_y - height - 20]), 9
        )
        paint(picture, polygon_cover(size, rail), (58.0, 78.0, 104.0))
    for x in (60.0, 262.0, 655.0):
        foot, top = np.array([x, ground_y - 18]), np.array([x, ground_y - 210])
        paint(picture, polygon_cover(size, bar(foot, top, 13)), (52.0, 72.0, 98.0))
    return picture


def _paint_thrower(picture: FloatArray, hand: FloatArray) -> None:
    """An arm in a winter coat that reaches in from the left, with a mitten at the hand."""
    shape = (picture.shape[0], picture.shape[1])
    shoulder = np.array([-30.0, hand[1] + 96.0])
    paint(
        picture,
        polygon_cover(shape, bar(shoulder, hand + np.array([-16.0, 14.0]), 46)),
        (110.0, 64.0, 48.0),
    )
    cuff = (float(hand[0] - 12), float(hand[1] + 13))
    paint(picture, disc_cover(shape, cuff, 19), (64.0, 132.0, 190.0))


def _paint_snowball(
    picture: FloatArray, centre: FloatArray, radius: float, crumbs: FloatArray
) -> None:
    left, top = int(centre[0]) - 24, int(centre[1]) - 24
    view = picture[max(top, 0) : top + 48, max(left, 0) : left + 48]
    if 0 in view.shape[:2]:
        return
    shape = (view.shape[0], view.shape[1])
    local = (float(centre[0] - max(left, 0)), float(centre[1] - max(top, 0)))
    rows, columns = np.mgrid[: shape[0], : shape[1]]
    light = 1 - 0.16 * ((columns - local[0]) + (rows - local[1])) / radius
    surface = 226 * np.clip(light, 0.6, 1.12) + crumbs[: shape[0], : shape[1]]
    ball = surface[..., None] * np.array([1.0, 0.985, 0.965])
    paint(view, disc_cover(shape, local, radius), ball)
