"""Following bodies through frames: what was found in which frame, and why it ended."""

from collections.abc import Iterable, Iterator
from itertools import combinations, islice

from footing.core.arrays import Image
from footing.core.errors import Refused
from footing.core.following.accounts import agree, gone_on, inside
from footing.core.following.ahead import ahead
from footing.core.following.asking import doubted, unconfirmed
from footing.core.following.ending import finished, lost
from footing.core.following.hypothesis import Hypothesis
from footing.core.following.leg import Ended, Leg, Start, Step, outside
from footing.core.following.look import LEAST_HOLD, fitting_reach
from footing.core.following.patches import distance
from footing.core.following.pictures import Frame
from footing.core.following.scene import Scene, watched
from footing.core.following.target import Target
from footing.core.following.telling import as_marked, filled, gone_over, news

STOP_LEVEL = 0.6
PATIENCE = 30  # frames in which a body may be hidden
_AHEAD = 40  # frames that are read before they are needed
_AHEAD_BYTES = 160_000_000
_READY = 3  # more of them, whose camera and light are known already
_WHOLE, _LARGEST_REACH = 0.9, 29  # of a body's radius, and px: reach of the patch of a large one
_SHARED = 0.5  # of the radius, within which two bodies would be one thing


def follow(
    frames: Iterable[Frame],
    starts: dict[int, Start],
    *,
    stop_level: float = STOP_LEVEL,
    patience: int = PATIENCE,
) -> Iterator[list[Step | Ended]]:
    """Follow bodies through frames, in the order in which they come; yield after each frame.

    A frame is brightness alone, or a picture with colour.
    Each body is followed from the frame of its start on. Several accounts of where it went live
    for some frames; the steps of the best one are told at once, and told again if another one turns
    out to be better.

    Raises
    ------
    Refused : if there is nothing at a start that could be told from its surroundings.
    """
    legs = [Leg(body, start) for body, start in starts.items()]
    scene = Scene()
    coming = ahead(watched(frames), most=_READY)
    size: tuple[int, ...] = (0, 0)
    first = next(coming, None)
    if first is None:
        return
    scene.comes(first)
    for later in islice(coming, max(min(_AHEAD, _AHEAD_BYTES // first.frame.grey.size), 8)):
        scene.comes(later)
    while (now := scene.next()) is not None:
        number, frame = now[0], now[1].grey
        size = frame.shape
        told: list[Step | Ended] = []
        for leg in legs:
            leg.poses[number] = scene.pose
            if not leg.accounts:
                _begin(leg, number, frame, scene)
            elif not leg.over:
                told += _gone_on_in(leg, number, frame, stop_level, patience)
        _apart(legs)
        yield as_marked(legs, told)
        if all(leg.over for leg in legs):
            return
        for later in islice(coming, 1):
            scene.comes(later)
    last: list[Step | Ended] = []
    for leg in legs:
        if leg.accounts and not leg.over:
            last += finished(leg, size, stop_level)
    yield as_marked(legs, last)


def _apart(legs: list[Leg]) -> None:
    """Two bodies never share one thing: the one that looks less like itself there is in doubt."""
    seen = [leg.accounts[0] for leg in legs if leg.accounts and not leg.over]
    sharing = {id(best) for best in seen if best.shares}
    for best in seen:
        best.shares = False
    for one, other in combinations([best for best in seen if not best.unseen], 2):
        if distance(one.at, other.at) < _SHARED * min(one.target.size, other.target.size):
            # who was in doubt stays it, so that they do not take turns
            worse = min(one, other, key=lambda best: (id(best) not in sharing, best.usual))
            worse.shares = True


def _begin(leg: Leg, number: int, frame: Image, scene: Scene) -> None:
    start = leg.start
    if number != start.frame:
        return
    reach = start.reach or fitting_reach(frame, start.at)
    search = start.search or max(round(0.06 * max(frame.shape)), 40)
    target = Target(scene, reach, search, chosen=start.search is not None)
    held = target.believe(frame, start.at, number)
    outline = target.outline
    if start.reach is None and outline is not None and outline.has_limbs:
        whole = min(round(_WHOLE * outline.radius), _LARGEST_REACH)
        if whole > reach:
            target = Target(scene, whole, search, chosen=start.search is not None)
            held = target.believe(frame, start.at, number)
    if target.look.hold < LEAST_HOLD and not target.holds:
        x, y = start.at
        raise Refused(
            f"There is nothing to hold on to at ({x:.0f}, {y:.0f}); choose a spot with "
            "an edge or a pattern, or a larger patch.",
            field="mark",
        )
    leg.held_at[number] = held
    leg.accounts = [Hypothesis(target)]


def _gone_on_in(
    leg: Leg, number: int, frame: Image, stop_level: float, patience: int
) -> list[Step | Ended]:
    if (at := leg.start.known.get(number)) is not None:
        told = news(leg, stop_level)
        best = leg.accounts[0]
        leg.held_at[number] = best.believe(frame, at, number)
        leg.accounts = [best]
        return told
    ways = [
        (account.score + candidate.evidence, account, candidate)
        for account in leg.accounts
        for candidate in inside(account.candidates(frame, number), frame.shape)
    ]
    ways.sort(key=lambda way: way[0], reverse=True)
    leg.accounts = gone_on(ways, number)
    told = news(leg, stop_level)
    known = leg.accounts[0].contested
    agree(leg)
    best = leg.accounts[0]
    told += filled(leg, best, stop_level)
    told += gone_over(leg, best, number, stop_level)
    told += unconfirmed(leg, number, told)
    if best.contested != known:
        told += doubted(leg, best)
    if best.unseen:
        gone = outside(best.foreseen(number), frame.shape)
        # without a background to be seen before, what looks alike is soon taken for it
        enough = patience if best.target.stands_out else patience // 2
        if gone or best.unseen > enough:
            leg.over = True
            told += lost(leg, number, frame.shape)
    return told
