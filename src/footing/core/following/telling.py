"""What is told of the best account of a body's way, and told again once more is known."""

from collections.abc import Sequence
from dataclasses import replace
from math import cos, exp, sin
from statistics import fmean

from footing.core.following.accounts import same_place, tell_the_same
from footing.core.following.candidate import Elsewhere, Known
from footing.core.following.grading import UNSURE, is_firm, quality
from footing.core.following.hypothesis import Hypothesis
from footing.core.following.leg import Ended, Leg, Step
from footing.core.following.patches import Point, distance
from footing.core.following.placing import HALF_RECOGNISED
from footing.core.following.review import Reviewed, meet, paired, reviewed, stands, taken_for

_MOVED = 0.02  # px, and
_REGRADED = 0.05  # of quality by which a step must differ to be told again
_FOUND_AGAIN = (3, 6, 10)  # frames in a row, after which the gap before is gone through backward
_STEADY, _STEADY_SHARE = 1.5, 0.1  # px, and share of the speed, by which a path may bend
_SURELY = 1.8  # evidence of look and of change, with which it may have bounced
_MAY_BOUNCE, _BOUNCED = -6.0, -3.0  # evidence of motion, and what is made of it then
EVERY, BACK_FROM = 8, 6  # frames after which it is gone back, from how many that were seen
_FARTHER = 24  # frames more that it is gone back, if both ways do not meet where they should
_LIKE_IT, _JUST_BEFORE = 1.3, 6  # look of what it may have been taken for, in so many frames
_TWO = 2  # witnesses that a mark needs


def news(leg: Leg, stop_level: float) -> list[Step | Ended]:
    """The steps of the best account that were not told, or told otherwise."""
    best = leg.accounts[0]
    steps: list[Step | Ended] = []
    agreed = len(best.history) - len(best.found)
    for k, known in enumerate(best.found, start=agreed):
        if known.frame in leg.settled and same_place(leg.settled[known.frame], known.place):
            continue
        quality = _quality(known, leg.accounts, best.history, k)
        sure = known.place is not None and quality >= stop_level
        step = _step(leg, known, known.place, quality, sure=sure)
        before = leg.told.get(known.frame)
        leg.elsewhere[known.frame] = _others(known)
        if known.place is None and before is None:
            leg.held[known.frame] = step
        elif before is None or _differ(before, step):
            steps += tell(leg, step)
    return steps


def _step(leg: Leg, known: Known, place: Point | None, quality: float, *, sure: bool) -> Step:
    sighting = known.candidate.sighting
    lies = sighting is not None and sighting.known >= HALF_RECOGNISED
    turn = sighting.pose.turn if sighting is not None and lies else 0.0
    return Step(leg.body, known.frame, place, quality, sure, known.candidate.by_outline, turn)


def as_marked(legs: Sequence[Leg], told: Sequence[Step | Ended]) -> list[Step | Ended]:
    """What is told of what is followed, told of what was marked beside its middle."""
    by_body = {leg.body: leg for leg in legs}
    return [one if isinstance(one, Ended) else _marked(by_body[one.body], one) for one in told]


def _marked(leg: Leg, step: Step) -> Step:
    way = leg.way_to_mark(step.frame)
    if step.place is None or way == (0.0, 0.0):
        return step
    outline = leg.accounts[0].target.outline
    x, y = way if outline is None or not step.by_outline else outline.beside(way)
    c, s = (1.0, 0.0) if step.by_outline else (cos(step.turn), sin(step.turn))
    place = step.place[0] + c * x - s * y, step.place[1] + s * x + c * y
    return replace(step, place=place)


def tell(leg: Leg, step: Step) -> list[Step | Ended]:
    """Tell a step, and those that were held before it."""
    held = [] if step.place is None else [*leg.held.values()]
    leg.held = {} if held else leg.held
    told = [other for other in held if other.frame != step.frame]
    for one in (*told, step):
        leg.told[one.frame] = one
    return [*told, step]


def filled(
    leg: Leg, best: Hypothesis, stop_level: float, *, ended: bool = False
) -> list[Step | Ended]:
    """The frames in which it was not seen, once it has been seen again for long enough.

    ended : whether no more frames come
    """
    for_now = ended and 0 < best.since < max(_FOUND_AGAIN)
    if best.gap is None or not (best.since in _FOUND_AGAIN or for_now):
        return []
    return _gone_back_for(leg, best, stop_level)


def _gone_back_for(leg: Leg, best: Hypothesis, stop_level: float) -> list[Step | Ended]:
    """The frames in which it was not seen, as far as going back finds it in them."""
    steps: list[Step | Ended] = []
    in_gap = best.filled()
    if best.came_from_there:
        best.unproven = None
    if not (in_gap or best.proven) and best.since < max(_FOUND_AGAIN):
        return []
    gap = best.gap
    assert gap is not None
    if in_gap:
        best.unproven = None
    far = abs(gap[1] - leg.start.frame)
    after = [known for known in best.history if abs(known.frame - leg.start.frame) > far]
    leg.settled |= {known.frame: None for known in in_gap}
    if in_gap:  # where the way back was not, something else was followed for a while
        leg.settled |= {
            known.frame: known.place
            for known in best.found
            if (known.frame - gap[0]) * (known.frame - gap[1]) <= 0
        }
    for known in (*in_gap, *(after if best.proven else ())):
        quality = _quality(known, [best])
        before = leg.told.get(known.frame)
        if quality >= stop_level and (before is None or not before.sure):
            step = _step(leg, known, known.place, quality, sure=True)
            steps += tell(leg, step)
    for account in leg.accounts:
        account.gap = None
    return steps


