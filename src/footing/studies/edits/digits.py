"""How many digits the measured columns of a source show."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from footing.core.errors import Refused
from footing.core.quantities import QUANTITIES
from footing.store.rows import Footage
from footing.studies.edits.base import EditModel
from footing.studies.edits.graphs import ColumnKey
from footing.studies.work import Work


class SetDigits(EditModel):
    """Choose the digits of a measured column; without a number they follow the data."""

    kind: Literal["set_digits"] = "set_digits"
    footage: int
    key: ColumnKey
    digits: Annotated[int, Field(ge=0, le=12)] | None = None
    digits_as: Literal["decimals", "significant"] = "decimals"

    @property
    def label(self) -> str:
        """In the history."""
        return "digits of a column"

    def apply(self, work: Work) -> None:
        """Keep what was chosen."""
        if self.key not in QUANTITIES:
            raise Refused("There is no such measured column.", field="key")
        footage = work.row(Footage, self.footage)
        chosen = {key: said for key, said in footage.digits.items() if key != self.key}
        if self.digits is not None:
            chosen[self.key] = [self.digits, self.digits_as]
        work.changes.update(replace(footage, digits=chosen))
