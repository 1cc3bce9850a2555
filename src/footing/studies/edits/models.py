"""Predicted motions: models of a body, over a footage, or without any film."""

from dataclasses import replace
from typing import Literal

from footing.core.errors import Refused
from footing.core.prediction.parameters import START
from footing.store.rows import (
    Body,
    Footage,
    ModelParameter,
    MotionModel,
)
from footing.studies.edits.base import EditModel, Name
from footing.studies.edits.fits import remove_finding
from footing.studies.edits.legs import new_leg
from footing.studies.work import Work

_MOST_MODELS = 30


class AddModel(EditModel):
    """Begin a predicted motion: of a body, over a footage, or without any film.

    law : of its first leg; with one of air there is a ball's drag coefficient at first
    """

    kind: Literal["add_model"] = "add_model"
    footage: int | None = None
    body: int | None = None
    name: Name = "model"
    law: str = "constant acceleration"

    @property
    def label(self) -> str:
        """In the history."""
        return f"model “{self.name}”"

    def apply(self, work: Work) -> None:
        """Add it with a first leg."""
        model = _new_model(work, self.footage, self.body, self.name)
        new_leg(work, model, self.law, passage=None)


class AddTheory(EditModel):
    """Predict a body's fall with the air and without it, both from how its marks begin."""

    kind: Literal["add_theory"] = "add_theory"
    body: int

    @property
    def label(self) -> str:
        """In the history."""
        return "theory with and without air"

    def apply(self, work: Work) -> None:
        """Add both."""
        body = work.row(Body, self.body)
        for name, law in (("with air", "quadratic drag"), ("without air", "free fall")):
            model = _new_model(work, body.footage_id, body.id, name)
            leg = new_leg(work, model, law, passage=None)
            begins: dict[str, ModelParameter] = {one: {"how": "begin"} for one in START}
            work.changes.update(replace(leg, own={**leg.own, **begins}))


class ChangeModel(EditModel):
    """Rename a model, or switch it on or off."""

    kind: Literal["change_model"] = "change_model"
    model: int
    name: Name
    shown: bool = True

    @property
    def label(self) -> str:
        """In the history."""
        return f"model “{self.name}”"

    def apply(self, work: Work) -> None:
        """Change it."""
        row = work.row(MotionModel, self.model)
        work.changes.update(replace(row, name=self.name, shown=self.shown))


class CopyModel(EditModel):
    """Make a second model like one, to be changed and compared."""

    kind: Literal["copy_model"] = "copy_model"
    model: int

    @property
    def label(self) -> str:
        """In the history."""
        return "a copy of a model"

    def apply(self, work: Work) -> None:
        """Copy it with its legs."""
        row = work.row(MotionModel, self.model)
        made = _new_model(work, row.footage_id, row.body_id, f"{row.name[:50]}, copy")
        work.changes.update(replace(made, common=row.common))
        for leg in work.rows.legs_of(row):
            work.changes.insert(replace(leg, id=0, model_id=made.id))


class RemoveModel(EditModel):
    """Remove a model with its legs and the findings that are read from it."""

    kind: Literal["remove_model"] = "remove_model"
    model: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a model"

    def apply(self, work: Work) -> None:
        """Remove what rests on it first."""
        remove_model(work, work.row(MotionModel, self.model))


def remove_model(work: Work, model: MotionModel) -> None:
    """Remove a model's findings and legs, then the model."""
    for finding in work.rows.findings_from(model):
        remove_finding(work, finding)
    for leg in work.rows.legs_of(model):
        work.changes.delete(leg)
    work.changes.delete(model)


def _new_model(work: Work, footage: int | None, body: int | None, name: str) -> MotionModel:
    if footage is not None and not work.kind(work.row(Footage, footage)).has_time:
        raise Refused("A picture has no time, so nothing moves in it.", field="footage")
    if body is not None and work.row(Body, body).footage_id != footage:
        raise Refused("This body is on another source.", field="body")
    every = work.rows.all(MotionModel)
    if len(every) >= _MOST_MODELS:
        raise Refused(f"A study has at most {_MOST_MODELS} models; remove one first.")
    taken = {one.name for one in every if one.footage_id == footage}
    return work.changes.insert(
        MotionModel(
            study_id=work.study_id,
            footage_id=footage,
            body_id=body,
            name=work.unique(name, taken),
        )
    )
