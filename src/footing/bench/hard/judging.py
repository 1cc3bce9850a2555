"""What became of the marks: how many frames were kept, how many are sure and wrong, how exact."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from footing.core.arrays import FloatArray, Image
from footing.core.following.leg import Start, Step
from footing.core.following.pictures import Picture
from footing.core.following.run import follow

RIGHT, TENTH = (
    3.0,
    0.1,
)  # px, and share of the size, within which a mark is right; the larger counts

Point = tuple[float, float]
Marks = dict[int, Point]


@dataclass(frozen=True)
class Case:
    """One body to be followed through frames.

    truth : its place in each frame, None where it cannot be seen
    plain : whether it is in plain view
    """

    name: str
    frames: Sequence[Image | Picture]
    truth: list[FloatArray | None]
    plain: list[bool]
    size: float

    @property
    def start(self) -> Point:
        """Where it is in the first frame."""
        place = self.truth[0]
        assert place is not None
        return float(place[0]), float(place[1])

    def error(self, frame: int, place: Point) -> float:
        """Distance of a mark from the truth in px; infinite where nothing is to be seen."""
        true = self.truth[frame]
        return float("inf") if true is None else float(np.hypot(*np.subtract(place, true)))

    def is_right(self, frame: int, place: Point) -> bool:
        """Whether a mark is right."""
        return self.error(frame, place) <= max(RIGHT, TENTH * self.size)


@dataclass(frozen=True)
class Verdict:
    """Of one body's marks: of how many plain frames how many are kept; marks, wrong ones, errors.

    errors : px, of the right ones
    graded : quality of each mark, and whether it is right
    """

    plain: int
    kept: int
    marks: int
    wrong: int
    errors: list[float]
    graded: list[tuple[float, bool]]

    @property
    def median(self) -> float:
        """px"""
        return float(np.median(self.errors)) if self.errors else float("nan")


def judged(case: Case, marks: Marks, qualities: dict[int, float] | None = None) -> Verdict:
    """Judge the marks that a way made after the first frame."""
    made = {frame: place for frame, place in marks.items() if frame > 0}
    right = {frame: case.is_right(frame, place) for frame, place in made.items()}
    return Verdict(
        plain=sum(case.plain[1:]),
        kept=sum(right[frame] for frame in made if case.plain[frame]),
        marks=len(made),
        wrong=len(made) - sum(right.values()),
        errors=[case.error(frame, place) for frame, place in made.items() if right[frame]],
        graded=[((qualities or {}).get(frame, 1.0), right[frame]) for frame in made],
    )


def followed(frames: Sequence[Image | Picture], at: Point) -> tuple[Marks, dict[int, float]]:
    """Footing's own way: marks and their qualities."""
    marks: Marks = {0: at}
    qualities = {0: 1.0}
    for told in follow(enumerate(frames), {0: Start(0, at)}):
        for step in told:
            if not isinstance(step, Step):
                continue
            marks.pop(step.frame, None)
            if step.sure and step.place:
                marks[step.frame], qualities[step.frame] = step.place, step.quality
    return marks, qualities


Way = Callable[[Sequence[Image | Picture], Point], Marks]
