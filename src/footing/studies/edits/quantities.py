"""Quantities of the study, which formulas can name: a mass, an angle, g."""

from dataclasses import replace
from typing import Literal

from footing.core.dimensions import read_unit
from footing.core.units import read_number
from footing.store.rows import StudyQuantity
from footing.studies.edits.base import EditModel, Name, Typed
from footing.studies.edits.columns import UnitText
from footing.studies.edits.symbols import check_symbol
from footing.studies.work import Work


class SetQuantity(EditModel):
    """Say what a symbol stands for in the formulas of this study, as “0.250 ± 0.001” in a unit."""

    kind: Literal["set_quantity"] = "set_quantity"
    symbol: Name
    name: Name
    typed: Typed
    unit: UnitText = ""

    @property
    def label(self) -> str:
        """In the history."""
        return f"quantity {self.symbol}"

    def apply(self, work: Work) -> None:
        """Add the quantity, or change the one of this symbol."""
        check_symbol(self.symbol)
        read_number(self.typed, field="typed")
        wanted = StudyQuantity(
            study_id=work.study_id,
            symbol=self.symbol,
            name=self.name,
            typed=self.typed,
            unit=str(read_unit(self.unit)),
        )
        present = next((one for one in work.rows.quantities if one.symbol == self.symbol), None)
        if present is None:
            work.changes.insert(wanted)
        else:
            work.changes.update(replace(wanted, id=present.id))


class RemoveQuantity(EditModel):
    """Forget a quantity; formulas that name it say so."""

    kind: Literal["remove_quantity"] = "remove_quantity"
    quantity: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a quantity"

    def apply(self, work: Work) -> None:
        """Remove it."""
        work.changes.delete(work.row(StudyQuantity, self.quantity))
