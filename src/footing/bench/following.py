"""Following: how exact, beside plain template matching and optical flow; and how fast."""

import json
import statistics
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np

from footing.bench.course import film, hurdles
from footing.bench.files import phone_film
from footing.bench.measuring import line, seconds
from footing.core.arrays import AnyArray, FloatArray, Image
from footing.core.following.leg import Start, Step
from footing.core.following.run import STOP_LEVEL, follow
from footing.demo.render import CLIPS
from footing.media.index import MediaIndex, index_video
from footing.media.luma import luma_frames
from footing.settings import Settings

Marks = dict[int, tuple[float, float]]
Way = Callable[[list[Image], tuple[float, float]], Marks]

_RIGHT, _TENTH = 2.0, 0.1  # px, and share of the size, within which a mark is right
_STONE = 40.0  # px: size of what runs
_TEMPLATE, _WINDOW = 14, 48  # px
_LEAST_SCORE = 0.6
_TURNS = 5


@dataclass(frozen=True)
class Outcome:
    """Marks of one way on one body: how many are right, how exact all are, how many wrong."""

    right: int
    rms: float
    wrong: int


@dataclass(frozen=True)
class Clip:
    """Frames in which one body is followed, and where it truly is; None where it is not seen."""

    name: str
    frames: list[Image]
    truth: list[FloatArray | None]
    size: float


def measure(settings: Settings, folder: Path) -> None:
    """The table of exactness, and the speeds."""
    _table(clips(settings, folder))
    _speeds(settings, folder)


def clips(settings: Settings, folder: Path) -> Iterator[Clip]:
    """The course and the demo's clips."""
    for hurdle in hurdles():
        frames = _frames(settings, film(hurdle, folder))
        for runner in range(len(hurdle.runners)):
            truth = [hurdle.truth(runner, frame) for frame in range(hurdle.frames)]
            name = hurdle.name + (f" ({runner + 1})" if len(hurdle.runners) > 1 else "")
            yield Clip(name, frames, truth, _STONE)
    for name, body, size, first, end in (
        ("sled-run", None, 15.0, 0, 90),
        ("snowball-lob", None, 19.0, 20, 105),
        ("lantern-and-cone", "lantern", 60.0, 0, 132),
        ("lantern-and-cone", "cone", 24.0, 0, 132),
        ("curling-stones", "red stone", 66.0, 0, 120),
        ("curling-stones", "yellow stone", 66.0, 0, 120),
    ):
        places: Any = json.loads((CLIPS / f"{name}.json").read_text())["positions"]
        places = places[body] if body else places
        frames = _frames(settings, CLIPS / f"{name}.mp4")[first:end]
        truth = [np.array(place) for place in places[first:end]]
        yield Clip(f"{name} {body or ''}".strip(), frames, [*truth], size)


def followed(frames: list[Image], at: tuple[float, float]) -> tuple[Marks, dict[int, float]]:
    """Footing's own way: marks and their qualities."""
    marks, qualities = {0: at}, {0: 1.0}
    for told in follow(enumerate(frames), {0: Start(0, at)}):
        for step in told:
            if isinstance(step, Step) and step.sure and step.place:
                marks[step.frame], qualities[step.frame] = step.place, step.quality
    return marks, qualities


def matched(frames: list[Image], at: tuple[float, float]) -> Marks:
    """Plain template matching: the first patch, looked for around the place before."""
    offset = np.array(at) - np.round(at)
    x, y = (round(value) for value in at)
    padded = [np.pad(one, _TEMPLATE, mode="edge") for one in frames]
    side = 2 * _TEMPLATE + 1
    template = padded[0][y : y + side, x : x + side]
    marks = {0: at}
    height, width = frames[0].shape
    for number, frame in enumerate(padded[1:], start=1):
        left, top = max(x - _WINDOW, 0), max(y - _WINDOW, 0)
        area = frame[top : y + _WINDOW + side, left : x + _WINDOW + side]
        scores = cv2.matchTemplate(area, template, cv2.TM_CCOEFF_NORMED)
        _, score, _, (column, row) = cv2.minMaxLoc(scores)
        if score < _LEAST_SCORE:
            continue
        x, y = left + column, top + row
        place = np.array([x, y]) + offset + _between_pixels(scores, column, row)
        if 0 <= place[0] <= width - 1 and 0 <= place[1] <= height - 1:
            marks[number] = (float(place[0]), float(place[1]))
    return marks


def flowed(frames: list[Image], at: tuple[float, float]) -> Marks:
    """Pyramidal optical flow (Lucas and Kanade) from each frame to the next."""
    point = np.array([[at]], dtype=np.float32)
    marks = {0: at}
    side = (2 * _TEMPLATE + 1, 2 * _TEMPLATE + 1)
    for number, (before, now) in enumerate(pairwise(frames), start=1):
        point, status, _ = cv2.calcOpticalFlowPyrLK(before, now, point, None, winSize=side)  # type: ignore[call-overload]
        if not status[0, 0]:
            break
        x, y = (float(value) for value in point[0, 0])
        if 0 <= x <= now.shape[1] - 1 and 0 <= y <= now.shape[0] - 1:
            marks[number] = (x, y)
    return marks


