"""Why a curve cannot be fitted."""

from footing.core.curves import Curve
from footing.core.fitting import Hindrance, NoFit

_HINDRANCES = {
    Hindrance.TOO_FEW_POINTS: "{points} here; {curve} needs at least {needed}.",
    Hindrance.TOO_FEW_X: "The points have too few different values of x for {curve}.",
    Hindrance.TOO_FEW_MARKS: "The points depend on too few marks for {curve}.",
    Hindrance.NO_UNCERTAINTY: "Weights need an uncertainty of every point; some have none.",
    Hindrance.UNDEFINED: "“{title}” is undefined at some of the points.",
    Hindrance.UNDEFINED_AT_FIRST: "“{title}” is undefined at some of the points; leave those out, "
    "or give other starting values.",
    Hindrance.NOT_TOLD_APART: "The points do not tell these parameters apart; fix one of them.",
    Hindrance.NO_END: "No values were found at which this curve settles; give starting values.",
}


def no_fit_said(of: NoFit) -> str:
    """The reason as a sentence."""
    return _HINDRANCES[of.why].format(
        points=f"{of.points} {'point' if of.points == 1 else 'points'}",
        curve=_with_article(of.curve),
        title=of.curve.title,
        needed=of.needed,
    )


def _with_article(curve: Curve) -> str:
    if curve.key == "own":
        return "this formula"
    return f"{'an' if curve.title[0] in 'aeiou' else 'a'} {curve.title}"
