"""Things that glide: a snow tube that is pushed and brakes in straw, a puck up a ramp and back."""

import numpy as np

from footing.core.arrays import FloatArray
from footing.demo.filming import Camera
from footing.demo.painting import (
    bar,
    disc_cover,
    paint,
    polygon_cover,
    sky,
    spruces,
    textured,
)
from footing.demo.scenes import GRAVITY, Scene

_SIZE = (720, 1280)
_SNOW, _STRAW = (238.0, 228.0, 222.0), (120.0, 188.0, 214.0)
_RED, _WHITE = (52.0, 60.0, 196.0), (236.0, 238.0, 240.0)
_BANDS = 9


def snow_tube() -> Scene:
    """A tube with a child is pushed, glides, and brakes in straw: three constant accelerations."""
    metre, ground_y = 250.0, 560.0
    camera = Camera(rate=30, frames=112, shutter=1 / 125, noise=2.0, quality=17)
    start, begins = np.array([150.0, ground_y - 46.0]), 0.2
    legs = ((1.0, 1.60), (1.6, -0.25), (0.0, -2.20))  # seconds and m/s²; the last until it rests
    rng = np.random.default_rng(41)
    enters = start[0] + metre * _travelled(legs, legs[0][0] + legs[1][0])[0]
    background = _piste(rng, ground_y, enters)
    pole = (np.array([420.0, ground_y + 66.0]), np.array([420.0 + 2.0 * metre, ground_y + 66.0]))
    _paint_pole(background, *pole)

    def place(moment: float) -> FloatArray:
        return np.array([start[0] + metre * _travelled(legs, moment - begins)[0], start[1]])

    def painter(moment: float) -> FloatArray:
        picture = background.copy()
        _paint_tube(picture, place(moment), pushed=moment - begins < legs[0][0])
        return picture

    times = camera.mid_exposures()
    truth = {
        "spot": "the white patch in the middle of the tube",
        "positions": [place(moment).tolist() for moment in times],
        "times": times.tolist(),
        "pixels_per_metre": metre,
        "pole": {"start": pole[0].tolist(), "end": pole[1].tolist(), "length": 2.00},
        "mass": 34.0,
        "gravity": GRAVITY,
        "begins": begins,
        "legs": [
            {"name": name, "seconds": seconds, "acceleration": a}
            for name, (seconds, a) in zip(("push", "glide", "straw"), legs, strict=True)
        ],
        "speed_after_push": legs[0][0] * legs[0][1],
    }
    return Scene("snow-tube", camera, painter, truth)


def ice_puck() -> Scene:
    """A puck slides up a ramp of 7° and back, with friction 0.010."""
    metre, slope, friction, pushed = 430.0, np.radians(7), 0.010, 2.15
    camera = Camera(rate=30, frames=106, shutter=1 / 200, noise=2.0, quality=17)
    begins, up = 0.1, np.array([np.cos(slope), -np.sin(slope)])
    away = np.array([-np.sin(slope), -np.cos(slope)])
    start = np.array([170.0, 560.0])
    slows = GRAVITY * (np.sin(slope) + friction * np.cos(slope))
    returns = GRAVITY * (np.sin(slope) - friction * np.cos(slope))
    turns = pushed / slows
    rng = np.random.default_rng(43)
    background = _ramp(rng, start - 15 * away, up, away)
    foot = start + 120 * up - 46 * away
    board = (foot, foot + up * 1.50 * metre)
    _paint_pole(background, *board)

    def along(moment: float) -> float:
        gone = max(moment - begins, 0.0)
        if gone <= turns:
            return pushed * gone - slows * gone**2 / 2
        return pushed * turns / 2 - returns * (gone - turns) ** 2 / 2

    def place(moment: float) -> FloatArray:
        return np.asarray(start + metre * along(moment) * up, dtype=float)

    def painter(moment: float) -> FloatArray:
        picture = background.copy()
        _paint_puck(picture, place(moment), up, away)
        return picture

    times = camera.mid_exposures()
    truth = {
        "spot": "the yellow dot on the side of the puck",
        "positions": [place(moment).tolist() for moment in times],
        "times": times.tolist(),
        "pixels_per_metre": metre,
        "board": {"start": board[0].tolist(), "end": board[1].tolist(), "length": 1.50},
        "mass": 0.160,
        "gravity": GRAVITY,
        "slope_degrees": 7.0,
        "friction": friction,
        "begins": begins,
        "turns": begins + turns,
        "speed": pushed,
    }
    return Scene("ice-puck", camera, painter, truth)


def _travelled(legs: tuple[tuple[float, float], ...], seconds: float) -> tuple[float, float]:
    """Distance and speed after so many seconds of legs with constant accelerations."""
    distance, speed = 0.0, 0.0
    left = max(seconds, 0.0)
    for k, (lasts, a) in enumerate(legs):
        spent = min(left, lasts if k < len(legs) - 1 else speed / -a)
        distance += speed * spent + a * spent**2 / 2
        speed += a * spent
        left -= spent
    return distance, speed


def _paint_pole(picture: FloatArray, start: FloatArray, end: FloatArray) -> None:
    """A red and white pole; both ends are red."""
    for band in range(_BANDS):
        ends = [start + (end - start) * share / _BANDS for share in (band, band + 1)]
        colour = _RED if band % 2 == 0 else _WHITE
        paint(picture, polygon_cover(_SIZE, bar(ends[0], ends[1], 9)), colour)


