"""Results: combined uncertainty, sensible digits, and the comparison with what was expected.

Uncertainties follow the Guide to the Expression of Uncertainty in Measurement (JCGM 100:2008):
contributions add in squares, the effective degrees of freedom are those of Welch and Satterthwaite
(its G.4.1), ± is a standard uncertainty.
"""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from math import floor, inf, isfinite, isnan, log10, sqrt

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray
from footing.core.fitting import interval_factor

ROUND_OFF = 1e-11
_LARGE = 1e7  # from which a power of ten is clearer
_MOST_DECIMALS = 6  # in a table
_NEGATIVE_ZERO = re.compile(r"^-(0(?:\.0*)?)$", re.MULTILINE)


@dataclass(frozen=True)
class Contribution:
    """One line of an uncertainty budget: what it is, its size, its degrees of freedom."""

    source: str
    uncertainty: float
    dof: float = inf


@dataclass(frozen=True)
class Measured:
    """A value with combined standard uncertainty, 95 % half width and budget."""

    value: float
    uncertainty: float
    half_width: float
    budget: tuple[Contribution, ...]
    dof: float = inf


def combine(value: float, budget: tuple[Contribution, ...]) -> Measured:
    """Combine independent contributions: u = √Σu², interval ± t(ν_eff) · u.

    ν_eff = u⁴ / Σ(uᵢ⁴/νᵢ).
    """
    uncertainty = sqrt(sum(part.uncertainty**2 for part in budget))
    quartic = sum(part.uncertainty**4 / part.dof for part in budget)
    effective = uncertainty**4 / quartic if quartic > 0 else inf
    half = interval_factor(effective) * uncertainty
    return Measured(value, uncertainty, half, budget, effective)


def scaled(measured: Measured, factor: float) -> Measured:
    """The same result in another unit."""
    budget = tuple(
        Contribution(part.source, part.uncertainty * factor, part.dof) for part in measured.budget
    )
    return Measured(
        measured.value * factor,
        measured.uncertainty * factor,
        measured.half_width * factor,
        budget,
        measured.dof,
    )


@dataclass(frozen=True)
class Comparison:
    """A measured value beside an accepted one.

    percent_error : (measured − accepted) ÷ |accepted| in percent; None for an accepted 0
    distance : |measured − accepted| in units of √(u² + u²(accepted)); inf if that is 0. Of a value
        with few degrees of freedom it is that of a normal one which is as improbable
    verdict : "agrees" under 2, "doubtful" to 3, "disagrees" over 3
    opposite_sign : true if one is negative and the other positive
    """

    percent_error: float | None
    distance: float
    verdict: str
    opposite_sign: bool


def compare(measured: Measured, accepted: float, *, accepted_uncertainty: float = 0) -> Comparison:
    """Compare a result with an accepted value."""
    difference = measured.value - accepted
    u = sqrt(measured.uncertainty**2 + accepted_uncertainty**2)
    distance = abs(difference) / u if u > 0 else (0.0 if difference == 0 else inf)
    if u > 0 and isfinite(measured.dof):
        # the accepted value's own uncertainty is known without limit (Welch and Satterthwaite)
        dof = measured.dof * (u / measured.uncertainty) ** 4 if measured.uncertainty else inf
        distance = as_normal(distance, dof)
    verdict = "agrees" if distance < 2 else "doubtful" if distance <= 3 else "disagrees"
    percent = 100 * difference / abs(accepted) if accepted else None
    return Comparison(percent, distance, verdict, measured.value * accepted < 0)


def as_normal(distance: float, dof: float) -> float:
    """The distance in σ of a normal value that is as improbable as this one of Student's t."""
    if not isfinite(dof) or distance == 0:
        return distance
    chance = 2 * float(special.stdtr(dof, -distance))
    return -float(special.ndtri(chance / 2)) if chance > 0 else distance


def uncertainty_decimals(uncertainty: float) -> int:
    """Decimal place of an uncertainty's last shown digit: one digit, two if the first is 1."""
    exponent = floor(log10(uncertainty))
    if round(uncertainty / 10.0**exponent, 9) >= 9.5:  # 0.096 becomes 0.10
        exponent += 1
    leading = uncertainty / 10.0**exponent
    return 1 - exponent if leading < 1.95 else -exponent


def number(value: float, decimals: int) -> str:
    """Print with a fixed number of decimals, a true minus sign and no negative zero.

    Negative ``decimals`` round to tens, hundreds and so on.
    """
    if not isfinite(value):
        return significant(value)
    rounded = round(value, decimals)
    text = f"{rounded:.{max(decimals, 0)}f}"
    if rounded == 0:
        text = text.removeprefix("-")
    return text.replace("-", "−")


def numbers(values: Iterable[float], decimals: int) -> list[str]:
    """Print many numbers like `number`, much faster."""
    several = [float(value) for value in values]
    if decimals < 0:
        return [number(value, decimals) for value in several]
    lines = "\n".join([f"%.{decimals}f"] * len(several)) % tuple(several)
    return _NEGATIVE_ZERO.sub(r"\1", lines).replace("-", "−").split("\n") if several else []


