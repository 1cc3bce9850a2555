"""A model that is tried with another parameter, while a slider moves; nothing is stored."""

from footing.core.errors import Refused
from footing.store.access import ClassStudy
from footing.store.reading import read_study
from footing.store.rows import Footage, MotionModel
from footing.studies.edits.parameters import SetParameter
from footing.studies.model.sources import Sources
from footing.studies.shapes.state import TriedModelShape
from footing.studies.views.model_view import one_tried
from footing.studies.work import Work


def try_parameter(study: ClassStudy, wanted: SetParameter, quantity: str) -> TriedModelShape:
    """What a model would be with a parameter, and the graph of all models with it.

    Raises
    ------
    Refused : if the parameter cannot be.
    """
    draft = read_study(study.id).draft()
    row = draft.get(MotionModel, wanted.model)
    if row is None:
        raise Refused("This model is not there any more.")
    wanted.apply(Work(draft, {}))
    sources = Sources(draft)
    if row.footage_id is None:
        return one_tried(sources.predictions, None, row.id, quantity)
    source = sources.footage(draft.find(Footage, row.footage_id))
    return one_tried(source.predictions, source, row.id, quantity)
