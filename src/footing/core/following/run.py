"""Following bodies through frames: what was found in which frame, and why it ended."""

from collections import deque
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from itertools import islice

from footing.core.arrays import Image
from footing.core.following.follower import STOP_LEVEL, Follower, Sighting
from footing.core.following.patches import Point

_DOUBTED = 0.85  # quality under which it is looked whether the body is elsewhere
_CLEARLY = 0.1  # by which another place must fit better
PATIENCE = 15  # frames in which a body may be hidden
_BEGINNING = 12  # frames since a reference, up to which they are followed anew once it settled

Frame = tuple[int, Image]


@dataclass(frozen=True)
class Start:
    """The mark from which a body is followed, and how.

    known : other marks that were made by hand, by frame; they are believed
    reach, search : pixels of the patch and of the search area on each side; chosen if not given
    """

    frame: int
    at: Point
    known: dict[int, Point] = field(default_factory=dict)
    reach: int | None = None
    search: int | None = None


@dataclass(frozen=True)
class Step:
    """What became of one body in one frame.

    place, quality : None and 0 where nothing was found
    sure : whether it is a mark; otherwise it is a proposal that somebody must decide on
    """

    body: int
    frame: int
    place: Point | None
    quality: float
    sure: bool


@dataclass(frozen=True)
class Ended:
    """Why a body's marks ended before the frames did: the first frame without a mark, and why."""

    body: int
    frame: int
    reason: str


@dataclass
class _Leg:
    """One body on its way.

    open : the frames since it was found last
    begun : the frames since its latest reference, until that settled
    """

    body: int
    start: Start
    follower: Follower | None = None
    open: list[Step] = field(default_factory=list)
    begun: list[Frame] = field(default_factory=list)
    over: bool = False


def follow(
    frames: Iterable[Frame],
    starts: dict[int, Start],
    *,
    stop_level: float = STOP_LEVEL,
    patience: int = PATIENCE,
) -> Iterator[list[Step | Ended]]:
    """Follow bodies through grey frames, in the order in which they come; yield after each frame.

    Each body is followed from the frame of its start on. One that is not found is looked for in the
    next frames, as far as ``patience`` goes. If it is found again, the frames between come out as
    open steps; otherwise the first of them is its end. Shortly after a reference the steps since
    then may come a second time, more exact.

    Raises
    ------
    Refused : if there is nothing at a start that could be told from its surroundings.
    """
    legs = [_Leg(body, start) for body, start in starts.items()]
    coming = iter(frames)
    ahead = deque(islice(coming, _BEGINNING + 1))
    size: tuple[int, ...] = (0, 0)
    while ahead:
        number, frame = ahead.popleft()
        ahead.extend(islice(coming, 1))
        size = frame.shape
        told: list[Step | Ended] = []
        for leg in legs:
            if leg.follower is None:
                _begin(leg, number, frame, ahead)
            elif not leg.over:
                told += _one(leg, number, frame, stop_level, patience)
        yield told
        if all(leg.over for leg in legs):
            return
    yield [
        _end(leg, leg.follower, size) for leg in legs if leg.follower and leg.open and not leg.over
    ]


def _begin(leg: _Leg, number: int, frame: Image, ahead: deque[Frame]) -> None:
    start = leg.start
    if number != start.frame:
        return
    leg.follower = Follower(frame, start.at, number, reach=start.reach, search=start.search)
    if ahead:
        leg.follower.guess(ahead[-1][1])


def _one(
    leg: _Leg, number: int, frame: Image, stop_level: float, patience: int
) -> list[Step | Ended]:
    follower = leg.follower
    assert follower is not None
    if (at := leg.start.known.get(number)) is not None:
        follower.believe(frame, at, number)
        leg.begun = []
        return _closed(leg)
    sighting = _looked(follower, number, frame, wide=bool(leg.open))
    surprising = bool(leg.open)
    if not surprising and (sighting is None or sighting.quality < max(stop_level, _DOUBTED)):
        # perhaps it bounced: as far as is allowed, but then it must surely be what it was
        farther = _looked(follower, number, frame, wide=True)
        weak = sighting is None or sighting.quality < stop_level
        if weak or _is_better(farther, sighting):
            sighting, surprising = farther, True
    if (
        sighting is not None
        and sighting.quality >= stop_level
        and (not surprising or follower.is_back(sighting))
    ):
        follower.take(sighting, number)
        mark = Step(leg.body, number, sighting.place, sighting.quality, sure=True)
        return [*_closed(leg), mark, *_settled(leg, follower, number, frame, stop_level)]
    if not leg.open:
        follower.fall_back()
    place, quality = (sighting.place, sighting.quality) if sighting else (None, 0.0)
    leg.open.append(Step(leg.body, number, place, quality, sure=False))
    gone = _outside(follower.course.foreseen(number)[0], frame.shape)
    if gone or len(leg.open) > patience:
        leg.over = True
        return [_end(leg, follower, frame.shape)]
    return []


def _is_better(one: Sighting | None, other: Sighting | None) -> bool:
    return one is not None and other is not None and one.score > other.score + _CLEARLY


def _looked(follower: Follower, number: int, frame: Image, *, wide: bool) -> Sighting | None:
    """Look for a body in the picture; a place outside is none."""
    sighting = follower.look(frame, number, wide=wide)
    return sighting if sighting is not None and _inside(sighting, frame.shape) else None


def _closed(leg: _Leg) -> list[Step | Ended]:
    """The open steps of a body that was found again."""
    told, leg.open = leg.open, []
    return [*told]


def _settled(
    leg: _Leg, follower: Follower, number: int, frame: Image, stop_level: float
) -> list[Step]:
    """Once the background of the reference is known, the steps since then, better placed."""
    if follower.settled:
        leg.begun = []
        return []
    leg.begun = [] if follower.at_rest else [*leg.begun, (number, frame)][-_BEGINNING - 1 :]
    if not follower.settle(frame) or len(leg.begun) > _BEGINNING:
        return []
    follower.go_back()
    again = []
    for earlier, picture in leg.begun:
        sighting = follower.look(picture, earlier)
        if (
            sighting is None
            or not _inside(sighting, picture.shape)
            or sighting.quality < stop_level
        ):
            again.append(Step(leg.body, earlier, None, 0.0, sure=False))
            continue
        follower.take(sighting, earlier)
        again.append(Step(leg.body, earlier, sighting.place, sighting.quality, sure=True))
    return again


def _end(leg: _Leg, follower: Follower, size: tuple[int, ...]) -> Ended:
    left = _outside(follower.course.foreseen(leg.open[-1].frame)[0], size)
    return Ended(leg.body, leg.open[0].frame, "left the picture" if left else "lost")


def _inside(sighting: Sighting, size: tuple[int, ...]) -> bool:
    return not _outside(sighting.place, size)


def _outside(place: Point, size: tuple[int, ...]) -> bool:
    height, width = size
    x, y = place
    return not (-0.5 <= x <= width - 0.5 and -0.5 <= y <= height - 0.5)
