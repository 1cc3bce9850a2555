"""The lantern and the cone: let go together from a balcony, filmed in slow motion."""

import numpy as np

from footing.core.arrays import FloatArray
from footing.demo.filming import Camera
from footing.demo.painting import bar, disc_cover, paint, polygon_cover, textured
from footing.demo.scenes import GRAVITY, Scene

_AIR = 1.20  # kg/m³
_METRE = 250.0  # px
_SIZE = (1280, 720)
_RELEASED = 0.1
_BRICK, _MORTAR = (86.0, 104.0, 150.0), (128.0, 140.0, 162.0)
_PAPER, _GLOW = (96.0, 170.0, 232.0), (168.0, 226.0, 250.0)
_BARK, _SCALES = (44.0, 66.0, 98.0), (70.0, 100.0, 140.0)


def lantern_and_cone() -> Scene:
    """Quadratic drag on both; shot at 120 frames/s and stored to play at 30."""
    camera = Camera(
        rate=120, frames=132, shutter=1 / 500, noise=2.2, quality=18, rotation=90, plays_at=30
    )
    rng = np.random.default_rng(57)
    ground_y = 1214.0
    background = _wall(ground_y, rng)
    ladder_foot, ladder_top = np.array([628.0, ground_y]), np.array([628.0, ground_y - 3 * _METRE])
    _paint_ladder(background, ladder_foot, ladder_top)
    starts = {"lantern": np.array([250.0, 176.0]), "cone": np.array([430.0, 176.0])}
    radii = {"lantern": 0.060, "cone": 0.025}
    masses = {"lantern": 0.018, "cone": 0.040}
    drags = {"lantern": 0.6, "cone": 0.5}
    terminal = {
        name: float(
            np.sqrt(2 * masses[name] * GRAVITY / (_AIR * drags[name] * np.pi * radii[name] ** 2))
        )
        for name in starts
    }

    def place(name: str, moment: float) -> FloatArray:
        """v = v_t tanh(g t/v_t), so the fall is (v_t²/g) ln cosh(g t/v_t); it ends on the snow."""
        fallen = max(moment - _RELEASED, 0.0)
        v = terminal[name]
        drop = v**2 / GRAVITY * np.log(np.cosh(GRAVITY * fallen / v)) * _METRE
        lowest = ground_y - radii[name] * _METRE - starts[name][1]
        return np.asarray(starts[name] + np.array([0.0, min(drop, lowest)]), dtype=float)

    def painter(moment: float) -> FloatArray:
        picture = background.copy()
        _paint_lantern(picture, place("lantern", moment), radii["lantern"] * _METRE)
        _paint_cone(picture, place("cone", moment), radii["cone"] * _METRE)
        return picture

    times = camera.mid_exposures()
    truth = {
        "spot": "the middle of the lantern, and of the cone",
        "positions": {name: [place(name, moment).tolist() for moment in times] for name in starts},
        "times": times.tolist(),
        "capture_rate": camera.rate,
        "playing_rate": camera.plays_at,
        "pixels_per_metre": _METRE,
        "ladder": {"start": ladder_foot.tolist(), "end": ladder_top.tolist(), "length": 3.00},
        "gravity": GRAVITY,
        "air_density": _AIR,
        "masses": masses,
        "radii": radii,
        "drag_coefficients": drags,
        "terminal_speeds": terminal,
        "release_time": _RELEASED,
    }
    return Scene("lantern-and-cone", camera, painter, truth)


