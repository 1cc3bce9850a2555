"""Painting a winter's day: textures and shapes as float pictures ``(height, width, 3)``, BGR."""

import cv2
import numpy as np

from footing.core.arrays import FloatArray

Colour = tuple[float, float, float]
_SUPERSAMPLING = 4


def cloudy(shape: tuple[int, int], rng: np.random.Generator, *, coarse: int) -> FloatArray:
    """Smooth noise ``(height, width)`` of mean 0 and deviation 1, from several octaves."""
    total = np.zeros(shape, dtype=np.float64)
    cells, weight = coarse, 1.0
    while cells >= 2:
        grid = rng.normal(size=(shape[0] // cells + 3, shape[1] // cells + 3))
        size = (grid.shape[1] * cells, grid.shape[0] * cells)
        layer = cv2.resize(grid, size, interpolation=cv2.INTER_CUBIC)
        total += weight * layer[: shape[0], : shape[1]]
        cells //= 2
        weight *= 0.6
    return np.asarray((total - total.mean()) / total.std(), dtype=float)


def textured(
    shape: tuple[int, int], colour: Colour, rng: np.random.Generator, *, coarse: int, depth: float
) -> FloatArray:
    """A surface of one colour with grain."""
    grain = 1 + depth * cloudy(shape, rng, coarse=coarse)
    return np.asarray(np.array(colour) * grain[..., None], dtype=float)


def sky(
    shape: tuple[int, int], top: Colour, bottom: Colour, rng: np.random.Generator
) -> FloatArray:
    """A sky that brightens towards the horizon, with thin cloud."""
    ramp = np.linspace(0, 1, shape[0])[:, None, None]
    plain = np.array(top) * (1 - ramp) + np.array(bottom) * ramp
    cloud = 3.5 * cloudy(shape, rng, coarse=128)
    return np.asarray(np.broadcast_to(plain, (*shape, 3)) + cloud[..., None], dtype=float)


def polygon_cover(shape: tuple[int, int], corners: FloatArray) -> FloatArray:
    """How much of each pixel a polygon covers, 0 … 1; corners ``(n, 2)`` in pixels."""
    k = _SUPERSAMPLING
    fine = np.zeros((shape[0] * k, shape[1] * k), dtype=np.uint8)
    points = np.round(((corners + 0.5) * k - 0.5) * 16).astype(np.int32)
    cv2.fillPoly(fine, [points], 255, lineType=cv2.LINE_AA, shift=4)
    return np.asarray(
        cv2.resize(fine, (shape[1], shape[0]), interpolation=cv2.INTER_AREA) / 255.0, dtype=float
    )


def disc_cover(shape: tuple[int, int], centre: tuple[float, float], radius: float) -> FloatArray:
    """How much of each pixel a disc covers."""
    rows, columns = np.mgrid[: shape[0], : shape[1]]
    distance = np.hypot(columns - centre[0], rows - centre[1])
    return np.asarray(np.clip(radius - distance + 0.5, 0, 1), dtype=float)


def paint(picture: FloatArray, cover: FloatArray, paint_with: FloatArray | Colour) -> None:
    """Lay a colour or a surface over a picture where ``cover`` says."""
    alpha = cover[..., None]
    picture *= 1 - alpha
    picture += alpha * np.asarray(paint_with)


def spruces(picture: FloatArray, feet: list[tuple[float, float, float]], colour: Colour) -> None:
    """Paint spruces: foot x, foot y and height of each, in pixels."""
    shape = (picture.shape[0], picture.shape[1])
    for x, y, height in feet:
        for tier in range(5):
            top = y - height * (1 - 0.16 * tier)
            half = height * (0.07 + 0.045 * tier)
            base = top + height * 0.3
            corners = np.array([[x, top], [x + half, base], [x - half, base]])
            paint(picture, polygon_cover(shape, corners), colour)


def bar(start: FloatArray, end: FloatArray, width: float) -> FloatArray:
    """Corners ``(4, 2)`` of a bar between two points."""
    along = (end - start) / np.hypot(*(end - start))
    across = np.array([-along[1], along[0]]) * width / 2
    return np.stack([start + across, end + across, end - across, start - across])
