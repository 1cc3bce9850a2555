"""Laying a patch exactly over a frame: place, size and turn, to a part of a pixel.

The pose is found by Gauss-Newton steps of the inverse compositional kind, with brightness and
contrast solved for at the same time (Baker and Matthews, Lucas-Kanade 20 Years On, 2004). After
each round the pixels that do not fit, because something else covers them, get less of a say.
"""

from dataclasses import dataclass
from math import cos, exp, hypot, log, sin

import cv2
import numpy as np
from numpy.typing import NDArray

from footing.core.arrays import BoolArray, FloatArray, Image
from footing.core.following.patches import Patch, Pose, smooth_area
from footing.core.following.streaks import Grey, smeared

ROUNDS = 3
_STEPS = (3, 3, 10)  # at most, in each round
_STILL = 0.004  # px; a step this small is the last
_LONGEST, _GROWS = 2.0, 0.05  # px, and change of size and of turn, of one step
_STEP_MOST = (_LONGEST, _LONGEST, _GROWS, _GROWS)
_FARTHEST = 6.0  # px that a pose may be from where the search put it
_LARGEST_CHANGE = 0.25  # of size, and of turn in radians, from where the search put it
_LEAST_SEEN = 0.3  # share of the patch's weight that must lie in the picture
_OUTLIER = 3.0  # deviations from which a pixel loses its say within a frame
_DEVIATION = 1.48  # of a normal distribution, in median absolute deviations
_EVERY = 4  # pixels, of which one is enough to estimate it

Ends = tuple[int, int, int, int]


@dataclass(frozen=True)
class Laid:
    """A patch laid over a frame.

    score : weighted correlation coefficient of the patch with what is there
    seen : what is there, in the patch's coordinates and brightness
    squares : squared differences from the patch
    inside : which pixels of the patch lie in the frame
    """

    pose: Pose
    score: float
    seen: Grey
    squares: Grey
    inside: BoolArray


def lay(
    patch: Patch,
    frame: Image,
    near: Pose,
    *,
    weights: Grey | None = None,
    streak: FloatArray | None = None,
    rounds: int = ROUNDS,
) -> Laid | None:
    """Lay a patch over a grey frame near a pose; None where it does not settle there.

    ``weights`` take the place of the patch's own. With a ``streak`` (px), the frame is smeared
    along it first.
    """
    weights = patch.weights if weights is None else weights
    room = round(patch.reach * 1.42 * near.size + _FARTHEST)
    left, top = round(near.x) - room, round(near.y) - room
    smooth = smooth_area(frame, left, top, 2 * room + 1)
    if streak is not None:
        smooth = smeared(smooth, streak)
    ends = _ends(frame, left, top, 2 * room + 1)
    first = near.moved(-left, -top)
    pose = _settled(patch, weights, smooth, first, ends, rounds=rounds)
    return None if pose is None else _judged(patch, weights, smooth, pose, ends, (left, top))


def seen(patch: Patch, frame: Image, pose: Pose) -> Laid:
    """What a grey frame shows in a patch's place at a pose, which is taken as it is."""
    room = round(patch.reach * 1.42 * pose.size + 2)
    left, top = round(pose.x) - room, round(pose.y) - room
    smooth = smooth_area(frame, left, top, 2 * room + 1)
    ends = _ends(frame, left, top, 2 * room + 1)
    return _judged(patch, patch.weights, smooth, pose.moved(-left, -top), ends, (left, top))


