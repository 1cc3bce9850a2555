"""What is said of the parameters of a predicted motion: typed, taken from a fit, or known."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import isfinite

from footing.core.effects import Effects, Source
from footing.core.errors import Refused
from footing.core.ledgers.energy import Given
from footing.core.prediction.chain import Slot
from footing.core.prediction.laws import Law
from footing.core.prediction.parameters import START, parameter
from footing.store.rows import Body, ModelParameter, MotionLeg, MotionModel
from footing.studies.model.beginnings import Beginning
from footing.studies.model.fits import FitResult
from footing.studies.model.prediction import Stated
from footing.studies.model.surroundings import Surroundings, given_by_body, read_typed

_TAKEN_OVER: dict[str, tuple[str, ...]] = {
    "both": (),
    "position": ("vx", "vy"),
    "velocity": ("x", "y"),
    "free": START,
}


@dataclass(frozen=True)
class Stating:
    """What parameters of a model may be known from.

    body : that moves so, if there is one; fits : of all sources, by their key
    begin : how its motion begins; None where too few marks tell it
    """

    row: MotionModel
    body: Body | None
    fits: Mapping[int, FitResult]
    surroundings: Surroundings
    begin: Beginning | None

    def stated(self, legs: Sequence[MotionLeg], laws: Sequence[Law | None]) -> dict[Slot, Stated]:
        """All parameters that the legs use, as they are said or known."""
        stated: dict[Slot, Stated] = {}
        for place, (leg, law) in enumerate(zip(legs, laws, strict=True)):
            if law is None:
                continue
            anew = START if place == 0 else _TAKEN_OVER[leg.goes_on]
            names = [name for name in START if name in anew and name in law.starts]
            names += [*law.needs, *(name for name in law.may if name in leg.own)]
            names += ["restitution", "contact_friction"] if leg.hits else []
            names += ["until"] if place < len(legs) - 1 and "until" in leg.own else []
            for name in names:
                common = parameter(name).common and name not in leg.own
                slot = Slot(None if common else place, name)
                if slot not in stated:
                    said = (self.row.common if common else leg.own).get(name, {})
                    stated[slot] = self._stated(slot, said)
            for name in law.may:
                if parameter(name).common and name in self.row.common:
                    slot = Slot(None, name)
                    stated[slot] = self._stated(slot, self.row.common[name])
        return stated

    def _stated(self, slot: Slot, said: ModelParameter) -> Stated:
        how = said.get("how", "")
        owner = f"model {self.row.id}" + ("" if slot.leg is None else f" leg {slot.leg}")
        if how == "fit":
            return self._from_fit(slot, said)
        if how == "begin":
            if self.begin is None or slot.name not in START:
                return Stated(how, said, problem="There are too few marks to begin from.")
            return Stated(how, said, *self.begin.of(slot.name))
        if how in ("typed", "marks") and said.get("typed"):
            try:
                given = read_typed(slot.name, said, owner)
            except Refused as error:
                return Stated(how, said, problem=str(error))
            effects = Effects() if how == "marks" else _effects(given)
            return Stated(how, said, given, effects)
        if how == "marks":
            return Stated(how, said)
        known = self._known(slot.name)
        if known is None:
            return Stated("typed", said)
        return Stated("known", said, known, _effects(known))

    def _known(self, name: str) -> Given | None:
        if name == "g":
            return self.surroundings.gravity
        if name == "density":
            return self.surroundings.density
        if name == "contact_friction":
            return Given(0.0, 0.0, Source(name))
        return given_by_body(self.body, name)

    def _from_fit(self, slot: Slot, said: ModelParameter) -> Stated:
        fit = self.fits.get(said.get("fit", 0))
        if fit is None:
            return Stated("fit", said, problem="Its fit is not there any more; choose another.")
        reading = fit.reading(said.get("reading", ""))
        if reading is None or fit.effects is None:
            return Stated("fit", said, problem="Its fit does not give this number now.")
        unit = parameter(slot.name).unit
        if not reading.unit.converts_to(unit):
            text = f"The fit gives {reading.unit}, and this is in {unit}."
            return Stated("fit", said, problem=text)
        factor = reading.unit.factor
        effects = fit.effects.of_reading(reading).times(factor)
        given = Given(reading.value * factor, reading.standard_error * factor, Source("fit"))
        return Stated("fit", said, given, effects)


def _effects(given: Given) -> Effects:
    if not given.uncertainty or not isfinite(given.uncertainty):
        return Effects()
    return Effects({given.source: given.uncertainty})
