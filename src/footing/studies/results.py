"""Findings: results with their uncertainty, budget and comparison."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from math import inf, sqrt
from typing import Any

import numpy as np

from footing.core import findings
from footing.core.dimensions import Unit, read_quantity, read_unit
from footing.core.errors import FootingError
from footing.core.findings import Contribution, Measured
from footing.core.fitting import Fit
from footing.core.formulas.checking import check
from footing.core.formulas.computing import Known, Term, Walker
from footing.core.formulas.parsing import parse
from footing.core.formulas.printing import equation, mathml
from footing.core.soundness import readout_effect
from footing.core.units import read_number
from footing.studies.fits import FitResult, interval
from footing.studies.grounds import Grounded
from footing.studies.motions import BodyMotion
from footing.studies.sheets import SheetTable, key_of

_CLOSE = 0.01  # uncertainties, below which the distance of two values is round-off
_ACCELERATION = -2  # power of time


@dataclass(frozen=True)
class Result:
    """A finding with its value; ``unit`` is that of the value.

    ground : on which the fit rests, if it rests on one
    """

    row: Any
    value: Measured
    unit: Unit
    of: str
    ground: Grounded | None = None
    formula: str | None = None


@dataclass(frozen=True)
class NoResult:
    """A finding without a value, and why."""

    row: Any
    reason: str


@dataclass(frozen=True)
class Ground:
    """What a fit rests on: the ground of its footage and the motion of its body."""

    grounded: Grounded
    body: BodyMotion


class Results:
    """The findings of a study while they are computed, each once.

    Parameters
    ----------
    rows : the stored findings
    fit_of : gives the result of a fit by its key, with the ground it rests on
    constants : quantities of the study
    """

    def __init__(
        self,
        rows: list[Any],
        fit_of: Callable[[int], tuple[FitResult, Ground | None]],
        constants: Mapping[str, Known],
    ) -> None:
        self._rows = {row.id: row for row in rows}
        self._fit_of = fit_of
        self._constants = constants
        self._found: dict[int, Result | NoResult] = {}
        self._under_way: list[int] = []

    def __getitem__(self, key: int) -> Result | NoResult:
        """A finding by its key."""
        if key not in self._found:
            row = self._rows[key]
            if key in self._under_way:
                return NoResult(row, "Its formula goes round in a circle.")
            self._under_way.append(key)
            try:
                self._found[key] = self._result(row)
            except FootingError as error:
                self._found[key] = NoResult(row, str(error))
            self._under_way.pop()
        return self._found[key]

    def _result(self, row: Any) -> Result | NoResult:
        if row.column_id is not None:
            return self._mean(row)
        if row.formula is not None:
            return self._computed(row)
        fit, ground = self._fit_of(row.fit_id)
        reading = fit.reading(row.reading)
        if reading is None or not isinstance(fit.outcome, Fit):
            if not isinstance(fit.outcome, Fit):
                return NoResult(row, fit.outcome.reason)
            title = fit.curve.title if fit.curve else "fit"
            return NoResult(row, f"The {title} has no {row.reading.replace('_', ' ')}.")
        value = _sized(row, reading.value)
        budget = [Contribution("fit", reading.standard_error, fit.outcome.dof)]
        if ground is not None:
            budget += ground_parts(ground, **_enters(ground, [(value, reading.unit)]))
        return Result(
            row,
            findings.combine(value, tuple(budget)),
            reading.unit,
            reading.label or "parameter",
            ground.grounded if ground else None,
        )

    def _mean(self, row: Any) -> Result | NoResult:
        """The mean of the trials in a column, with its standard error."""
        column = SheetTable(row.column.sheet).column(key_of(row.column))
        n = len(column.values) if column else 0
        if column is None or n < 2:
            return NoResult(row, f"A mean needs two values at least; here are {n}.")
        mean = float(column.values.mean())
        error = float(column.values.std(ddof=1)) / sqrt(n)
        measured = findings.combine(
            _sized(row, mean), (Contribution("scatter of the trials", error, n - 1),)
        )
        return Result(row, measured, column.variable.unit, f"mean of {n} values")

    def _computed(self, row: Any) -> Result | NoResult:
        """A formula of parameters, quantities and other findings, with its uncertainty."""
        formula = parse(row.formula)
        known = dict(self._constants)
        outcome, parameters = None, {}
        fit, ground = self._fit_of(row.fit_id) if row.fit_id is not None else (None, None)
        if fit is not None:
            if not isinstance(fit.outcome, Fit):
                return NoResult(row, fit.outcome.reason)
            outcome = fit.outcome
            for one, symbol in zip(fit.parameters, outcome.curve.symbols, strict=True):
                for name in {one.key, "".join(symbol)}:
                    parameters[name] = one.key
                    known[name] = Known(one.value, one.unit, one.standard_error)
        for other in self._rows.values():
            if other.symbol and other.id != row.id and other.symbol in formula.names:
                found = self[other.id]
                if isinstance(found, NoResult):
                    return NoResult(row, f"The finding {other.name} has no value.")
                known[other.symbol] = Known(found.value.value, found.unit, found.value.uncertainty)
        wanted = read_unit(row.unit) if row.unit else None
        units = {name: one.unit for name, one in known.items()}
        checked = check(formula, units, result=wanted)
        unit = wanted or checked.unit
        terms = {
            name: Term(
                float(known[name].unit.to_base(float(known[name].values))),
                {parameters.get(name, name): 1.0},
            )
            for name in formula.names
        }
        term = Walker(terms, checked, rows=1).of(formula.root)
        value = float(unit.from_base(float(term.values)))
        if not np.isfinite(value):
            return NoResult(row, "The formula has no value here: it divides by zero, or the like.")
        slopes = {name: float(slope) / unit.factor for name, slope in term.slopes.items()}
        budget: list[Contribution] = []
        if fit is not None and outcome is not None:
            names = list(outcome.curve.names)
            factors = [one.unit.factor for one in fit.parameters]
            gradient = np.array([slopes.get(name, 0.0) for name in names]) * factors
            variance = float(gradient @ outcome.covariance @ gradient)
            budget.append(Contribution("fit", sqrt(max(variance, 0.0)), outcome.dof))
            if ground is not None:
                shares = [
                    (slopes.get(one.key, 0.0) * one.value * one.unit.factor, one.unit)
                    for one in fit.parameters
                ]
                budget += ground_parts(ground, **_enters(ground, shares))
        for name in formula.names:
            if name not in parameters and np.any(known[name].uncertainty):
                size = float(known[name].uncertainty) * known[name].unit.factor
                budget.append(Contribution(name, abs(slopes.get(name, 0.0)) * size, inf))
        measured = findings.combine(_sized(row, value), tuple(budget))
        said = equation(row.symbol, formula) if row.symbol else mathml(formula)
        held = ground.grounded if ground else None
        return Result(row, measured, unit, "computed", held, said)


def _sized(row: Any, value: float) -> float:
    return abs(value) if row.as_size else value


def ground_parts(
    ground: Ground, *, by_length: float, by_time: float, by_acceleration: float
) -> list[Contribution]:
    """What scale, clock and row readout add.

    Parameters
    ----------
    by_length, by_time : change of the result for a relative change of all lengths, of all times
    by_acceleration : the same for all accelerations
    """
    grounded, budget = ground.grounded, []
    if by_length:
        budget += [
            Contribution(name, abs(by_length) * relative)
            for name, relative in grounded.length_parts(ground.body.pixels)
        ]
    if by_time and grounded.clock.relative:
        budget.append(Contribution("clock", abs(by_time) * grounded.clock.relative))
    effect = readout_share(ground.body, grounded) if by_acceleration else None
    if effect:
        budget.append(Contribution("row readout", abs(by_acceleration) * effect))
    return budget


def _enters(ground: Ground, parts: list[tuple[float, Unit]]) -> dict[str, float]:
    """How lengths, times and accelerations enter a result.

    ``parts`` are the measured values in it, each as its share (slope × value) and its unit.
    """
    return {
        "by_length": sum(
            share * float(ground.grounded.length_power(unit)) for share, unit in parts
        ),
        "by_time": sum(share * float(unit.power_of("s")) for share, unit in parts),
        "by_acceleration": sum(
            share for share, unit in parts if unit.power_of("s") == _ACCELERATION
        ),
    }


def readout_share(body: BodyMotion, grounded: Grounded) -> float | None:
    """Relative effect of the row readout on an acceleration of a body; None where unknown."""
    per_row = grounded.seconds_per_row
    if per_row is None:
        return None
    return readout_effect(grounded.readout_speed(body.frames, body.pixels), per_row)


def finding_view(row: Any, results: Results) -> dict[str, Any]:
    """A finding as it is shown: value ± uncertainty, budget, comparisons."""
    view: dict[str, Any] = {
        "id": row.id,
        "fit": row.fit_id,
        "name": row.name,
        "symbol": row.symbol or "",
        "other": row.other_id,
        "formula": row.formula,
        "as_size": row.as_size,
        "highlighted": row.highlighted,
        "accepted": row.accepted or "",
        "accepted_uncertainty": row.accepted_uncertainty or "",
    }
    found = results[row.id]
    if isinstance(found, NoResult):
        return view | {"reason": found.reason}
    value = found.value
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
        "of": found.of,
        "shown_formula": found.formula,
        "text": findings.measured(value.value, value.uncertainty, str(found.unit)),
        "unit": str(found.unit),
        "interval": interval(value.value - value.half_width, value.value + value.half_width),
        "budget": shares,
        "accepted_unit": str(_compared_in(found)),
        "comparison": _comparison(row, found),
        "difference": _difference(found, results[row.other_id]) if row.other_id else None,
    }


def _comparison(row: Any, found: Result) -> dict[str, Any] | None:
    if not row.accepted:
        return None
    ground = found.ground
    if ground is not None and ground.metres is None and ground.length_power(found.unit):
        made_up = f" in metres; here lengths are in {ground.length_unit}"
        return {
            "needs": "Comparing with a value in metres needs a known length"
            + (made_up + "." if ground.has_unit else "; draw one at Ground.")
        }
    typed, unit = read_quantity(row.accepted, field="accepted")
    said = row.accepted if unit else f"{row.accepted} {_compared_in(found)}".strip()
    unit = unit or _compared_in(found)
    if not unit.converts_to(found.unit):
        return {"needs": f"{row.accepted} and {found.unit or 'a plain number'} do not go together."}
    u = (
        read_number(row.accepted_uncertainty, field="accepted_uncertainty").value
        if row.accepted_uncertainty
        else 0.0
    )
    in_unit = findings.scaled(found.value, found.unit.factor / unit.factor)
    compared = findings.compare(in_unit, typed.value, accepted_uncertainty=u)
    percent = compared.percent_error
    return {
        "needs": None,
        "percent": None if percent is None else f"{findings.signed(percent, 1)} %",
        "verdict": compared.verdict,
        "distance": _distance(compared.distance),
        "opposite_sign": compared.opposite_sign,
        "accepted": said,
    }


def _compared_in(found: Result) -> Unit:
    """The unit of an accepted value that was typed without one."""
    return found.unit.in_si if found.ground is not None else found.unit


def _difference(found: Result, other: Result | NoResult) -> dict[str, Any]:
    """Percent difference of two measured values: their difference over their mean."""
    if isinstance(other, NoResult):
        return {"needs": f"{other.row.name} has no value."}
    if not other.unit.converts_to(found.unit):
        return {"needs": f"{other.row.name} is in {other.unit or 'no unit'}: no comparison."}
    there = findings.scaled(other.value, other.unit.factor / found.unit.factor)
    compared = findings.compare(found.value, there.value, accepted_uncertainty=there.uncertainty)
    mean = (abs(found.value.value) + abs(there.value)) / 2
    percent = 100 * abs(found.value.value - there.value) / mean if mean else None
    return {
        "needs": None,
        "name": other.row.name,
        "percent": None if percent is None else f"{findings.number(percent, 1)} %",
        "verdict": compared.verdict,
        "distance": _distance(compared.distance),
    }


def _distance(distance: float) -> str:
    return findings.significant(distance, 2) if distance >= _CLOSE else "less than 0.01"
