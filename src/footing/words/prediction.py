"""What can be said of predicted motions."""

from collections.abc import Callable

from footing.core.prediction.adjusting import NotAdjusted, Why
from footing.core.prediction.chain import Slot
from footing.core.prediction.integrating import MotionStopped, Stop

_STOPS = {
    Stop.UNDEFINED: "the acceleration has no value (it divides by zero, or the like)",
    Stop.EXPLODES: "the motion explodes: it is farther or faster than a thousand million",
    Stop.NEVER_ENDS: "the motion changes ever faster and never gets on",
}


def stop_said(stopped: MotionStopped) -> str:
    """Why a motion was stopped, and when."""
    return f"at t = {stopped.time:.4g} s {_STOPS[stopped.why]}."


def not_adjusted_said(of: NotAdjusted, name: Callable[[Slot], str]) -> str:
    """Why nothing was found from marks."""
    names = " and ".join(dict.fromkeys(name(slot) for slot in of.slots))
    if of.why == Why.TOO_FEW:
        count = {0: "no mark", 1: "1 mark"}.get(of.marks, f"{of.marks} marks")
        return f"{count} there, too few to find {names}."
    if of.why == Why.NOT_TOLD_APART:
        return f"these marks cannot tell {names} apart; give one of them."
    if of.why == Why.NO_MOTION:
        return f"there is no motion from which {names} could be looked for."
    return f"the search for {names} came to no end."
