"""An icy snowball is tossed onto the rink and bounces."""

import numpy as np

from footing.core.arrays import FloatArray
from footing.demo.filming import Camera
from footing.demo.painting import bar, disc_cover, paint, polygon_cover, textured
from footing.demo.scenes import GRAVITY, Scene

_SIZE = (720, 1280)
_RED, _WHITE = (52.0, 60.0, 196.0), (236.0, 238.0, 240.0)
_BALL, _SPOT = (244.0, 240.0, 236.0), (60.0, 44.0, 36.0)
_MITTEN, _SLEEVE = (60.0, 70.0, 190.0), (120.0, 84.0, 52.0)
_BANDS = 5


def snowball_bounce() -> Scene:
    """Free fall, an impact with restitution 0.62 and friction 0.05, free fall again."""
    metre, radius, floor = 260.0, 0.05, 640.0
    camera = Camera(rate=60, frames=86, shutter=1 / 250, noise=2.0, quality=17)
    released, start, speed = 0.1, np.array([0.40, 1.50]), np.array([1.60, 1.20])
    restitution, friction = 0.62, 0.05
    drop = start[1] - radius
    falls = float((speed[1] + np.sqrt(speed[1] ** 2 + 2 * GRAVITY * drop)) / GRAVITY)
    hits = speed[1] - GRAVITY * falls
    after = np.array([speed[0] - friction * (1 + restitution) * -hits, -restitution * hits])
    rng = np.random.default_rng(47)
    background = _rink(rng, floor)
    board = (np.array([900.0, floor + 36]), np.array([900.0 + metre, floor + 36]))
    for band in range(_BANDS):
        ends = [board[0] + (board[1] - board[0]) * share / _BANDS for share in (band, band + 1)]
        colour = _RED if band % 2 == 0 else _WHITE
        paint(background, polygon_cover(_SIZE, bar(ends[0], ends[1], 10)), colour)

    def metres(moment: float) -> FloatArray:
        """Across and above the ice."""
        gone = max(moment - released, 0.0)
        since = max(gone - falls, 0.0)
        gone = min(gone, falls)
        first = start + speed * gone - np.array([0.0, GRAVITY * gone**2 / 2])
        return np.asarray(first + after * since - np.array([0.0, GRAVITY * since**2 / 2]))

    def place(moment: float) -> FloatArray:
        x, height = metres(moment)
        return np.array([metre * x, floor - metre * height])

    def painter(moment: float) -> FloatArray:
        picture = background.copy()
        held = place(0.0)
        hand = held + np.array([-14.0, 12.0])
        paint(
            picture, polygon_cover(_SIZE, bar(hand, hand + np.array([-150.0, 70.0]), 34)), _SLEEVE
        )
        paint(picture, disc_cover(_SIZE, (float(hand[0]), float(hand[1])), 17), _MITTEN)
        at = place(moment)
        paint(picture, disc_cover(_SIZE, (float(at[0]), float(at[1])), radius * metre), _BALL)
        paint(picture, disc_cover(_SIZE, (float(at[0]), float(at[1])), 3.5), _SPOT)
        return picture

    times = camera.mid_exposures()
    truth = {
        "spot": "the dark speck in the middle of the snowball",
        "positions": [place(moment).tolist() for moment in times],
        "times": times.tolist(),
        "pixels_per_metre": metre,
        "board": {"start": board[0].tolist(), "end": board[1].tolist(), "length": 1.00},
        "gravity": GRAVITY,
        "radius": radius,
        "release_time": released,
        "velocity": speed.tolist(),
        "impact_time": released + falls,
        "restitution": restitution,
        "friction": friction,
        "ice": [0.0, floor],
    }
    return Scene("snowball-bounce", camera, painter, truth)


def _rink(rng: np.random.Generator, floor: float) -> FloatArray:
    """Ice before the boards of a rink."""
    picture = textured(_SIZE, (96.0, 92.0, 84.0), rng, coarse=64, depth=0.03)
    for y in np.arange(24.0, floor - 40, 66.0):
        joint = bar(np.array([-5.0, y]), np.array([1285.0, y]), 3)
        paint(picture, 0.6 * polygon_cover(_SIZE, joint), (70.0, 66.0, 58.0))
    ice = np.array([[-2, floor - 24], [1282, floor - 24], [1282, 722], [-2, 722]], dtype=float)
    surface = textured(_SIZE, (226.0, 214.0, 200.0), rng, coarse=32, depth=0.02)
    paint(picture, polygon_cover(_SIZE, ice), surface)
    edge = bar(np.array([-5.0, floor - 24]), np.array([1285.0, floor - 24]), 6)
    paint(picture, 0.7 * polygon_cover(_SIZE, edge), (150.0, 140.0, 128.0))
    return picture
