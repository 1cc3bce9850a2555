"""Predicted motions with their legs, and the weather in which they happen."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import ClassVar

from typing_extensions import TypedDict

from footing.store.rows.base import NEW, Row


class ModelParameter(TypedDict, total=False):
    """Where a parameter of a model comes from.

    how : ``typed``; ``marks``, found from them; ``fit``, a reading of one; ``begin``, as the first
        marks show it
    typed, unit : as typed; also where a search begins
    fit, reading : of which fit, and which of its readings
    as_is : of a diameter, whether it was typed as a radius or an area
    shape : of a drag coefficient, of which shape it is
    """

    how: str
    typed: str
    unit: str
    fit: int
    reading: str
    as_is: str
    shape: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MotionModel(Row):
    """A predicted motion.

    footage_id : over which it is laid; a prediction without film if empty
    body_id : whose motion it predicts; it stands alone if empty
    shown : whether it is switched on
    common : parameters that all its legs share, by name
    """

    id: int = NEW
    study_id: int
    footage_id: int | None = None
    body_id: int | None = None
    name: str
    shown: bool = True
    common: Mapping[str, ModelParameter] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class MotionLeg(Row):
    """A leg of a predicted motion: a passage under one law.

    place : its order within the model
    law : its key; of own formulas ``formula`` or ``formula of time``, with along_x and along_y
    passage_id : over which it goes; from the leg before to the next, or all marks, if empty
    lasts : of a prediction without film, for how many seconds, as typed
    goes_on : what it takes over from the leg before: ``both`` position and velocity, one of them,
        or nothing (``free``)
    hits, normal : whether it begins with an impact, and the direction out of what is hit, as typed
        in degrees
    own : its parameters by name, those of its beginning and of its end among them
    """

    id: int = NEW
    study_id: int
    model_id: int
    place: int
    law: str
    passage_id: int | None = None
    lasts: str | None = None
    goes_on: str = "both"
    hits: bool = False
    normal: str = "90"
    along_x: str = ""
    along_y: str = ""
    own: Mapping[str, ModelParameter] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Weather(Row):
    """The state of the air around a study, as typed.

    damp, damp_is : a dew point in the unit of the temperature, or a relative humidity in percent
    """

    KEY: ClassVar[tuple[str, ...]] = ("study_id",)

    study_id: int
    temperature: str
    temperature_unit: str
    pressure: str
    pressure_unit: str
    damp: str
    damp_is: str
