"""Following bodies through frames: what was found in which frame, and why it ended."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from itertools import combinations, islice
from math import exp
from typing import Literal

from footing.core.arrays import Image
from footing.core.errors import Refused
from footing.core.following.candidate import ALONE, Candidate, Known
from footing.core.following.grading import is_firm, quality
from footing.core.following.hypothesis import Hypothesis
from footing.core.following.look import LEAST_HOLD, fitting_reach
from footing.core.following.patches import Point, distance
from footing.core.following.pictures import Picture, as_picture
from footing.core.following.review import Reviewed, reviewed, taken_for
from footing.core.following.scene import Scene
from footing.core.following.target import Target

STOP_LEVEL = 0.6
PATIENCE = 30  # frames in which a body may be hidden
_AHEAD = 40  # frames that are read before they are needed
_AHEAD_BYTES = 160_000_000
_ACCOUNTS = 4  # that live at the same time
_UNSEEN = 2  # of them at most, that do not see it
_WORSE = 7.0  # evidence by which an account may be behind the best
_CLOSE = 4.0  # evidence by which an account may be behind it and be as likely
_LAG = 10  # frames after which the best one is believed
_SAME = 3.0  # px within which two accounts tell the same
_MOVED = 0.02  # px, and
_REGRADED = 0.05  # of quality by which a step must differ to be told again
_WHOLE, _LARGEST_REACH = 0.9, 29  # of a body's radius, and px: reach of the patch of a large one
_CONFIRMED_BY = 3  # later frames, that a place which was not foreseen needs
_FOUND_AGAIN = (3, 6, 10)  # frames in a row, after which the gap before is gone through backward
_STEADY, _STEADY_SHARE = 1.5, 0.1  # px, and share of the speed, by which a path may bend
_SURELY = 1.8  # evidence of look and of change, with which it may have bounced
_MAY_BOUNCE, _BOUNCED = -6.0, -3.0  # evidence of motion, and what is made of it then
_SHARED = 0.5  # of the radius, within which two bodies would be one thing
_SOON = 6  # frames after it was seen last, in which it must have left if it did
_EVERY, _BACK_FROM = 8, 6  # frames after which it is gone back, from how many that were seen
_AT_THE_END = 2  # frames for which that is worth it at last
_TWO = 2  # witnesses that a mark needs
_UNSURE = 0.5  # quality at most without them

Frame = tuple[int, Image | Picture]
Reason = Literal["left the picture", "hidden", "lost"]


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
    by_outline : whether it is as far from the middle of the body's outline as the first mark was,
        and not the spot of its pattern that was marked
    """

    body: int
    frame: int
    place: Point | None
    quality: float
    sure: bool
    by_outline: bool = False


@dataclass(frozen=True)
class Ended:
    """Why a body's marks ended before the frames did: the first frame without a mark, and why.

    It left the picture where its course leads out of it; it is hidden where the still background
    is all that can be seen where it should be; otherwise it is lost.
    """

    body: int
    frame: int
    reason: Reason


