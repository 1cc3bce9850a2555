"""The footbridge: one photograph of an arch that is a parabola."""

from itertools import pairwise
from typing import Any

import cv2
import numpy as np

from footing.core.arrays import FloatArray, Image
from footing.demo.painting import bar, cloudy, paint, polygon_cover, sky, spruces, textured

_SIZE = (1200, 1800)
_METRE = 120.0  # px
_SPAN, _RISE = 11.0, 2.4  # m
_CROWN = np.array([905.0, 520.0])
_STONE, _DARK = (150.0, 158.0, 166.0), (88.0, 96.0, 104.0)
_IRON = (58.0, 60.0, 54.0)
_NOISE = 2.0


def arch_height(across: FloatArray) -> FloatArray:
    """How far the arch lies below its crown, metres, at distances from the crown in metres."""
    return np.asarray(_RISE * (2 * across / _SPAN) ** 2, dtype=float)


def footbridge() -> tuple[Image, dict[str, Any]]:
    """The photograph, BGR, and its truth: y = −4 rise/span² · x² below the crown."""
    rng = np.random.default_rng(83)
    picture = sky(_SIZE, (206, 178, 150), (236, 226, 214), rng)
    bank = np.array([[0, 690], [360, 640], [700, 720], [1100, 716], [1460, 636], [1800, 684]])
    shore = np.concatenate([bank, [[1800, 1200], [0, 1200]]]).astype(float)
    trees = [(float(x), 760.0, 190 + 60 * np.sin(x)) for x in range(20, 1800, 88)]
    spruces(picture, trees, (104.0, 104.0, 84.0))
    paint(
        picture,
        polygon_cover(_SIZE, shore),
        textured(_SIZE, (236.0, 226.0, 220.0), rng, coarse=64, depth=0.03),
    )
    water = np.array([[250, 900], [1560, 900], [1800, 1200], [0, 1200]], dtype=float)
    ripples = 9 * np.clip(cloudy(_SIZE, rng, coarse=16), -2, 2)[..., None]
    paint(picture, polygon_cover(_SIZE, water), np.array([120.0, 104.0, 84.0]) + ripples)
    across = np.linspace(-_SPAN / 2, _SPAN / 2, 80)
    under = _CROWN + np.stack([across, arch_height(across)], 1) * _METRE
    deck_y = _CROWN[1] - 34
    outline = np.concatenate([under, [[1800, 830], [1800, deck_y], [0, deck_y], [0, 830]]])
    stone = textured(_SIZE, _STONE, rng, coarse=24, depth=0.05)
    paint(picture, polygon_cover(_SIZE, outline), stone)
    edge = under + np.array([0.0, -5.0])
    for start, end in pairwise(edge):
        paint_line(picture, start, end, 9.0, _DARK)
    paint_line(picture, np.array([0.0, deck_y]), np.array([1800.0, deck_y]), 12.0, _DARK)
    section = (np.array([545.0, deck_y - 6]), np.array([545.0 + 3.00 * _METRE, deck_y - 6]))
    for x in np.arange(section[0][0] - 6 * _METRE, 1800, _METRE):
        paint_line(picture, np.array([x, deck_y]), np.array([x, deck_y - 118]), 7.0, _IRON)
    rail = deck_y - 116
    paint_line(picture, np.array([0.0, rail]), np.array([1800.0, rail]), 9.0, _IRON)
    painted = [np.array([end[0], rail]) for end in section]
    paint_line(picture, painted[0], painted[1], 11.0, (52.0, 60.0, 196.0))
    for end in section:
        paint_line(picture, np.array([end[0], deck_y]), np.array([end[0], rail - 14]), 9.0, _IRON)
    grain = cv2.GaussianBlur(rng.normal(size=picture.shape), (0, 0), 0.6)
    exposed = np.clip(np.round(picture + 1.6 * _NOISE * grain), 0, 255).astype(np.uint8)
    truth = {
        "spot": "the lower edge of the arch",
        "crown": _CROWN.tolist(),
        "pixels_per_metre": _METRE,
        "span": _SPAN,
        "rise": _RISE,
        "second_coefficient": -4 * _RISE / _SPAN**2,
        "railing": {"start": painted[0].tolist(), "end": painted[1].tolist(), "length": 3.00},
        "arch": under[4:-4:4].tolist(),
    }
    return np.asarray(exposed, dtype=np.uint8), truth


def paint_line(
    picture: FloatArray,
    start: FloatArray,
    end: FloatArray,
    width: float,
    colour: tuple[float, float, float],
) -> None:
    """A straight stroke, painted into its own part of the picture."""
    corners = bar(start, end, width)
    low = np.maximum(np.floor(corners.min(axis=0)).astype(int) - 2, 0)
    high = np.ceil(corners.max(axis=0)).astype(int) + 3
    view = picture[low[1] : high[1], low[0] : high[0]]
    if 0 not in view.shape[:2]:
        paint(view, polygon_cover((view.shape[0], view.shape[1]), corners - low), colour)
