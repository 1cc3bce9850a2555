"""The hard films, followed: how much is kept, how much is sure and wrong, and how honest it is."""

import hashlib
import statistics
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from footing.bench.following import flowed, indexed, matched
from footing.bench.hard import rivals
from footing.bench.hard.clips import HALVES, films
from footing.bench.hard.filmset import Film, kept
from footing.bench.hard.judging import Case, Marks, Point, Verdict, followed, judged
from footing.bench.measuring import line
from footing.core.following.pictures import Picture, as_picture
from footing.core.following.run import STOP_LEVEL
from footing.media.luma import pictures
from footing.settings import Settings

_KEPT = Path.home() / ".cache" / "footing-films"
_STARTS, _ASTRAY = 8, 0.3  # starts that should end alike, and px by which they differ
_ROUND = ("ball", "disc", "drop", "release", "alike", "beside")


def measure(settings: Settings, _: Path) -> None:
    """The table of both halves, the reliability of the quality, and how alike starts end."""
    every: list[tuple[float, bool]] = []
    for half in HALVES:
        every += _half(settings, half)
    _reliability(every)


def _half(settings: Settings, half: str) -> list[tuple[float, bool]]:
    ways = {"changed": rivals.by_change, **rivals.trackers()}
    verdicts: dict[str, list[Verdict]] = {}
    medians = []
    alike = 0
    cases = list(_cases(settings, half))
    print(f"\nhard films, {half}: frames kept, of those in plain view; * sure and wrong")
    for case in cases:
        frames = [as_picture(frame) for frame in case.frames]
        grey = [frame.grey for frame in frames]
        marks, qualities = followed(frames, case.start)
        told: dict[str, Marks] = {"Footing": marks}
        told |= {"matching": matched(grey, case.start), "flow": flowed(grey, case.start)}
        told |= {name: way(frames, case.start, case.size) for name, way in ways.items()}
        cells = ""
        for name, its in told.items():
            verdict = judged(case, its, qualities if name == "Footing" else None)
            verdicts.setdefault(name, []).append(verdict)
            starred = f"*{verdict.wrong}" if verdict.wrong else ""
            cells += f"{name:>10} {verdict.kept:>3}{starred:<5}"
        print(f"{case.name:<30}{verdicts['Footing'][-1].plain:>4}{cells}")
        if any(word in case.name for word in _ROUND):
            medians.append(verdicts["Footing"][-1].median)
        alike += _end_alike(case, frames)
    plain = sum(one.plain for one in verdicts["Footing"])
    for name, all_of_it in verdicts.items():
        share = 100 * sum(one.kept for one in all_of_it) / plain
        wrong = 100 * sum(v.wrong for v in all_of_it) / max(sum(v.marks for v in all_of_it), 1)
        line(f"hard films ({half}), {name}: kept", share, "%", 97, at_least=True)
        line(f"hard films ({half}), {name}: marks that are wrong", wrong, "%", 0.5)
    line(f"hard films ({half}): median of balls and discs", statistics.median(medians), "px", 0.3)
    ends = 100 * alike / len(cases)
    line(f"hard films ({half}): clips on which 8 starts end alike", ends, "%", 100, at_least=True)
    return [graded for verdict in verdicts["Footing"] for graded in verdict.graded]


def _end_alike(case: Case, frames: list[Picture]) -> bool:
    """Whether starts that hardly differ keep the same frames, within a fiftieth."""
    rng = np.random.default_rng(5)
    shares = []
    for _ in range(_STARTS):
        dx, dy = (float(value) for value in rng.uniform(-_ASTRAY, _ASTRAY, size=2))
        start: Point = (case.start[0] + dx, case.start[1] + dy)
        marks, _qualities = followed(frames, start)
        back = {frame: (x - dx, y - dy) for frame, (x, y) in marks.items()}
        verdict = judged(case, back)
        shares.append(verdict.kept / max(verdict.plain, 1))
    return max(shares) - min(shares) <= 0.02


def _reliability(graded: list[tuple[float, bool]]) -> None:
    print("\nquality, number of marks, mean quality, share that is right")
    qualities = np.array([quality for quality, _ in graded])
    right = np.array([is_right for _, is_right in graded])
    for low in np.arange(0.0, 1.0, 0.1):
        here = (qualities >= low) & (qualities < low + 0.1 + (1e-9 if low > 0.85 else 0))
        if here.any():
            mean, share = qualities[here].mean(), right[here].mean()
            print(f"{low:.1f} … {low + 0.1:.1f} {here.sum():>6} {mean:>7.3f} {share:>7.3f}")
    sure = 100 * float(right[qualities >= STOP_LEVEL].mean())
    line("hard films: right, of marks above the stop level", sure, "%", 99.5, at_least=True)


def _cases(settings: Settings, half: str) -> Iterator[Case]:
    painters = _hash()
    for film in films(half):
        path = kept(film, _KEPT, painters)
        yield from _of(settings, film, path)


def _of(settings: Settings, film: Film, path: Path) -> Iterator[Case]:
    index = indexed(settings, path)
    every = range(index.frames)
    frames = [one for _, one in pictures(path, index, every, seconds=settings.survey_seconds)]
    for number, body in enumerate(film.bodies):
        name = film.name + (f" #{number + 1}" if len(film.bodies) > 1 else "")
        truth = [film.truth(number, frame) for frame in every]
        plain = [film.plain(number, frame) for frame in every]
        yield Case(name, frames, truth, plain, body.size)


def _hash() -> str:
    """Of what paints the films."""
    here = Path(__file__).parent
    things = ("flying", "held", "sliding", "walking")
    painters = ("actors", "clips", "filmset", "kind", "photographs", *things)
    texts = [(here / f"{name}.py").read_bytes() for name in painters]
    return hashlib.sha256(b"".join(texts)).hexdigest()
