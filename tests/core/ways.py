"""What was found on a way through frames, for tests of what is made of it."""

from footing.core.following.candidate import Candidate, Grounds, Known
from footing.core.following.look import Sighting
from footing.core.following.patches import Point, Pose

GROUNDS = Grounds(unrecognised=0, beside=0.0, radius=10.0, outlined=True, carried=False)


def found(frame: int, place: Point, evidence: float = 4.0, *, known: float = 1.0) -> Known:
    """A place found with so much evidence, by look and by change."""
    sighting = Sighting(Pose(*place), 0.9, None, known)
    half = evidence / 2
    return Known(frame, Candidate(sighting, look=half, change=half), GROUNDS)


def unseen(frame: int) -> Known:
    """Nothing found."""
    return Known(frame, Candidate(None, look=-1.0), GROUNDS)


def along(frame: int, aside: float = 0.0) -> Point:
    """On its way, or so far aside of it."""
    return 10.0 * frame, 50.0 + aside
