"""One body on its way through a film: where it starts, what is told of it, and why it ends."""

from dataclasses import dataclass, field
from itertools import islice, pairwise
from typing import Literal

from footing.core.arrays import FloatArray
from footing.core.following.candidate import Elsewhere
from footing.core.following.hypothesis import Hypothesis
from footing.core.following.patches import Point

Reason = Literal["left the picture", "hidden", "lost"]


@dataclass(frozen=True)
class Start:
    """The mark from which a body is followed, and how.

    known : other marks that were made by hand, by frame; they are believed
    reach, search : pixels of the patch and of the search area on each side; chosen if not given
    """

    frame: int
    at: Point
    known: dict[int, Point] = field(default_factory=dict)
    reach: int | None = None
    search: int | None = None


@dataclass(frozen=True)
class Step:
    """What became of one body in one frame.

    place, quality : None and 0 where nothing was found
    sure : whether it is a mark; otherwise it is a proposal that somebody must decide on
    by_outline : whether it is as far from the middle of the body's outline as the first mark was,
        and not the spot of its pattern that was marked
    turn : how its pattern lies there, rad, if that is known
    """

    body: int
    frame: int
    place: Point | None
    quality: float
    sure: bool
    by_outline: bool = False
    turn: float = 0.0


@dataclass(frozen=True)
class Ended:
    """Why a body's marks ended before the frames did: the first frame without a mark, and why.

    It left the picture where its course leads out of it; it is hidden where the still background
    is all that can be seen where it should be; otherwise it is lost.
    """

    body: int
    frame: int
    reason: Reason


@dataclass
class Leg:
    """One body on its way: the accounts of it, the best first, what was told and what is held.

    Frames in which it is not seen are held until it is seen again: they are no question to anybody
    if it is not. ``reviewed`` is the last frame that was gone over, and ``rim_known`` whether the
    body's rim was known then. ``settled`` are frames of which going back told more: where the way
    forward had the body in them, None if nowhere. ``elsewhere`` is where else the body may be in a
    frame than was told, and ``poses`` how the camera stood in it (see `camera`).
    ``held_at`` is what is followed for each mark by hand: that, or the middle beside it.
    """

    body: int
    start: Start
    accounts: list[Hypothesis] = field(default_factory=list)
    told: dict[int, Step] = field(default_factory=dict)
    held: dict[int, Step] = field(default_factory=dict)
    reviewed: int | None = None
    rim_known: bool = False
    settled: dict[int, Point | None] = field(default_factory=dict)
    elsewhere: dict[int, list[Elsewhere]] = field(default_factory=dict)
    poses: dict[int, FloatArray | None] = field(default_factory=dict)
    held_at: dict[int, Point] = field(default_factory=dict)
    over: bool = False

    @property
    def marked(self) -> dict[int, Point]:
        """The marks that were made by hand, by frame."""
        return {self.start.frame: self.start.at} | self.start.known

    def way_to_mark(self, frame: int) -> Point:
        """How far the mark by hand, from which a frame is followed, is from what is, px."""
        first = self.start.frame
        before = [at for at in self.held_at if abs(at - first) <= abs(frame - first)]
        latest = max(before, key=lambda at: abs(at - first))
        (x, y), (x0, y0) = self.marked[latest], self.held_at[latest]
        return x - x0, y - y0

    @property
    def stride(self) -> int:
        """How many frames of the film each that is followed goes on; 1 while that is not known."""
        steps = [abs(after - before) for before, after in islice(pairwise(self.poses), 1)]
        return steps[0] if steps else 1


def outside(place: Point, size: tuple[int, ...]) -> bool:
    """Whether a place is beyond the border of a picture of a size ``(height, width)``."""
    height, width = size
    x, y = place
    return not (-0.5 <= x <= width - 0.5 and -0.5 <= y <= height - 0.5)
