"""Two curling stones, seen from above: a moving one meets a resting one off-centre."""

from functools import cache

import numpy as np

from footing.core.arrays import FloatArray
from footing.demo.filming import Camera
from footing.demo.painting import bar, disc_cover, paint, polygon_cover, textured
from footing.demo.scenes import GRAVITY, Scene

_METRE = 230.0  # px
_SIZE = (720, 1280)
_RADIUS = 0.145  # m
_MASSES = {"red stone": 19.1, "yellow stone": 18.6}
_RESTITUTION = 0.88
_FRICTION = 0.012
_RING = 1.22  # m, diameter
_RING_AT = (742.0, 372.0)
_START = np.array([132.0, 300.0])  # px, the red stone's middle in the first frame
_RESTS = np.array([700.0, 345.0])
_VELOCITY = np.array([2.35, 0.0])  # m/s to the right and downwards
_ICE, _BLUE, _LINE = (232.0, 226.0, 216.0), (176.0, 128.0, 86.0), (120.0, 116.0, 150.0)
_GRANITE, _BAND = (104.0, 104.0, 106.0), (150.0, 150.0, 150.0)
_HANDLES = {"red stone": (52.0, 44.0, 190.0), "yellow stone": (52.0, 178.0, 214.0)}
_REACH = 40  # px around a stone's middle


def curling_stones() -> Scene:
    """An oblique impact with restitution 0.88; both glide on with slight friction."""
    camera = Camera(rate=60, frames=120, shutter=1 / 250, noise=2.0, quality=17)
    rng = np.random.default_rng(23)
    rink = _rink(rng)
    dresses = {name: _dress(name, rng) for name in _MASSES}

    def painter(moment: float) -> FloatArray:
        picture = rink.copy()
        for name, dress in dresses.items():
            _paint_stone(picture, _place(name, moment), dress)
        return picture

    times = camera.mid_exposures()
    red, yellow = _after()
    left = (_RING_AT[0] - _RING / 2 * _METRE, _RING_AT[1])
    truth = {
        "spot": "the middle of each handle",
        "positions": {
            name: [_place(name, moment).tolist() for moment in times] for name in dresses
        },
        "times": times.tolist(),
        "pixels_per_metre": _METRE,
        "ring": {"start": left, "end": (left[0] + _RING * _METRE, left[1]), "length": _RING},
        "masses": _MASSES,
        "radius": _RADIUS,
        "restitution": _RESTITUTION,
        "friction": _FRICTION,
        "gravity": GRAVITY,
        "impact_time": _impact(),
        "velocity_before": _gliding(_VELOCITY, _impact())[1].tolist(),
        "velocities_after": {"red stone": red.tolist(), "yellow stone": yellow.tolist()},
        "axes": "x to the right, y downwards, m/s",
    }
    return Scene("curling-stones", camera, painter, truth)


def _gliding(velocity: FloatArray, seconds: float) -> tuple[FloatArray, FloatArray]:
    """Distance and velocity after gliding; friction slows it by μ g until it rests."""
    speed = float(np.hypot(*velocity))
    if speed == 0.0:
        return np.zeros(2), np.zeros(2)
    slows = _FRICTION * GRAVITY
    seconds = min(seconds, speed / slows)
    along = velocity / speed
    return along * (speed * seconds - slows * seconds**2 / 2), along * (speed - slows * seconds)


@cache
def _impact() -> float:
    """When the stones touch, by halving the time in which they do."""
    low, high = 0.0, 2.0
    apart = (_RESTS - _START) / _METRE
    while high - low > 1e-12:
        middle = (low + high) / 2
        gap = apart - _gliding(_VELOCITY, middle)[0]
        touching = float(np.hypot(*gap)) <= 2 * _RADIUS or gap[0] < 0
        low, high = (low, middle) if touching else (middle, high)
    return high


@cache
def _after() -> tuple[FloatArray, FloatArray]:
    """Velocities just after the impact, which acts along the line of centres."""
    moved, velocity = _gliding(_VELOCITY, _impact())
    line = (_RESTS - _START) / _METRE - moved
    line = line / np.hypot(*line)
    m, n = _MASSES.values()
    impulse = (1 + _RESTITUTION) * m * n / (m + n) * float(velocity @ line)
    return velocity - impulse / m * line, impulse / n * line


def _place(name: str, moment: float) -> FloatArray:
    """The middle of a stone, in pixels."""
    before = min(moment, _impact())
    start = _START + _METRE * _gliding(_VELOCITY, before)[0] if name == "red stone" else _RESTS
    after = _after()[0 if name == "red stone" else 1]
    moved = _gliding(after, max(moment - _impact(), 0.0))[0]
    return np.asarray(start + _METRE * moved, dtype=float)


