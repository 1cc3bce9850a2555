"""Impacts: moments between two frames that no derivative, no fit and no mean crosses."""

from dataclasses import replace
from math import floor
from typing import Annotated, Literal

from pydantic import Field

from footing.core.errors import Refused
from footing.store.rows import Body, Footage, Impact, MomentumLedger
from footing.studies.edits.base import EditModel
from footing.studies.work import Work

ImpactKind = Literal["impact", "begins", "ends"]
Between = Annotated[float, Field(multiple_of=0.5, allow_inf_nan=False)]
NAMES: dict[str, str] = {
    "impact": "impact",
    "begins": "begin of the free motion",
    "ends": "end of the free motion",
}


class AddImpact(EditModel):
    """Say that something hits between two frames: 58.5 lies between 58 and 59.

    body : whose impact it is; of all bodies of the footage if empty
    of : whether something hits, or a free motion begins or ends
    """

    kind: Literal["add_impact"] = "add_impact"
    footage: int
    at: Between
    body: int | None = None
    of: ImpactKind = "impact"

    @property
    def label(self) -> str:
        """In the history."""
        return f"{NAMES[self.of]} between {floor(self.at)} and {floor(self.at) + 1}"

    def apply(self, work: Work) -> None:
        """Add it, unless it is there."""
        footage = work.row(Footage, self.footage)
        _check(work, footage, self.at, None)
        if self.body is not None and work.row(Body, self.body).footage_id != footage.id:
            raise Refused("This body is on another source.", field="body")
        work.changes.insert(
            Impact(
                study_id=work.study_id,
                footage_id=footage.id,
                body_id=self.body,
                at=self.at,
                kind=self.of,
            )
        )


class MoveImpact(EditModel):
    """Put an impact between two other frames."""

    kind: Literal["move_impact"] = "move_impact"
    impact: int
    at: Between

    @property
    def label(self) -> str:
        """In the history."""
        return f"impact between {floor(self.at)} and {floor(self.at) + 1}"

    def apply(self, work: Work) -> None:
        """Move it."""
        impact = work.row(Impact, self.impact)
        _check(work, work.row(Footage, impact.footage_id), self.at, impact)
        work.changes.update(replace(impact, at=self.at))


class ChangeImpact(EditModel):
    """Say what an impact is, and whose (of all bodies if empty)."""

    kind: Literal["change_impact"] = "change_impact"
    impact: int
    body: int | None = None
    of: ImpactKind = "impact"

    @property
    def label(self) -> str:
        """In the history."""
        return "what an impact is"

    def apply(self, work: Work) -> None:
        """Change it."""
        impact = work.row(Impact, self.impact)
        if self.body is not None and work.row(Body, self.body).footage_id != impact.footage_id:
            raise Refused("This body is on another source.", field="body")
        work.changes.update(replace(impact, body_id=self.body, kind=self.of))


class RemoveImpact(EditModel):
    """Remove an impact with its account of momenta."""

    kind: Literal["remove_impact"] = "remove_impact"
    impact: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing an impact"

    def apply(self, work: Work) -> None:
        """Remove what rests on it first."""
        remove_impact(work, work.row(Impact, self.impact))


def remove_impact(work: Work, impact: Impact) -> None:
    """Remove the account of momenta around an impact, then it."""
    ledger = work.rows.get(MomentumLedger, impact.id)
    if ledger is not None:
        work.changes.delete(ledger)
    work.changes.delete(impact)


def _check(work: Work, footage: Footage, at: float, present: Impact | None) -> None:
    if not work.kind(footage).has_time:
        raise Refused("Nothing hits in a picture; an impact is for footage.")
    if at == floor(at):
        raise Refused(
            f"An impact lies between two frames, such as {at:g} and {at + 1:g}.", field="at"
        )
    work.check_frame(footage, at, field="at")
    if any(one.at == at and one != present for one in work.rows.impacts_on(footage)):
        raise Refused(
            f"There is something between {floor(at)} and {floor(at) + 1} already.", field="at"
        )
