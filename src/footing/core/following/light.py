"""How bright the light is, in a picture beside another."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from footing.core.arrays import FloatArray, Image
from footing.core.following.streaks import Grey

_SPARSE = 60  # rows that are enough to know light and rest by
_LEVELS = (25, 50, 75)  # percentiles of the brightness
_LEAST_LEVELS = 20.0  # grey levels between them, that tell a gain
_LEAST_GAIN = 0.4
_DARK, _BRIGHT = 12, 243  # grey levels between which a pixel tells the light
_TELLS = 0.1  # share of the pixels that must
_PASSES = 0.7  # share of the differences, beyond which something passes
_PLAIN = 4.0  # grey levels squared, under which a place has no contrast to tell a gain by
_SLIGHT, _SLIGHT_OFFSET = 0.03, 2.0  # by which light may differ unheeded, and grey levels
_LIGHTS = 2  # rounds in which light is told from what passes


@dataclass(frozen=True)
class Light:
    """How grey levels became others: times the gain, and the offset added."""

    gain: float = 1.0
    offset: float = 0.0

    def after(self, first: "Light") -> "Light":
        """This one after another."""
        return Light(self.gain * first.gain, self.gain * first.offset + self.offset)

    @cached_property
    def inverse(self) -> "Light":
        """What takes it back."""
        return Light(1 / self.gain, -self.offset / self.gain)

    @cached_property
    def slight(self) -> bool:
        """Whether it may be left alone."""
        return abs(self.gain - 1) < _SLIGHT and abs(self.offset) < _SLIGHT_OFFSET


def sparse(grey: Image) -> Image:
    """As many of the pixels of a picture as are enough to know light and noise by."""
    every = _sparser(grey)
    return grey[::every, ::every]


def levels_of(grey: Image) -> FloatArray:
    """The brightness that a quarter, a half and three quarters of a picture are under."""
    return np.percentile(sparse(grey), _LEVELS)


def light_of(first: FloatArray, now: FloatArray) -> Light:
    """How the light changed between two pictures, by their levels."""
    gain = float((now[2] - now[0]) / max(first[2] - first[0], 1.0))
    if not _LEAST_GAIN < gain < 1 / _LEAST_GAIN or first[2] - first[0] < _LEAST_LEVELS:
        gain = 1.0
    light = Light(gain, float(now[1] - gain * first[1]))
    return Light() if light.slight else light


def light_between(before: Image | Grey, now: Image | Grey) -> Light:
    """How the light changed between two pictures of a place, without what passes it."""
    every = _sparser(before)
    a, b = (one[::every, ::every].ravel().astype(np.float32, copy=False) for one in (before, now))
    told = (a > _DARK) & (a < _BRIGHT) & (b > _DARK) & (b < _BRIGHT)
    if told.mean() < _TELLS:
        return Light()
    a, b = a[told], b[told]
    gain, offset = 1.0, float(np.median(b - a))
    for _ in range(_LIGHTS):
        off = np.abs(b - gain * a - offset)
        place = round(_PASSES * (len(off) - 1))
        alike = off <= np.partition(off, place)[place] + 1e-3
        before_alike, now_alike = a[alike], b[alike]
        spread = float(np.var(before_alike))
        if spread < _PLAIN:
            break
        middle, its = float(before_alike.mean()), float(now_alike.mean())
        gain = float(((before_alike - middle) * (now_alike - its)).mean()) / spread
        gain = min(max(gain, 0.3), 3.0)
        offset = its - gain * middle
    return Light(gain, offset)


def _sparser(grey: Image | Grey) -> int:
    """Of how many rows and columns one is enough to know light and rest by."""
    return max(min(grey.shape) // _SPARSE, 1)
