"""Names for the array types that the core takes and gives."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]
BoolArray = NDArray[np.bool_]
Image = NDArray[np.uint8]
AnyArray = NDArray[Any]
