"""Marks that are odd beside their neighbours: a slip, a jump, a frame that repeats another.

A mark is compared with what its neighbours on each side foresee for it (the line or parabola
through them). A slip is off from both sides, so the moment of an impact is none: it fits one of
them. A jump lies between two marks, each of which fits its own side but not the other.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from footing.core.arrays import FloatArray, IntArray

_SIDE = 3  # neighbours on each side
_LEAST_OFF = 4.0  # px
_OUT_OF_SCATTER = 6.0  # times the usual scatter
_OUT_OF_STRIDE = 2.0  # times the usual step, for a jump
_NEAR = 4.0  # strides, beyond which a neighbour says nothing


@dataclass(frozen=True)
class Oddity:
    """What is odd about the mark in a frame; ``off`` is by how many pixels."""

    frame: int
    kind: Literal["slip", "jump", "repeated"]
    off: float


def oddities(
    frames: IntArray, pixels: FloatArray, times: FloatArray, *, repeated: set[int]
) -> list[Oddity]:
    """Odd marks of one body, in rising frames.

    frames : (n,) rising; pixels : (n, 2); times : (n,) of the marks; repeated : frames of the file
    that show the one before once more
    """
    found = [Oddity(int(frame), "repeated", 0.0) for frame in frames if int(frame) in repeated]
    n = len(frames)
    if n < 2 * _SIDE:
        return found
    before, after = (_off(times, pixels, side) for side in (-1, 1))
    off = np.fmin(before, after)
    usual = float(np.nanmedian(off))
    limit = max(_LEAST_OFF, _OUT_OF_SCATTER * usual)
    step = float(np.median(np.hypot(*np.diff(pixels, axis=0).T)))
    jumps = max(limit, _OUT_OF_STRIDE * step)
    for k in range(n):
        if np.isfinite(before[k]) and np.isfinite(after[k]) and off[k] > limit:
            found.append(Oddity(int(frames[k]), "slip", float(off[k])))
    slips = {one.frame for one in found}
    for k in range(n - 1):
        clean = int(frames[k]) not in slips and int(frames[k + 1]) not in slips
        if clean and before[k + 1] > jumps and after[k] > jumps:
            found.append(Oddity(int(frames[k + 1]), "jump", float(before[k + 1])))
    return sorted(found, key=lambda one: one.frame)


def _off(times: FloatArray, pixels: FloatArray, side: int) -> FloatArray:
    """How far each mark is from where its neighbours on one side put it; NaN with too few."""
    n = len(times)
    usual = float(np.median(np.diff(times)))
    found = np.full(n, np.nan)
    for k in range(n):
        members = k + side * np.arange(1, _SIDE + 1)
        if members.min() < 0 or members.max() >= n:
            continue
        apart = times[members] - times[k]
        if np.abs(apart).max() > _NEAR * usual * _SIDE / 2:
            continue
        curve = np.polyfit(apart, pixels[members], 1)
        off = np.hypot(*(curve[1] - pixels[k]))
        bent = np.polyfit(apart, pixels[members], 2)
        found[k] = min(off, float(np.hypot(*(bent[2] - pixels[k]))))
    return found
