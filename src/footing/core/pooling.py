"""Pooling the results of a class: means with their uncertainties, agreement, and what stands out.

- mean, standard deviation and standard error: JCGM 100:2008 (GUM), 4.2
- weighted mean, its uncertainty and χ²: weights 1/u²; Bevington and Robinson, *Data Reduction and
  Error Analysis*, 3rd ed., 4.1; where χ² says that the uncertainties are too small, its standard
  error is widened by √(χ²/ν) (Birge 1932)
- what stands out: modified z-score above 3.5, from median and median absolute deviation; Iglewicz
  and Hoaglin, *How to Detect and Handle Outliers* (1993)
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray
from footing.core.fitting import interval_factor

_FEWEST_FOR_OUTLIERS = 5
_STANDS_OUT = 3.5
_NORMAL = 0.6745  # of a normal distribution: median absolute deviation over standard deviation
_MEAN_TO_NORMAL = 1.253314  # of a normal distribution: standard deviation over mean deviation


@dataclass(frozen=True)
class Weighted:
    """The weighted mean: its uncertainty by the uncertainties alone, and how well they agree.

    probability : of a χ² as large as this or larger, if the uncertainties are right
    widened : the uncertainty times √(χ²/ν), where that is above 1
    """

    mean: float
    uncertainty: float
    chi_squared: float
    dof: int
    probability: float
    widened: float


@dataclass(frozen=True)
class Pooled:
    """What values of a class come to together, all in one unit.

    standard_deviation, standard_error, half_width (95 %) : None of a single value
    weighted : None where some value has no uncertainty, or there is only one
    outliers : places of the values that stand out
    """

    number: int
    mean: float
    standard_deviation: float | None
    standard_error: float | None
    half_width: float | None
    weighted: Weighted | None
    outliers: tuple[int, ...]


def pool(values: Sequence[float], uncertainties: Sequence[float]) -> Pooled:
    """Pool values with their standard uncertainties, in one unit.

    Raises
    ------
    ValueError : if there is none.
    """
    if not values:
        raise ValueError("nothing to pool")
    x = np.asarray(values, dtype=float)
    number = len(x)
    deviation = float(x.std(ddof=1)) if number > 1 else None
    error = deviation / sqrt(number) if deviation is not None else None
    return Pooled(
        number=number,
        mean=float(x.mean()),
        standard_deviation=deviation,
        standard_error=error,
        half_width=error * interval_factor(number - 1) if error is not None else None,
        weighted=_weighted(x, np.asarray(uncertainties, dtype=float)),
        outliers=outliers(values),
    )


def _weighted(x: FloatArray, u: FloatArray) -> Weighted | None:
    if len(x) < 2 or not bool(np.all(u > 0)):
        return None
    weights = u.min() ** 2 / u**2  # so that tiny uncertainties do not overflow
    mean = float(weights @ x / weights.sum())
    uncertainty = float(u.min() / sqrt(weights.sum()))
    chi_squared = float((((x - mean) / u) ** 2).sum())
    dof = len(x) - 1
    return Weighted(
        mean=mean,
        uncertainty=uncertainty,
        chi_squared=chi_squared,
        dof=dof,
        probability=float(special.chdtrc(dof, chi_squared)),
        widened=uncertainty * max(1.0, sqrt(chi_squared / dof)),
    )


def outliers(values: Sequence[float]) -> tuple[int, ...]:
    """The places of values that stand out of at least five.

    Where more than half are equal their median deviation is 0 and says nothing; the mean deviation
    takes its place.
    """
    if len(values) < _FEWEST_FOR_OUTLIERS:
        return ()
    x = np.asarray(values, dtype=float)
    apart = np.abs(x - np.median(x))
    spread = float(np.median(apart)) / _NORMAL or float(apart.mean()) * _MEAN_TO_NORMAL
    if spread == 0:
        return ()
    return tuple(int(place) for place in np.flatnonzero(apart / spread > _STANDS_OUT))


def bins(values: Sequence[float]) -> list[tuple[float, float, int]]:
    """A histogram: begin, end and number of each bin; by Freedman and Diaconis, at least three."""
    x = np.asarray(values, dtype=float)
    edges = np.histogram_bin_edges(x, bins="fd")
    if not 4 <= len(edges) <= 31:
        edges = np.histogram_bin_edges(x, bins=min(max(len(edges) - 1, 3), 30))
    counts, edges = np.histogram(x, edges)
    return [
        (float(low), float(high), int(count))
        for low, high, count in zip(edges[:-1], edges[1:], counts, strict=True)
    ]
