"""The predicted motions of a study, each made once and kept while what it rests on stays."""

from collections.abc import Sequence
from functools import cached_property

from footing.store.rows import MotionLeg, MotionModel
from footing.store.snapshot import StudyRows
from footing.studies.model.filmed import Filmed
from footing.studies.model.fits import FitResult
from footing.studies.model.kept import Kept
from footing.studies.model.predicting import Making
from footing.studies.model.prediction import Prediction


class Predictions:
    """The predicted motions over a footage (or those that need none), each computed once."""

    def __init__(self, rows: StudyRows, source: Filmed | None) -> None:
        self._source = source
        self.rows = rows

    @cached_property
    def all(self) -> list[Prediction]:
        """In the order in which they were made."""
        footage = self._source.row if self._source else None
        return [self._one(row) for row in self.rows.models_on(footage)]

    def trial(self, row: MotionModel, legs: Sequence[MotionLeg]) -> Prediction:
        """A model as it would be; nothing of it is kept."""
        return self._made(row, tuple(legs))

    def of(self, key: int) -> Prediction:
        """One by its key."""
        return next(one for one in self.all if one.row.id == key)

    def _one(self, row: MotionModel) -> Prediction:
        legs = self.rows.legs_of(row)
        source = self._source
        of: tuple[object, ...] = (row, legs, self.rows.quantities, self.rows.weather)
        if source is not None:
            body = next((pair for pair in source.bodies if pair[0].id == row.body_id), None)
            of += (body, source.ground, tuple(source.passages.values()))
            of += tuple(self._fits(row, legs).values())
        return _kept.get(row.id, of, lambda: self._made(row, legs))

    def _fits(self, row: MotionModel, legs: Sequence[MotionLeg]) -> dict[int, FitResult]:
        """The fits from which parameters are taken."""
        if self._source is None:
            return {}
        said = [*row.common.values(), *(one for leg in legs for one in leg.own.values())]
        wanted = {one["fit"] for one in said if one.get("how") == "fit" and "fit" in one}
        return {fit.row.id: fit for fit in self._source.fits if fit.row.id in wanted}

    def _made(self, row: MotionModel, legs: tuple[MotionLeg, ...]) -> Prediction:
        return Making(row, legs, self._source, self.rows, self._fits(row, legs)).made()


_kept: Kept[Prediction] = Kept(100)
