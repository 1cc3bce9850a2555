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
_MOST = 12  # slips that are named


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
    kept = np.arange(len(frames))
    # the worst slip first, and then without it: it spoils what its neighbours are compared with
    for _ in range(_MOST):
        if len(kept) < 2 * _SIDE:
            return sorted(found, key=_frame)
        before, after = (_off(times[kept], pixels[kept], side) for side in (-1, 1))
        off = np.minimum(before, after)  # NaN at the ends, where one side is missing
        known = off[np.isfinite(off)]
        if len(known) == 0:
            return sorted(found, key=_frame)
        limit = max(_LEAST_OFF, _OUT_OF_SCATTER * float(np.median(known)))
        worst = int(np.nanargmax(off))
        if off[worst] <= limit:
            break
        found.append(Oddity(int(frames[kept[worst]]), "slip", float(off[worst])))
        kept = np.delete(kept, worst)
    step = float(np.median(np.hypot(*np.diff(pixels[kept], axis=0).T)))
    jump = max(limit, _OUT_OF_STRIDE * step)
    for k in np.flatnonzero((before[1:] > jump) & (after[:-1] > jump)):
        found.append(Oddity(int(frames[kept[k + 1]]), "jump", float(before[k + 1])))
    return sorted(found, key=_frame)


def _frame(oddity: Oddity) -> int:
    return oddity.frame


def _off(times: FloatArray, pixels: FloatArray, side: int) -> FloatArray:
    """How far each mark is from where its neighbours on one side put it; NaN with too few."""
    n = len(times)
    found = np.full(n, np.nan)
    here = np.arange(_SIDE, n) if side < 0 else np.arange(n - _SIDE)
    members = here[:, None] + side * np.arange(1, _SIDE + 1)
    apart = times[members] - times[here][:, None]
    near = np.abs(apart).max(axis=1) < _NEAR * float(np.median(np.diff(times))) * _SIDE / 2
    away = [
        np.hypot(*(np.einsum("ki,kic->kc", weights, pixels[members]) - pixels[here]).T)
        for weights in (_line_weights(apart), _parabola_weights(apart))
    ]
    found[here[near]] = np.minimum(*away)[near]
    return found


def _line_weights(apart: FloatArray) -> FloatArray:
    """Weights ``(k, i)`` of the values at times ``apart`` in the value of their line at time 0."""
    middle = apart.mean(axis=1, keepdims=True)
    spread = ((apart - middle) ** 2).sum(axis=1, keepdims=True)
    return np.asarray(1 / apart.shape[1] - middle * (apart - middle) / spread, dtype=float)


def _parabola_weights(apart: FloatArray) -> FloatArray:
    """The same for the parabola through three values (Lagrange)."""
    a, b, c = apart.T
    parts = (b * c / ((a - b) * (a - c)), a * c / ((b - a) * (b - c)), a * b / ((c - a) * (c - b)))
    return np.stack(parts, axis=1)