def _wall(ground_y: float, rng: np.random.Generator) -> FloatArray:
    """A brick wall below a balcony, and trodden snow at its foot."""
    picture = textured(_SIZE, _MORTAR, rng, coarse=32, depth=0.03)
    for course, top in enumerate(np.arange(0, ground_y, 26)):
        shift = 29 * (course % 2)
        for left in np.arange(-58 + shift, _SIZE[1], 58):
            tone = rng.normal(1.0, 0.055)
            corners = np.array(
                [[left, top], [left + 54, top], [left + 54, top + 22], [left, top + 22]]
            )
            _paint_near(picture, corners, tuple(tone * value for value in _BRICK))
    picture *= 1 + 0.02 * rng.normal(size=(*_SIZE, 1))
    floor = np.array([[0, ground_y - 4], [720, ground_y - 4], [720, 1280], [0, 1280]], dtype=float)
    snow = textured(_SIZE, (236.0, 226.0, 220.0), rng, coarse=40, depth=0.03)
    paint(picture, polygon_cover(_SIZE, floor), snow)
    balcony = np.array([[90, 70], [560, 70], [560, 112], [90, 112]], dtype=float)
    paint(picture, polygon_cover(_SIZE, balcony), (92.0, 98.0, 104.0))
    for x in range(100, 560, 36):
        upright = bar(np.array([float(x), 0.0]), np.array([float(x), 72.0]), 6)
        paint(picture, polygon_cover(_SIZE, upright), (56.0, 62.0, 66.0))
    return picture


def _paint_near(picture: FloatArray, corners: FloatArray, colour: tuple[float, ...]) -> None:
    """Paint a small polygon into its own part of the picture only."""
    left, top = (max(int(value) - 2, 0) for value in corners.min(axis=0))
    right, bottom = (int(value) + 3 for value in corners.max(axis=0))
    view = picture[top:bottom, left:right]
    if 0 not in view.shape[:2]:
        cover = polygon_cover((view.shape[0], view.shape[1]), corners - [left, top])
        paint(view, cover, np.array(colour))


def _paint_ladder(picture: FloatArray, foot: FloatArray, top: FloatArray) -> None:
    side = np.array([26.0, 0.0])
    for shift in (-side, side):
        paint(picture, polygon_cover(_SIZE, bar(foot + shift, top + shift, 9)), (60, 126, 190))
    for share in np.linspace(0.0, 1.0, 11):
        at = foot + (top - foot) * share
        rung = polygon_cover(_SIZE, bar(at - side, at + side, 8))
        end = share in (0.0, 1.0)
        paint(picture, rung, (46, 52, 190) if end else (66, 132, 196))


def _window(
    picture: FloatArray, centre: FloatArray, reach: int
) -> tuple[FloatArray, tuple[float, float]]:
    """The part of the picture around a point, and where the point is in it."""
    left, top = max(int(centre[0]) - reach, 0), max(int(centre[1]) - reach, 0)
    view = picture[top : int(centre[1]) + reach, left : int(centre[0]) + reach]
    return view, (float(centre[0] - left), float(centre[1] - top))


def _paint_lantern(picture: FloatArray, centre: FloatArray, radius: float) -> None:
    """A round paper lantern with dark hoops and a bright middle."""
    view, at = _window(picture, centre, 24)
    shape = (view.shape[0], view.shape[1])
    paint(view, disc_cover(shape, at, radius), _PAPER)
    for height in (-0.66, -0.33, 0.33, 0.66):
        half = radius * float(np.sqrt(1 - height**2))
        y = at[1] + height * radius
        hoop = bar(np.array([at[0] - half, y]), np.array([at[0] + half, y]), 1.6)
        paint(view, polygon_cover(shape, hoop), (52.0, 92.0, 150.0))
    paint(view, disc_cover(shape, at, 0.28 * radius), _GLOW)


def _paint_cone(picture: FloatArray, centre: FloatArray, radius: float) -> None:
    """A pine cone: dark, with rows of lighter scales."""
    view, at = _window(picture, centre, 16)
    shape = (view.shape[0], view.shape[1])
    body = np.array(
        [
            [at[0] + radius * 0.9 * np.cos(a), at[1] + radius * 1.35 * np.sin(a)]
            for a in np.linspace(0, 2 * np.pi, 28, endpoint=False)
        ]
    )
    paint(view, polygon_cover(shape, body), _BARK)
    for row in (-0.7, 0.0, 0.7):
        for column in (-0.4, 0.4):
            scale = (at[0] + column * radius, at[1] + row * radius)
            paint(view, disc_cover(shape, scale, 1.5), _SCALES)
