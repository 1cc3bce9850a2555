"""Fits and findings of a study, computed from its marks and said in words and units."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from footing.core import findings, meaning
from footing.core.arrays import FloatArray, IntArray
from footing.core.curves import CURVES
from footing.core.findings import Contribution, Measured
from footing.core.fitting import Fit, NoFit, fit_curve, interval_factor
from footing.core.meaning import Reading
from footing.core.quantities import QUANTITIES, Quantity
from footing.core.soundness import readout_effect
from footing.core.units import read_number
from footing.studies.grounds import Grounded
from footing.studies.motions import BodyMotion

_CURVE_POINTS = 120
_CLOSE = 0.01  # uncertainties, below which the distance of two values is round-off
_ACCELERATION = -2  # power of time


@dataclass(frozen=True)
class Series:
    """The points of one body for a pair of quantities, in rising frames."""

    frames: IntArray
    x: FloatArray
    y: FloatArray
    covariance: Any

    def within(self, first: float, last: float) -> "Series":
        """The points of the frames first … last."""
        rows = np.flatnonzero((self.frames >= first) & (self.frames <= last))
        return Series(
            self.frames[rows],
            self.x[rows],
            self.y[rows],
            self.covariance(rows) if self.covariance else None,
        )


def series(body: BodyMotion, x: Quantity, y: Quantity) -> Series:
    """The points that have both quantities."""
    across, up = body.motion.column(x.key), body.motion.column(y.key)
    common, in_x, in_y = np.intersect1d(across.index, up.index, return_indices=True)
    covariance = body.motion.covariance(y.key)
    return Series(
        body.frames[common],
        across.values[in_x],
        up.values[in_y],
        (lambda rows: covariance(in_y[rows])) if covariance else None,
    )


@dataclass(frozen=True)
class FitResult:
    """A stored fit with what it comes to now."""

    row: Any
    body: BodyMotion
    x: Quantity
    y: Quantity
    points: Series
    outcome: Fit | NoFit
    readings: tuple[Reading, ...]
    parameters: tuple[Reading, ...]

    def reading(self, key: str) -> Reading | None:
        """A reading or parameter by its key."""
        return next((one for one in (*self.readings, *self.parameters) if one.key == key), None)


def fit_result(row: Any, body: BodyMotion, *, length_unit: str) -> FitResult:
    """Compute a stored fit."""
    x, y = QUANTITIES[row.x], QUANTITIES[row.y]
    passage = row.passage
    ends = (passage.first, passage.last) if passage else (0, np.inf)
    points = series(body, x, y).within(*ends)
    outcome = fit_curve(points.x, points.y, CURVES[row.curve], covariance=points.covariance)
    if isinstance(outcome, NoFit):
        return FitResult(row, body, x, y, points, outcome, (), ())
    across, up = (meaning.variable(one, length_unit=length_unit) for one in (x, y))
    ends = (float(points.x.min()), float(points.x.max()))
    said = meaning.readings(outcome, across, up, start=ends[0], end=ends[1])
    bare = meaning.parameters(outcome, across, up)
    return FitResult(row, body, x, y, points, outcome, tuple(said), tuple(bare))


def fit_view(result: FitResult, *, length_unit: str) -> dict[str, Any]:
    """A fit as it is shown."""
    row = result.row
    view: dict[str, Any] = {
        "id": row.id,
        "body": row.body_id,
        "passage": row.passage_id,
        "x": row.x,
        "y": row.y,
        "curve": row.curve,
        "title": CURVES[row.curve].title,
        "n": len(result.points.x),
    }
    outcome = result.outcome
    if isinstance(outcome, NoFit):
        return view | {"reason": outcome.reason}
    factor = interval_factor(outcome.dof)

    def shown(reading: Reading) -> dict[str, Any]:
        half = factor * reading.standard_error
        ends = (reading.value - half, reading.value + half)
        return {
            "key": reading.key,
            "label": reading.label,
            "formula": [list(piece) for piece in reading.formula],
            "text": findings.measured(reading.value, reading.standard_error, str(reading.unit)),
            "interval": _interval(*ends),
            "outside": reading.outside,
        }

    return view | {
        "reason": None,
        "parameters": [shown(one) for one in result.parameters],
        "readings": [shown(one) for one in result.readings],
        "scatter": f"{findings.significant(outcome.scatter, 2)} "
        f"{result.y.dimension.unit(length=length_unit)}".strip(),
        "r_squared": None if outcome.r_squared is None else _r_squared(outcome.r_squared),
        "line": _line(result, outcome),
        "residuals": [
            [int(frame), float(x), float(residual)]
            for frame, x, residual in zip(
                result.points.frames, result.points.x, outcome.residuals, strict=True
            )
        ],
    }


def finding_view(row: Any, result: FitResult, grounded: Grounded) -> dict[str, Any]:
    """A finding as it is shown: value ± uncertainty, budget, comparison."""
    view: dict[str, Any] = {
        "id": row.id,
        "fit": row.fit_id,
        "name": row.name,
        "as_size": row.as_size,
        "accepted": row.accepted or "",
        "accepted_uncertainty": row.accepted_uncertainty or "",
    }
    reading = result.reading(row.reading)
    if reading is None or isinstance(result.outcome, NoFit):
        reason = (
            result.outcome.reason
            if isinstance(result.outcome, NoFit)
            else f"The {CURVES[result.row.curve].title} has no {row.reading.replace('_', ' ')}."
        )
        return view | {"reason": reason}
    unit = str(reading.unit)
    value = _combined(row, reading, result, grounded)
    shares = [
        {
            "source": part.source,
            "text": findings.significant(part.uncertainty, 2),
            "share": round(100 * (part.uncertainty / value.uncertainty) ** 2)
            if value.uncertainty
            else 0,
        }
        for part in value.budget
    ]
    return view | {
        "reason": None,
        "of": reading.label or "parameter",
        "text": findings.measured(value.value, value.uncertainty, unit),
        "unit": unit,
        "interval": _interval(value.value - value.half_width, value.value + value.half_width),
        "budget": shares,
        "comparison": _comparison(row, value, reading, grounded),
    }


def _combined(row: Any, reading: Reading, result: FitResult, grounded: Grounded) -> Measured:
    """Fit and ground combined: each part enters in the reading's power of length or time."""
    value = abs(reading.value) if row.as_size else reading.value
    assert isinstance(result.outcome, Fit)
    budget = [Contribution("fit", reading.standard_error, result.outcome.dof)]
    if power := float(abs(grounded.length_power(reading.unit))):
        budget += [
            Contribution(name, abs(value) * power * relative)
            for name, relative in grounded.length_parts(result.body.pixels)
        ]
    in_time = reading.unit.power_of("s")
    if (power := float(abs(in_time))) and grounded.clock.relative:
        budget.append(Contribution("clock", abs(value) * power * grounded.clock.relative))
    if in_time == _ACCELERATION and (effect := readout_share(result.body, grounded)):
        budget.append(Contribution("row readout", abs(value) * effect))
    return findings.combine(value, tuple(budget))


