"""Marks that are odd beside their neighbours: a slip, a jump, a frame that repeats another.

A slip is a mark that a smooth motion through its neighbours does not explain, and that a kink there
does not explain better: so the moment of an impact is none. Three descriptions of a few marks
around it are compared, a parabola, a parabola without that mark, and two straight pieces joined to
a parabola at that moment. What the second leaves over is judged by the scatter that the marks of
the body show anywhere (F test, with as many chances as there are marks). A jump lies between two
marks, each of which fits its own side but not the other.
"""

from collections.abc import Set
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray, IntArray
from footing.core.kinematics import mark_scatter

_SIDE = 3  # neighbours on each side of a jump
_AROUND = 4  # neighbours on each side of a slip
_FEWEST = 7  # marks, below which a slip cannot be told
_SURE = 0.005  # chance of naming any mark of a body that has none, by each way of looking
_SUSPECTS, _AT_ENDS = 12, 3  # marks that are looked at more closely
_SURE_HERE = 0.002
_ON_A_PARABOLA = 2.5  # times the variance that the marks show, up to which they lie on one
_LEAST_SLIP = 0.8  # px
_LEAST_SCATTER = 0.05  # px; marks by following scatter less than they err
_EXPLAINS = 0.85  # of what is left over, from which on a kink explains a mark as well
_LEAST_OFF = 4.0  # px, of a jump
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
    frames: IntArray, pixels: FloatArray, times: FloatArray, *, repeated: Set[int]
) -> list[Oddity]:
    """Odd marks of one body, in rising frames.

    frames : (n,) rising; pixels : (n, 2); times : (n,) of the marks; repeated : frames of the file
    that show the one before once more
    """
    found = [Oddity(int(frame), "repeated", 0.0) for frame in frames if int(frame) in repeated]
    slips, kept = _slips(times, pixels)
    found += [Oddity(int(frames[place]), "slip", off) for place, off in slips]
    if len(kept) < 2 * _SIDE:
        return sorted(found, key=_frame)
    before, after = (_off(times[kept], pixels[kept], side) for side in (-1, 1))
    off = np.minimum(before, after)  # NaN at the ends, where one side is missing
    known = off[np.isfinite(off)]
    if len(known) == 0:
        return sorted(found, key=_frame)
    limit = max(_LEAST_OFF, _OUT_OF_SCATTER * float(np.median(known)))
    step = float(np.median(np.hypot(*np.diff(pixels[kept], axis=0).T)))
    jump = max(limit, _OUT_OF_STRIDE * step)
    for k in np.flatnonzero((before[1:] > jump) & (after[:-1] > jump)):
        found.append(Oddity(int(frames[kept[k + 1]]), "jump", float(before[k + 1])))
    return sorted(found, key=_frame)


def _slips(times: FloatArray, pixels: FloatArray) -> tuple[list[tuple[int, float]], IntArray]:
    """Slips as place and size, the worst first, and the places of the other marks.

    The others are judged without it: it spoils what its neighbours are compared with.
    """
    kept = np.arange(len(times))
    slips: list[tuple[int, float]] = []
    while len(kept) >= _FEWEST and len(slips) < _MOST:
        variance, dof = mark_scatter(times[kept], pixels[kept])
        variance = max(variance, _LEAST_SCATTER**2)
        suspects = _suspects(pixels[kept])
        ratios, off = _left_over(times[kept], pixels[kept], suspects)
        ratios[off <= _LEAST_SLIP] = 0.0
        most = int(np.argmax(ratios))
        largest, size = float(ratios[most]), float(off[most])
        worst = int(suspects[most]) if largest > 0 else -1
        chance = special.fdtrc(2, max(dof, 2.0), largest / variance / 2)
        if worst < 0 or chance * len(kept) > _SURE:
            worst, size = _beside_one_parabola(times[kept], pixels[kept], variance)
        if worst < 0:
            break
        slips.append((int(kept[worst]), size))
        kept = np.delete(kept, worst)
    return slips, kept


def _suspects(pixels: FloatArray) -> IntArray:
    """The marks at which the fourth difference is largest, and those at the ends."""
    n = len(pixels)
    fourth = np.hypot(*np.diff(pixels, n=4, axis=0).T)
    middle = 2 + np.argsort(fourth)[::-1][:_SUSPECTS]
    return np.unique(np.concatenate([middle, np.arange(_AT_ENDS), np.arange(n - _AT_ENDS, n)]))


