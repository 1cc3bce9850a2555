"""The results that a predicted motion gives: what was found from marks, and terminal speeds."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import isfinite

from footing.core.dimensions import Unit, read_unit
from footing.core.drag import ball_volume, frontal_area, terminal_speed
from footing.core.effects import Effects
from footing.core.prediction.chain import Slot
from footing.core.prediction.laws import LAWS, Drag
from footing.core.prediction.parameters import START, parameter
from footing.core.reading import Symbol
from footing.studies.model.prediction import Prediction

TERMINAL = "terminal_speed"
_SPEED = read_unit("m/s")
_STEP = 1e-6  # relative


@dataclass(frozen=True)
class PredictedResult:
    """A number that a predicted motion gives.

    key : by which a finding refers to it: ``12.friction`` of a leg, ``g`` of all legs
    name : by which a formula calls it: ``ax2`` of the second leg
    value, unit : in SI units
    of_start : whether it only says where and how fast the motion starts
    """

    key: str
    name: str
    title: str
    symbol: Symbol
    value: float
    unit: Unit
    effects: Effects
    of_start: bool = False


def results_of(prediction: Prediction) -> list[PredictedResult]:
    """All results, those of the first leg first; empty where there is no motion."""
    if prediction.solved is None:
        return []
    found = [_of_slot(prediction, slot) for slot in prediction.values if prediction.is_found(slot)]
    for place, leg in enumerate(prediction.legs):
        named = LAWS.get(leg.law)
        if named is not None and named.drag is Drag.QUADRATIC:
            speed = _terminal(prediction, place, buoyant="volume" in named.may)
            if speed is not None:
                found.append(speed)
    return found


def named_values(prediction: Prediction) -> list[PredictedResult]:
    """All parameters with a value, found or given, and the terminal speeds: for formulas."""
    given = [
        _of_slot(prediction, slot) for slot in prediction.values if not prediction.is_found(slot)
    ]
    found = [*results_of(prediction), *given]
    if prediction.surroundings is not None and all(one.name != "g" for one in found):
        gravity = prediction.surroundings.gravity
        effects = Effects({gravity.source: gravity.uncertainty} if gravity.uncertainty else {})
        kind = parameter("g")
        found.append(
            PredictedResult("g", "g", kind.title, kind.symbol, gravity.value, kind.unit, effects)
        )
    return found


def key_of(prediction: Prediction, slot: Slot) -> str:
    """How a finding refers to a parameter; places of legs change, keys do not."""
    return slot.name if slot.leg is None else f"{prediction.legs[slot.leg].id}.{slot.name}"


def _of_slot(prediction: Prediction, slot: Slot) -> PredictedResult:
    kind = parameter(slot.name)
    number = "" if slot.leg is None or len(prediction.legs) == 1 else str(slot.leg + 1)
    letter, below = kind.symbol
    return PredictedResult(
        key_of(prediction, slot),
        f"{slot.name}{number}",
        f"{kind.title}, leg {number}" if number else kind.title,
        (letter, f"{below} {number}".strip() if number else below),
        prediction.values[slot],
        prediction.unit_of(slot),
        prediction.effects_of(slot),
        slot.name in START,
    )


def _terminal(prediction: Prediction, place: int, *, buoyant: bool) -> PredictedResult | None:
    """The terminal speed in a leg with drag, by the numbers that it has."""
    names = ["mass", "diameter", "drag_coefficient", "density", "g"]
    slots = {name: prediction.slot(place, name) for name in names}
    volume = prediction.slot(place, "volume")
    if buoyant and volume in prediction.values:
        slots["volume"] = volume
    values = {name: prediction.values.get(slot) for name, slot in slots.items()}
    known = {name: value for name, value in values.items() if value is not None}
    if len(known) < len(slots):
        return None
    base = _speed(known, buoyant=buoyant)
    if not isfinite(base):
        return None
    total = Effects()
    for name, slot in slots.items():
        step = _STEP * max(abs(known[name]), 1e-9)
        slope = (_speed(known | {name: known[name] + step}, buoyant=buoyant) - base) / step
        if isfinite(slope):
            total = total.plus(prediction.effects_of(slot).times(slope))
    number = "" if len(prediction.legs) == 1 else str(place + 1)
    leg = prediction.legs[place]
    return PredictedResult(
        f"{leg.id}.{TERMINAL}",
        f"v_t{number}",
        "terminal speed",
        ("v", f"t{number}"),
        base,
        _SPEED,
        total,
    )


def _speed(of: Mapping[str, float], *, buoyant: bool) -> float:
    volume = of.get("volume", ball_volume(of["diameter"])) if buoyant else 0.0
    area = frontal_area(of["diameter"])
    return terminal_speed(of["mass"], area, of["drag_coefficient"], of["density"], of["g"], volume)