def _piste(rng: np.random.Generator, ground_y: float, straw_from: float) -> FloatArray:
    """A level piste before trees, with straw at its end."""
    picture = sky(_SIZE, (190.0, 166.0, 140.0), (230.0, 220.0, 208.0), rng)
    trees = [
        (float(x), 400 + 16 * float(np.sin(x / 70)), float(rng.uniform(90, 190)))
        for x in np.arange(-10, 1300, 52)
    ]
    spruces(picture, trees, (96.0, 96.0, 76.0))
    field = np.array([[-2, 400], [1282, 392], [1282, 722], [-2, 722]], dtype=float)
    paint(picture, polygon_cover(_SIZE, field), textured(_SIZE, _SNOW, rng, coarse=48, depth=0.03))
    edge = bar(np.array([-5.0, ground_y + 10]), np.array([1285.0, ground_y + 10]), 7)
    paint(picture, 0.4 * polygon_cover(_SIZE, edge), (205.0, 188.0, 172.0))
    straw = np.array(
        [
            (straw_from + 20, ground_y - 4),
            (1282, ground_y - 12),
            (1282, ground_y + 34),
            (straw_from, ground_y + 34),
        ]
    )
    paint(picture, polygon_cover(_SIZE, straw), textured(_SIZE, _STRAW, rng, coarse=4, depth=0.18))
    for _ in range(160):
        foot = np.array([rng.uniform(straw_from, 1275), ground_y + rng.uniform(-8, 32)])
        blade = bar(foot, foot + rng.normal(scale=(14, 6)) + np.array([0.5, 0.0]), 2.0)
        paint(picture, 0.8 * polygon_cover(_SIZE, blade), (96.0, 160.0, 190.0))
    return picture


def _paint_tube(picture: FloatArray, middle: FloatArray, *, pushed: bool) -> None:
    """A tube seen from the side with a child in it, and somebody who pushes."""
    left, top = int(middle[0]) - 190, int(middle[1]) - 130
    view = picture[top : top + 200, max(left, 0) : left + 290]
    shape = (view.shape[0], view.shape[1])
    at = middle - [max(left, 0), top]

    def near(dx: float, dy: float) -> FloatArray:
        return np.asarray(at + np.array([dx, dy]), dtype=float)

    if pushed:
        paint(view, polygon_cover(shape, bar(near(-150, -84), near(-128, 40), 40)), (92, 70, 52))
        paint(view, polygon_cover(shape, bar(near(-146, -50), near(-74, -8), 18)), (92, 70, 52))
        paint(view, disc_cover(shape, tuple(near(-150, -104)), 20), (120.0, 160.0, 208.0))
    paint(view, polygon_cover(shape, bar(near(-20, -20), near(-8, -78), 44)), (150.0, 92.0, 60.0))
    paint(view, disc_cover(shape, tuple(near(-4, -96)), 20), (128.0, 170.0, 214.0))
    paint(view, polygon_cover(shape, bar(near(-22, -108), near(14, -108), 12)), (60.0, 60.0, 190.0))
    tube = bar(near(-76, 8), near(76, 8), 62)
    paint(view, polygon_cover(shape, tube), (70.0, 62.0, 58.0))
    for side in (-76.0, 76.0):
        paint(view, disc_cover(shape, tuple(near(side, 8)), 31), (70.0, 62.0, 58.0))
    paint(view, polygon_cover(shape, bar(near(-70, -8), near(70, -8), 5)), (150.0, 138.0, 128.0))
    paint(view, disc_cover(shape, (float(at[0]), float(at[1])), 8), (240.0, 240.0, 240.0))
    paint(view, disc_cover(shape, (float(at[0]), float(at[1])), 3), (40.0, 40.0, 180.0))


def _ramp(
    rng: np.random.Generator, surface: FloatArray, up: FloatArray, away: FloatArray
) -> FloatArray:
    """A ramp of ice before a wall of boards."""
    picture = textured(_SIZE, (132.0, 150.0, 168.0), rng, coarse=64, depth=0.02)
    for y in np.arange(30.0, 720.0, 74.0):
        joint = bar(np.array([-5.0, y]), np.array([1285.0, y]), 3)
        paint(picture, 0.6 * polygon_cover(_SIZE, joint), (96.0, 112.0, 128.0))
    ends = [surface - 300 * up, surface + 1400 * up]
    ice = np.array([ends[0], ends[1], ends[1] - 900 * away, ends[0] - 900 * away])
    paint(
        picture,
        polygon_cover(_SIZE, ice),
        textured(_SIZE, (232.0, 226.0, 214.0), rng, coarse=32, depth=0.02),
    )
    paint(picture, 0.7 * polygon_cover(_SIZE, bar(ends[0], ends[1], 5)), (206.0, 196.0, 180.0))
    return picture


def _paint_puck(picture: FloatArray, middle: FloatArray, up: FloatArray, away: FloatArray) -> None:
    """A puck seen from the side, with a dot on it."""
    left, top = int(middle[0]) - 60, int(middle[1]) - 40
    view = picture[top : top + 80, left : left + 120]
    shape = (view.shape[0], view.shape[1])
    at = middle - [left, top]
    paint(view, polygon_cover(shape, bar(at - 34 * up, at + 34 * up, 28)), (40.0, 38.0, 36.0))
    rim = (at - 34 * up + 9 * away, at + 34 * up + 9 * away)
    paint(view, polygon_cover(shape, bar(*rim, 4)), (86.0, 82.0, 78.0))
    paint(view, disc_cover(shape, (float(at[0]), float(at[1])), 7), (60.0, 200.0, 232.0))
    paint(view, disc_cover(shape, (float(at[0]), float(at[1])), 2), (40.0, 38.0, 36.0))
