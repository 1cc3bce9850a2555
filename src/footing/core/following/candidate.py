"""Where a body may be in a frame, what speaks for it, and what was found."""

from dataclasses import dataclass
from math import log

from footing.core.following.look import Sighting
from footing.core.following.parts import Vote
from footing.core.following.patches import Point
from footing.core.following.pieces import Blob
from footing.core.following.placing import RECOGNISED

ALONE = 1.0  # evidence of change from which a piece is the body's size
FORESEEN = 1.4  # evidence of motion against it, up to which the course speaks for it still
_SAYS = 0.35  # evidence from which a witness speaks for a place
_UPRIGHT = 0.05  # rad, and of the logarithm of the size
_KNOWN_AGAIN = 0.8  # of a reference, by which what was hidden is known again


@dataclass(frozen=True)
class Elsewhere:
    """Where something else than what placed a mark has it: the look, the outline, or the way back.

    by_outline : whether the outline does
    """

    place: Point
    by_outline: bool


@dataclass(frozen=True)
class Candidate:
    """A place where the body may be in a frame, and what the witnesses say of it.

    sighting : None if it is not seen
    look, change, motion : evidence
    blob : what moved there, if it stands alone
    by_look : where the look alone places it, if it recognised its reference
    anew : whether its course does not lead there, so that it begins anew
    share : of the body's place, that is not the background; None if it was not looked at
    by_outline : whether the outline places it, and not the look
    by_rim : whether that is a round body's own rim
    elsewhere : where the other of look and outline has it, if there is one
    vote : what the parts of a body with limbs said, if they place it
    """

    sighting: Sighting | None
    look: float = 0.0
    change: float = 0.0
    motion: float = 0.0
    blob: Blob | None = None
    by_look: Point | None = None
    anew: bool = False
    share: float | None = None
    by_outline: bool = False
    by_rim: bool = False
    elsewhere: Elsewhere | None = None
    vote: Vote | None = None

    @property
    def evidence(self) -> float:
        """All together."""
        return self.look + self.change + self.motion

    @property
    def is_upright(self) -> bool:
        """Whether the look recognised its reference just as it was, so that it is exact."""
        if self.sighting is None or self.sighting.known < RECOGNISED:
            return False
        pose = self.sighting.pose
        return abs(pose.turn) <= _UPRIGHT and abs(log(pose.size)) <= _UPRIGHT

    @property
    def by_firm_vote(self) -> bool:
        """Whether so many parts of a body place it that nothing else is to be asked."""
        return self.vote is not None and self.vote.firm

    def witnesses(self, motion: float) -> int:
        """How many speak for it; what motion says may be known better from later frames."""
        says = (self.look, self.change, motion + FORESEEN)
        return sum(value >= _SAYS for value in says)

    @property
    def agreed(self) -> bool:
        """Whether it is surely what was hidden: by look, or by what moved on its course."""
        by_look = self.sighting is not None and self.sighting.known >= _KNOWN_AGAIN
        if by_look and self.look >= ALONE:
            return self.motion >= -FORESEEN
        return self.change >= ALONE and self.motion >= -2 * FORESEEN


@dataclass(frozen=True)
class Grounds:
    """What a place rests on besides the evidence for it.

    unrecognised : frames since a look recognised its reference, and so the spot
    beside : how far off the outline would have the mark, px; None where nothing stood alone
    radius : of the body, px
    outlined : whether the body's outline is known; carried : whether it may be what carries it
    innovation : how far it is from where its course led, px; None at first, and if it is not seen
    """

    unrecognised: int
    beside: float | None
    radius: float
    outlined: bool
    carried: bool
    innovation: float | None = None


@dataclass(frozen=True)
class Known:
    """What was found in a frame: the candidate, and its place."""

    frame: int
    candidate: Candidate
    grounds: Grounds

    @property
    def place(self) -> Point | None:
        """px, or None."""
        found = self.candidate.sighting
        return None if found is None else found.place
