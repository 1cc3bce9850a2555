"""Quantities of the study, which formulas can name: a mass, an angle, g."""

from dataclasses import replace
from typing import Literal

from footing.core.dimensions import read_unit
from footing.core.errors import Refused
from footing.core.gravity import LOCAL, free_fall
from footing.core.units import read_number
from footing.store.rows import StudyQuantity
from footing.studies.edits.base import EditModel, Name, Typed
from footing.studies.edits.columns import UnitText
from footing.studies.edits.symbols import check_symbol
from footing.studies.work import Work

_POLE = 90.0  # degrees
_LOWEST, _HIGHEST = -450.0, 9000.0  # m


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


class SetGravity(EditModel):
    """Say g by where the film was made: latitude in degrees, height above the sea in metres."""

    kind: Literal["set_gravity"] = "set_gravity"
    latitude: Typed
    height: Typed = ""

    @property
    def label(self) -> str:
        """In the history."""
        return "g at a place"

    def apply(self, work: Work) -> None:
        """Keep g as a quantity of the study, to the digits that are known without measuring."""
        latitude = read_number(self.latitude, field="latitude").value
        height = read_number(self.height, field="height").value if self.height else 0.0
        if not -_POLE <= latitude <= _POLE:
            raise Refused("A latitude lies between −90 and 90 degrees.", field="latitude")
        if not _LOWEST <= height <= _HIGHEST:
            raise Refused(
                f"A height above the sea lies between {_LOWEST:g} and {_HIGHEST:g} m.",
                field="height",
            )
        typed = f"{free_fall(latitude, height):.4f} ± {LOCAL:g}"
        SetQuantity(symbol="g", name="free fall", typed=typed, unit="m/s^2").apply(work)


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