def _others(known: Known, other: Known | None = None) -> list[Elsewhere]:
    """Where else than was told the body may be: by another witness, or by the other way."""
    found = [known.candidate.elsewhere]
    if other is not None and other.place is not None:
        by_outline = other.candidate.by_outline
        found += [Elsewhere(other.place, by_outline), other.candidate.elsewhere]
    return [one for one in found if one is not None]


def gone_over(
    leg: Leg, best: Hypothesis, number: int, stop_level: float, *, every: int = EVERY
) -> list[Step | Ended]:
    """Go back over the frames since that was done last, and tell what it changes.

    every : frames for which that is worth it
    """
    begins = leg.start.frame if leg.reviewed is None else leg.reviewed
    rim_known = best.target.outline is not None and best.target.outline.rim.radius_known
    if rim_known and not leg.rim_known:
        begins = leg.start.frame  # a known rim tells more of what was before
    seen = best.since >= BACK_FROM and not best.unseen and best.gap is None and best.proven
    if not seen or abs(number - begins) < every + BACK_FROM:
        return []
    way = 1 if number > begins else -1
    last = number - way * BACK_FROM
    forward = [k for k in best.history if 0 < (k.frame - begins) * way < (last - begins) * way]
    leg.reviewed, leg.rim_known = last, rim_known
    if not forward or all(is_firm(known) for known in forward):
        return []
    forward, backward = paired(forward, best.seen_backward(last, forward[0].frame))
    since = _on_another_since(best, forward, backward, last)
    if since is not None:
        best.contest(since)
    steps: list[Step | Ended] = []
    leg.settled |= {known.frame: known.place for known in forward}
    gone = reviewed(forward, backward)
    chosen = [step.known for step in gone]
    for k, step in enumerate(gone):
        frame, place = step.known.frame, step.place
        before = leg.told.get(frame)
        if place is None and before is None:
            continue
        likely = _quality(step.known, [best], chosen, k, review=step)
        sure = place is not None and likely >= stop_level
        now = _step(leg, step.known, place, likely, sure=sure)
        leg.elsewhere[frame] = _others(step.known, step.other)
        if before is None or _differ(before, now):
            steps += tell(leg, now)
    return steps


def _on_another_since(
    best: Hypothesis, forward: list[Known], backward: list[Known], last: int
) -> int | None:
    """The frame from which it is on another body, that it met; None if it is not.

    forward, backward : both ways through the latest stretch, which was gone back from a frame
    """
    if not forward:
        return None
    first = forward[0].frame
    way = 1 if last > first else -1
    elsewhere = not meet(forward, backward)
    if elsewhere:
        # it came from elsewhere, perhaps as another does that was met just here
        begins = first - way * _FARTHER
        longer = [k for k in best.history if 0 <= (k.frame - begins) * way < (last - begins) * way]
        forward, backward = paired(longer, best.seen_backward(last, longer[0].frame))
        if stands(backward) and _is_known(best.history[-_JUST_BEFORE:]):
            return None  # where it rests now: the wall there, if it rests in most of the film
        before = [known for known in backward if (known.frame - first) * way < 0]
        looks = [known.candidate.look for known in before[-_JUST_BEFORE:]]
        if not looks or fmean(looks) < _LIKE_IT:
            return None  # nothing is there yet, or any more, to which the look soon adapts
    after = [known for known in best.history if (known.frame - last) * way >= 0]
    return taken_for(forward, backward, after, alike=elsewhere)


def _is_known(lately: Sequence[Known]) -> bool:
    """Whether what was found is the body by its first look, mostly."""
    seen = [known.candidate.sighting for known in lately]
    known = [0.0 if sighting is None else sighting.known for sighting in seen]
    return fmean(known) >= HALF_RECOGNISED


def _differ(one: Step, other: Step) -> bool:
    if one.sure != other.sure or (one.place is None) != (other.place is None):
        return True
    if one.place is None or other.place is None:
        return False
    return distance(one.place, other.place) > _MOVED or abs(one.quality - other.quality) > _REGRADED


def _quality(
    known: Known,
    accounts: list[Hypothesis],
    among: Sequence[Known] = (),
    k: int = 0,
    *,
    review: Reviewed | None = None,
) -> float:
    """How likely a step is right: by its witnesses, and by the other accounts.

    among : what was found in the frames around as well, and at which place of them this is
    """
    candidate = known.candidate
    if candidate.sighting is None:
        return 0.0
    motion = max(candidate.motion, _between(among, k)) if among else candidate.motion
    if candidate.look >= _SURELY and candidate.change >= _SURELY and motion >= _MAY_BOUNCE:
        motion = max(motion, _BOUNCED)
    best = accounts[0]
    scatter = best.scatter(known.frame)
    otherwise = _otherwise(known, accounts)
    likely = quality(known, motion, scatter=scatter, otherwise=otherwise, review=review)
    believed = best.is_believed(known.frame) and not best.shares
    sure = candidate.witnesses(motion) >= _TWO and believed
    return likely if sure else min(likely, UNSURE)


def _otherwise(known: Known, accounts: list[Hypothesis]) -> float:
    """How likely it is that another account is right, which has the body elsewhere then."""
    weights = [exp(account.score - accounts[0].score) for account in accounts]
    other = sum(
        weight
        for weight, account in zip(weights[1:], accounts[1:], strict=True)
        if any(its.frame == known.frame and not tell_the_same(its, known) for its in account.found)
    )
    return other / sum(weights)


def _between(found: Sequence[Known], k: int) -> float:
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
