"""Series of other sheets that a graph shows beside its own, and the fits of them.

They are shown in the units of the axes where these measure the same; their numbers and fits stay
as they are on their own sheet.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.dimensions import Unit
from footing.store.rows import OtherSeries
from footing.studies.model.columns import DataColumn, Series, series
from footing.studies.model.fits import FitResult
from footing.studies.model.sources import SheetSource
from footing.studies.shapes.fits import FitShape
from footing.studies.views.fit_view import fit_view


@dataclass(frozen=True)
class Guest:
    """One series of another sheet.

    points : in the units of its own sheet
    fits : those of exactly this series
    """

    points: Series
    fits: tuple[FitResult, ...]

    def points_in(self, across: Unit, up: Unit) -> Series:
        """Its points in the units of the axes; what measures something else stays as it is."""
        mine = self.points
        return replace(
            mine,
            across=_shown_in(mine.across, across),
            up=_shown_in(mine.up, up),
            x=_values_in(mine.x, mine.across, across),
            y=_values_in(mine.y, mine.up, up),
            x_errors=_sizes_in(mine.x_errors, mine.across, across),
            y_errors=_sizes_in(mine.y_errors, mine.up, up),
        )

    def fits_in(self, across: Unit, up: Unit, *, meanings: bool) -> list[FitShape]:
        """Its fits as they are shown, their curves and residuals in the units of the axes."""
        return [self._shown(fit, across, up, meanings=meanings) for fit in self.fits]

    def _shown(self, fit: FitResult, across: Unit, up: Unit, *, meanings: bool) -> FitShape:
        view = fit_view(fit, meanings=meanings)
        if view["reason"] is not None:
            return view
        x, y = (np.array(view["line"], dtype=float).reshape(-1, 2)).T
        line = (_values_in(x, self.points.across, across), _values_in(y, self.points.up, up))
        numbers, places, left = (np.array(part) for part in zip(*view["residuals"], strict=True))
        residuals = (
            numbers.tolist(),
            _values_in(places, self.points.across, across).tolist(),
            _sizes_in(left, self.points.up, up).tolist(),
        )
        return view | {
            "line": np.stack(line, axis=1).tolist(),
            "residuals": [list(row) for row in zip(*residuals, strict=True)],
        }


def guests_of(chosen: Sequence[OtherSeries], sheets: dict[int, SheetSource]) -> list[Guest]:
    """The series that a graph names, as far as their sheets and columns are still there."""
    found = []
    for one in chosen:
        source = sheets.get(one["sheet"])
        points = series(source.table, one["x"], one["y"]) if source else None
        if source is not None and points is not None:
            fits = (fit for fit in source.fits if (fit.row.x, fit.row.y) == (one["x"], one["y"]))
            found.append(Guest(points, tuple(fits)))
    return found


def _unit_in(column: DataColumn, unit: Unit) -> Unit:
    mine = column.variable.unit
    return unit if mine.converts_to(unit) else mine


def _shown_in(column: DataColumn, unit: Unit) -> DataColumn:
    return replace(column, variable=replace(column.variable, unit=_unit_in(column, unit)))


def _values_in(values: FloatArray, column: DataColumn, unit: Unit) -> FloatArray:
    base = column.variable.unit.to_base(values)
    return np.asarray(_unit_in(column, unit).from_base(base), dtype=float)


def _sizes_in(sizes: FloatArray, column: DataColumn, unit: Unit) -> FloatArray:
    """Uncertainties and residuals, which do not move with the zero of a unit."""
    return sizes * (column.variable.unit.factor / _unit_in(column, unit).factor)
