"""Predicted motions to be taken out as a table."""

from footing.store.access import ClassStudy
from footing.store.reading import read_study
from footing.studies.model.keys import SourceKey
from footing.studies.model.sources import Sources
from footing.studies.views.model_file import as_csv as written


def as_csv(study: ClassStudy, source: str | None) -> bytes:
    """The models over a source as CSV; without a footage there, those that need none.

    Raises
    ------
    NotThere : if no model has a motion.
    """
    sources = Sources(read_study(study.id))
    wanted = SourceKey.read(source)
    footages, sheets = sources.rows.footages, sources.rows.sheets
    row = next((one for one in footages if SourceKey("footage", one.id) == wanted), None)
    named = wanted is not None and any(SourceKey("sheet", one.id) == wanted for one in sheets)
    if row is None and footages and not named:
        row = footages[0]
    if row is None:
        return written(sources.predictions, None)
    over = sources.footage(row)
    return written(over.predictions, over)
