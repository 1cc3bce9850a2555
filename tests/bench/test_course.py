"""Following on rendered films with known truth, each of which makes one thing hard."""

from pathlib import Path

import numpy as np
import pytest

from footing.bench.course import Hurdle, film, hurdles
from footing.core.following.leg import Ended, Start, Step
from footing.core.following.run import STOP_LEVEL, follow
from footing.media.index import index_video
from footing.media.luma import luma_frames

_STONE = 40.0  # px, size of what runs
_COURSE = {hurdle.name: hurdle for hurdle in hurdles()}


class Run:
    """All marks of all runners of a hurdle, followed in one pass from their true first places."""

    def __init__(self, hurdle: Hurdle, folder: Path) -> None:
        path = film(hurdle, folder)
        index = index_video(path, seconds=60, frame_count=10_000, frame_pixels=10**8)
        frames = luma_frames(path, index, range(index.frames), seconds=60)
        starts = {}
        for runner in range(len(hurdle.runners)):
            place = hurdle.truth(runner, 0)
            assert place is not None
            starts[runner] = Start(0, (float(place[0]), float(place[1])))
        self.hurdle = hurdle
        self.marks: dict[int, dict[int, Step]] = {runner: {} for runner in starts}
        self.ends: list[Ended] = []
        self.open: set[tuple[int, int]] = set()
        for told in follow(frames, starts):
            for step in told:
                if isinstance(step, Ended):
                    self.ends.append(step)
                    continue
                self.marks[step.body].pop(step.frame, None)
                self.open.discard((step.body, step.frame))
                if step.sure:
                    self.marks[step.body][step.frame] = step
                else:
                    self.open.add((step.body, step.frame))

    def errors(self, runner: int, *, certain: bool) -> np.ndarray:
        """Distances of the marks from the truth; infinite where nothing is to be seen."""
        found = []
        for frame, step in self.marks[runner].items():
            true = self.hurdle.truth(runner, frame)
            if certain and not self.hurdle.certain(runner, frame):
                continue
            assert step.place is not None
            found.append(np.inf if true is None else np.hypot(*(np.array(step.place) - true)))
        return np.array(found)

    def expected(self, runner: int) -> int:
        """How many frames after the first show the runner well."""
        return sum(self.hurdle.certain(runner, frame) for frame in range(1, self.hurdle.frames))


@pytest.fixture(scope="module", params=list(_COURSE))
def run(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> Run:
    """A hurdle, run once for all tests."""
    return Run(_COURSE[request.param], tmp_path_factory.mktemp("course"))


def test_marks_are_exact_where_the_object_is_seen_well(run: Run) -> None:
    limit = 1.0 if run.hurdle.blurred else 0.3
    for runner in run.marks:
        errors = run.errors(runner, certain=True)
        assert np.sqrt(np.mean(errors**2)) <= limit


def test_the_object_is_kept(run: Run) -> None:
    for runner in run.marks:
        assert len(run.errors(runner, certain=True)) >= 0.97 * run.expected(runner)


def test_no_mark_is_wrong(run: Run) -> None:
    """Neither on another object, nor where the object is hidden or has left."""
    for runner, marks in run.marks.items():
        assert all(step.quality >= STOP_LEVEL for step in marks.values())
        assert run.errors(runner, certain=False).max() <= 0.1 * _STONE


def test_only_frames_in_which_it_was_hidden_are_left_open(run: Run) -> None:
    hidden = {
        (0, frame)
        for frame in range(run.hurdle.frames)
        if run.hurdle.post and run.hurdle.truth(0, frame) is None
    }
    assert hidden <= run.open
    assert run.hurdle.post or not run.open


def test_it_says_when_the_object_left(run: Run) -> None:
    if run.hurdle.name == "leaves the picture":
        seen = [f for f in range(run.hurdle.frames) if run.hurdle.truth(0, f) is not None]
        assert [(end.frame, end.reason) for end in run.ends] == [(seen[-1] + 1, "left the picture")]
    else:
        assert run.ends == []
