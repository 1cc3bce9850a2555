"""The parts of a body with limbs: small patches all over it, which of them move with the spot.

A walker's arms swing across a shirt that has no pattern of its own, and legs change the outline.
But head, shoulders and hem stay where they are from the spot. So patches on the whole body are
looked for one by one, with the still background taken out; where the spot is, is what most of them
say together, as supporters of a target do (Grabner, Matas, Van Gool and Cattin, Tracking the
Invisible, 2010). Those that go their own way, as limbs do, lose their say.
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np

from footing.core.arrays import FloatArray, Image
from footing.core.following.patches import Point
from footing.core.following.pieces import Blob
from footing.core.following.scene import Changed
from footing.core.following.searching import beyond_highest
from footing.core.following.streaks import Grey

_MOST, _LEAST = 20, 6  # parts
_REACH, _REACHES = 0.25, (5, 9)  # of the body's radius, and px: half the side of a patch
_ROOM = 2.4  # of the radius, around the spot, in which the body lies
_HOLDS = 0.03  # of the best, that a part must hold at least
_NOT_SEEN, _SEEN = 0.5, 1.5  # strength of change, from which something is there, and surely
_SHOWN_AGAINST = 60.0  # grey levels that the ground differs from the body
_MIDDLE_GREY = 110.0
_BORDER = 2  # px of the ground that belong to a body's edge
_UNLIKE, _ALIKE = 0.4, 0.8  # correlation from which a part has a say, and all of it
_TOGETHER = 1.2  # px, deviation of what parts of one thing say
_AGREES, _RECOGNISED = 1.6, 0.5  # px, and correlation, of a part that moves with the spot
_FIRM = 0.456  # share
_LEARNS = 0.15
_TRUSTED, _ENOUGH, _NEW = 0.5, 8, 0.6  # trust of a part that is kept, how many, trust of a new one
_STRETCHES = 0.1  # of what a part says otherwise, by which its place on the body is put right


@dataclass(frozen=True)
class Part:
    """One patch ``(side, side)``: px from the spot to its middle, and how far it may be trusted."""

    offset: Point
    patch: Grey
    trust: float = 1.0


@dataclass(frozen=True)
class Vote:
    """What the parts say together.

    place : of the spot, px; share : of all trust, of those that say so
    apart : of what each part says ``(n, 2)`` from that, px; scores : its correlation
    seen : what is there in the place of each, ``(side, side)``, if the spot is there
    """

    place: Point
    share: float
    apart: FloatArray
    scores: FloatArray
    seen: tuple[Grey, ...]

    @property
    def firm(self) -> bool:
        """Whether so many say so that nothing else is to be asked."""
        return self.share >= _FIRM


@dataclass(frozen=True)
class Parts:
    """The parts of a body, on a ground of one grey level.

    room : px around the spot, in which they lie
    """

    parts: tuple[Part, ...]
    ground: float
    reach: int
    room: int

    @classmethod
    def begun(cls, changed: Changed, blob: Blob, spot: Point, radius: float) -> "Parts | None":
        """Those of a body that stands alone; None where there are too few."""
        whole = _mask_of(blob, changed)
        level = float(changed.here[whole > 0].mean())
        below = level > _MIDDLE_GREY
        ground = level - _SHOWN_AGAINST if below else level + _SHOWN_AGAINST
        reach = int(np.clip(round(_REACH * radius), *_REACHES))
        bare = cls((), ground, reach, round(_ROOM * radius) + reach)
        new = bare.renewed(changed, blob, spot)
        return new if len(new.parts) >= _LEAST else None

    @property
    def worn(self) -> bool:
        """Whether few of them are left that moved with the spot lately."""
        return sum(part.trust >= _TRUSTED for part in self.parts) < _ENOUGH

    def renewed(self, changed: Changed, blob: Blob, spot: Point) -> "Parts":
        """With parts in the place of those that did not move with the spot, if enough are found."""
        side = 2 * _BORDER + 1
        own = cv2.dilate(_mask_of(blob, changed), np.ones((side, side), dtype=np.uint8))
        cut = _cut_out(changed.here, changed.strength * own, self.ground)
        reach, edge = self.reach, self.reach + 1
        free = np.zeros_like(own)
        free[edge:-edge, edge:-edge] = own[edge:-edge, edge:-edge]
        x0, y0 = spot[0] - changed.left, spot[1] - changed.top
        kept = [part for part in self.parts if part.trust >= _TRUSTED]
        for part in kept:
            at = round(x0 + part.offset[0]), round(y0 + part.offset[1])
            cv2.circle(free, at, reach, 0, thickness=cv2.FILLED)
        corners = cv2.goodFeaturesToTrack(
            cut, _MOST, _HOLDS, minDistance=reach, mask=free, blockSize=2 * reach + 1
        )
        found = np.empty((0, 1, 2)) if corners is None else corners
        for column, row in found[: _MOST - len(kept), 0].round().astype(int).tolist():
            patch = cut[row - reach : row + reach + 1, column - reach : column + reach + 1]
            kept.append(
                Part((column - x0, row - y0), patch.copy(), 1.0 if not self.parts else _NEW)
            )
        return replace(self, parts=tuple(kept)) if len(kept) >= _LEAST else self

    def voted(self, changed: Changed, near: Point, radius: int) -> Vote | None:
        """Where the spot is within ``radius`` px of a place, as the parts say; None if they do not.

        ``changed`` reaches at least ``room`` and the radius around that place.
        """
        cut = _cut_out(changed.here, changed.strength, self.ground)
        says = [self._matched(cut, changed, part, near, radius) for part in self.parts]
        moved = np.array([way for way, _ in says])
        scores = np.array([score for _, score in says])
        trust = np.array([part.trust for part in self.parts])
        heard = trust * np.clip((scores - _UNLIKE) / (_ALIKE - _UNLIKE), 0.0, 1.0)
        between = np.hypot(*np.moveaxis(moved[:, None] - moved[None], 2, 0))
        together = np.exp(-0.5 * (between / _TOGETHER) ** 2) @ heard
        first = int(np.argmax(np.where(heard > 0, together, 0.0)))
        alike = np.where(between[first] < 2 * _TOGETHER, heard, 0.0)
        if alike.sum() <= 0:
            return None
        way = alike @ moved / alike.sum()
        place = (float(near[0] + way[0]), float(near[1] + way[1]))
        seen = tuple(self._shown(cut, changed, part, place) for part in self.parts)
        return Vote(place, float(alike.sum() / trust.sum()), moved - way, scores, seen)

    def learnt(self, vote: Vote) -> "Parts":
        """After a vote that is believed: limbs lose their say, and what stays adapts."""
        parts = []
        for part, apart, score, seen in zip(
            self.parts, vote.apart, vote.scores, vote.seen, strict=True
        ):
            stays = float(np.hypot(*apart)) < _AGREES and score > _RECOGNISED
            trust = (1 - _LEARNS) * part.trust + _LEARNS * float(stays)
            if not stays:
                parts.append(replace(part, trust=trust))
                continue
            x, y = np.add(part.offset, _STRETCHES * apart)
            patch = ((1 - _LEARNS) * part.patch + _LEARNS * seen).astype(np.float32)
            parts.append(Part((float(x), float(y)), patch, trust))
        return replace(self, parts=tuple(parts))

    def _matched(
        self, cut: Grey, changed: Changed, part: Part, near: Point, radius: int
    ) -> tuple[Point, float]:
        """By how much a part is seen away from where the place has it, and its correlation."""
        x, y = near[0] + part.offset[0] - changed.left, near[1] + part.offset[1] - changed.top
        column, row, wide = round(x), round(y), self.reach + radius
        left, top = max(column - wide, 0), max(row - wide, 0)
        area = cut[top : row + wide + 1, left : column + wide + 1]
        if min(area.shape) < part.patch.shape[0]:
            return (0.0, 0.0), 0.0
        scores = cv2.matchTemplate(area, part.patch, cv2.TM_CCOEFF_NORMED)
        scores[~np.isfinite(scores)] = -1.0
        _, best, _, (right, down) = cv2.minMaxLoc(scores)
        dx = left + right + self.reach + beyond_highest(scores[down], right) - x
        dy = top + down + self.reach + beyond_highest(scores[:, right], down) - y
        return (float(dx), float(dy)), float(best)

    def _shown(self, cut: Grey, changed: Changed, part: Part, place: Point) -> Grey:
        x = place[0] + part.offset[0] - changed.left
        y = place[1] + part.offset[1] - changed.top
        side = 2 * self.reach + 1
        return np.asarray(cv2.getRectSubPix(cut, (side, side), (float(x), float(y))))


def _mask_of(blob: Blob, changed: Changed) -> Image:
    """A piece's filled outline in the area in which it was found."""
    mask = np.zeros(changed.strength.shape, dtype=np.uint8)
    left, top = blob.box[0] - changed.left, blob.box[1] - changed.top
    inside = mask[max(top, 0) : top + blob.box[3], max(left, 0) : left + blob.box[2]]
    own = blob.filled[max(-top, 0) :, max(-left, 0) :]
    inside[:] = own[: inside.shape[0], : inside.shape[1]]
    return mask


def _cut_out(here: Grey, strength: Grey, ground: float) -> Grey:
    """An area with one grey level wherever only the still background is seen."""
    seen = np.clip((strength - _NOT_SEEN) / (_SEEN - _NOT_SEEN), 0.0, 1.0)
    return np.asarray(seen * here + (1 - seen) * ground, dtype=np.float32)