def signed(value: float, decimals: int) -> str:
    """Print like `number`, with a plus sign before what is larger than 0."""
    text = number(value, decimals)
    return f"+{text}" if round(value, decimals) > 0 else text


def significant(value: float, digits: int = 4) -> str:
    """Print with a number of significant digits, in scientific notation where that is clearer."""
    if not isfinite(value):
        return "undefined" if isnan(value) else "−∞" if value < 0 else "∞"
    if value == 0:
        return number(value, 0)
    exponent = floor(log10(abs(value)))
    if not -3 <= exponent < 5:
        return f"{number(value / 10.0**exponent, digits - 1)}×10{superscript(exponent)}"
    return number(value, max(digits - 1 - exponent, 0))


def measured(value: float, uncertainty: float, unit: str = "") -> str:
    """Print value ± uncertainty and unit: ``−9.79 ± 0.05 m/s²``.

    The value is rounded to the uncertainty's last digit; outside 10⁻³ … 10⁵ both share a power of
    ten. Without an uncertainty, or with one that is mere round-off, four digits of the value are
    shown.
    """
    suffix = f" {unit}" if unit else ""
    if not isfinite(value) or isnan(uncertainty):
        return significant(value) + suffix
    if uncertainty == inf:
        return f"{significant(value)} ± ∞{suffix}"
    if not is_stated(value, uncertainty):
        return significant(value) + suffix
    shown, beside, power = _digits(value, uncertainty)
    pair = f"{shown} ± {beside}"
    return f"({pair}){power}{suffix}" if power else pair + suffix


def stated(value: float, uncertainty: float) -> str:
    """Print the uncertainty alone, with the digits that `measured` gives it; empty without one."""
    if not is_stated(value, uncertainty):
        return ""
    _, beside, power = _digits(value, uncertainty)
    return beside + power


def is_stated(value: float, uncertainty: float) -> bool:
    """Whether an uncertainty is finite and more than round-off."""
    return isfinite(uncertainty) and uncertainty > ROUND_OFF * abs(value)


def _digits(value: float, uncertainty: float) -> tuple[str, str, str]:
    """The digits of a value and of its uncertainty, and the power of ten that both share."""
    exponent = floor(log10(max(abs(value), uncertainty)))
    if -3 <= exponent < 5:
        decimals = uncertainty_decimals(uncertainty)
        if decimals >= 0:
            return number(value, decimals), number(uncertainty, decimals), ""
    size = 10.0**exponent
    decimals = max(uncertainty_decimals(uncertainty / size), 0)
    digits = number(value / size, decimals), number(uncertainty / size, decimals)
    return *digits, f"×10{superscript(exponent)}"


def aligned(value: float, uncertainty: float) -> str:
    """Print like `measured`, for a table: small values keep their zeros, without a power of ten."""
    if 0 < uncertainty < inf and isfinite(value) and abs(value) < _LARGE:
        decimals = uncertainty_decimals(uncertainty)
        if -_MOST_DECIMALS <= decimals <= _MOST_DECIMALS:
            return f"{number(value, decimals)} ± {number(uncertainty, decimals)}"
    return measured(value, uncertainty)


def measured_to(value: float, uncertainty: float, digits: int, unit: str = "") -> str:
    """Print value ± uncertainty with so many significant digits of the value."""
    suffix = f" {unit}" if unit else ""
    if not (isfinite(value) and isfinite(uncertainty)) or value == 0:
        return measured(value, uncertainty, unit)
    exponent = floor(log10(abs(value)))
    power = 1.0 if -3 <= exponent < 5 else 10.0**exponent
    decimals = digits - 1 - (exponent if power == 1.0 else 0)
    said = number(value / power, decimals)
    if uncertainty > ROUND_OFF * abs(value):
        least = uncertainty_decimals(uncertainty / power)
        said += f" ± {number(uncertainty / power, max(decimals, least))}"
        said = said if power == 1.0 else f"({said})"
    return f"{said}{suffix}" if power == 1.0 else f"{said}×10{superscript(exponent)}{suffix}"


def column_decimals(values: FloatArray, uncertainties: FloatArray) -> int:
    """Decimals for a column so that its digits follow the data and small values never show as 0.

    One place beyond the typical uncertainty's first digit; without uncertainties four significant
    digits of the largest value.
    """
    typical = float(np.median(uncertainties)) if len(uncertainties) else 0.0
    largest = float(np.abs(values).max()) if len(values) else 0.0
    if typical > 0:
        # three digits of the largest value at least: ten beside nine says little
        least = min(2 - floor(log10(largest)), 2) if largest > 0 else 0
        return min(max(-floor(log10(typical)), least, 0), 12)
    largest = float(np.abs(values).max()) if len(values) else 0.0
    return min(max(3 - floor(log10(largest)), 3), 12) if largest > 0 else 3


def superscript(exponent: int) -> str:
    """A whole number as an exponent."""
    return str(exponent).translate(str.maketrans("-0123456789", "⁻⁰¹²³⁴⁵⁶⁷⁸⁹"))
