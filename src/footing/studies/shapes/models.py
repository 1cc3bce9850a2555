"""Predicted motions of a state as data."""

from typing import TypedDict


class OfferedReadingShape(TypedDict):
    """A reading of a fit that a parameter can be taken from. value : as an option has it"""

    value: str
    text: str


class ModelParameterShape(TypedDict):
    """A parameter of a model.

    leg : whose it is; None for one of all legs
    how : where it comes from, as an option has it; hows : what can be chosen, with words
    typed, unit : as typed; units : those it can be typed in
    text : its value with ± and unit; alone : ± of the search alone, where that is less
    number, low, high : in ``unit``, for a slider; None where it has no value
    found : whether it was found from marks
    """

    leg: int | None
    name: str
    title: str
    symbol: list[list[str]]
    how: str
    hows: list[OfferedReadingShape]
    typed: str
    unit: str
    units: list[str]
    as_is: str
    shape: str
    text: str
    alone: str
    number: float | None
    low: float
    high: float
    found: bool
    at_limit: bool
    problem: str


class LegShape(TypedDict):
    """A leg of a model.

    first, last : frames between which it goes (parts of frames, too); empty without film
    border : whether its end follows from the passages or is found from the marks
    formulas : whether its law is written down
    rms : how far marks lie from it, with unit; marks : how many there are
    """

    id: int
    number: int
    law: str
    title: str
    passage: int | None
    passage_name: str
    first: float | None
    last: float | None
    text: str
    lasts: str
    goes_on: str
    hits: bool
    normal: str
    border: str
    is_last: bool
    formulas: bool
    along_x: str
    along_y: str
    parameters: list[ModelParameterShape]
    rms: str
    marks: int
    problem: str


class ModelResultShape(TypedDict):
    """A number that a model gives, and by what name formulas call it.

    of_start : whether it only says where and how fast the motion starts
    """

    key: str
    name: str
    title: str
    symbol: list[list[str]]
    text: str
    of_start: bool


class GhostShape(TypedDict):
    """Where a model is in each frame that it goes over.

    x, y : in pixels; leg : by its number; values : by lane, in its unit
    """

    frames: list[int]
    x: list[float]
    y: list[float]
    leg: list[int]
    values: dict[str, list[float]]
    radius: float


class ModelShape(TypedDict):
    """A predicted motion.

    rms : of all marks; stops : where it stops matching, in words, and the frame
    air : terminal speed and Reynolds number, in words; doubt : what does not suit
    """

    id: int
    name: str
    shown: bool
    body: int | None
    body_name: str
    colour: str
    dashed: bool
    legs: list[LegShape]
    common: list[ModelParameterShape]
    results: list[ModelResultShape]
    correlations: list[list[str]]
    rms: str
    stops: str
    stops_at: int | None
    air: str
    doubt: str
    converged: bool
    problem: str
    ghost: GhostShape | None


class WeatherShape(TypedDict):
    """The weather as typed."""

    temperature: str
    temperature_unit: str
    pressure: str
    pressure_unit: str
    damp: str
    damp_is: str


class ModelRowShape(TypedDict):
    """A mark beside a model, in the unit of lengths."""

    frame: int
    cells: list[str]


class ModelTableShape(TypedDict):
    """The marks of a body beside the models of it. headings : of the cells"""

    body: str
    headings: list[str]
    rows: list[ModelRowShape]
    left_out: int


class LineShape(TypedDict):
    """A predicted line on a graph; several parts of one name belong together."""

    key: str
    name: str
    colour: str
    dashed: bool
    points: list[list[float]]
