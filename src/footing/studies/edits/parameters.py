"""Parameters of predicted motions: where each comes from."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import StringConstraints

from footing.core.dimensions import parted, read_unit
from footing.core.drag import DRAG_SHAPES
from footing.core.errors import Refused
from footing.core.prediction.parameters import PARAMETERS, START, parameter
from footing.store.rows import (
    Fit,
    ModelParameter,
    MotionLeg,
    MotionModel,
)
from footing.studies.edits.base import EditModel, Typed
from footing.studies.edits.columns import UnitText
from footing.studies.model.surroundings import read_typed
from footing.studies.work import Work

How = Literal["typed", "marks", "fit", "begin", "known"]


class SetParameter(EditModel):
    """Say where a parameter of a model comes from.

    leg : whose it is; of all legs if empty
    how : ``typed``; ``marks``, found from them (what is typed is where the search begins); ``fit``,
        a reading of one; ``begin``, as the first marks show it; ``known``, from body, study or air
    as_is : of a diameter, whether a radius or an area was typed
    shape : of a drag coefficient, the shape whose usual one is taken
    """

    kind: Literal["set_parameter"] = "set_parameter"
    model: int
    leg: int | None = None
    name: Annotated[str, StringConstraints(max_length=30)]
    how: How = "typed"
    typed: Typed = ""
    unit: UnitText = ""
    fit: int | None = None
    reading: Annotated[str, StringConstraints(max_length=60)] = ""
    as_is: Literal["", "radius", "area"] = ""
    shape: Annotated[str, StringConstraints(max_length=30)] = ""

    @property
    def label(self) -> str:
        """In the history."""
        return f"the {parameter(self.name).title} of a model"

    def apply(self, work: Work) -> None:
        """Keep it as it was said."""
        model = work.row(MotionModel, self.model)
        leg = None if self.leg is None else work.row(MotionLeg, self.leg)
        if leg is not None and leg.model_id != model.id:
            raise Refused("This leg belongs to another model.", field="leg")
        if leg is None and not (self.name in PARAMETERS and PARAMETERS[self.name].common):
            raise Refused(f"A model has no parameter {self.name} for all its legs.", field="name")
        said = self._said(work)
        if leg is None:
            common = {name: one for name, one in model.common.items() if name != self.name}
            work.changes.update(replace(model, common=common | ({self.name: said} if said else {})))
        else:
            own = {name: one for name, one in leg.own.items() if name != self.name}
            work.changes.update(replace(leg, own=own | ({self.name: said} if said else {})))

    def _said(self, work: Work) -> ModelParameter | None:
        if self.how == "known":
            return None
        if self.shape:
            shape = DRAG_SHAPES.get(self.shape)
            if shape is None:
                raise Refused(f"There is no shape {self.shape}.", field="shape")
            typed = f"{shape.coefficient:g} ± {shape.spread:g}"
            return {"how": "typed", "typed": typed, "unit": "", "shape": shape.key}
        said: ModelParameter = {"how": self.how, "typed": self.typed, "unit": self.unit}
        if self.as_is:
            said["as_is"] = self.as_is
        if self.how == "fit":
            if self.fit is None or not self.reading:
                raise Refused("Choose the fit and what it gives.", field="fit")
            work.row(Fit, self.fit)
            return {"how": "fit", "fit": self.fit, "reading": self.reading}
        if self.how == "begin" and self.name not in START:
            raise Refused("Only place and velocity can begin as the marks do.", field="how")
        if self.how == "typed" and not self.typed:
            raise Refused("Nothing was typed; type a number such as 1.50.", field="typed")
        if self.typed:
            read_typed(self.name, said, "")
            number, unit = parted(self.typed)  # a unit may be typed behind the number
            said |= {"typed": number, "unit": str(read_unit(unit or self.unit))}
        return said