@dataclass
class _Leg:
    """One body on its way: the accounts of it, the best first, what was told and what is held.

    Frames in which it is not seen are held until it is seen again: they are no question to anybody
    if it is not. ``reviewed`` is the last frame that was gone over.
    """

    body: int
    start: Start
    accounts: list[Hypothesis] = field(default_factory=list)
    told: dict[int, Step] = field(default_factory=dict)
    held: dict[int, Step] = field(default_factory=dict)
    reviewed: int | None = None
    over: bool = False


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
    legs = [_Leg(body, start) for body, start in starts.items()]
    scene = Scene()
    coming = iter(frames)
    size: tuple[int, ...] = (0, 0)
    first = next(coming, None)
    if first is None:
        return
    begins = as_picture(first[1])
    scene.comes(first[0], begins)
    ahead = max(min(_AHEAD, _AHEAD_BYTES // begins.grey.size), 8)
    for number, late in islice(coming, ahead):
        scene.comes(number, as_picture(late))
    while (now := scene.next()) is not None:
        number, frame = now[0], now[1].grey
        size = frame.shape
        told: list[Step | Ended] = []
        for leg in legs:
            if not leg.accounts:
                _begin(leg, number, frame, scene)
            elif not leg.over:
                told += _one(leg, number, frame, stop_level, patience)
        _apart(legs)
        yield told
        if all(leg.over for leg in legs):
            return
        for later, late in islice(coming, 1):
            scene.comes(later, as_picture(late))
    last: list[Step | Ended] = []
    for leg in legs:
        if leg.accounts and not leg.over:
            last += _finished(leg, size, stop_level)
    yield last


def _apart(legs: list[_Leg]) -> None:
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


def _begin(leg: _Leg, number: int, frame: Image, scene: Scene) -> None:
    start = leg.start
    if number != start.frame:
        return
    reach = start.reach or fitting_reach(frame, start.at)
    search = start.search or max(round(0.06 * max(frame.shape)), 40)
    target = Target(scene, reach, search, chosen=start.search is not None)
    target.believe(frame, start.at, number)
    outline = target.outline
    if start.reach is None and outline is not None and outline.has_limbs:
        whole = min(round(_WHOLE * outline.radius), _LARGEST_REACH)
        if whole > reach:
            target = Target(scene, whole, search, chosen=start.search is not None)
            target.believe(frame, start.at, number)
    if target.look.hold < LEAST_HOLD and not target.holds:
        x, y = start.at
        raise Refused(
            f"There is nothing to hold on to at ({x:.0f}, {y:.0f}); choose a spot with "
            "an edge or a pattern, or a larger patch.",
            field="mark",
        )
    leg.accounts = [Hypothesis(target)]


def _one(
    leg: _Leg, number: int, frame: Image, stop_level: float, patience: int
) -> list[Step | Ended]:
    if (at := leg.start.known.get(number)) is not None:
        told = _news(leg, stop_level)
        best = leg.accounts[0]
        best.believe(frame, at, number)
        leg.accounts = [best]
        return told
    ways = [
        (account.score + candidate.evidence, account, candidate)
        for account in leg.accounts
        for candidate in _inside(account.candidates(frame, number), frame.shape)
    ]
    ways.sort(key=lambda way: way[0], reverse=True)
    leg.accounts = _gone_on(ways, number)
    told = _news(leg, stop_level)
    _agree(leg)
    best = leg.accounts[0]
    if best.gap is not None and best.since in _FOUND_AGAIN:
        told += _filled(leg, best, stop_level)
    told += _gone_over(leg, best, number, stop_level)
    if best.unseen:
        gone = _outside(best.foreseen(number), frame.shape)
        # without a background to be seen before, what looks alike is soon taken for it
        enough = patience if best.target.stands_out else patience // 2
        if gone or best.unseen > enough:
            leg.over = True
            told.append(_end(leg, best, frame.shape))
    return told


def _gone_on(ways: list[tuple[float, Hypothesis, Candidate]], number: int) -> list[Hypothesis]:
    """The accounts that live on: the best, as far as they tell different things."""
    kept: list[tuple[Hypothesis, Candidate]] = []
    unseen = 0
    for score, account, candidate in ways:
        if len(kept) == _ACCOUNTS or score < ways[0][0] - _WORSE:
            break
        if candidate.sighting is None:
            unseen += 1
            if unseen > _UNSEEN:
                continue
        if not any(_alike(account, candidate, *other) for other in kept):
            kept.append((account, candidate))
    return [account.child(number, candidate) for account, candidate in kept]


def _alike(account: Hypothesis, candidate: Candidate, other: Hypothesis, its: Candidate) -> bool:
    """Whether two accounts come to the same place; where both see nothing, from the same."""
    if candidate.sighting is None or its.sighting is None:
        return candidate.sighting is its.sighting and account is other
    return distance(candidate.sighting.place, its.sighting.place) <= _SAME


def _inside(candidates: list[Candidate], size: tuple[int, ...]) -> list[Candidate]:
    """Without those outside the picture."""
    return [
        one for one in candidates if one.sighting is None or not _outside(one.sighting.place, size)
    ] or [Candidate(None, look=-1.0)]


def _agree(leg: _Leg) -> None:
    """Believe what the best account told long enough ago, and drop those that tell otherwise."""
    best = leg.accounts[0]
    while len(best.found) > (_LAG if len(leg.accounts) > 1 else _CONFIRMED_BY):
        oldest = best.found[0]
        agree = [account is best or _tell_alike(account, oldest) for account in leg.accounts]
        others = [one for one, same in zip(leg.accounts, agree, strict=True) if not same]
        leg.accounts = [one for one, same in zip(leg.accounts, agree, strict=True) if same]
        if any(_is_as_likely(other, best) for other in others) and not best.goes_on:
            for account in leg.accounts:
                if account.contested is None:
                    account.contested = oldest.frame
        for account in leg.accounts:
            account.found = account.found[1:]


def _tell_alike(account: Hypothesis, oldest: Known) -> bool:
    return bool(account.found) and _same(account.found[0], oldest)


def _is_as_likely(other: Hypothesis, best: Hypothesis) -> bool:
    """Whether another account sees a body like it elsewhere, and hardly less speaks for that."""
    seen = other.target.latest
    if other.unseen or best.unseen or seen is None or min(seen.look, seen.change) < ALONE:
        return False
    return distance(other.at, best.at) > best.target.size and other.score > best.score - _CLOSE


def _same(one: Known, other: Known) -> bool:
    if one.place is None or other.place is None:
        return one.place is other.place
    return distance(one.place, other.place) <= _SAME


def _news(leg: _Leg, stop_level: float) -> list[Step | Ended]:
    """The steps of the best account that were not told, or told otherwise."""
    best = leg.accounts[0]
    news: list[Step | Ended] = []
    for k, known in enumerate(best.found):
        quality = _quality(known, leg.accounts, k)
        sure = known.place is not None and quality >= stop_level
        by_outline = known.candidate.by_outline
        step = Step(leg.body, known.frame, known.place, quality, sure, by_outline)
        before = leg.told.get(known.frame)
        if known.place is None and before is None:
            leg.held[known.frame] = step
        elif before is None or _differ(before, step):
            news += _tell(leg, step)
    return news


def _tell(leg: _Leg, step: Step) -> list[Step | Ended]:
    """Tell a step, and those that were held before it."""
    held = [] if step.place is None else [*leg.held.values()]
    leg.held = {} if held else leg.held
    told = [other for other in held if other.frame != step.frame]
    for one in (*told, step):
        leg.told[one.frame] = one
    return [*told, step]


def _filled(leg: _Leg, best: Hypothesis, stop_level: float) -> list[Step | Ended]:
    """The frames in which it was not seen, as far as going back finds it in them."""
    news: list[Step | Ended] = []
    filled = best.filled()
    if best.came_from_there:
        best.unproven = None
    if not (filled or best.proven) and best.since < max(_FOUND_AGAIN):
        return []
    gap = best.gap
    assert gap is not None
    if filled:
        best.unproven = None
    far = abs(gap[1] - leg.start.frame)
    after = [known for known in best.history if abs(known.frame - leg.start.frame) > far]
    for known in (*filled, *(after if best.proven else ())):
        quality = _quality(known, [best], None)
        before = leg.told.get(known.frame)
        if quality >= stop_level and (before is None or not before.sure):
            by_outline = known.candidate.by_outline
            step = Step(leg.body, known.frame, known.place, quality, True, by_outline)
            news += _tell(leg, step)
    for account in leg.accounts:
        account.gap = None
    return news


def _gone_over(
    leg: _Leg, best: Hypothesis, number: int, stop_level: float, *, every: int = _EVERY
) -> list[Step | Ended]:
    """Go back over the frames since that was done last, and tell what it changes.

    every : frames for which that is worth it
    """
    begins = leg.start.frame if leg.reviewed is None else leg.reviewed
    seen = best.since >= _BACK_FROM and not best.unseen and best.gap is None and best.proven
    if not seen or abs(number - begins) < every + _BACK_FROM:
        return []
    way = 1 if number > begins else -1
    last = number - way * _BACK_FROM
    forward = [k for k in best.history if 0 < (k.frame - begins) * way < (last - begins) * way]
    leg.reviewed = last
    if not forward or all(is_firm(known) for known in forward):
        return []
    there = {known.frame: known for known in best.seen_backward(last, forward[0].frame)}
    forward = [known for known in forward if known.frame in there]
    after = [known for known in best.history if (known.frame - last) * way >= 0]
    other = taken_for(forward, [there[known.frame] for known in forward], after)
    if other is not None and best.contested is None:
        best.contested = other
    news: list[Step | Ended] = []
    for step in reviewed(forward, [there[known.frame] for known in forward]):
        frame, place = step.known.frame, step.place
        before = leg.told.get(frame)
        if place is None and before is None:
            continue
        likely = _quality(step.known, [best], None, step)
        sure = place is not None and likely >= stop_level
        now = Step(leg.body, frame, place, likely, sure, step.known.candidate.by_outline)
        if before is None or _differ(before, now):
            news += _tell(leg, now)
    return news


def _differ(one: Step, other: Step) -> bool:
    if one.sure != other.sure or (one.place is None) != (other.place is None):
        return True
    if one.place is None or other.place is None:
        return False
    return distance(one.place, other.place) > _MOVED or abs(one.quality - other.quality) > _REGRADED


def _quality(
    known: Known, accounts: list[Hypothesis], place: int | None, review: Reviewed | None = None
) -> float:
    """How likely a step is right: by its witnesses, and by the other accounts."""
    candidate = known.candidate
    if candidate.sighting is None:
        return 0.0
    motion = candidate.motion
    otherwise = 0.0
    if place is not None:
        best = accounts[0]
        motion = max(motion, _between(best.found, place))
        weights = [exp(account.score - best.score) for account in accounts]
        otherwise = sum(
            weight
            for weight, account in zip(weights, accounts, strict=True)
            if place < len(account.found) and not _same(account.found[place], known)
        ) / sum(weights)
    if candidate.look >= _SURELY and candidate.change >= _SURELY and motion >= _MAY_BOUNCE:
        motion = max(motion, _BOUNCED)
    likely = quality(known, motion, otherwise=otherwise, review=review)
    best = accounts[0]
    believed = best.is_believed(known.frame) and not best.shares
    sure = candidate.witnesses(motion) >= _TWO and believed
    return likely if sure else min(likely, _UNSURE)


def _between(found: tuple[Known, ...], k: int) -> float:
    """What the frames around say of a place that was not foreseen: evidence, as of motion.

    Those before and after it, or the two after it.
    """
    here = found[k].place
    before, after, later = (
        found[n].place if 0 <= n < len(found) else None for n in (k - 1, k + 1, k + 2)
    )
    if here is None or after is None:
        return float("-inf")
    off = float("inf")
    if before is not None:
        middle = (before[0] + after[0]) / 2, (before[1] + after[1]) / 2
        off = distance(here, middle) / _bend_allowed(distance(before, after) / 2)
    if later is not None:
        carried_back = 2 * after[0] - later[0], 2 * after[1] - later[1]
        off = min(off, distance(here, carried_back) / _bend_allowed(distance(after, later)))
    return -0.5 * off**2


def _bend_allowed(speed: float) -> float:
    return _STEADY + _STEADY_SHARE * speed


def _finished(leg: _Leg, size: tuple[int, ...], stop_level: float) -> list[Step | Ended]:
    best = leg.accounts[0]
    told = _news(leg, stop_level)
    if best.gap is not None and 0 < best.since < max(_FOUND_AGAIN):
        told += _filled(leg, best, stop_level)
    if best.history:
        at_last = best.history[-1].frame
        told += _gone_over(leg, best, at_last, stop_level, every=_AT_THE_END)
    return [*told, _end(leg, best, size)] if best.unseen else told


def _end(leg: _Leg, best: Hypothesis, size: tuple[int, ...]) -> Ended:
    last = best.history[-1].frame
    begun = min(leg.held, key=lambda frame: abs(frame - leg.start.frame), default=last)
    # its course tells for some frames where it went, and not for as long as it was looked for
    way = 1 if last >= begun else -1
    soon = begun + way * min(abs(last - begun), _SOON)
    ways = [best.foreseen(frame) for frame in (begun, soon)]
    left = any(_outside(place, size) for place in ways)
    reason: Reason = "left the picture" if left else "hidden" if best.covered else "lost"
    return Ended(leg.body, begun, reason)


def _outside(place: Point, size: tuple[int, ...]) -> bool:
    height, width = size
    x, y = place
    return not (-0.5 <= x <= width - 0.5 and -0.5 <= y <= height - 0.5)
