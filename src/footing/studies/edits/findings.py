"""Findings: results read from fits, computed from them or averaged, and what they compare with."""

from dataclasses import replace
from itertools import count
from typing import Annotated, Literal

from pydantic import StringConstraints

from footing.core.dimensions import read_quantity, read_unit
from footing.core.errors import Refused
from footing.core.formulas.functions import OF_A_CURVE
from footing.core.formulas.parsing import parse
from footing.core.units import read_positive
from footing.store.rows import Body, BodyColumn, Finding, Fit, MotionModel
from footing.studies.edits.base import EditModel, Name, Typed
from footing.studies.edits.columns import FormulaText, UnitText
from footing.studies.edits.fits import remove_finding
from footing.studies.edits.report import rename_in_report
from footing.studies.edits.symbols import check_symbol
from footing.studies.work import Work

_LONGEST_NAME, _ROOM_FOR_OWNER = 60, 30  # characters


class Comparing(EditModel):
    """The fields that a person chooses for a finding.

    other : a second finding that it is compared with
    symbol : by which the formulas of other findings can name it
    """

    name: Name
    as_size: bool = False
    accepted: Typed = ""
    accepted_uncertainty: Typed = ""
    symbol: Typed = ""
    other: int | None = None

    def comparing(self, work: Work, finding: Finding) -> Finding:
        """A finding with what is chosen here, once checked."""
        if self.accepted:
            read_quantity(self.accepted, field="accepted")
        if self.accepted_uncertainty:
            read_positive(
                self.accepted_uncertainty, field="accepted_uncertainty", what="An uncertainty"
            )
        if self.symbol:
            _check_symbol(work, self.symbol, own=finding.id)
        if self.other is not None:
            if self.other == finding.id:
                raise Refused("Compare it with another finding.", field="other")
            work.row(Finding, self.other)
        return replace(
            finding,
            name=self.name,
            as_size=self.as_size,
            accepted=self.accepted or None,
            accepted_uncertainty=self.accepted_uncertainty or None,
            symbol=self.symbol or None,
            other_id=self.other,
        )


class AddFinding(Comparing):
    """Record a result: a reading of a fit or of a model, a formula, or the mean of a column.

    A formula may name the parameters of the fit or of the model, quantities of the study and the
    symbols of other findings.
    """

    kind: Literal["add_finding"] = "add_finding"
    fit: int | None = None
    reading: Annotated[str, StringConstraints(max_length=60)] | None = None
    formula: FormulaText | None = None
    unit: UnitText = ""
    column: int | None = None
    model: int | None = None

    @property
    def label(self) -> str:
        """In the history."""
        return f"finding “{self.name}”"

    def apply(self, work: Work) -> None:
        """Add the finding."""
        if sum((self.reading is not None, self.formula is not None, self.column is not None)) != 1:
            raise Refused("A finding is a reading, a formula or the mean of a column.")
        if self.reading is not None and (self.fit is None) == (self.model is None):
            raise Refused("Name the fit or the model that the reading comes from.", field="fit")
        if self.model is not None:
            work.row(MotionModel, self.model)
        if self.formula is not None:
            check_formula(self.formula)
        if self.fit is not None:
            work.row(Fit, self.fit)
        if self.column is not None and isinstance(work.column(self.column), BodyColumn):
            raise Refused(
                "This column is one of every body; fit a constant to the values of the one you "
                "mean.",
                field="column",
            )
        plain = Finding(
            study_id=work.study_id,
            fit_id=self.fit,
            reading=self.reading,
            formula=self.formula,
            unit=str(read_unit(self.unit)) or None,
            column_id=self.column,
            model_id=self.model,
            name=self.name,
            as_size=self.as_size,
        )
        named = replace(self.comparing(work, plain), name=self._free_name(work))
        work.changes.insert(named)

    def _free_name(self, work: Work) -> str:
        """The name, with what tells it apart from findings that have it already."""
        taken = {row.name for row in work.rows.findings}
        if self.name not in taken:
            return self.name
        fit = work.row(Fit, self.fit) if self.fit is not None else None
        model = work.row(MotionModel, self.model) if self.model is not None else None
        key = fit.body_id if fit else model.body_id if model else None
        if key is not None:
            body = work.row(Body, key)
            told = f"{self.name[:_ROOM_FOR_OWNER]} of {body.name}"[:_LONGEST_NAME]
            if told not in taken:
                return told
        return next(
            told for n in count(2) if (told := f"{self.name[: _LONGEST_NAME - 4]} {n}") not in taken
        )


class ChangeFinding(Comparing):
    """Rename a finding, take its size, or compare it with something else."""

    kind: Literal["change_finding"] = "change_finding"
    finding: int

    @property
    def label(self) -> str:
        """In the history."""
        return f"finding “{self.name}”"

    def apply(self, work: Work) -> None:
        """Change the finding."""
        before = work.row(Finding, self.finding)
        work.changes.update(self.comparing(work, before))
        rename_in_report(work, before, self.name)


class RemoveFinding(EditModel):
    """Remove a finding."""

    kind: Literal["remove_finding"] = "remove_finding"
    finding: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a finding"

    def apply(self, work: Work) -> None:
        """Remove it."""
        remove_finding(work, work.row(Finding, self.finding))


def check_formula(text: str) -> None:
    """Refuse a formula that cannot be read, or looks at the rows of a column."""
    formula = parse(text)
    columns = formula.functions - OF_A_CURVE
    if columns:
        raise Refused(
            f"{min(columns)}() is for columns; a finding is computed from single values.",
            field="formula",
        )


def _check_symbol(work: Work, symbol: str, *, own: int) -> None:
    check_symbol(symbol)
    if any(one.symbol == symbol and one.id != own for one in work.rows.findings):
        raise Refused(f"Another finding has the symbol {symbol} already.", field="symbol")
