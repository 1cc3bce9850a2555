"""Which of two curves is better, in words."""

from footing.core.choosing import ByChance, ByInformation, Choice, TooFewPoints
from footing.core.curves import Curve

_BEYOND_COUNTING = 1e4  # times as likely, from which no number is given


def reason_of(choice: Choice) -> str:
    """Why a curve is preferred."""
    match choice:
        case TooFewPoints():
            return "There are too few points to prefer the freer curve."
        case ByChance():
            simple, free = choice.simple.title, choice.free.title
            gain = f"A gain this large comes by chance {_percent(choice.chance)} of the time."
            if choice.earned:
                return f"The {free} describes these points better than the {simple}: {gain}"
            return f"The {simple} is enough; the {free} is hardly better. {gain}"
        case ByInformation():
            if not choice.clear:
                return (
                    f"These points do not tell {with_article(choice.better)} from "
                    f"{with_article(choice.worse)}; take the one that physics gives."
                )
            many = choice.times < _BEYOND_COUNTING
            times = f"{choice.times:.0f} times" if many else "far more than a thousand times"
            return (
                f"The {choice.better.title} is {times} as likely as the {choice.worse.title}, "
                "with the number of parameters allowed for."
            )


def with_article(curve: Curve) -> str:
    """A curve with its article; a formula of somebody's own by what it is."""
    if curve.key == "own":
        return f"the formula {curve.title}"
    return f"{'an' if curve.title[0] in 'aeiou' else 'a'} {curve.title}"


def _percent(chance: float) -> str:
    return "less than 0.1 %" if chance < 1e-3 else f"{100 * chance:.2g} %"
