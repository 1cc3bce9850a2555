"""The parameters of a model as a page shows them: where they come from, and what they are."""

import json

from footing.core import findings
from footing.core.dimensions import Unit, read_unit
from footing.core.effects import Effects
from footing.core.prediction.adjusting import Adjusted
from footing.core.prediction.chain import Slot
from footing.core.prediction.parameters import START, parameter
from footing.core.reading import Reading
from footing.studies.model.fits import FitResult
from footing.studies.model.prediction import Prediction, Stated
from footing.studies.model.sources import FootageSource
from footing.studies.shapes.models import ModelParameterShape, OfferedReadingShape
from footing.words.readings import label_of

_UNITS: dict[str, tuple[str, ...]] = {
    "m": ("m", "cm", "mm"),
    "kg": ("kg", "g"),
    "rad": ("°", "rad"),
    "m/s": ("m/s", "cm/s", "km/h"),
    "m³": ("cm³", "m³"),
    "kg/m³": ("kg/m³", "g/cm³"),
    "kg/s": ("kg/s", "g/s"),
}
_HOWS = {
    "typed": "typed",
    "marks": "from the marks",
    "begin": "as the first marks show",
    "known": "as known",
}
_REACH = 0.6  # how far a slider goes, as a share of the value
_LEAST_REACH = 0.5  # of a value of 0, in its unit
_MORE = 1.05  # times what the search alone says, from which both are shown


def common_view(one: Prediction, source: FootageSource | None) -> list[ModelParameterShape]:
    """What all legs share; what no law of theirs needs is left out."""
    slots = [slot for slot in one.stated if slot.leg is None]
    return [parameter_view(one, slot, source) for slot in slots]


def parameter_view(
    one: Prediction, slot: Slot, source: FootageSource | None
) -> ModelParameterShape:
    """A parameter: where it comes from and could come from, and its value with ±."""
    kind = parameter(slot.name)
    stated = one.stated[slot]
    wanted = one.unit_of(slot)
    unit, units = _shown_unit(stated, wanted, slot.name)
    value = one.values.get(slot)
    number = None if value is None else float(f"{unit.from_base(value):.10g}")
    reach = max(abs(number or 0.0) * _REACH, 0.0 if number else _LEAST_REACH)
    effects = one.effects_of(slot)
    text, alone = _said(one, slot, value, unit, effects)
    letter, below = kind.symbol
    leg = one.legs[slot.leg].id if slot.leg is not None else None
    least = max(kind.least, -1e30) / unit.factor
    low = (number or 0.0) - reach
    return {
        "leg": leg,
        "name": slot.name,
        "title": kind.title,
        "symbol": [[letter, below]],
        "how": _how(stated),
        "hows": _hows(one, slot, wanted, source, _typed_as(stated, number, unit)),
        "typed": stated.said.get("typed", ""),
        "unit": units[0],
        "units": list(units),
        "as_is": stated.said.get("as_is", ""),
        "shape": stated.said.get("shape", ""),
        "text": text,
        "alone": alone,
        "number": number,
        "low": max(low, least),
        "high": (number or 0.0) + reach,
        "found": one.is_found(slot),
        "at_limit": isinstance(one.found, Adjusted) and slot in one.found.at_limit,
        "problem": stated.problem,
    }


def _said(
    one: Prediction, slot: Slot, value: float | None, unit: Unit, effects: Effects
) -> tuple[str, str]:
    """Value with ± of all that it rests on, and ± of the search alone where that is less."""
    if value is None:
        return "", ""
    measured = findings.combine(value / unit.factor, effects.times(1 / unit.factor).budget)
    text = findings.measured(measured.value, measured.uncertainty, str(unit))
    if not one.is_found(slot) or not isinstance(one.found, Adjusted):
        return text, ""
    own = one.found.standard_error(slot) / unit.factor
    if measured.uncertainty <= _MORE * own:
        return text, ""
    return text, findings.stated(measured.value, own)


def _shown_unit(stated: Stated, wanted: Unit, name: str) -> tuple[Unit, tuple[str, ...]]:
    """In what unit a parameter is shown, and those that can be chosen, that one first."""
    as_area = stated.said.get("as_is") == "area"
    choices = _UNITS.get(str(wanted), (str(wanted),))
    if name == "diameter":
        choices = ("cm²", "m²") if as_area else ("cm", "mm", "m")
    elif name == "mass" and stated.given is not None and stated.given.value < 1:
        choices = ("g", "kg")
    said = stated.said.get("unit", "")
    units = tuple(dict.fromkeys((*((str(read_unit(said)),) if said else ()), *choices)))
    # what was typed as an area is a diameter all the same
    return read_unit("cm" if as_area else units[0]), units


def _how(stated: Stated) -> str:
    if stated.how == "fit":
        return _from(stated.said.get("fit", 0), stated.said.get("reading", ""))
    return json.dumps({"how": stated.how})


def _typed_as(stated: Stated, number: float | None, unit: Unit) -> dict[str, str]:
    """What would be typed for the value that there is; nothing where it is typed already."""
    if stated.how == "typed" or number is None:
        return {}
    return {"typed": f"{number:.6g}", "unit": str(unit)}


def _option(how: str, typed: dict[str, str]) -> str:
    """Where a parameter comes from, as an option has it; what becomes typed begins as it is."""
    return json.dumps({"how": how} | (typed if how == "typed" else {}))


def _from(fit: int, reading: str) -> str:
    """That a parameter is taken from a reading of a fit, as an option has it."""
    return json.dumps({"how": "fit", "fit": fit, "reading": reading})


def _hows(
    one: Prediction,
    slot: Slot,
    wanted: Unit,
    source: FootageSource | None,
    typed: dict[str, str],
) -> list[OfferedReadingShape]:
    """Where a parameter can come from."""
    kind = parameter(slot.name)
    names = ["typed"]
    if one.track is not None:
        names.append("marks")
        if slot.name in START:
            names.append("begin")
    if kind.common:
        names.append("known")
    found: list[OfferedReadingShape] = [
        {"value": _option(name, typed), "text": _HOWS[name]} for name in names
    ]
    fits = source.fits if source is not None else []
    for fit in fits:
        found += _readings(fit, wanted)
    return found


def _readings(fit: FitResult, wanted: Unit) -> list[OfferedReadingShape]:
    return [
        {
            "value": _from(fit.row.id, reading.key),
            "text": f"fit of {fit.table.owner.name}"
            f"{f' over {fit.over}' if fit.over else ''}: {_named(fit, reading)} "
            + findings.measured(reading.value, reading.standard_error, str(reading.unit)),
        }
        for reading in fit.readings
        if reading.unit.converts_to(wanted)
    ]


def _named(fit: FitResult, reading: Reading) -> str:
    assert fit.points is not None
    across, up = fit.points.across.variable, fit.points.up.variable
    return label_of(reading, across, up) or reading.key.replace("_", " ")
