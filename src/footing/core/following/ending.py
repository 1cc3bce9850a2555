"""What is still told of a body when its way ends, and why it ended."""

from footing.core.following.asking import unconfirmed
from footing.core.following.hypothesis import Hypothesis
from footing.core.following.leg import Ended, Leg, Reason, Step, outside
from footing.core.following.telling import filled, gone_over, news

_SOON = 6  # frames after it was seen last, in which it must have left if it did
_AT_THE_END = 2  # frames for which going back over them is worth it at last


def finished(leg: Leg, size: tuple[int, ...], stop_level: float) -> list[Step | Ended]:
    """What is still to be told when the film ends; size is that of its pictures."""
    best = leg.accounts[0]
    told = news(leg, stop_level)
    told += filled(leg, best, stop_level, ended=True)
    if best.history:
        at_last = best.history[-1].frame
        told += gone_over(leg, best, at_last, stop_level, every=_AT_THE_END)
        told += unconfirmed(leg, at_last, told, ended=True)
    return [*told, end(leg, best, size)] if best.unseen else told


def lost(leg: Leg, number: int, size: tuple[int, ...]) -> list[Step | Ended]:
    """What is still to be told in the frame in which it is given up."""
    return [*unconfirmed(leg, number, (), ended=True), end(leg, leg.accounts[0], size)]


def end(leg: Leg, best: Hypothesis, size: tuple[int, ...]) -> Ended:
    """From where on a body is not seen any more, and why; size is that of the pictures."""
    last = best.history[-1].frame
    begun = min(leg.held, key=lambda frame: abs(frame - leg.start.frame), default=last)
    # its course tells for some frames where it went, and not for as long as it was looked for
    way = 1 if last >= begun else -1
    soon = begun + way * min(abs(last - begun), _SOON)
    ways = [best.foreseen(frame) for frame in (begun, soon)]
    left = any(outside(place, size) for place in ways)
    reason: Reason = "left the picture" if left else "hidden" if best.covered else "lost"
    return Ended(leg.body, begun, reason)
