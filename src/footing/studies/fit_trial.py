"""A fit that is tried before it is kept."""

from types import SimpleNamespace
from typing import Any

from pydantic import Field

from footing.store import tables
from footing.studies.body_table import BodyTable
from footing.studies.edits.fits import AddFit
from footing.studies.fit_view import fit_view
from footing.studies.fits import fit_result
from footing.studies.sources import FootageSource, SheetSource, Sources
from footing.studies.tables_out import any_table
from footing.studies.work import Work


class TryFit(AddFit):
    """A fit that is tried, with some points moved on purpose: by their frame or row, to x and y."""

    moved: dict[int, tuple[float, float]] = Field(default_factory=dict)


def try_fit(study: Any, wanted: TryFit) -> dict[str, Any]:
    """What a fit would come to; nothing is stored, and no mark is moved."""
    values = wanted.values(Work(study.id))
    owner = f"b{wanted.body}" if wanted.body is not None else f"s{wanted.sheet}"
    table = any_table(study, owner)
    sources = Sources(study.id)
    source: FootageSource | SheetSource
    if isinstance(table, BodyTable):
        source = sources.footage(table.row.footage)
    else:
        source = sources.sheet(tables.Sheet.get_by_id(table.owner.id))
    row = SimpleNamespace(
        id=0, x=wanted.x, y=wanted.y, label=None, dashed=True, colour=None, box=None, **values
    )
    ground = None
    if isinstance(source, FootageSource) and isinstance(table, BodyTable):
        ground = source.ground_of(table.row.id)
    found = fit_result(
        row, table, source.passages, source.quantities, moved=wanted.moved, ground=ground
    )
    return fit_view(found)
