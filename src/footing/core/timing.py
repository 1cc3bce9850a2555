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


def study_times(file_times: FloatArray, zero_frame: int) -> FloatArray:
    """Shift file times so that ``zero_frame`` is at 0 s (physics.md, Time, with k = 1)."""
    return np.asarray(file_times - file_times[zero_frame], dtype=float)


def frame_position(file_times: FloatArray, frame: float) -> float:
    """Time of a frame number that may lie between frames (41.5 is halfway from 41 to 42)."""
    return float(np.interp(frame, np.arange(len(file_times)), file_times))