def judged(marks: Marks, clip: Clip) -> Outcome:
    """Compare marks with the truth."""
    enough = max(_RIGHT, _TENTH * clip.size)
    errors, wrong = [], 0
    for frame, place in marks.items():
        true = clip.truth[frame]
        if true is None:
            wrong += 1
        else:
            errors.append(float(np.hypot(*(np.array(place) - true))))
    right = sum(error <= enough for error in errors)
    rms = float(np.sqrt(np.mean(np.square(errors))))
    return Outcome(right, rms, wrong + len(errors) - right)


def _between_pixels(scores: AnyArray, column: int, row: int) -> FloatArray:
    """The top of a parabola through three scores, across and along."""
    found = [0.0, 0.0]
    for axis, (place, most) in enumerate(((column, scores.shape[1]), (row, scores.shape[0]))):
        if 0 < place < most - 1:
            three = (
                scores[row, place - 1 : place + 2]
                if axis == 0
                else scores[place - 1 : place + 2, column]
            )
            bend = three[0] - 2 * three[1] + three[2]
            found[axis] = float((three[0] - three[2]) / (2 * bend)) if bend < 0 else 0.0
    return np.array(found)


def indexed(settings: Settings, path: Path) -> MediaIndex:
    """The index of a film, within the limits of the settings."""
    return index_video(
        path,
        seconds=settings.decode_seconds,
        frame_count=settings.frame_count,
        frame_pixels=settings.frame_pixels,
    )


def _frames(settings: Settings, path: Path) -> list[Image]:
    index = indexed(settings, path)
    every = range(index.frames)
    found = luma_frames(path, index, every, seconds=settings.survey_seconds)
    return [np.ascontiguousarray(picture) for _, picture in found]


def _table(course: Iterator[Clip]) -> None:
    print("\nfollowing: frames that are right, and how exact (px RMS); * marks that are wrong")
    print(f"{'clip':<30}{'frames':>7}{'Footing':>17}{'matching':>17}{'optical flow':>17}")
    rms: dict[str, list[float]] = {"own": [], "matching": [], "flow": []}
    right = dict.fromkeys(rms, 0)
    worst = 0.0
    above = good = 0
    for clip in course:
        start = clip.truth[0]
        assert start is not None
        at = (float(start[0]), float(start[1]))
        own, qualities = followed(clip.frames, at)
        ways = {"own": own, "matching": matched(clip.frames, at), "flow": flowed(clip.frames, at)}
        outcomes = {way: judged(marks, clip) for way, marks in ways.items()}
        seen = sum(place is not None for place in clip.truth)
        cells = "".join(
            f"{one.right:>5} {one.rms:>7.3f}{f'*{one.wrong}' if one.wrong else '':<4}"
            for one in outcomes.values()
        )
        print(f"{clip.name:<30}{seen:>7}{cells}")
        for way, one in outcomes.items():
            rms[way].append(one.rms)
            right[way] += one.right
        # a way that has lost most frames is not the better one, however exact the few are
        rivals = [one.rms for way, one in outcomes.items() if way != "own" and one.right > seen / 2]
        worst = max([worst, *(outcomes["own"].rms - rival for rival in rivals)])
        above += sum(quality >= STOP_LEVEL for quality in qualities.values())
        good += outcomes["own"].right
    medians = {way: statistics.median(values) for way, values in rms.items()}
    better = min(medians["matching"], medians["flow"])
    line("following: median RMS", medians["own"], "px", better)
    line("  matching and flow", better, "px", better)
    line(
        "following: frames kept",
        right["own"],
        "",
        max(right["matching"], right["flow"]),
        at_least=True,
    )
    line("following: most behind the better one, on a clip", worst, "px", 0.1)
    line(
        "following: right, of marks above the stop level",
        100 * good / above,
        "%",
        99,
        at_least=True,
    )


def _speeds(settings: Settings, folder: Path) -> None:
    path = folder / "phone.mp4"
    phone_film(path)
    index = indexed(settings, path)

    def decode() -> None:
        with av.open(str(path)) as container:
            for frame in container.decode(video=0):
                np.frombuffer(memoryview(frame.planes[0]), np.uint8)

    def with_bodies(count: int) -> Callable[[], None]:
        def go() -> None:
            frames = luma_frames(path, index, range(index.frames), seconds=600)
            # the film moves by 8 px in each frame, and everything in it with it
            starts = {k: Start(0, (1700.0, 150.0 + 170 * k)) for k in range(count)}
            for _ in follow(frames, starts):
                pass

        return go

    # in turn, so that a machine whose speed wanders is as fast for one as for the other
    ways = {0: decode, 1: with_bodies(1), 5: with_bodies(5)}
    taken_by: dict[int, list[float]] = {count: [] for count in ways}
    for _ in range(_TURNS):
        for count, way in ways.items():
            taken_by[count].append(seconds(way))
    plain = statistics.median(taken_by[0])
    rate = index.frames / plain
    print(f"1080p, decoding alone (brightness): {rate:.0f} frames/s")
    for count, limit in ((1, 0.7), (5, 0.5)):
        taken = statistics.median(taken_by[count])
        line(
            f"following {count} in 1080p, of decoding alone",
            plain / taken,
            "",
            limit,
            at_least=True,
        )