def _settled(
    patch: Patch,
    trusted: Grey,
    smooth: Grey,
    first: Pose,
    ends: Ends | None,
    *,
    rounds: int,
) -> Pose | None:
    """The pose in a smoothed area, from a first one; None where it runs away."""
    pose = first
    design = patch.design
    weights = patch.weights_in_a_row if trusted is patch.weights else trusted.ravel()
    for steps in _STEPS[-rounds:]:
        here = weights
        if ends is not None:
            here = weights * _inside(patch, pose, ends).ravel()
            if here.sum() < _LEAST_SEEN * weights.sum():
                return None
        own = here is patch.weights_in_a_row
        unknowns = patch.solver if own else patch.solver_for(here)
        for _ in range(steps):
            sample = _sampled(patch, smooth, pose).ravel()
            found = unknowns.solved(sample)
            found = found + unknowns.back @ (log(first.size / pose.size), first.turn - pose.turn)
            gain, _, *changes = found.tolist()
            if gain < 1e-3:
                return None
            dx, dy, grow, turn = (
                min(max(change / gain, -most), most)
                for change, most in zip(changes, _STEP_MOST, strict=True)
            )
            c, s = pose.size * cos(pose.turn), pose.size * sin(pose.turn)
            step_x, step_y = c * dx - s * dy, s * dx + c * dy
            pose = Pose(pose.x + step_x, pose.y + step_y, pose.size * exp(grow), pose.turn + turn)
            if _ran_away(pose, first):
                return None
            if hypot(step_x, step_y) < _STILL and abs(turn) * patch.reach < _STILL:
                break
        off = sample - design @ found
        spread = _DEVIATION * _middle(np.abs(off[::_EVERY])) + 0.5
        weights = trusted.ravel() / (1 + np.square(off / np.float32(_OUTLIER * spread)))
    return pose


def _ran_away(pose: Pose, first: Pose) -> bool:
    return (
        hypot(pose.x - first.x, pose.y - first.y) > _FARTHEST
        or abs(log(pose.size / first.size)) > _LARGEST_CHANGE
        or abs(pose.turn - first.turn) > _LARGEST_CHANGE
    )


def _judged(
    patch: Patch,
    weights: Grey,
    smooth: Grey,
    local: Pose,
    ends: Ends | None,
    corner: tuple[int, int],
) -> Laid:
    sample = _sampled(patch, smooth, local)
    grey = patch.grey
    known = np.ones(grey.shape, dtype=bool)
    if ends is not None:
        known = _inside(patch, local, ends)
        weights = weights * known
    weights = weights / max(float(weights.sum()), 1e-9)
    mine = grey - float((weights * grey).sum())
    its = sample - float((weights * sample).sum())
    variance = max(float((weights * mine * mine).sum()), 1e-9)
    its_variance = max(float((weights * its * its).sum()), 1e-9)
    together = float((weights * mine * its).sum())
    like = its * np.float32((variance / its_variance) ** 0.5) + (grey - mine)
    off = its * np.float32(together / its_variance) - mine
    score = together / (variance * its_variance) ** 0.5
    return Laid(local.moved(*corner), score, like, off * off, known)


def _sampled(patch: Patch, smooth: Grey, local: Pose) -> Grey:
    """What an area shows at the pixels of a patch."""
    side = patch.grey.shape[0]
    found = cv2.warpAffine(
        smooth,
        _affine(patch, local),
        (side, side),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )
    return np.asarray(found, dtype=np.float32)


def _affine(patch: Patch, local: Pose) -> FloatArray:
    """From the pixels of a patch, counted from its corner, to those of an area."""
    c, s = local.size * cos(local.turn), local.size * sin(local.turn)
    u, v = patch.reach + patch.spot[0], patch.reach + patch.spot[1]
    return np.array([[c, -s, local.x - c * u + s * v], [s, c, local.y - s * u - c * v]])


def _inside(patch: Patch, local: Pose, ends: Ends) -> NDArray[np.bool_]:
    """Which pixels of a patch lie in the frame."""
    rows, columns = np.mgrid[: patch.grey.shape[0], : patch.grey.shape[1]]
    (a, b, e), (c, d, f) = _affine(patch, local)
    x, y = a * columns + b * rows + e, c * columns + d * rows + f
    left, top, right, bottom = ends
    return np.asarray((x >= left) & (x <= right) & (y >= top) & (y <= bottom), dtype=bool)


def _ends(frame: Image, left: int, top: int, side: int) -> Ends | None:
    """Where in a square the frame ends (left, top, right, bottom); None if it fills the square."""
    height, width = frame.shape
    if left >= 0 and top >= 0 and left + side <= width and top + side <= height:
        return None
    return -left, -top, width - 1 - left, height - 1 - top


def _middle(values: Grey) -> float:
    """The median, but for the mean of the two in the middle of an even number."""
    place = len(values) // 2
    values = values.copy()
    values.partition(place)
    return float(values[place])
