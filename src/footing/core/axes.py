"""Ranges of axes that do not mislead, with round numbers at their ends."""

from dataclasses import dataclass
from math import ceil, floor, log10

import numpy as np

from footing.core import findings
from footing.core.arrays import FloatArray

_ROOM = 0.04  # of the range, on each side
_QUIET = 12.0  # uncertainties that an axis shows at least, so that scatter does not fill it
_NOTHING = 1e-290  # span, under which powers of ten are no normal numbers any more
_STEPS = 10  # about so many round steps along an axis


@dataclass(frozen=True)
class AxisRange:
    """Ends of an axis; ``note`` is where it starts if it does not show its zero."""

    low: float
    high: float
    note: str | None


def axis_range(values: FloatArray, *, include_zero: bool, uncertainty: float = 0.0) -> AxisRange:
    """Range of an axis that shows all values.

    Zero is shown when that costs less than half of the axis. What is constant within its
    uncertainty is shown as such: the axis covers a dozen uncertainties at least.
    """
    if len(values) == 0:
        return typed_range(0.0, 1.0)
    low, high = float(np.min(values)), float(np.max(values))
    with_zero = (min(low, 0.0), max(high, 0.0))
    if include_zero or high - low > 0.5 * (with_zero[1] - with_zero[0]):
        low, high = with_zero
    quiet = _QUIET * uncertainty
    if high - low < quiet:
        middle = (low + high) / 2
        low, high = middle - quiet / 2, middle + quiet / 2
    if high - low <= _NOTHING:
        low, high = low - 0.5, high + 0.5
    return typed_range(*rounded_out(low, high))


def axis_within(values: FloatArray, *, span: float) -> AxisRange:
    """Range of an axis that goes at least so far, with the values in its middle.

    Zero is shown where that is near, as in `axis_range`.
    """
    middle = (float(np.min(values)) + float(np.max(values))) / 2
    return axis_range(np.array([middle - span / 2, middle + span / 2]), include_zero=False)


def typed_range(low: float, high: float) -> AxisRange:
    """A range as somebody typed it, with the note where it does not show its zero."""
    note = None if low <= 0 <= high else findings.significant(low if low > 0 else high, 3)
    return AxisRange(low, high, note)


def rounded_out(low: float, high: float) -> tuple[float, float]:
    """The ends moved out to round numbers, with a little room; zero as an end stays one."""
    room = _ROOM * (high - low)
    step = _round_step((high - low) / _STEPS)
    below = low if low == 0 else floor((low - room) / step + 1e-9) * step
    above = high if high == 0 else ceil((high + room) / step - 1e-9) * step
    if low == 0:
        below = -room
    if high == 0:
        above = room
    return below, above


def _round_step(size: float) -> float:
    """1, 2 or 5 times a power of ten, at least as large as ``size``."""
    power = 10.0 ** floor(log10(size))
    return next(factor * power for factor in (1, 2, 5, 10) if factor * power >= size * 0.999)
