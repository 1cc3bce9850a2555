"""The camera's own motion, seen by points of its pictures.

A pose is a matrix ``(2, 3)`` that takes a place of the first frame to where it is in another, px;
None while the camera is at rest.
"""

from dataclasses import dataclass, field
from math import log2

import cv2
import numpy as np

from footing.core.arrays import FloatArray, Image
from footing.core.following.light import Light
from footing.core.following.patches import Point

_SIDE = 400  # px, about the long side of the pictures in which the camera's motion is seen
_POINTS = 50
_WINDOW = (15, 15)  # px
_FIRM = 0.6  # px in these pictures, by which a point may stray from the camera's motion
_ON_A_STAND = 0.12  # px in these pictures, under which a camera does not move
_SURELY_RESTS, _SELDOM = 25, 4  # frames at rest, after which one in how many is looked at
_LOOKS_AGAIN = 12  # frames
_ENOUGH = 0.5  # share of the points that must be seen again
_TURNED = 1.5  # px over an area, by which a picture is turned beside another
_EYE = np.eye(2, 3)


@dataclass
class _Sight:
    """Points of a small picture that the camera's motion is seen by, its pose, the shift lately."""

    small: Image
    points: FloatArray
    pose: FloatArray
    lately: FloatArray = field(default_factory=lambda: np.zeros(2))


@dataclass
class Camera:
    """How the camera of a film moves, as its own pictures show it."""

    _sight: _Sight | None = None
    _blind: int = 0
    _rested: int = 0

    def pose(self, frame: Image, light: Light) -> FloatArray | None:
        """Where the camera looks: a matrix ``(2, 3)`` from the first frame; None on a stand."""
        if self._rested > _SURELY_RESTS:
            self._rested += 1
            if self._rested % _SELDOM:
                return None
        small, factor = _smaller(frame)
        if not light.slight:
            back = light.inverse
            small = np.asarray(cv2.convertScaleAbs(small, alpha=back.gain, beta=back.offset))
        if self._sight is None:
            self._sight = _Sight(small, _points(small), np.eye(2, 3))
            return None
        pose = self._seen_by(self._sight, small)
        if np.abs(pose - _EYE)[:, 2].max() < _ON_A_STAND:
            self._rested += 1
            return None
        self._rested = 0
        return np.column_stack([pose[:, :2], pose[:, 2] / factor])

    def _seen_by(self, sight: _Sight, small: Image) -> FloatArray:
        """The pose of a small picture, and points for the next ones."""
        found = _motion(sight, small)
        if found is None:
            # there is too little to see a motion by; it is looked for again now and then
            self._blind += 1
            if self._blind % _LOOKS_AGAIN == 0:
                self._sight = _Sight(small, _points(small), sight.pose)
            return sight.pose
        pose, share = found
        sight.lately = pose[:, 2]
        whole = _after(pose, sight.pose)
        if share < _ENOUGH:
            self._sight = _Sight(small, _points(small), whole)
        return whole


def carried(before: FloatArray | None, now: FloatArray | None, at: Point) -> Point:
    """How far the camera moved a place between two frames, px."""
    if before is now:
        return 0.0, 0.0
    its, mine = (_EYE if pose is None else pose for pose in (before, now))
    if _turned_alike(its, mine):
        dx, dy = mine[:, 2] - its[:, 2]
        return float(dx), float(dy)
    its, mine = (whole(pose, 1.0) for pose in (before, now))
    x, y, _ = mine @ np.linalg.inv(its) @ np.array([at[0], at[1], 1.0])
    return float(x) - at[0], float(y) - at[1]


def _smaller(frame: Image) -> tuple[Image, float]:
    """A frame halved some times, which is quicker than any other size, and how large that is."""
    halvings = max(round(log2(max(frame.shape) / _SIDE)), 0)
    small = frame
    for _ in range(halvings):
        height, width = (side // 2 for side in small.shape)
        whole = small[: 2 * height, : 2 * width]
        small = np.asarray(cv2.resize(whole, (width, height), interpolation=cv2.INTER_AREA))
    return small, 0.5**halvings


def _points(small: Image) -> FloatArray:
    found = cv2.goodFeaturesToTrack(small, _POINTS, 0.01, 12)
    return np.zeros((0, 1, 2), np.float32) if found is None else np.asarray(found, np.float32)


def _motion(sight: _Sight, small: Image) -> tuple[FloatArray, float] | None:
    """How the picture moved since a sight was taken, and the share of points that say so."""
    if len(sight.points) < 8:
        return None
    begins = (sight.points + sight.lately).astype(np.float32)
    found, status, _ = cv2.calcOpticalFlowPyrLK(
        sight.small,
        small,
        sight.points,
        begins,
        winSize=_WINDOW,
        maxLevel=2,
        flags=cv2.OPTFLOW_USE_INITIAL_FLOW,
    )
    good = status.ravel() == 1
    if good.sum() < 6:
        return None
    before, after = sight.points[good][:, 0], found[good][:, 0]
    moved = np.median(after - before, axis=0)
    off = np.hypot(*(after - before - moved).T)
    firm = off < _FIRM
    if firm.mean() >= _ENOUGH:
        pose = np.column_stack([np.eye(2), moved])
        return pose, float(firm.sum()) / len(sight.points)
    turned, inliers = cv2.estimateAffinePartial2D(
        before, after, method=cv2.RANSAC, ransacReprojThreshold=_FIRM
    )
    if turned is None:
        return None
    return np.asarray(turned, dtype=float), float(inliers.sum()) / len(sight.points)


def _after(pose: FloatArray, first: FloatArray) -> FloatArray:
    """One motion after another."""
    whole = np.vstack([pose, [0, 0, 1]]) @ np.vstack([first, [0, 0, 1]])
    return np.asarray(whole[:2], dtype=float)


def _turned_alike(one: FloatArray, other: FloatArray) -> bool:
    """Whether two poses differ by a shift alone."""
    return one[:, :2].tolist() == other[:, :2].tolist()


def shift(
    its: FloatArray | None, mine: FloatArray | None, scale: float, x: float, y: float, side: int
) -> tuple[int, int] | None:
    """How many whole pixels one frame is moved beside another; None where it is turned, too."""
    if its is None and mine is None:
        return 0, 0
    its = _EYE if its is None else its
    mine = _EYE if mine is None else mine
    if _turned_alike(its, mine):
        dx, dy = scale * (its[:, 2] - mine[:, 2])
        return round(float(dx)), round(float(dy))
    if np.abs(its[:, :2] - mine[:, :2]).max() * side > _TURNED:
        return None
    # the same point of the first frame, in both
    away = its[:, :2] - mine[:, :2]
    first = (np.array([x / scale, y / scale]) - mine[:, 2]) / mine[0, 0]
    dx, dy = scale * (away @ first + its[:, 2] - mine[:, 2])
    return round(float(dx)), round(float(dy))


def whole(pose: FloatArray | None, scale: float) -> FloatArray:
    """A pose as a matrix ``(3, 3)``, for a picture of another size."""
    if pose is None:
        return np.eye(3)
    return np.vstack([np.column_stack([pose[:, :2], scale * pose[:, 2]]), [0, 0, 1]])
