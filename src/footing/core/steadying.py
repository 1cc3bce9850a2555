"""An unsteady camera: fixed spots of the background say how the picture moved, and are subtracted.

One spot gives the shift; two give the shift, the turn and the zoom about them. Every mark is moved
to where it would have been in the reference frame.
"""

from dataclasses import dataclass

import numpy as np

from footing.core.arrays import FloatArray, IntArray


@dataclass(frozen=True)
class Spot:
    """A fixed spot of the background: its frames ``(n,)``, rising, and pixels ``(n, 2)``."""

    frames: IntArray
    pixels: FloatArray

    def at(self, frames: IntArray) -> FloatArray:
        """Where it was in frames in which it is marked, ``(m, 2)``."""
        return np.asarray(self.pixels[np.searchsorted(self.frames, frames)], dtype=float)


def seen_in(spots: tuple[Spot, ...], frames: IntArray) -> IntArray:
    """Those of the frames in which every spot is marked: the others cannot be steadied."""
    for spot in spots:
        frames = np.intersect1d(frames, spot.frames)
    return np.asarray(frames, dtype=np.int64)


def steadied(
    pixels: FloatArray, frames: IntArray, spots: tuple[Spot, ...], *, reference: int
) -> FloatArray:
    """Marks ``(n, 2)`` as they would lie in the reference frame.

    Every spot must be marked in all ``frames`` and in ``reference``. With two spots a and b the
    picture's similarity follows from a − b, written as complex numbers: the mark keeps its place
    relative to both.
    """
    if not spots or len(frames) == 0:
        return pixels
    there = np.array([reference])
    first, first_there = spots[0].at(frames), spots[0].at(there)
    if len(spots) == 1:
        return np.asarray(pixels - first + first_there, dtype=float)
    apart = _complex(spots[1].at(frames) - first)
    apart_there = _complex(spots[1].at(there) - first_there)
    moved = _complex(pixels - first) * (apart_there / apart)
    return np.asarray(np.stack([moved.real, moved.imag], axis=1) + first_there, dtype=float)


def as_seen(
    pixels: FloatArray, frames: IntArray, spots: tuple[Spot, ...], *, reference: int
) -> FloatArray:
    """Places ``(n, 2)`` of the reference frame as they lie in their frames: `steadied` undone."""
    if not spots or len(frames) == 0:
        return pixels
    there = np.array([reference])
    first, first_there = spots[0].at(frames), spots[0].at(there)
    if len(spots) == 1:
        return np.asarray(pixels - first_there + first, dtype=float)
    apart = _complex(spots[1].at(frames) - first)
    apart_there = _complex(spots[1].at(there) - first_there)
    moved = _complex(pixels - first_there) * (apart / apart_there)
    return np.asarray(np.stack([moved.real, moved.imag], axis=1) + first, dtype=float)


def _complex(points: FloatArray) -> np.ndarray:
    return points[:, 0] + 1j * points[:, 1]
