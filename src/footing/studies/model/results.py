"""Findings: results with their uncertainty, budget and comparison."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from footing.core import findings
from footing.core.dimensions import Unit, read_unit
from footing.core.effects import Effects, Noise, Source
from footing.core.findings import Measured
from footing.core.fitting import Fit
from footing.core.formulas.checking import check, check_readings
from footing.core.formulas.computing import Known
from footing.core.formulas.parsing import parse
from footing.core.formulas.printing import equation, mathml
from footing.core.formulas.terms import Term
from footing.core.formulas.walking import Walker
from footing.store.rows import Finding
from footing.studies.model.columns import DataColumn
from footing.studies.model.containing import contained
from footing.studies.model.fits import FitResult
from footing.studies.model.grounds import Grounded
from footing.studies.model.predicted_results import named_values, results_of
from footing.studies.model.prediction import Prediction
from footing.words.readings import label_of


@dataclass(frozen=True)
class Result:
    """A finding with its value; ``unit`` is that of the value.

    effects : what it rests on, so that what is made of several findings has each source once
    ground : on which the fit rests, if it rests on one
    """

    row: Finding
    value: Measured
    unit: Unit
    of: str
    effects: Effects
    ground: Grounded | None = None
    formula: str | None = None


@dataclass(frozen=True)
class NoResult:
    """A finding without a value, and why."""

    row: Finding
    reason: str


class Results:
    """The findings of a study while they are computed, each once.

    Parameters
    ----------
    rows : the stored findings
    fit_of : gives the result of a fit by its key
    column_of : gives a column of a sheet by its key
    model_of : gives a predicted motion by its key
    constants : quantities of the study
    """

    def __init__(
        self,
        rows: Sequence[Finding],
        fit_of: Callable[[int], FitResult],
        column_of: Callable[[int], DataColumn | None],
        model_of: Callable[[int], Prediction],
        constants: Mapping[str, Known],
    ) -> None:
        self._rows = {row.id: row for row in rows}
        self._fit_of = fit_of
        self._column_of = column_of
        self._model_of = model_of
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
            self._found[key] = contained(
                lambda: self._result(row), lambda reason: NoResult(row, reason)
            )
            self._under_way.pop()
        return self._found[key]

    def _result(self, row: Finding) -> Result | NoResult:
        if row.column_id is not None:
            return self._mean(row)
        if row.formula is not None:
            return self._computed(row)
        if row.model_id is not None:
            return self._predicted(row)
        fit = self._fit_of(row.fit_id or 0)
        reading = fit.reading(row.reading or "")
        if reading is None or not isinstance(fit.outcome, Fit):
            if not isinstance(fit.outcome, Fit):
                return NoResult(row, fit.outcome.reason)
            title = fit.curve.title if fit.curve else "fit"
            return NoResult(row, f"The {title} has no {(row.reading or '').replace('_', ' ')}.")
        made = fit.effects
        assert made is not None
        assert fit.points is not None
        effects = made.of_reading(reading)
        held = fit.ground.grounded if fit and fit.ground else None
        what = label_of(reading, fit.points.across.variable, fit.points.up.variable)
        name = what or "".join(letter + below for letter, below in reading.formula)
        return _result(row, reading.value, reading.unit, name, effects, held)

    def _predicted(self, row: Finding) -> Result | NoResult:
        """A number that a predicted motion gives."""
        prediction = self._model_of(row.model_id or 0)
        results = results_of(prediction)
        found = next((one for one in results if one.key == row.reading), None)
        if found is None:
            problem = next(iter(prediction.problems.values()), "")
            return NoResult(row, problem or "The model does not give this number any more.")
        held = prediction.ground.grounded if prediction.ground else None
        name = f"{found.title}, {prediction.row.name}"
        return _result(row, found.value, found.unit, name, found.effects, held)

    def _mean(self, row: Finding) -> Result | NoResult:
        """The mean of the trials in a column, with its standard error."""
        column = self._column_of(row.column_id or 0)
        n = len(column.values) if column else 0
        if column is None or n < 2:
            return NoResult(row, f"A mean needs two values at least; here are {n}.")
        mean = float(column.values.mean())
        deviation = float(column.values.std(ddof=1)) / n
        on_rows = np.zeros(int(column.rows.max()) + 1)
        on_rows[column.rows] = deviation
        name = f"column {row.column_id}"
        noise = {Noise("scatter of the trials", name, n - 1): {name: on_rows}}
        shared = {Source(of): float(by.mean()) for of, by in column.shared.items()}
        effects = Effects(shared, noise)
        return _result(row, mean, column.variable.unit, f"mean of {n} values", effects)

    def inputs(self, row: Finding) -> dict[str, Known]:
        """What the formula of a finding may name: quantities, parameters, other findings."""
        known = dict(self._constants)
        fit = self._fit_of(row.fit_id) if row.fit_id is not None else None
        if fit is not None and isinstance(fit.outcome, Fit):
            for one, symbol in zip(fit.parameters, fit.outcome.curve.symbols, strict=True):
                for name in {one.key, "".join(symbol)}:
                    known[name] = Known(one.value, one.unit, one.standard_error)
        if row.model_id is not None:
            known |= _known_of(self._model_of(row.model_id))
        for other in self._rows.values():
            found = self[other.id] if other.symbol and other.id != row.id else None
            if isinstance(found, Result) and other.symbol:
                known[other.symbol] = Known(found.value.value, found.unit, found.value.uncertainty)
        return known

    def _computed(self, row: Finding) -> Result | NoResult:
        """A formula of parameters, quantities and other findings, with its uncertainty."""
        formula = parse(row.formula or "")
        named = {other.symbol for other in self._rows.values() if other.symbol}
        check_readings(formula, lambda symbol: symbol in self._constants or symbol in named)
        known = dict(self._constants)
        rests_on = {
            symbol: Effects({Source(symbol): float(one.uncertainty) * one.unit.factor})
            for symbol, one in known.items()
            if np.ndim(one.uncertainty) == 0 and one.uncertainty
        }
        fit = self._fit_of(row.fit_id) if row.fit_id is not None else None
        held = fit.ground.grounded if fit and fit.ground else None
        if fit is not None:
            if not isinstance(fit.outcome, Fit):
                return NoResult(row, fit.outcome.reason)
            made = fit.effects
            assert made is not None
            for one, symbol in zip(fit.parameters, fit.outcome.curve.symbols, strict=True):
                effects = made.of_parameter(one.key).times(one.unit.factor)
                for name in {one.key, "".join(symbol)}:
                    known[name] = Known(one.value, one.unit, one.standard_error)
                    rests_on[name] = effects
        if row.model_id is not None:
            prediction = self._model_of(row.model_id)
            held = prediction.ground.grounded if prediction.ground else None
            known |= _known_of(prediction)
            rests_on |= {one.name: one.effects for one in named_values(prediction)}
        for other in self._rows.values():
            if other.symbol and other.id != row.id and other.symbol in formula.names:
                found = self[other.id]
                if isinstance(found, NoResult):
                    return NoResult(row, f"The finding {other.name} has no value.")
                known[other.symbol] = Known(found.value.value, found.unit, found.value.uncertainty)
                rests_on[other.symbol] = found.effects.times(found.unit.factor)
                held = held or found.ground
        wanted = read_unit(row.unit) if row.unit else None
        units = {name: one.unit for name, one in known.items()}
        checked = check(formula, units, result=wanted)
        unit = wanted or checked.unit
        terms = {
            name: Term(float(known[name].unit.to_base(float(known[name].values))), {name: 1.0})
            for name in formula.names
        }
        term = Walker(terms, checked, rows=1).of(formula.root)
        value = float(unit.from_base(float(term.values)))
        if not np.isfinite(value):
            return NoResult(row, "The formula has no value here: it divides by zero, or the like.")
        total = Effects()
        for name, slope in term.slopes.items():
            by = float(slope) / unit.factor
            if not np.isfinite(by):
                return NoResult(row, f"Its uncertainty has no limit where {name} is what it is.")
            if name in rests_on:
                total = total.plus(rests_on[name].times(by))
        said = equation(row.symbol, formula) if row.symbol else mathml(formula)
        return _result(row, value, unit, "computed", total, held, said)


def _known_of(prediction: Prediction) -> dict[str, Known]:
    """The numbers of a predicted motion, as formulas take them."""
    return {
        one.name: Known(
            float(one.unit.from_base(one.value)),
            one.unit,
            findings.combine(one.value, one.effects.budget).uncertainty / one.unit.factor,
        )
        for one in named_values(prediction)
    }


def _result(
    row: Finding,
    value: float,
    unit: Unit,
    of: str,
    effects: Effects,
    ground: Grounded | None = None,
    formula: str | None = None,
) -> Result:
    """A result with what it rests on; of some only the size is wanted."""
    sign = -1.0 if row.as_size and value < 0 else 1.0
    signed = effects.times(sign)
    measured = findings.combine(sign * value, signed.budget)
    return Result(row, measured, unit, of, signed, ground, formula)