def _rink(rng: np.random.Generator) -> FloatArray:
    """Pebbled ice with a blue ring, a centre line and a few scratches."""
    ice = textured(_SIZE, _ICE, rng, coarse=48, depth=0.018)
    ice *= 1 + 0.012 * rng.normal(size=(*_SIZE, 1))
    outer = disc_cover(_SIZE, _RING_AT, _RING / 2 * _METRE)
    paint(ice, 0.75 * (outer - disc_cover(_SIZE, _RING_AT, 0.30 * _METRE)), _BLUE)
    centre = bar(np.array([-5.0, _RING_AT[1]]), np.array([1285.0, _RING_AT[1]]), 3.5)
    paint(ice, 0.6 * polygon_cover(_SIZE, centre), _LINE)
    tee = bar(np.array([_RING_AT[0], -5.0]), np.array([_RING_AT[0], 725.0]), 3.5)
    paint(ice, 0.6 * polygon_cover(_SIZE, tee), _LINE)
    for _ in range(26):
        start = rng.uniform((0, 0), (1280, 720))
        end = start + rng.normal(scale=60, size=2)
        paint(ice, 0.25 * polygon_cover(_SIZE, bar(start, end, 1.6)), (248.0, 246.0, 242.0))
    return ice


def _dress(name: str, rng: np.random.Generator) -> FloatArray:
    """The granite of a stone and its handle, ``(side, side, 3)``, around its middle."""
    side = 2 * _REACH + 1
    middle = (float(_REACH), float(_REACH))
    shape = (side, side)
    stone = textured(shape, _GRANITE, rng, coarse=8, depth=0.16)
    radius = _RADIUS * _METRE
    band = disc_cover(shape, middle, 0.82 * radius) - disc_cover(shape, middle, 0.66 * radius)
    paint(stone, 0.8 * band, _BAND)
    colour = _HANDLES[name]
    paint(stone, disc_cover(shape, middle, 0.42 * radius), tuple(0.8 * one for one in colour))  # type: ignore[arg-type]
    tilt = {"red stone": 0.5, "yellow stone": -0.9}[name]
    half = 0.52 * radius * np.array([np.cos(tilt), np.sin(tilt)])
    handle = bar(np.array(middle) - half, np.array(middle) + half, 9.0)
    paint(stone, polygon_cover(shape, handle), colour)
    paint(stone, disc_cover(shape, middle, 3.2), (240.0, 240.0, 240.0))
    return stone


def _paint_stone(picture: FloatArray, centre: FloatArray, dress: FloatArray) -> None:
    """Lay a stone over the ice, between pixels, with a soft shadow."""
    left, top = (round(float(value)) - _REACH - 4 for value in centre)
    side = dress.shape[0] + 8
    rows = slice(max(top, 0), min(top + side, _SIZE[0]))
    columns = slice(max(left, 0), min(left + side, _SIZE[1]))
    view = picture[rows, columns]
    if 0 in view.shape[:2]:
        return
    shape = (view.shape[0], view.shape[1])
    at = (float(centre[0]) - columns.start, float(centre[1]) - rows.start)
    paint(
        view, 0.18 * disc_cover(shape, (at[0] + 3, at[1] + 4), _RADIUS * _METRE + 1), (90, 84, 80)
    )
    shifted = _between_pixels(dress, at, shape)
    paint(view, disc_cover(shape, at, _RADIUS * _METRE), shifted)


def _between_pixels(
    dress: FloatArray, at: tuple[float, float], shape: tuple[int, int]
) -> FloatArray:
    """A dress laid so that its middle is at a point, by linear interpolation."""
    x, y = at[0] - _REACH, at[1] - _REACH
    columns = np.clip(np.arange(shape[1]) - x, 0, dress.shape[1] - 1.001)
    rows = np.clip(np.arange(shape[0]) - y, 0, dress.shape[0] - 1.001)
    low_x, low_y = columns.astype(int), rows.astype(int)
    share_x, share_y = (columns - low_x)[None, :, None], (rows - low_y)[:, None, None]
    above = dress[low_y][:, low_x] * (1 - share_x) + dress[low_y][:, low_x + 1] * share_x
    below = dress[low_y + 1][:, low_x] * (1 - share_x) + dress[low_y + 1][:, low_x + 1] * share_x
    return np.asarray(above * (1 - share_y) + below * share_y, dtype=float)
