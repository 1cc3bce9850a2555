"""A fit that is tried before it is kept."""

from pydantic import Field

from footing.store.access import ClassStudy
from footing.store.reading import read_study
from footing.studies.edits.fits import AddFit
from footing.studies.model.columns import DataTable
from footing.studies.model.fits import fit_result
from footing.studies.model.sources import FootageSource, Sources
from footing.studies.shapes.fits import FitShape
from footing.studies.views.fit_view import fit_view
from footing.studies.work import Work


class TryFit(AddFit):
    """A fit that is tried, with some points moved on purpose: by their frame or row, to x and y."""

    moved: dict[int, tuple[float, float]] = Field(default_factory=dict)


def try_fit(study: ClassStudy, wanted: TryFit) -> FitShape:
    """What a fit would come to; nothing is stored, and no mark is moved."""
    rows = read_study(study.id)
    fit = wanted.fit(Work(rows.draft(), {"dashed": True}))
    sources = Sources(rows)
    source = sources.source_of(fit)
    table: DataTable
    ground = None
    if isinstance(source, FootageSource):
        table = source.every_table[fit.body_id or 0]
        ground = source.ground_of(fit.body_id or 0)
    else:
        table = source.table
    found = fit_result(
        fit, table, source.passages, source.quantities, moved=wanted.moved, ground=ground
    )
    return fit_view(found)
