"""Names for the array types that the core takes and gives, and for arrays by their numbers."""

from collections.abc import Hashable
from typing import Any

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]
BoolArray = NDArray[np.bool_]
Image = NDArray[np.uint8]
AnyArray = NDArray[Any]


def by_value(*parts: AnyArray | Hashable) -> Hashable:
    """A name for numbers, by which what was computed from them is remembered."""
    return tuple(part.tobytes() if isinstance(part, np.ndarray) else part for part in parts)
