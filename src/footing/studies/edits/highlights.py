"""What others are to see first: columns and results that matter."""

from dataclasses import replace
from typing import Literal

from footing.core.errors import Refused
from footing.core.quantities import QUANTITIES
from footing.store.rows import Finding, Footage
from footing.studies.edits.base import EditModel
from footing.studies.edits.graphs import ColumnKey
from footing.studies.work import Work


class Highlight(EditModel):
    """Highlight a column, a measured one of a footage (by its key) or a finding, or no longer."""

    kind: Literal["highlight"] = "highlight"
    column: int | None = None
    finding: int | None = None
    footage: int | None = None
    key: ColumnKey | None = None
    highlighted: bool = True

    @property
    def label(self) -> str:
        """In the history."""
        return "what is highlighted"

    def apply(self, work: Work) -> None:
        """Keep what was chosen."""
        if [self.column, self.finding, self.footage].count(None) != 2:
            raise Refused("Name a column, a finding or a footage.", field="column")
        if self.column is not None:
            column = work.column(self.column)
            work.changes.update(replace(column, highlighted=self.highlighted))
        elif self.finding is not None:
            work.changes.update(
                replace(work.row(Finding, self.finding), highlighted=self.highlighted)
            )
        else:
            self._apply_to_measured(work, work.row(Footage, self.footage or 0))

    def _apply_to_measured(self, work: Work, footage: Footage) -> None:
        if self.key not in QUANTITIES:
            raise Refused("There is no such measured column.", field="key")
        others = [key for key in footage.highlighted if key != self.key]
        work.changes.update(
            replace(footage, highlighted=[*others, self.key] if self.highlighted else others)
        )
