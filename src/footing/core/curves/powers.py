"""Powers of x."""

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.curves.curve import named


def _power(x: FloatArray, y: FloatArray) -> list[FloatArray]:
    good = (x > 0) & (y != 0)
    if good.sum() < 2:
        return [np.array([1.0, 1.0])]
    n, log_a = np.polyfit(np.log(x[good]), np.log(np.abs(y[good])), 1)
    sign = float(np.sign(np.median(y[good])) or 1.0)
    return [np.array([sign * np.exp(log_a), n])]


CURVES = (
    named("power", "power", "powers", "a*x^n", "a n", guess=_power, any_power=True),
    named("inverse", "1/x", "powers", "a/x", "a"),
    named("inverse_square", "1/x²", "powers", "a/x^2", "a"),
    named("root", "square root", "powers", "a*sqrt(x)", "a"),
)
