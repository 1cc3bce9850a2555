"""What the graph shows, and the fits on it."""

from typing import Any, Literal

from footing.core.curves import CurveKey
from footing.core.errors import Refused
from footing.core.quantities import ON_A_PICTURE, ON_FOOTAGE, QUANTITIES, QuantityKey
from footing.store.tables import Body, Finding, Fit, Footage, Graph, Passage
from footing.studies.edits.base import EditModel
from footing.studies.work import Work


class SetGraph(EditModel):
    """Choose what is on each axis, and whether both axes must show their zero."""

    kind: Literal["set_graph"] = "set_graph"
    footage: int
    x: QuantityKey
    y: QuantityKey
    include_zero: bool = False

    @property
    def label(self) -> str:
        """In the history."""
        return f"graph of {self.y} against {self.x}"

    def apply(self, work: Work) -> None:
        """Change the source's graph; it has one from the first change on."""
        footage = work.row(Footage, self.footage)
        _check_quantities(work, footage, self.x, self.y)
        if self.x == self.y:
            raise Refused("Both axes show the same quantity; choose another for one.", field="y")
        choice = {"x": self.x, "y": self.y, "include_zero": self.include_zero}
        present = work.rows(Graph, footage=footage)
        if present:
            work.changes.update(present[0], **choice)
        else:
            work.changes.insert(Graph, footage=footage, study=work.study_id, **choice)


class AddFit(EditModel):
    """Fit a curve to a body's y against its x, over a passage or the whole span."""

    kind: Literal["add_fit"] = "add_fit"
    body: int
    x: QuantityKey
    y: QuantityKey
    curve: CurveKey
    passage: int | None = None

    @property
    def label(self) -> str:
        """In the history."""
        return f"{self.curve} fit"

    def apply(self, work: Work) -> None:
        """Add the fit; whether there are points enough is told where its result is shown."""
        if self.x == self.y:
            raise Refused("A quantity cannot be fitted against itself.", field="y")
        body = work.row(Body, self.body)
        _check_quantities(work, body.footage, self.x, self.y)
        work.changes.insert(
            Fit,
            study=work.study_id,
            body=body,
            passage=work.row(Passage, self.passage) if self.passage else None,
            x=self.x,
            y=self.y,
            curve=self.curve,
        )


class ChangeFit(EditModel):
    """Choose another curve or another passage for a fit; its series stays."""

    kind: Literal["change_fit"] = "change_fit"
    fit: int
    curve: CurveKey
    passage: int | None = None

    @property
    def label(self) -> str:
        """In the history."""
        return f"{self.curve} fit"

    def apply(self, work: Work) -> None:
        """Change the fit."""
        passage = work.row(Passage, self.passage).id if self.passage else None
        work.changes.update(work.row(Fit, self.fit), curve=self.curve, passage=passage)


class RemoveFit(EditModel):
    """Remove a fit with the findings read from it."""

    kind: Literal["remove_fit"] = "remove_fit"
    fit: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a fit"

    def apply(self, work: Work) -> None:
        """Remove what rests on it first."""
        remove_fit(work, work.row(Fit, self.fit))


def _check_quantities(work: Work, footage: Any, *keys: QuantityKey) -> None:
    """Refuse a quantity that a source of this kind does not have."""
    picture = work.picture(footage).kind == "picture"
    for key in keys:
        if key not in (ON_A_PICTURE if picture else ON_FOOTAGE):
            where = "A picture" if picture else "Footage"
            raise Refused(f"{where} gives no {QUANTITIES[key].name}.", field="y")


def remove_fit(work: Work, fit: Any) -> None:
    """Remove a fit's findings, then the fit."""
    for finding in work.rows(Finding, fit=fit):
        work.changes.delete(finding)
    work.changes.delete(fit)
