"""How likely a mark is right: the quality that is told with it.

It is a logistic regression over what a place rests on. Its weights were fitted to the marks of the
tuning half of the hard films (`footing.bench.hard`) and of films of the same kinds from other
seeds, which are not kept, where none may have the sign that its ground has not (so that of looks
is the least there may be); docs/following.md shows what they come to on both halves.
"""

from dataclasses import dataclass
from math import exp, log, log2

from footing.core.following.candidate import Known
from footing.core.following.review import Reviewed

UNSURE = 0.5  # quality at most of what is no mark
_ALLOWED_LEAST, _ALLOWED = 3.0, 0.2  # px, and share of the radius, by which a mark may be off
_FIRM, _FIRM_BY_LOOK = 3.9, 1.7  # evidence of all, and where change is silent: nothing is in doubt
_MOST_OFF = 3.0  # errors allowed, beyond which it is all the same
_LOOK_MOST, _MOTION_LEAST = 2.0, -5.0  # evidence
_LEAST_LEFT = 0.02
_SCATTER_LEAST, _SCATTER_UNKNOWN, _SCATTER_MOST = 0.02, 0.2, 1.0  # errors allowed


@dataclass(frozen=True)
class Weights:
    """What each ground adds to the logarithm of the odds that a mark is right.

    look, motion : for each unit of their evidence
    rivals : for the logarithm of how likely no other account is right
    outlined, carried : if the body's outline is known, and if it may be of what carries it
    drifted : for each doubling of the frames since it was recognised
    beside : for each error allowed that the outline would have it elsewhere; alone : if it says so
    apart : for each error allowed between the ways there and back; agreed : if they do
    scattered : for the logarithm of how many errors allowed places scatter about their course
    """

    always: float
    look: float
    motion: float
    rivals: float
    outlined: float
    carried: float
    drifted: float
    beside: float
    alone: float
    apart: float
    agreed: float
    scattered: float


FITTED = Weights(
    always=0.99,
    look=0.05,
    motion=1.20,
    rivals=0.18,
    outlined=0.67,
    carried=-0.17,
    drifted=-0.13,
    beside=-1.36,
    alone=1.25,
    apart=-0.36,
    agreed=1.47,
    scattered=-1.68,
)


def allowed_error(radius: float) -> float:
    """By how much a mark may be off, px, on a body of a radius."""
    return max(_ALLOWED_LEAST, _ALLOWED * radius)


def grounds_of(
    known: Known,
    motion: float,
    *,
    scatter: float | None = None,
    otherwise: float = 0.0,
    review: Reviewed | None = None,
) -> Weights:
    """What a place rests on, in the measures of the weights: what each is multiplied with."""
    candidate, grounds = known.candidate, known.grounds
    allowed = allowed_error(grounds.radius)
    beside, apart = 0.0, 0.0
    scattered = _SCATTER_UNKNOWN if scatter is None else scatter / allowed
    if grounds.beside is not None and not grounds.carried:
        beside = min(grounds.beside / allowed, _MOST_OFF)
    if review is not None:
        otherwise = max(otherwise, review.otherwise)
        apart = min((review.apart or 0.0) / allowed, _MOST_OFF)
    return Weights(
        always=1.0,
        look=min(candidate.look, _LOOK_MOST),
        motion=max(motion, _MOTION_LEAST),
        rivals=log(max(1 - otherwise, _LEAST_LEFT)),
        outlined=float(grounds.outlined),
        carried=float(grounds.carried),
        drifted=log2(1 + grounds.unrecognised),
        beside=beside,
        alone=float(grounds.beside is not None),
        apart=apart,
        agreed=float(is_firm(known) if review is None else review.agreed),
        scattered=log(min(max(scattered, _SCATTER_LEAST), _SCATTER_MOST)),
    )


def quality(
    known: Known,
    motion: float,
    *,
    scatter: float | None = None,
    otherwise: float = 0.0,
    review: Reviewed | None = None,
) -> float:
    """How likely it is that a place is right, 0 … 1.

    motion : what the course says of it, when later frames are known
    scatter : how far places around it are from where their course led, px; None if unknown
    otherwise : how likely another account is right
    review : what going back said, once that was done
    """
    has = vars(grounds_of(known, motion, scatter=scatter, otherwise=otherwise, review=review))
    odds = sum(weight * has[ground] for ground, weight in vars(FITTED).items())
    return 1 / (1 + exp(-odds))


def is_firm(known: Known) -> bool:
    """Whether nothing about a place is in doubt, so that going back would say the same."""
    candidate = known.candidate
    least = _FIRM if candidate.change != 0 else _FIRM_BY_LOOK
    recognised = candidate.sighting is not None and candidate.sighting.known >= 1.0
    return recognised and candidate.evidence >= least
