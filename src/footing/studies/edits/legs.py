"""Legs of predicted motions: their laws and passages, and what they say of their parameters."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Literal

from footing.core.drag import DRAG_SHAPES
from footing.core.errors import Refused
from footing.core.prediction.laws import LAWS, Drag
from footing.core.prediction.own_laws import ACCELERATION, PATH, parameters_of
from footing.core.prediction.parameters import START, parameter
from footing.core.units import read_number, read_positive
from footing.store.rows import (
    Footage,
    ModelParameter,
    MotionLeg,
    MotionModel,
    Passage,
)
from footing.studies.edits.base import EditModel, Typed
from footing.studies.edits.columns import FormulaText
from footing.studies.edits.passages import Moment
from footing.studies.work import Work

_MOST_LEGS = 30
GoesOn = Literal["both", "position", "velocity", "free"]
_BEGINS: dict[str, tuple[str, ...]] = {
    "both": (),
    "position": ("vx", "vy"),
    "velocity": ("x", "y"),
    "free": START,
}
_ZERO: dict[str, ModelParameter] = {
    name: {"how": "typed", "typed": "0", "unit": str(parameter(name).unit)} for name in START
}
_OWN_AT_FIRST = ("0", "-9.81 m/s^2")


class AddLeg(EditModel):
    """Let a model go on by another law.

    passage : over which it goes; without film it lasts so many seconds
    """

    kind: Literal["add_leg"] = "add_leg"
    model: int
    law: str = "constant acceleration"
    passage: int | None = None
    lasts: Typed = "1"

    @property
    def label(self) -> str:
        """In the history."""
        return "a leg of a model"

    def apply(self, work: Work) -> None:
        """Add it at the end."""
        model = work.row(MotionModel, self.model)
        _check_passage(work, model, self.passage)
        read_positive(self.lasts, field="lasts", what="The time that a leg lasts")
        leg = new_leg(work, model, self.law, self.passage)
        work.changes.update(replace(leg, lasts=self.lasts))


class ChangeLeg(EditModel):
    """Choose the law of a leg, its passage, what it takes over, and whether something hits.

    normal : of an impact, the direction out of what is hit, in degrees from +x
    """

    kind: Literal["change_leg"] = "change_leg"
    leg: int
    law: str
    passage: int | None = None
    lasts: Typed = ""
    goes_on: GoesOn = "both"
    hits: bool = False
    normal: Typed = "90"
    border: Literal["passages", "marks"] = "passages"

    @property
    def label(self) -> str:
        """In the history."""
        return "a leg of a model"

    def apply(self, work: Work) -> None:
        """Change it; parameters that it has for the first time begin as in a new leg."""
        leg = work.row(MotionLeg, self.leg)
        model = work.row(MotionModel, leg.model_id)
        _check_law(self.law)
        _check_passage(work, model, self.passage)
        if model.footage_id is None:
            read_positive(self.lasts, field="lasts", what="The time that a leg lasts")
        read_number(self.normal, field="normal")
        first = work.rows.legs_of(model)[0].id == leg.id
        own = dict(leg.own)
        goes_on = "free" if first else self.goes_on
        along_x, along_y = _own_at_first(self.law)
        if self.law == leg.law:
            along_x, along_y = leg.along_x, leg.along_y
        for name in START:
            if name not in _BEGINS[goes_on]:
                own.pop(name, None)
        if self.border == "marks":
            own["until"] = {"how": "marks"}
        else:
            own.pop("until", None)
        changed = replace(
            leg,
            law=self.law,
            passage_id=self.passage,
            lasts=self.lasts or leg.lasts,
            goes_on=goes_on,
            hits=self.hits and not first,
            normal=self.normal,
            along_x=along_x,
            along_y=along_y,
            own=own,
        )
        work.changes.update(replace(changed, own=_filled(work, changed, model, own)))
        _fill_common(work, model, self.law)


class RemoveLeg(EditModel):
    """Remove a leg; those after it stay."""

    kind: Literal["remove_leg"] = "remove_leg"
    leg: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a leg"

    def apply(self, work: Work) -> None:
        """Remove it; the leg that is first then begins freely."""
        leg = work.row(MotionLeg, self.leg)
        model = work.row(MotionModel, leg.model_id)
        work.changes.delete(leg)
        left = work.rows.legs_of(model)
        if left and left[0].goes_on != "free":
            freed = replace(left[0], goes_on="free", hits=False)
            work.changes.update(replace(freed, own=_filled(work, freed, model, freed.own)))


class MoveBorder(EditModel):
    """Move the border between a leg and the one before it: the ends of both passages."""

    kind: Literal["move_border"] = "move_border"
    leg: int
    at: Moment

    @property
    def label(self) -> str:
        """In the history."""
        return "a border between legs"

    def apply(self, work: Work) -> None:
        """Move both ends."""
        leg = work.row(MotionLeg, self.leg)
        model = work.row(MotionModel, leg.model_id)
        legs = work.rows.legs_of(model)
        place = [one.id for one in legs].index(leg.id)
        if place == 0 or model.footage_id is None:
            raise Refused("There is no leg before this one.", field="at")
        work.check_frame(work.row(Footage, model.footage_id), self.at, field="at")
        before = work.rows.get(Passage, legs[place - 1].passage_id or 0)
        after = work.rows.get(Passage, leg.passage_id or 0)
        if before is None or after is None:
            raise Refused("Choose passages for both legs first.", field="at")
        if not before.first < self.at < after.last:
            raise Refused(
                f"The border stays between frame {before.first:g}, where “{before.name}” begins, "
                f"and {after.last:g}, where “{after.name}” ends.",
                field="at",
            )
        work.changes.update(replace(before, last=self.at))
        work.changes.update(replace(after, first=self.at))


class SetFormulas(EditModel):
    """Write down the law of a leg: acceleration, or place, along x and y."""

    kind: Literal["set_formulas"] = "set_formulas"
    leg: int
    along_x: FormulaText
    along_y: FormulaText

    @property
    def label(self) -> str:
        """In the history."""
        return "the formulas of a leg"

    def apply(self, work: Work) -> None:
        """Keep them as they were written, once they can be read."""
        leg = work.row(MotionLeg, self.leg)
        model = work.row(MotionModel, leg.model_id)
        if leg.law not in (ACCELERATION, PATH):
            raise Refused("This leg has a law that is not written down.", field="along_x")
        parameters_of(leg.law, self.along_x, self.along_y, ())  # units are said at the leg
        changed = replace(leg, along_x=self.along_x, along_y=self.along_y)
        work.changes.update(replace(changed, own=_filled(work, changed, model, leg.own)))


def new_leg(work: Work, model: MotionModel, law: str, passage: int | None) -> MotionLeg:
    """Add a leg at the end of a model; what it needs is found from marks, or typed."""
    _check_law(law)
    legs = work.rows.legs_of(model)
    if len(legs) >= _MOST_LEGS:
        raise Refused(f"A model has at most {_MOST_LEGS} legs.")
    leg = MotionLeg(
        study_id=work.study_id,
        model_id=model.id,
        place=legs[-1].place + 1 if legs else 0,
        law=law,
        passage_id=passage,
        lasts="1",
        goes_on="both" if legs else "free",
        along_x=_own_at_first(law)[0],
        along_y=_own_at_first(law)[1],
    )
    _fill_common(work, model, law)
    return work.changes.insert(replace(leg, own=_filled(work, leg, model, {})))


def _own_at_first(law: str) -> tuple[str, str]:
    """Formulas of a leg before anybody wrote them."""
    if law == PATH:
        return "0 m", "1 m"
    return _OWN_AT_FIRST if law == ACCELERATION else ("", "")


def _filled(
    work: Work, leg: MotionLeg, model: MotionModel, own: Mapping[str, ModelParameter]
) -> dict[str, ModelParameter]:
    """What a leg says, with a beginning for all that it needs and says nothing about.

    With marks to go by it is found from them, without it is 0 until somebody types it.
    """
    names = [*_BEGINS[leg.goes_on], *(["restitution"] if leg.hits else [])]
    known = {one.symbol for one in work.rows.quantities}
    names += [name for name in _needs(leg, known) if not parameter(name).common]
    filled = dict(own)
    for name in names:
        if name in filled:
            continue
        if model.body_id is not None:
            filled[name] = {"how": "marks"}
        else:
            filled[name] = _typed_at_first(name)
    return filled


def _needs(leg: MotionLeg, known: set[str]) -> tuple[str, ...]:
    if leg.law in LAWS:
        return LAWS[leg.law].needs
    return parameters_of(leg.law, leg.along_x, leg.along_y, known)


def _typed_at_first(name: str) -> ModelParameter:
    if name in _ZERO:
        return _ZERO[name]
    usual = {"restitution": "0.8", "friction": "0.1", "omega": "1", "length": "1", "b": "0.1"}
    unit = str(parameter(name).unit)
    return {"how": "typed", "typed": usual.get(name, "0"), "unit": unit}


def _fill_common(work: Work, model: MotionModel, law: str) -> None:
    """What needs a drag coefficient is taken for a ball until somebody says what it is."""
    present = work.row(MotionModel, model.id)
    named = LAWS.get(law)
    if named is None or named.drag is not Drag.QUADRATIC or "drag_coefficient" in present.common:
        return
    shape = DRAG_SHAPES["sphere"]
    said: ModelParameter = {
        "how": "typed",
        "typed": f"{shape.coefficient:g} ± {shape.spread:g}",
        "unit": "",
        "shape": shape.key,
    }
    work.changes.update(replace(present, common={**present.common, "drag_coefficient": said}))


def _check_law(law: str) -> None:
    if law not in LAWS and law not in (ACCELERATION, PATH):
        raise Refused(f"There is no law {law}.", field="law")


def _check_passage(work: Work, model: MotionModel, passage: int | None) -> None:
    if passage is not None and work.row(Passage, passage).footage_id != model.footage_id:
        raise Refused("This passage is of another source.", field="passage")
