"""Mean velocities since the start: displacement since the first mark over the time since then.

After an impact the first mark after it takes that place.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy import sparse

from footing.core.arrays import FloatArray, IntArray
from footing.core.covariances import Covariance
from footing.core.paths import Column, nothing


@dataclass(frozen=True)
class SinceStart:
    """Means at the marks that come after another one since the latest impact.

    times : (n,) rising, seconds
    impacts : k where a mean does not cross from mark k to mark k + 1
    """

    times: FloatArray
    impacts: IntArray

    @cached_property
    def _pairs(self) -> tuple[IntArray, IntArray]:
        """Those marks, and for each the first one since the latest impact."""
        marks = np.arange(len(self.times))
        begins = np.concatenate([[0], np.sort(self.impacts) + 1])
        first = begins[np.searchsorted(begins, marks, side="right") - 1]
        after = marks > first
        return marks[after], first[after]

    @property
    def elapsed(self) -> FloatArray:
        """Time since the start ``(m,)``, seconds."""
        after, first = self._pairs
        return np.asarray(self.times[after] - self.times[first], dtype=float)

    def column(self, values: FloatArray, uncertainties: FloatArray) -> Column:
        """The means of coordinates ``(n,)``; their uncertainties are ``(m,)``."""
        after, first = self._pairs
        if not len(after):
            return nothing()
        means = (values[after] - values[first]) / self.elapsed
        return Column(after, means, uncertainties, np.zeros(len(after), dtype=bool))

    @cached_property
    def weights(self) -> sparse.csr_array:
        """Each by its own mark, and all by the first one: (δ_ij − δ_fj) / Δt_i, ``(m, n)``."""
        after, first = self._pairs
        m = len(after)
        rows = np.tile(np.arange(m), 2)
        by = np.concatenate([np.ones(m), -np.ones(m)])
        shape = (m, len(self.times))
        since = sparse.csr_array((by, (rows, np.concatenate([after, first]))), shape=shape)
        return sparse.csr_array(sparse.diags_array(1 / self.elapsed) @ since)

    @property
    def covariance(self) -> Covariance | None:
        """How the means depend on each other, for marks of variance 1; None without any."""
        n = len(self.times)
        if n < 2:
            return None
        if len(self.impacts):
            return Covariance.of_slopes(self.weights)
        steps = sparse.diags_array(
            [-np.ones(n - 1), np.ones(n - 1)], offsets=[0, 1], shape=(n - 1, n)
        )
        return Covariance(steps @ steps.T, summed=True).scaled(1 / (self.times[1:] - self.times[0]))
