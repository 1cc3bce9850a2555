"""Which accounts of a body's way live on from frame to frame, and when the best one is believed."""

from footing.core.following.candidate import ALONE, Candidate, Known
from footing.core.following.hypothesis import Hypothesis
from footing.core.following.leg import Leg, outside
from footing.core.following.patches import Point, distance

_ACCOUNTS = 4  # that live at the same time
_UNSEEN = 2  # of them at most, that do not see it
_WORSE = 7.0  # evidence by which an account may be behind the best
_CLOSE = 4.0  # evidence by which an account may be behind it and be as likely
_LAG = 10  # frames after which the best one is believed
_SAME = 3.0  # px within which two accounts tell the same
_CONFIRMED_BY = 3  # later frames, that a place which was not foreseen needs


def gone_on(ways: list[tuple[float, Hypothesis, Candidate]], number: int) -> list[Hypothesis]:
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


def inside(candidates: list[Candidate], size: tuple[int, ...]) -> list[Candidate]:
    """Without those outside the picture."""
    return [
        one for one in candidates if one.sighting is None or not outside(one.sighting.place, size)
    ] or [Candidate(None, look=-1.0)]


def agree(leg: Leg) -> None:
    """Believe what the best account told long enough ago, and drop those that tell otherwise."""
    best = leg.accounts[0]
    while len(best.found) > (_LAG if len(leg.accounts) > 1 else _CONFIRMED_BY):
        oldest = best.found[0]
        agree = [account is best or _tell_alike(account, oldest) for account in leg.accounts]
        others = [one for one, same in zip(leg.accounts, agree, strict=True) if not same]
        leg.accounts = [one for one, same in zip(leg.accounts, agree, strict=True) if same]
        if any(_is_as_likely(other, best) for other in others) and not best.goes_on:
            for account in leg.accounts:
                account.contest(oldest.frame)
        for account in leg.accounts:
            account.found = account.found[1:]


def _tell_alike(account: Hypothesis, oldest: Known) -> bool:
    return bool(account.found) and tell_the_same(account.found[0], oldest)


def _is_as_likely(other: Hypothesis, best: Hypothesis) -> bool:
    """Whether another account sees a body like it elsewhere, and hardly less speaks for that."""
    seen = other.target.latest
    if other.unseen or best.unseen or seen is None or min(seen.look, seen.change) < ALONE:
        return False
    return distance(other.at, best.at) > best.target.size and other.score > best.score - _CLOSE


def tell_the_same(one: Known, other: Known) -> bool:
    """Whether two accounts have the body at one place, or see it neither of them."""
    return same_place(one.place, other.place)


def same_place(one: Point | None, other: Point | None) -> bool:
    """Whether two places are one as far as accounts are told apart; None is nowhere."""
    if one is None or other is None:
        return one is other
    return distance(one, other) <= _SAME
