"""Going back over what was followed: the way forward, and the way back from where it came to.

Each is anchored at one end of a stretch: the way forward where the body was marked, the way back
where it was seen surely later on. Where they agree, a place is surer than by either; where they do
not, the likelier one is told, and how sure that is.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp

import numpy as np

from footing.core.following.candidate import Known
from footing.core.following.patches import Point, distance

_EXCHANGED, _EXCHANGED_SHARE = 2.0, 0.1  # px, and share of the radius: where one may go over
_UNKNOWN, _FARTHEST = 8.0, 40.0  # evidence against going over: if one sees nothing, and at most
_ANCHORED = 5.0  # times that, where the way forward begins
_TELLS = 4  # frames whose evidence counts in full
_ELSEWHERE, _CLEARLY, _MET = 1.5, 3, 0.5  # radii, and frames, for which two are apart; or meet
_AROUND, _FOR_A_PARABOLA = 24, 6  # frames
_STRAIGHT, _STRAIGHT_SHARE = 1.5, 0.08  # px, and share of the radius
_TURNED, _TURNED_ALIKE = 2.0, 1.4  # times as far as the other strays
_AGREE_LEAST, _AGREE = 2.0, 0.2  # px, and share of the radius


@dataclass(frozen=True)
class Reviewed:
    """A frame gone over.

    known : what is told; other : what the other way found
    forward : whether the way forward is told
    apart : px between the two; None where one of them found nothing
    agreed : whether that is so little that both are the same
    otherwise : how likely the other is right
    """

    known: Known
    other: Known
    forward: bool
    apart: float | None
    agreed: bool
    otherwise: float

    @property
    def place(self) -> Point | None:
        """In px; between the two where they agree, and both rest on a rim or none does."""
        place, other = self.known.place, self.other.place
        alike = self.known.candidate.by_rim == self.other.candidate.by_rim
        if not (alike and self.agreed) or place is None or other is None:
            return place
        return (place[0] + other[0]) / 2, (place[1] + other[1]) / 2


def paired(forward: Sequence[Known], backward: Sequence[Known]) -> tuple[list[Known], list[Known]]:
    """Both ways through the frames that both went through, in the order of the way forward."""
    there = {known.frame: known for known in backward}
    both = [known for known in forward if known.frame in there]
    return both, [there[known.frame] for known in both]


def meet(forward: Sequence[Known], backward: Sequence[Known]) -> bool:
    """Whether both ways are at one place in the first frame in which both saw something.

    They do if there is none: then nothing is known of where the way back came from.
    """
    for known, other in zip(forward, backward, strict=True):
        apart = _apart(known.place, other.place)
        if apart is not None:
            return apart <= _agree_within(known)
    return True


def reviewed(forward: Sequence[Known], backward: Sequence[Known]) -> list[Reviewed]:
    """The two ways through the same frames made one, in the order of the way forward.

    The likeliest sequence of places that are taken from either way, in which going over from one
    to the other costs the more the farther they are apart there (Viterbi's algorithm).
    """
    ways = (forward, backward)
    apart = [_apart(one.place, other.place) for one, other in zip(*ways, strict=True)]
    chosen = _likeliest(ways, apart)
    rims = [_with_rim(*both) for both in zip(*ways, strict=True)]
    same = [
        rim is not None or (off is not None and off <= _agree_within(known))
        for rim, off, known in zip(rims, apart, forward, strict=True)
    ]
    told = [way if rim is None else rim for way, rim in zip(chosen, rims, strict=True)]
    return [
        Reviewed(
            ways[way][k],
            ways[1 - way][k],
            forward=way == 0,
            apart=0.0 if rims[k] is not None else apart[k],
            agreed=same[k],
            otherwise=0.0 if same[k] else _otherwise(ways, chosen, same, k),
        )
        for k, way in enumerate(told)
    ]


def _with_rim(forward: Known, backward: Known) -> int | None:
    """Which of two ways, that are on one body, saw its rim, where the other's look is not exact."""
    apart = _apart(forward.place, backward.place)
    if apart is None or apart > max(known.grounds.radius for known in (forward, backward)):
        return None
    seen = [known.candidate.by_rim for known in (forward, backward)]
    if seen[0] == seen[1]:
        return None
    way = seen.index(True)
    return None if (backward, forward)[way].candidate.is_upright else way


def taken_for(
    forward: Sequence[Known],
    backward: Sequence[Known],
    after: Sequence[Known],
    *,
    alike: bool = False,
) -> int | None:
    """The frame from which the way forward is on another body, that it met; None if it is not.

    Two that look alike meet, and it went on with the other: then the way back from there goes
    straight past it, to where that one was before, while the way forward turns round.

    forward, backward : through the same frames; after : what was found after them, on both ways
    alike : whether it is known that there is another that looks like it, where the way back leads;
        then that need not be straight, and only straighter
    """
    apart = [_apart(one.place, other.place) for one, other in zip(forward, backward, strict=True)]
    radius = max((known.grounds.radius for known in forward), default=0.0)
    far = [k for k, off in enumerate(apart) if off is not None and off > _ELSEWHERE * radius]
    if len(far) < _CLEARLY:
        return None
    later = range(far[-1] + 1, len(apart))
    meeting = (k for k in later if (off := apart[k]) is not None and off < _MET * radius)
    met = next(meeting, len(forward))
    since = [*forward[met:], *after]
    turns, straight = (strays([*way[:met], *since][-_AROUND:]) for way in (forward, backward))
    most = max(_STRAIGHT, _STRAIGHT_SHARE * radius)
    if alike:
        turned = turns > max(most, _TURNED_ALIKE * straight)
    else:
        turned = straight <= most and turns > max(most, _TURNED * straight)
    return since[0].frame if since and turned else None


def stands(backward: Sequence[Known]) -> bool:
    """Whether a way back never left the place where it began: nobody came to there on it."""
    seen = [known for known in backward if known.place is not None]
    begins = seen[-1].place if seen else None
    most = _MET * max((known.grounds.radius for known in seen), default=0.0)
    return all((off := _apart(known.place, begins)) is None or off <= most for known in seen)


def strays(seen: Sequence[Known]) -> float:
    """By how much places stray from one parabola, px (root of the mean square); inf if too few."""
    found = [(known.frame, known.place) for known in seen if known.place is not None]
    if len(found) < _FOR_A_PARABOLA:
        return float("inf")
    since = np.array([frame - found[0][0] for frame, _ in found])
    places = np.array([place for _, place in found])
    off = places - np.vander(since, 3) @ np.polyfit(since, places, 2)
    return float(np.sqrt((off**2).sum(axis=1).mean()))


def _likeliest(
    ways: tuple[Sequence[Known], Sequence[Known]], apart: list[float | None]
) -> list[int]:
    """Which of the two ways is told in each frame; it begins forward, and ends where both meet."""
    count = len(apart)
    against = [
        _UNKNOWN if off is None else min(0.5 * (off / _scatter(known)) ** 2, _FARTHEST)
        for off, known in zip(apart, ways[0], strict=True)
    ]
    best = np.zeros((count, 2))
    came = np.zeros((count, 2), dtype=int)
    for k in range(count):
        for way in (0, 1):
            own = ways[way][k].candidate.evidence
            if k == 0:
                # the way forward is anchored there; the way back must have come to it
                best[k, way] = own - (_ANCHORED * against[0] if way else 0.0)
                continue
            over = min(against[k - 1], against[k])
            stays, changes = best[k - 1, way], best[k - 1, 1 - way] - over
            came[k, way] = way if stays >= changes else 1 - way
            best[k, way] = own + max(stays, changes)
    way = int(best[-1, 1] >= best[-1, 0] - against[-1])
    chosen = [way]
    for k in range(count - 1, 0, -1):
        way = int(came[k, way])
        chosen.append(way)
    return chosen[::-1]


def _otherwise(
    ways: tuple[Sequence[Known], Sequence[Known]], chosen: list[int], same: list[bool], k: int
) -> float:
    """How likely the other way is right in a frame, by the stretch in which they are apart."""
    first = last = k
    while first > 0 and not same[first - 1]:
        first -= 1
    while last + 1 < len(same) and not same[last + 1]:
        last += 1
    gained = [
        ways[chosen[n]][n].candidate.evidence - ways[1 - chosen[n]][n].candidate.evidence
        for n in range(first, last + 1)
    ]
    total = float(np.mean(gained)) * min(len(gained), _TELLS)
    return 1 / (1 + exp(total))


def _agree_within(known: Known) -> float:
    return max(_AGREE_LEAST, _AGREE * known.grounds.radius)


def _scatter(known: Known) -> float:
    return _EXCHANGED + _EXCHANGED_SHARE * known.grounds.radius


def _apart(one: Point | None, other: Point | None) -> float | None:
    if one is None or other is None:
        return None
    return distance(one, other)
