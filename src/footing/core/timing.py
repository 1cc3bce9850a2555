"""When each frame was taken, and what that says about the file."""

from dataclasses import dataclass

import numpy as np

from footing.core.arrays import FloatArray


@dataclass(frozen=True)
class Cadence:
    """The rhythm of a file's frames. Times in seconds, the rate in frames per second."""

    duration: float
    rate: float
    shortest_step: float
    longest_step: float
    variable: bool


def cadence(times: FloatArray, *, tick: float) -> Cadence:
    """Describe the rhythm of ``times``, a rising ``(n,)`` array of file times starting with 0.

    The rate is (n − 1) ÷ duration. It varies when the longest and the shortest step differ by more
    than a tenth and by more than one ``tick`` of the file's clock. A single frame has duration and
    rate 0.
    """
    if len(times) < 2:
        return Cadence(0.0, 0.0, 0.0, 0.0, variable=False)
    steps = np.diff(times)
    shortest, longest = float(steps.min()), float(steps.max())
    spread = longest - shortest
    return Cadence(
        duration=float(times[-1]),
        rate=(len(times) - 1) / float(times[-1]),
        shortest_step=shortest,
        longest_step=longest,
        variable=spread > 0.1 * shortest and spread > 1.001 * tick,
    )


@dataclass(frozen=True)
class Clock:
    """How fast true time runs against the file's time.

    k : true seconds for each second of the file
    relative : relative standard uncertainty of k
    first, last : frames between which k holds; None for the whole file
    """

    k: float = 1.0
    relative: float = 0.0
    first: int | None = None
    last: int | None = None


def playing_rate(
    file_times: FloatArray, *, first: int, last: int, tick: float
) -> tuple[float, float]:
    """Frames a second between two frames of a file, and its relative standard uncertainty.

    Over the whole stretch and not by the usual step, because files that count milliseconds write
    33, 33, 34. Each end is rounded to a ``tick``: u = √2 · tick/√12 over the stretch.
    """
    apart = float(file_times[last] - file_times[first])
    return (last - first) / apart, float(np.sqrt(2 / 12) * tick / apart)


def slow_motion(capture_rate: float, playing_rate: float) -> float:
    """k of a file that was shot at one rate and plays at another: playing ÷ capture rate."""
    return playing_rate / capture_rate


def two_moments(
    true_time: float, true_uncertainty: float, file_times: FloatArray, first: int, last: int
) -> tuple[float, float]:
    """k and its relative uncertainty from two frames a known time apart.

    k = T ÷ Δt_file; u(k)/k = √[(u(T)/T)² + 2 (½ step/√3)²/Δt_file²], because each moment is known
    to half a step only (docs/physics.md, Time).
    """
    apart = float(file_times[last] - file_times[first])
    step = apart / (last - first)
    relative = np.sqrt((true_uncertainty / true_time) ** 2 + 2 * (step / np.sqrt(12) / apart) ** 2)
    return true_time / apart, float(relative)


def study_times(file_times: FloatArray, zero_frame: int, clock: Clock | None = None) -> FloatArray:
    """Study times ``(n,)``: t = k · (t_file − t_file of the zero frame).

    Where the clock holds for a stretch of frames only, the steps inside it are k times as long and
    the others are the file's.
    """
    clock = clock or Clock()
    if clock.first is None or clock.last is None:
        return np.asarray(clock.k * (file_times - file_times[zero_frame]), dtype=float)
    factors = np.ones(len(file_times) - 1)
    factors[clock.first : clock.last] = clock.k
    true_times = np.concatenate([[0.0], np.cumsum(np.diff(file_times) * factors)])
    return np.asarray(true_times - true_times[zero_frame], dtype=float)


def frame_position(file_times: FloatArray, frame: float) -> float:
    """Time of a frame number that may lie between frames (41.5 is halfway from 41 to 42)."""
    return float(np.interp(frame, np.arange(len(file_times)), file_times))
