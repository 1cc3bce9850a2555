"""What can be said of predicted motions."""

from collections.abc import Callable

from footing.core.drag import Suits
from footing.core.prediction.adjusting import NotAdjusted, Why
from footing.core.prediction.chain import Slot
from footing.core.prediction.integrating import MotionStopped, Stop
from footing.core.prediction.judging import Compared

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


_SUITS = {
    Suits.WELL: "",
    Suits.TOO_SLOW: "So slow and small a body feels more drag than this law says, for its "
    "coefficient is no constant below a Reynolds number of 1000.",
    Suits.TOO_FAST: "So fast a ball may feel less drag than this law says: above a Reynolds number "
    "of 200 000 its coefficient falls.",
    Suits.NOT_LINEAR: "Drag is proportional to the speed only below a Reynolds number of 1; try "
    "drag of the air.",
}
_MATTERS = 3.0  # times the scatter of the marks


def suits_said(how: Suits) -> str:
    """A word where a law of drag does not suit a motion; empty where it does."""
    return _SUITS[how]


def stops_said(time: str | None) -> str:
    """Where a prediction stops matching the marks."""
    if time is None:
        return "matches all marks within their scatter"
    return f"leaves the marks at {time} s"


def compared_said(of: Compared, names: tuple[str, str], sizes: tuple[str, str]) -> str:
    """Which of two predictions does better, and whether that is more than noise."""
    better, worse = (0, 1) if of.first <= of.second else (1, 0)
    against = f"{sizes[better]} against {sizes[worse]}"
    if of.differ:
        return f"“{names[better]}” lies closer to the marks than “{names[worse]}”: {against}."
    return f"“{names[0]}” and “{names[1]}” cannot be told apart by these marks: {against}."


def air_matters_said(scatters: float, most: str, noise: str) -> str:
    """Whether the air matters, from how far predictions with and without it are apart."""
    if scatters > _MATTERS:
        return (
            f"The air matters here: with and without it the predictions are up to {most} apart, "
            f"and marks scatter by {noise}."
        )
    return (
        f"The air hardly matters here: it changes the prediction by {most} at most, and marks "
        f"scatter by {noise}."
    )