def _beside_one_parabola(
    times: FloatArray, pixels: FloatArray, variance: float
) -> tuple[int, float]:
    """The worst mark beside a parabola through all of them, if they lie on one; −1 if none.

    The externally studentised residual in both coordinates (docs/physics.md, Fits). Marks lie on a
    parabola if without the worst they scatter about it no more than their neighbours say.
    """
    n = len(times)
    t = (times - times.mean()) / (float(np.ptp(times)) or 1.0)
    basis = np.linalg.qr(np.stack([np.ones_like(t), t, t**2], axis=1))[0]
    residuals = pixels - basis @ (basis.T @ pixels)
    left = np.clip(1 - np.sum(basis**2, axis=1), 1e-9, 1.0)
    gains = np.sum(residuals**2, axis=1) / left
    worst = int(np.argmax(gains))
    dof = 2 * (n - 4)
    rest = max(float(np.sum(residuals**2)) - gains[worst], 1e-12) / dof
    off = float(np.sqrt(gains[worst] / left[worst]))
    chance = special.fdtrc(2, dof, gains[worst] / 2 / max(rest, _LEAST_SCATTER**2))
    if rest > _ON_A_PARABOLA * variance or chance * n > _SURE or off < _LEAST_SLIP:
        return -1, 0.0
    return worst, off


def _left_over(
    times: FloatArray, pixels: FloatArray, places: IntArray
) -> tuple[FloatArray, FloatArray]:
    """How much less is left over without each of these marks (px²), and how far off it is (px).

    Nothing where a kink explains the mark, or where there are too few near neighbours.
    """
    n = len(times)
    around = min(2 * _AROUND + 1, n)
    first = np.clip(places - _AROUND, 0, max(n - around, 0))
    last = first + around
    # the ends are told by one side, which a long way off says little
    last = np.where(places < 2, np.minimum(last, first + _FEWEST + places), last)
    near_end = (places > n - 3) & (places >= 2)
    first = np.where(near_end, np.maximum(first, last - (_FEWEST + n - 1 - places)), first)
    counts = last - first
    told = np.flatnonzero(counts >= _FEWEST)
    gains, off = np.zeros(len(places)), np.zeros(len(places))
    if len(told):
        gains[told], off[told] = _slipped(times, pixels, places[told], first[told], counts[told])
    return gains, off


def _slipped(
    times: FloatArray, pixels: FloatArray, places: IntArray, first: IntArray, counts: IntArray
) -> tuple[FloatArray, FloatArray]:
    """The same for k marks, each among so many neighbours from the first on, itself included."""
    n, k = len(times), len(places)
    among = np.arange(counts.max()) < counts[:, None]
    members = np.minimum(first[:, None] + np.arange(among.shape[1]), n - 1)
    t = np.where(among, times[members] - times[places][:, None], 0.0)
    reach = np.abs(t).max(axis=1)
    far = reach > _NEAR * float(np.median(np.diff(times))) * _AROUND
    t = t / reach[:, None]
    counting = among.astype(float)
    parabola = np.stack([counting, t, t**2], axis=2)
    itself = among & (members == places[:, None])
    values = pixels[members] * counting[:, :, None]
    basis = np.linalg.qr(parabola)[0]
    rest = values - basis @ (basis.transpose(0, 2, 1) @ values)
    plain = np.sum(rest**2, axis=(1, 2))
    gain, off = _explained(basis, rest, itself.astype(float))
    dof = 2 * (counts - 4)
    left = np.maximum((plain - gain) / dof, 1e-12)
    # where that is likely, what is odd here is not that mark: the motion is no parabola
    out = far | (special.fdtrc(2, dof, gain / 2 / left) > _SURE_HERE)
    inside = (places >= 2) & (places <= n - 3)
    steps = np.sort(np.where(among[:, 1:], np.diff(t, axis=1), np.inf), axis=1)
    middle = np.stack([counts - 2, counts - 1], axis=1) // 2  # of those that there are
    step = np.take_along_axis(steps, middle, axis=1).mean(axis=1, keepdims=True)
    for moment in (-step / 2, np.zeros((k, 1)), step / 2):
        by_kink, _ = _explained(basis, rest, counting * np.maximum(t - moment, 0.0))
        out |= inside & (by_kink > _EXPLAINS * gain)
    return np.where(out, 0.0, gain), np.where(out, 0.0, off)


def _explained(
    basis: FloatArray, rest: FloatArray, column: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """How much less is left over with one column more ``(k,)``, and the size of its factor.

    basis : (k, i, 3) orthonormal columns that are fitted already; rest : (k, i, 2) what they leave
    column : (k, i) the further one (least squares by Gram and Schmidt)
    """
    new = column[:, :, None]
    new = new - basis @ (basis.transpose(0, 2, 1) @ new)
    square = np.maximum(np.sum(new**2, axis=(1, 2)), 1e-300)
    factors = np.sum(new * rest, axis=1) / square[:, None]
    sizes = np.hypot(*factors.T)
    return sizes**2 * square, sizes


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
