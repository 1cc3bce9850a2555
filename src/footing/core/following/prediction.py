"""Where a body should be next: its own motion so far, carried on.

A straight line, or a parabola once there are enough places, is fitted to the latest of them by
least squares, the later ones counting more.
"""

from dataclasses import dataclass, field
from functools import lru_cache
from itertools import pairwise
from math import hypot, inf

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.following.patches import Point

MEMORY = 7  # places
_FADES = 0.72  # weight of a place, for each place that came after it
_FOR_A_LINE, _FOR_A_PARABOLA = 3, 5
_SURPRISE_FADES = 0.75
_LETS_GO = 0.5  # share of its bend, that may change unseen
_BENDS = 0.03  # px/frame², by which a course may bend unseen
_FIRST_SURPRISE = 2.0  # px
_AT_REST, _STILL, _MOVED = 2, 0.6, 4.0  # frames, and px/frame
_LEAST_ROOM = 6.0  # px beyond twice the speed, that a place may be off at most


@dataclass(frozen=True)
class Halt:
    """The frame since which a body is at rest, and the most it moved shortly before, px/frame."""

    since: int
    speed: float


@dataclass
class Course:
    """The places of a body so far; `surprise` is how far the latest were from what was foreseen."""

    frames: list[int] = field(default_factory=list)
    places: list[Point] = field(default_factory=list)
    surprise: float = _FIRST_SURPRISE
    _known: tuple[list[int], bool, FloatArray] | None = field(default=None, repr=False)

    def add(self, frame: int, place: Point) -> None:
        """Take a new place."""
        if len(self.frames) > 1:
            (x, y), _ = self.foreseen(frame)
            most = 2 * (self.speed or 0.0) + _LEAST_ROOM
            off = min(float(np.hypot(place[0] - x, place[1] - y)), most)
            self.surprise = max(off, _SURPRISE_FADES * self.surprise + (1 - _SURPRISE_FADES) * off)
        self.frames = [*self.frames, frame][-MEMORY:]
        self.places = [*self.places, place][-MEMORY:]

    def carried(self, by: Point) -> "Course":
        """The same in a picture that the camera has moved."""
        places = [(x + by[0], y + by[1]) for x, y in self.places]
        return Course(list(self.frames), places, self.surprise)

    def backward(self, first: int) -> "Course":
        """The same from its end to a frame, as it would be gone backward."""
        back = Course()
        for frame, place in zip(self.frames[::-1], self.places[::-1], strict=True):
            if abs(frame - self.frames[-1]) <= abs(first - self.frames[-1]):
                back.add(frame, place)
        back.surprise = self.surprise
        return back

    def forget(self) -> None:
        """Keep the latest place only: somebody said that it is elsewhere."""
        self.frames, self.places = self.frames[-1:], self.places[-1:]
        self.surprise = _FIRST_SURPRISE

    @property
    def speed(self) -> float | None:
        """Pixels for each frame, or None while there is only one place."""
        if len(self.frames) < 2:
            return None
        (a, b), (x, y) = self.places[-2:]
        return float(np.hypot(x - a, y - b)) / abs(self.frames[-1] - self.frames[-2])

    @property
    def halt(self) -> Halt | None:
        """Where it has come to rest lately; None if it moves, or did not move before."""
        places = zip(self.frames, self.places, strict=True)
        steps = [
            hypot(x - a, y - b) / abs(frame - before)
            for (before, (a, b)), (frame, (x, y)) in pairwise(places)
        ]
        if max(steps[-_AT_REST:], default=inf) >= _STILL or max(steps) <= _MOVED:
            return None
        return Halt(self.frames[-_AT_REST - 1], max(steps))

    def foreseen(self, frame: int) -> tuple[Point, float]:
        """Where the body should be in a frame, and its expected error in pixels."""
        if len(self.frames) < 2:
            return self.places[-1], float("inf")
        ahead = frame - self.frames[-1]
        coefficients = self._curve(parabola=abs(ahead) <= MEMORY)
        (x, y), (u, v), *bends = coefficients.tolist()
        x, y, bend = x + u * ahead, y + v * ahead, 0.0
        for a, b in bends:
            x, y, bend = x + a * ahead**2, y + b * ahead**2, hypot(a, b)
        error = self.surprise * (0.6 + 0.4 * abs(ahead))
        error += (_BENDS + _LETS_GO * bend) * (abs(ahead) - 1) ** 2
        return (x, y), error

    def innovation(self, frame: int, place: Point) -> float | None:
        """How far a place is from where the body should be in a frame, px; None if unknown."""
        if len(self.frames) < _FOR_A_LINE:
            return None
        (x, y), _ = self.foreseen(frame)
        return hypot(place[0] - x, place[1] - y)

    def velocity(self, frame: int) -> FloatArray:
        """In a frame near the latest, in pixels for each frame as they are numbered."""
        if len(self.frames) < 2:
            return np.zeros(2)
        curve = self._curve(parabola=True)
        bend = 2 * curve[2] * (frame - self.frames[-1]) if len(curve) > 2 else 0.0
        return np.asarray(curve[1] + bend, dtype=float)

    def _curve(self, *, parabola: bool) -> FloatArray:
        """Coefficients ``(2 or 3, 2)`` of the curve, by powers of the time since the latest."""
        known = self._known
        if known is not None and known[:2] == (self.frames, parabola):
            return known[2]
        bends = parabola and len(self.frames) >= _FOR_A_PARABOLA
        times = tuple(frame - self.frames[-1] for frame in self.frames)
        curve = np.asarray(_fitting(times, 2 if bends else 1) @ np.array(self.places), dtype=float)
        self._known = (self.frames, parabola, curve)
        return curve


@lru_cache(maxsize=512)
def _fitting(times: tuple[int, ...], degree: int) -> FloatArray:
    """What turns places at some times, the latest last, into the coefficients of their curve.

    Nearly all courses have their places in each frame, so that there are few of these.
    """
    weights = _FADES ** np.arange(len(times) - 1, -1, -1)
    design = np.vander(np.array(times, dtype=float), degree + 1, increasing=True)
    return np.asarray(np.linalg.pinv(design * weights[:, None]) * weights)
