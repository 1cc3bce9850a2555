"""The first look in brightness and colour, just as it was marked.

A strong compression leaves so little of a small pattern that its reference in grey is not
recognised, and that a patch which may turn and grow follows the noise. A disc of pixels around the
mark with all that is known of their colour, which may only move, is still found: where it may be
is one peak of the correlation coefficient of all planes together (Lewis, Fast Normalized
Cross-Correlation, 1995). It says nothing of a pattern that turns; nor where a film shows the body
wholly, and a look that is not recognised there is something else.
"""

from dataclasses import dataclass, replace
from statistics import fmean

import cv2
import numpy as np

from footing.core.following.patches import Point
from footing.core.following.searching import beyond_highest
from footing.core.following.streaks import Grey

_AROUND = 6  # px from a place, that are looked at
_NEXT = 1  # px, where it is known to be
_LEAST = 0.5  # score from which it may be the body
_WHOLLY = 0.96  # usual score from which a film shows all of it, so that its reference is enough
_FALLS = 0.2  # by which the score falls in the first frames, if it turns
_LEARNS = 6  # frames, in which it is learnt how much of it a film shows usually
_UNKNOWN = -1.0  # score where there is none


@dataclass(frozen=True)
class Likeness:
    """The pixels around a mark ``(2 r + 1, 2 r + 1, planes)``, and which of them count.

    spot : of the mark, from the middle pixel
    scores : where the body was in its first frames
    """

    pixels: Grey
    disc: Grey
    spot: Point
    scores: tuple[float, ...] = ()

    @classmethod
    def around(cls, planes: list[Grey], spot: Point) -> "Likeness":
        """That of a mark, by the planes of a picture ``(2 r + 1, 2 r + 1)`` around its pixel."""
        reach = planes[0].shape[0] // 2
        axis = np.arange(-reach, reach + 1)
        disc = (np.hypot(*np.meshgrid(axis, axis)) <= reach).astype(np.float32)
        return cls(_stacked(planes), np.dstack([disc] * len(planes)), spot)

    @property
    def reach(self) -> int:
        """Pixels on each side of a place, whose planes `place` is asked with."""
        return self.pixels.shape[0] // 2 + _AROUND

    @property
    def learns(self) -> bool:
        """Whether it is still being learnt how much of the body the film shows."""
        return len(self.scores) < _LEARNS

    @property
    def usual(self) -> float:
        """The mean of the scores so far; 1 while there are none."""
        return fmean(self.scores) if self.scores else 1.0

    @property
    def turns(self) -> bool:
        """Whether it was less like the mark from frame to frame, as what turns is."""
        return not self.learns and fmean(self.scores[:2]) - fmean(self.scores[-2:]) > _FALLS

    @property
    def speaks(self) -> bool:
        """Whether it tells more than the reference does, and the body does not turn."""
        return self.usual < _WHOLLY and not self.turns

    @property
    def reach_learnt(self) -> int:
        """Pixels on each side of the body's place, whose planes `learnt` is told."""
        return self.pixels.shape[0] // 2 + _NEXT

    def place(self, planes: list[Grey]) -> Point | None:
        """Where the mark is from the middle of an area, px; None if it is not seen for sure."""
        if not self.speaks:
            return None
        scores = self._correlated(planes)
        _, score, _, (column, row) = cv2.minMaxLoc(scores)
        last = 2 * _AROUND
        if score < _LEAST or {column, row} & {0, last}:
            return None
        x = column + beyond_highest(scores[row], column)
        y = row + beyond_highest(scores[:, column], row)
        return x - _AROUND + self.spot[0], y - _AROUND + self.spot[1]

    def learnt(self, planes: list[Grey]) -> "Likeness":
        """With one frame more, in which the body was in the middle of an area."""
        score = float(self._correlated(planes).max())
        return replace(self, scores=(*self.scores, score))

    def _correlated(self, planes: list[Grey]) -> Grey:
        area = _stacked(planes)
        scores = cv2.matchTemplate(area, self.pixels, cv2.TM_CCOEFF_NORMED, mask=self.disc)
        return np.where(np.isfinite(scores), scores, np.float32(_UNKNOWN))


def _stacked(planes: list[Grey]) -> Grey:
    return np.ascontiguousarray(np.dstack(planes))