def readout_share(body: BodyMotion, grounded: Grounded) -> float | None:
    """Relative effect of the row readout on an acceleration of a body; None where unknown."""
    per_row = grounded.seconds_per_row
    if per_row is None:
        return None
    return readout_effect(grounded.readout_speed(body.frames, body.pixels), per_row)


def _comparison(
    row: Any, value: Measured, reading: Reading, grounded: Grounded
) -> dict[str, Any] | None:
    if not row.accepted:
        return None
    if grounded.metres is None and grounded.length_power(reading.unit):
        made_up = f" in metres; here lengths are in {grounded.length_unit}"
        return {
            "needs": "Comparing with a value in metres needs a known length"
            + (made_up + "." if grounded.has_unit else "; draw one at Ground.")
        }
    accepted = read_number(row.accepted, field="accepted").value
    u = (
        read_number(row.accepted_uncertainty, field="accepted_uncertainty").value
        if row.accepted_uncertainty
        else 0.0
    )
    in_base = findings.scaled(value, reading.unit.factor)
    compared = findings.compare(in_base, accepted, accepted_uncertainty=u)
    percent = compared.percent_error
    return {
        "needs": None,
        "percent": None if percent is None else f"{findings.signed(percent, 1)} %",
        "verdict": compared.verdict,
        "distance": findings.significant(compared.distance, 2)
        if compared.distance >= _CLOSE
        else "less than 0.01",
        "opposite_sign": compared.opposite_sign,
        "accepted_unit": str(reading.unit.in_si),
    }


def _line(result: FitResult, outcome: Fit) -> list[list[float]]:
    x = np.linspace(result.points.x.min(), result.points.x.max(), _CURVE_POINTS)
    return [[float(a), float(b)] for a, b in zip(x, outcome.predict(x), strict=True)]


def _interval(low: float, high: float) -> str:
    half = (high - low) / 2
    if not half > 0:
        return findings.significant(low)
    if not 1e-3 <= max(abs(low), abs(high)) < 1e5:
        return f"{findings.significant(low, 3)} … {findings.significant(high, 3)}"
    decimals = max(findings.uncertainty_decimals(half), 0)
    return f"{findings.number(low, decimals)} … {findings.number(high, decimals)}"


def _r_squared(value: float) -> str:
    """As many nines as it has, and two digits more; never rounded up to 1."""
    decimals = 4
    while decimals < 12 and value < 1 and round(value, decimals) == 1:
        decimals += 2
    return findings.number(value, decimals)
