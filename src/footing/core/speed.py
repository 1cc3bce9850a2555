"""The size of a vector whose components scatter, such as a speed.

The size of a noisy vector is too large on average: errors across it lengthen it, whichever way they
go. Where components scatter by σ about a true size ν, the measured size r has Rice's distribution
(S. O. Rice, Bell System Technical Journal 24, 46, 1945, 3.10), whose mean is

    m(ν) = σ √(π/2) · e^(−z/2) · [(1 + z) I₀(z/2) + z I₁(z/2)],  z = ν²/2σ².

So the size that is reported is the ν whose mean was measured: ν = m⁻¹(r), and 0 where r is less
than m(0). What errors across the vector add to the scatter, ε²/2ν, has the variance σ⁴/2ν².
"""

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray

_LARGE = 12.0  # sizes in units of σ, from which √(r² − σ²) is as good
_GRID = np.linspace(0.0, _LARGE, 2401)


def _rice_mean(size: FloatArray) -> FloatArray:
    """Mean of what is measured for σ = 1."""
    z = size**2 / 2
    bessel = (1 + z) * special.ive(0, z / 2) + z * special.ive(1, z / 2)
    return np.asarray(np.sqrt(np.pi / 2) * bessel, dtype=float)


_MEANS = _rice_mean(_GRID)


def true_sizes(measured: FloatArray, scatter: FloatArray) -> FloatArray:
    """What vectors of these measured sizes ``(m,)`` are long without their noise.

    scatter : (m,) standard deviation of one component, of the same unit
    """
    measured = np.asarray(measured, dtype=float)
    noisy = scatter > 0
    unit = np.where(noisy, scatter, 1.0)
    ratio = np.where(noisy, measured / unit, 0.0)
    near = np.interp(ratio, _MEANS, _GRID)
    far = np.sqrt(np.maximum(ratio**2 - 1, 0.0))
    return np.where(noisy, np.where(ratio < _MEANS[-1], near, far) * unit, measured)
