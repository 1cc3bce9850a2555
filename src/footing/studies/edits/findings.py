"""Findings: results read from fits, and what they are compared with."""

from typing import Literal

from footing.core.units import read_number, read_positive
from footing.store.tables import Finding, Fit
from footing.studies.edits.base import EditModel, Name, Typed
from footing.studies.work import Work


class Comparing(EditModel):
    """The fields that a person chooses for a finding."""

    name: Name
    as_size: bool = False
    accepted: Typed = ""
    accepted_uncertainty: Typed = ""

    @property
    def columns(self) -> dict[str, str | bool | None]:
        """The columns, once checked."""
        if self.accepted:
            read_number(self.accepted, field="accepted")
        if self.accepted_uncertainty:
            read_positive(
                self.accepted_uncertainty, field="accepted_uncertainty", what="An uncertainty"
            )
        return {
            "name": self.name,
            "as_size": self.as_size,
            "accepted": self.accepted or None,
            "accepted_uncertainty": self.accepted_uncertainty or None,
        }


class AddFinding(Comparing):
    """Record a reading of a fit as a result."""

    kind: Literal["add_finding"] = "add_finding"
    fit: int
    reading: Name

    @property
    def label(self) -> str:
        """In the history."""
        return f"finding “{self.name}”"

    def apply(self, work: Work) -> None:
        """Add the finding."""
        fit = work.row(Fit, self.fit)
        work.changes.insert(
            Finding, study=work.study_id, fit=fit, reading=self.reading, **self.columns
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
        work.changes.update(work.row(Finding, self.finding), **self.columns)


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
        work.changes.delete(work.row(Finding, self.finding))
